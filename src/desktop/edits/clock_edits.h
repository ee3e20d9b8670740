#pragma once

#include "workbench.h"

#include <string>

namespace fulvex {

/// Puts a clock into a document as the settings want it, its bandwidth by the rate that is known of the channel, or of
/// another; gives its id.
std::string putClock(const Workbench &bench, Document &document, const std::string &channel, const std::string &method);
/// The same as one undoable step, and selects it; an empty id where the document did not take it.
std::string addClock(Workbench &bench, const std::string &channel, const std::string &method);

} // namespace fulvex
