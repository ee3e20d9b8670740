#pragma once

#include "workbench.h"

namespace fulvex {

/// Asks for a picture for a report's first page, as a document keeps it; empty where none was chosen. A file that is no
/// picture is told by `failed`.
std::string chosenLogo(Workbench &bench, QWidget *window);

} // namespace fulvex
