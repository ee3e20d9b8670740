#pragma once

#include <QTableView>

namespace fulvex {

/// A table as the Ledger and the Evidence show theirs: whole rows, no grid, no editing, dense.
QTableView *makePlainTable(const char *name, QAbstractItemModel *model);

} // namespace fulvex
