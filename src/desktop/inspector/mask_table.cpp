#include "mask_table.h"

#include "axis_painter.h"
#include "number_text.h"

#include <QHeaderView>
#include <QKeyEvent>

namespace fulvex {

MaskTable::MaskTable(Workbench &bench, const std::string &mask, QWidget *parent)
    : QTableWidget(parent), m_bench(bench), m_mask(mask)
{
    setObjectName("maskTable");
    setColumnCount(3);
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(22);
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setFixedHeight(10 * 22);
    setToolTip(tr("Type over a number to move that corner · Delete: removes it · Insert: puts one behind it"));
    connect(this, &QTableWidget::cellChanged, this, &MaskTable::take);
    refresh();
}

std::optional<MaskPlace> MaskTable::placeOf(int row) const
{
    for (std::size_t area = 0; area < m_shown.size(); ++area) {
        const int points = int(m_shown[area].points.size());
        if (row < points) return MaskPlace{area, std::size_t(std::max(0, row))};
        row -= points;
    }
    return {};
}

std::size_t MaskTable::chosenArea() const
{
    const auto place = placeOf(currentRow());
    return place ? place->area : 0;
}

MaskMirror MaskTable::mirror() const
{
    const MaskEntry *entry = findEntry(m_bench.document().masks, m_mask);
    const auto ground = groundOf(m_bench, m_mask);
    return entry ? mirrorOf(*entry, ground.value_or(MaskGround{})) : MaskMirror{};
}

void MaskTable::refresh()
{
    const MaskEntry *entry = findEntry(m_bench.document().masks, m_mask);
    if (!entry || state() == QAbstractItemView::EditingState) return;
    const EyeEntry *eye = findEntry(m_bench.document().eyes, entry->eye);
    const std::string unit = m_bench.unitOf(eye ? eye->source : entry->source);
    setHorizontalHeaderLabels({tr("area"), entry->x == "s" ? tr("x in s") : tr("x in UI"),
                               entry->y == "normalised" ? tr("y of 0 to 1") : tr("y in %1").arg(text(unit))});
    if (entry->areas == m_shown) return;
    m_shown = entry->areas;
    const QSignalBlocker quiet(this);
    const int chosen = currentRow();
    int rows = 0;
    for (const MaskArea &area : m_shown) rows += int(area.points.size());
    setRowCount(rows);
    int row = 0;
    for (const MaskArea &area : m_shown) {
        for (std::size_t i = 0; i < area.points.size(); ++i, ++row) {
            const auto put = [&](int column, const QString &words, bool typed) {
                auto *item = new QTableWidgetItem(words);
                if (!typed) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
                setItem(row, column, item);
            };
            put(0, i == 0 ? text(area.name) : QString(), i == 0);
            put(1, text(typedNumber(area.points[i].x)), true);
            put(2, text(typedNumber(area.points[i].y)), true);
        }
    }
    if (chosen >= 0 && chosen < rows) selectRow(chosen);
}

void MaskTable::take(int row, int column)
{
    const auto place = placeOf(row);
    if (!place) return;
    const QString typed = item(row, column)->text();
    bool taken = false;
    if (column == 0) {
        taken = editAreas(m_bench, m_mask, tr("name an area"),
                          [&](auto &areas) { areas[place->area].name = typed.toStdString(); });
    } else {
        const auto number = parseQuantity(typed.toStdString(), "");
        if (number) {
            MaskPoint to = m_shown[place->area].points[place->point];
            (column == 1 ? to.x : to.y) = *number;
            taken = editAreas(m_bench, m_mask, tr("move a corner of the mask"),
                              [&](auto &areas) { moveVertex(areas, *place, to, mirror()); });
        }
    }
    if (!taken) emit m_bench.told(tr("\"%1\" would leave no area that can be tested; it stays as it was").arg(typed));
    m_shown.clear(); // shows what it is now, whatever was typed
    QMetaObject::invokeMethod(this, &MaskTable::refresh, Qt::QueuedConnection);
}

void MaskTable::keyPressEvent(QKeyEvent *event)
{
    const auto place = placeOf(currentRow());
    if (!place || (event->key() != Qt::Key_Delete && event->key() != Qt::Key_Insert))
        return QTableWidget::keyPressEvent(event);
    const MaskArea &area = m_shown[place->area];
    if (event->key() == Qt::Key_Delete) {
        editAreas(m_bench, m_mask, tr("remove a corner of the mask"),
                  [&](auto &areas) { removeVertex(areas, *place, mirror()); });
    } else {
        // In the middle of the side behind it; at the end of a line, of the one before.
        const bool last = area.kind != MaskArea::Kind::closed && place->point + 1 == area.points.size();
        const MaskPlace side{place->area, last ? place->point - 1 : place->point};
        const MaskPoint a = area.points[side.point], b = area.points[(side.point + 1) % area.points.size()];
        editAreas(m_bench, m_mask, tr("add a corner to the mask"), [&](auto &areas) {
            addVertex(areas, side, {(a.x + b.x) / 2, (a.y + b.y) / 2}, mirror());
        });
    }
    refresh();
}

} // namespace fulvex
