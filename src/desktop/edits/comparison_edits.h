#pragma once

#include "workbench.h"

namespace fulvex {

/// Lays the project beside another result, on a sheet of its own: what is set differently, numbers side by side, the
/// first eye and a spectrum over each other. Shows the sheet, the one there is where there is one.
void layBeside(Workbench &bench, const QString &file);

/// Adds a tile of an eye, a spectrum, phase noise or a row's trend over that of the project's first comparison.
void addBeside(Workbench &bench, const std::string &kind, const std::string &id);

} // namespace fulvex
