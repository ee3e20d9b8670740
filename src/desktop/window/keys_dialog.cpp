#include "keys_dialog.h"

#include "translated.h"

#include <QDialog>
#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>

namespace fulvex {

namespace {

/// What the mouse does where no action stands for it.
std::vector<ActionMenus::Line> byHand()
{
    const QString traces = tr("Traces"), tiles = tr("Tiles"), evidence = tr("Evidence");
    return {{traces, tr("Zoom into a span"), tr("drag")},
            {traces, tr("Closer, farther around the pointer"), tr("wheel, pinch")},
            {traces, tr("Move along"), tr("Alt+drag, middle button, arrows")},
            {traces, tr("Place the first, second, next marker"), tr("click, Shift+click, Ctrl+click")},
            {traces, tr("Name a span a region"), tr("Ctrl+drag")},
            {traces, tr("Histogram of what lies in a box"), tr("Ctrl+Shift+drag")},
            {traces, tr("Move a reference level of the selected row"), tr("drag its line")},
            {traces, tr("Pin a note"), tr("double click")},
            {traces, tr("Move, scale, fit a trace"), tr("drag, wheel, double click on its value axis or zero")},
            {tiles, tr("Exchange two tiles"), tr("drag its head onto the other, Ctrl+Alt+arrows")},
            {tiles, tr("Send a tile to another sheet"), tr("drag its head onto the tab")},
            {tiles, tr("Size of a tile"), tr("drag its lower right corner, Ctrl+Alt+Shift+arrows")},
            {tiles, tr("Order of sheets"), tr("drag a tab")},
            {tiles, tr("Which unit intervals pass there"), tr("drag a box over an eye")},
            {tiles, tr("The moments in a bar of a histogram"), tr("click it, arrows, drag over several")},
            {evidence, tr("Step through the moments"), tr("Up, Down")},
            {tiles, tr("The moments at the crests of a trend's component"), tr("click its line in the spectrum")},
            {tiles, tr("The moment of one value, of one pair"), tr("click it in a trend, among points")},
            {evidence, tr("By time, or worst first"), tr("T")},
            {evidence, tr("Name a moment a region"), tr("R")},
            {evidence, tr("Keep moments out of a row, let them back in"), tr("K")},
            {evidence, tr("Pin a note to a moment"), tr("N")}};
}

} // namespace

void showKeys(const std::vector<ActionMenus::Line> &lines, QWidget *window)
{
    auto *dialog = new QDialog(window);
    dialog->setObjectName("keysDialog");
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Keys"));
    auto *layout = new QVBoxLayout(dialog);
    auto *search = new QLineEdit;
    search->setObjectName("keysSearch");
    search->setPlaceholderText(tr("Search, for example: eye"));
    layout->addWidget(search);
    std::vector<ActionMenus::Line> all = lines;
    for (const ActionMenus::Line &line : byHand()) all.push_back(line);
    auto *table = new QTableWidget(int(all.size()), 3);
    table->setObjectName("keysTable");
    table->setHorizontalHeaderLabels({tr("where"), tr("what"), tr("how")});
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->verticalHeader()->hide();
    table->verticalHeader()->setDefaultSectionSize(24);
    table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table->setShowGrid(false);
    for (int row = 0; row < int(all.size()); ++row) {
        const ActionMenus::Line &line = all[std::size_t(row)];
        int column = 0;
        for (const QString &cell : {line.menu, line.words, line.key})
            table->setItem(row, column++, new QTableWidgetItem(cell));
    }
    table->resizeColumnsToContents();
    table->horizontalHeader()->setStretchLastSection(true);
    layout->addWidget(table);
    QObject::connect(search, &QLineEdit::textChanged, table, [table](const QString &typed) {
        for (int row = 0; row < table->rowCount(); ++row) {
            bool found = false;
            for (int column = 0; column < table->columnCount(); ++column)
                found |= table->item(row, column)->text().contains(typed, Qt::CaseInsensitive);
            table->setRowHidden(row, !found);
        }
    });
    dialog->resize(720, 560);
    dialog->show();
    search->setFocus();
}

} // namespace fulvex
