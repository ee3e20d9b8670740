#pragma once

#include "document.h"
#include "run_command.h"

namespace fulvex {

/// An option's NAME=VALUE. Throws Error, naming the option.
std::pair<std::string, std::string> splitAt(const std::string &text, const char *option);
/// The same file, wherever it is looked for from.
std::string absoluteFile(const std::string &file);

/// The document with the files that the command gives for its captures (several for one are its run) and with its
/// parameters. Throws Error.
Document documentFor(const RunCommand &command, Document document);

} // namespace fulvex
