#pragma once

#include <QTableView>
#include <span>

namespace fulvex {

/// A table as the Ledger and the Evidence show theirs: whole rows, no grid, no editing, dense.
QTableView *makePlainTable(const char *name, QAbstractItemModel *model);

/// Gives columns their usual widths, or what their cells in sight need, so that no number is cut; what some need more,
/// others give that have room to spare, and at last the first one, down to its usual width.
void fitColumns(QTableView &table, std::span<const int> usual);

} // namespace fulvex
