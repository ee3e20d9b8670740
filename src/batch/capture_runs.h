#pragma once

#include "document.h"
#include "run_command.h"

namespace fulvex {

/// The document with the files that the command gives for its captures (several for one are its run) and with its
/// parameters. Throws Error.
Document documentFor(const RunCommand &command, Document document);

} // namespace fulvex
