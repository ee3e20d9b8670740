#pragma once

#include "document.h"

namespace fulvex {

/// The project that a report holds, with the fingerprints of the captures that it is of. Throws Error.
Document documentOfReport(const std::string &text, const std::string &name);
/// The same of a results.json's text.
Document documentOfResults(const std::string &json, const std::string &name);

} // namespace fulvex
