#include "phase_noise_lines.h"

#include "axis_painter.h"
#include "number_text.h"
#include "phase_noise_edits.h"

#include <QHeaderView>

namespace fulvex {

namespace {

constexpr int ofLine = Qt::UserRole, byNumber = Qt::UserRole + 1;

/// A cell that sorts by its number.
class Cell final : public QTableWidgetItem {
public:
    Cell(const QString &words, double number, std::size_t line) : QTableWidgetItem(words)
    {
        setData(byNumber, number);
        setData(ofLine, qulonglong(line));
        setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        setFlags(Qt::ItemIsSelectable | Qt::ItemIsEnabled);
    }
    bool operator<(const QTableWidgetItem &other) const override
    {
        return data(byNumber).toDouble() < other.data(byNumber).toDouble();
    }
};

} // namespace

PhaseNoiseLines::PhaseNoiseLines(Workbench &bench, const std::string &phaseNoise, QWidget *parent)
    : QTableWidget(parent), m_bench(bench), m_id(phaseNoise)
{
    setObjectName("phaseNoiseLines");
    setAccessibleName(tr("Lines of the phase noise"));
    setColumnCount(3);
    setHorizontalHeaderLabels({tr("offset"), tr("level, dBc"), tr("counts")});
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(22);
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setSortingEnabled(true);
    sortByColumn(0, Qt::AscendingOrder);
    setFixedHeight(8 * 22);
    setToolTip(tr("A click on a heading sorts · a tick: the line counts in the integral"));
    connect(this, &QTableWidget::itemChanged, this, &PhaseNoiseLines::take);
    connect(this, &QTableWidget::itemClicked, this, &PhaseNoiseLines::choose);
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged})
        connect(&bench, changed, this, &PhaseNoiseLines::refresh);
    refresh();
}

void PhaseNoiseLines::refresh()
{
    const PhaseNoiseResult *result = m_bench.results() ? findEntry(m_bench.results()->phaseNoise, m_id) : nullptr;
    if (!result || !result->found) {
        m_shown.reset();
        return setRowCount(0);
    }
    if (m_shown == result->found && m_span.lines == result->span.lines && m_span.except == result->span.except) return;
    m_shown = result->found;
    m_span = result->span;
    const QSignalBlocker quiet(this);
    setSortingEnabled(false);
    setRowCount(int(m_shown->lines.size()));
    for (std::size_t i = 0; i < m_shown->lines.size(); ++i) {
        const PhaseNoise::Line &line = m_shown->lines[i];
        const bool counts = m_span.counts(line.offset);
        setItem(int(i), 0, new Cell(text(quantityText(line.offset, "Hz", {}, 5)), line.offset, i));
        setItem(int(i), 1, new Cell(text(fixedText(line.level, 1)), line.level, i));
        auto *tick = new Cell({}, counts, i);
        tick->setFlags(tick->flags() | Qt::ItemIsUserCheckable);
        tick->setCheckState(counts ? Qt::Checked : Qt::Unchecked);
        setItem(int(i), 2, tick);
    }
    setSortingEnabled(true);
}

void PhaseNoiseLines::take(QTableWidgetItem *item)
{
    if (item->column() != 2 || !m_shown) return;
    const auto line = std::size_t(item->data(ofLine).toULongLong());
    if (line >= m_shown->lines.size()) return;
    const bool counts = m_span.counts(m_shown->lines[line].offset);
    if ((item->checkState() == Qt::Checked) != counts) countLine(m_bench, m_id, line);
}

void PhaseNoiseLines::choose()
{
    if (!currentItem()) return;
    Question question;
    question.part = std::size_t(currentItem()->data(ofLine).toULongLong());
    m_bench.select({Selection::Kind::phaseNoise, m_id}, question);
}

} // namespace fulvex
