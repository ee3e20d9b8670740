#pragma once

#include "row_set.h"

#include <QString>
#include <vector>

namespace fulvex {

class Workbench;

/// Sets of rows that the user kept, one file each in the folder of the program's data.
std::vector<RowSet> keptRowSets(); ///< by title; a file that cannot be read is passed over
/// Throws Error.
void keepRowSet(const RowSet &set);
void forgetRowSet(const std::string &title);

/// Lays one on a channel, as one undoable step, and selects its first row; `failed` tells what could not be laid there.
void layOn(Workbench &bench, const RowSet &set, const std::string &channel);

} // namespace fulvex
