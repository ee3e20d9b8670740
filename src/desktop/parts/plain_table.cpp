#include "plain_table.h"

#include <QHeaderView>
#include <algorithm>
#include <vector>

namespace fulvex {

QTableView *makePlainTable(const char *name, QAbstractItemModel *model)
{
    auto *table = new QTableView;
    table->setObjectName(name);
    table->setModel(model);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setShowGrid(false);
    table->setFrameShape(QFrame::NoFrame);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setWordWrap(false);
    table->verticalHeader()->hide();
    table->verticalHeader()->setMinimumSectionSize(16);
    table->verticalHeader()->setDefaultSectionSize(20);
    table->horizontalHeader()->setHighlightSections(false);
    table->horizontalHeader()->setTextElideMode(Qt::ElideRight);
    table->horizontalHeader()->setResizeContentsPrecision(0); // rows in sight count
    return table;
}

void fitColumns(QTableView &table, std::span<const int> usual)
{
    const QAbstractItemView &view = table;
    struct Fit {
        int width, spare;
    };
    std::vector<Fit> columns;
    int grown = 0;
    for (int column = 0; column < int(usual.size()); ++column) {
        if (table.isColumnHidden(column)) {
            columns.push_back({0, 0});
            continue;
        }
        const int wanted = usual[std::size_t(column)];
        const int needed = std::max(view.sizeHintForColumn(column), table.horizontalHeader()->sectionSizeHint(column));
        columns.push_back({std::max(wanted, needed), std::max(0, wanted - needed)});
        grown += std::max(0, needed - wanted);
    }
    int beyond = -table.viewport()->width(); // what does not fit is taken from those that have room to spare, too
    for (const Fit &column : columns) beyond += column.width;
    grown = std::max(grown, beyond);
    while (grown > 0) {
        Fit &roomiest = *std::max_element(columns.begin(), columns.end(),
                                          [](const Fit &a, const Fit &b) { return a.spare < b.spare; });
        if (roomiest.spare == 0) break;
        const int taken = std::min(grown, roomiest.spare);
        roomiest.width -= taken;
        roomiest.spare -= taken;
        grown -= taken;
    }
    int over = -table.viewport()->width();
    for (const Fit &column : columns) over += column.width;
    if (over > 0 && !columns.empty()) // words may end in …, numbers may not
        columns[0].width = std::max(std::min(columns[0].width, usual[0]), columns[0].width - over);
    for (std::size_t column = 0; column < columns.size(); ++column)
        if (columns[column].width > 0) table.setColumnWidth(int(column), columns[column].width);
}

} // namespace fulvex
