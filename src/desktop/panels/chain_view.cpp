#include "chain_view.h"

#include "axis_painter.h"
#include "formula_edits.h"
#include "parameter_panel.h"
#include "references.h"

#include <QDrag>
#include <QMimeData>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>

namespace fulvex {

ChainRails::ChainRails(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_editor(new QLineEdit(this))
{
    setObjectName("chainRails");
    setFocusPolicy(Qt::StrongFocus);
    m_editor->setObjectName("chainEditor");
    m_editor->hide();
    connect(m_editor, &QLineEdit::editingFinished, this, [this] {
        if (m_editor->isHidden()) return;
        m_editor->hide();
        const std::string words = m_editor->text().trimmed().toStdString();
        m_bench.change(tr("edit channel"), [&](Document &document) {
            ChannelEntry *channel = findEntry(document.channels, m_edited);
            if (channel) channel->label = words;
        });
        setFocus();
    });
    connect(&bench, &Workbench::sessionBegun, m_editor, &QWidget::hide); // what was typed was of another project
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged})
        connect(&bench, changed, this, &ChainRails::refresh);
    for (auto changed : {&Workbench::selectionChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, qOverload<>(&QWidget::update));
    for (auto changed : {&Workbench::selectionChanged, &Workbench::resultsChanged})
        connect(&bench, changed, this, &ChainRails::saySelected);
    setAccessibleName(tr("Chain"));
    refresh();
}

void ChainRails::refresh()
{
    const ChainLayout before = std::exchange(m_layout, chainLayout(m_bench.document(), m_bench.results()));
    if (m_layout.rails != before.rails || m_layout.rows.size() != before.rows.size()) {
        setMinimumHeight(int(m_layout.height));
        return update();
    }
    for (std::size_t i = 0; i < m_layout.rows.size(); ++i) // while something is dragged, few say anything new
        if (m_layout.rows[i] != before.rows[i]) update(m_layout.rows[i].place(width()).toAlignedRect());
}

void ChainRails::saySelected()
{
    const auto row = std::ranges::find(m_layout.rows, m_bench.selection(), &ChainLayout::Row::what);
    setAccessibleDescription(row == m_layout.rows.end() ? QString() : row->title + ", " + row->facts);
    const Selection shown = row == m_layout.rows.end() ? Selection() : m_bench.selection();
    if (std::exchange(m_shown, shown) == shown || shown == Selection()) return; // once, whatever is scrolled to then
    emit rowShown(row->y);
}

const ChainLayout::Row *ChainRails::rowAt(double y) const
{
    for (const auto &row : m_layout.rows) {
        if (std::abs(y - row.y) <= ChainLayout::rowHeight / 2) return &row;
    }
    return nullptr;
}

void ChainRails::paintEvent(QPaintEvent *event)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const Look &look = m_bench.look();
    if (m_layout.rows.empty())
        paintEmpty(painter, rect(), tr("No capture yet. Drop a file anywhere in the window."), look);
    for (const auto &row : m_layout.rows) {
        if (!(row.what == m_bench.selection())) continue;
        painter.fillRect(row.place(width()).adjusted(0, 1, 0, -1), look.accentWash);
        painter.fillRect(row.place(3).adjusted(0, 1, 0, -1), look.accent);
    }
    for (const auto &rail : m_layout.rails) {
        painter.setPen(QPen(look.trace(rail.ink), 1.6));
        painter.setBrush(Qt::NoBrush);
        QPainterPath path(rail.from);
        const double bend = rail.to.y() - std::abs(rail.to.x() - rail.from.x()) - 2;
        path.lineTo(rail.from.x(), std::max(rail.from.y(), bend));
        path.lineTo(rail.to);
        painter.drawPath(path);
    }
    for (const auto &row : m_layout.rows) {
        if (!event->region().intersects(row.place(width()).toAlignedRect())) continue;
        const QColor ink = row.ink < 0 ? look.quiet : look.trace(row.ink);
        painter.setPen(QPen(ink, 1.8));
        painter.setBrush(
            row.what.kind == Selection::Kind::clock || row.what.kind == Selection::Kind::capture ? look.panel : ink);
        if (row.what.kind == Selection::Kind::capture)
            painter.drawRect(QRectF(row.x - 5, row.y - 6, 10, 12));
        else if (row.what.kind == Selection::Kind::eye)
            painter.drawPolygon(
                QPolygonF({{row.x - 6, row.y}, {row.x, row.y - 5}, {row.x + 6, row.y}, {row.x, row.y + 5}}));
        else if (row.what.kind == Selection::Kind::program) // a sheet of text
            for (const double at : {-4.0, 0.0, 4.0})
                painter.drawLine(QPointF(row.x - 5, row.y + at), QPointF(row.x + (at > 0 ? 1 : 5), row.y + at));
        else if (row.what.kind == Selection::Kind::spectrum) // lines
            for (const auto &[at, high] : {std::pair(-4.0, 3.0), {0.0, 7.0}, {4.0, 4.0}})
                painter.drawLine(QPointF(row.x + at, row.y + 4), QPointF(row.x + at, row.y + 4 - high * 1.3));
        else
            painter.drawEllipse(QPointF(row.x, row.y), 5, 5);
        const QRectF words(row.x + 14, row.y - 15, width() - row.x - 20, 16);
        painter.setFont(look.font(12));
        painter.setPen(look.ink);
        painter.drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetricsF(painter.font()).elidedText(row.title, Qt::ElideMiddle, words.width()));
        painter.setFont(look.font(10));
        painter.setPen(row.problem ? look.fail : look.quiet);
        painter.drawText(words.translated(0, 15), Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetricsF(painter.font()).elidedText(row.facts, Qt::ElideRight, words.width()));
    }
    if (hasFocus() && m_bench.selection().kind == Selection::Kind::nothing) {
        painter.setPen(QPen(look.hairline, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(1, 1, -2, -2));
    }
}

bool ChainRails::event(QEvent *event)
{
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    auto *help = static_cast<QHelpEvent *>(event);
    const auto *row = rowAt(help->pos().y());
    if (row)
        QToolTip::showText(help->globalPos(),
                           QStringList({row->title, row->facts, row->remarks.join("\n")}).join("\n").trimmed() +
                               tr("\nF2: edit · Delete: remove · drag a channel to a traces tile"),
                           this);
    return true;
}

void ChainRails::mousePressEvent(QMouseEvent *event)
{
    m_pressed = event->position();
    if (const auto *row = rowAt(event->position().y()))
        m_bench.select(row->what);
    else
        m_bench.select({});
}

void ChainRails::contextMenuEvent(QContextMenuEvent *event)
{
    if (m_bench.selection().kind == Selection::Kind::nothing) return; // a press selected what is under it
    emit contextRequested(m_bench.selection(), event->globalPos());
}

void ChainRails::mouseMoveEvent(QMouseEvent *event)
{
    if (!(event->buttons() & Qt::LeftButton) ||
        (event->position() - m_pressed).manhattanLength() < QApplication::startDragDistance())
        return;
    const auto *row = rowAt(m_pressed.y());
    if (!row || row->what.kind != Selection::Kind::channel) return;
    auto *carried = new QMimeData;
    carried->setData("application/x-fulvex-channel", QByteArray::fromStdString(row->what.id));
    QDrag drag(this);
    drag.setMimeData(carried);
    drag.exec(Qt::CopyAction);
}

void ChainRails::edit()
{
    const auto row = std::find_if(m_layout.rows.begin(), m_layout.rows.end(),
                                  [&](const auto &r) { return r.what == m_bench.selection(); });
    const ChannelEntry *channel = findEntry(m_bench.document().channels, m_bench.selection().id);
    if (row == m_layout.rows.end() || !channel) return;
    if (!channel->formula.empty()) return formulaEditor().begin(channel->id, text(channel->formula));
    m_editor->setGeometry(int(row->x) + 12, int(row->y) - 16, width() - int(row->x) - 18, 24);
    m_edited = channel->id;
    m_editor->setText(text(channel->shownName()));
    m_editor->show();
    m_editor->selectAll();
    m_editor->setFocus();
}

FormulaEditor &ChainRails::formulaEditor()
{
    if (!m_formula) {
        m_formula = new FormulaEditor(m_bench, window());
        connect(m_formula, &FormulaEditor::done, this, qOverload<>(&QWidget::setFocus));
    }
    return *m_formula;
}

/// What a new formula may begin with: the selected channel, or the first; a leg of a file with the one beside it.
static QString formulaAbout(const Document &document, const std::string &selected)
{
    const auto &channels = document.channels;
    const auto isLeg = [](const ChannelEntry &channel) { return channel.formula.empty(); };
    auto from = std::find_if(channels.begin(), channels.end(), [&](const auto &c) { return c.id == selected; });
    if (from == channels.end()) from = std::find_if(channels.begin(), channels.end(), isLeg);
    if (from == channels.end()) return {};
    const auto other = std::find_if(channels.begin(), channels.end(), [&](const ChannelEntry &channel) {
        return isLeg(channel) && channel.capture == from->capture && channel.id != from->id;
    });
    if (!isLeg(*from) || other == channels.end()) return text(from->id);
    const auto [a, b] = std::minmax(from, other);
    return text(a->id + " - " + b->id);
}

void ChainRails::addFormula()
{
    formulaEditor().begin({}, formulaAbout(m_bench.document(), m_bench.selection().id));
}

void ChainRails::mouseDoubleClickEvent(QMouseEvent *)
{
    edit();
}

void ChainRails::removeSelected()
{
    const Selection selection = m_bench.selection();
    if (selection.kind == Selection::Kind::nothing) return;
    m_bench.select({});
    m_bench.change(tr("remove %1").arg(text(selection.id)),
                   [&](Document &document) { removeWithDependents(document, selection.id); });
}

void ChainRails::step(int by)
{
    if (m_layout.rows.empty()) return;
    int at = -1;
    for (std::size_t i = 0; i < m_layout.rows.size(); ++i) {
        if (m_layout.rows[i].what == m_bench.selection()) at = int(i);
    }
    at = at < 0 ? 0 : std::clamp(at + by, 0, int(m_layout.rows.size()) - 1);
    m_bench.select(m_layout.rows[std::size_t(at)].what);
}

void ChainRails::keyPressEvent(QKeyEvent *event)
{
    switch (event->key()) {
    case Qt::Key_Up:
        step(-1);
        break;
    case Qt::Key_Down:
        step(1);
        break;
    case Qt::Key_F2:
    case Qt::Key_Return:
        edit();
        break;
    case Qt::Key_Delete:
        removeSelected();
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

ChainView::ChainView(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_rails(new ChainRails(bench)), m_add(new QToolButton)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->setSpacing(2);
    auto *head = new QHBoxLayout;
    head->setContentsMargins(14, 0, 8, 0);
    auto *heading = new QLabel(tr("Chain"));
    heading->setObjectName("heading");
    head->addWidget(heading);
    head->addStretch();
    m_add->setText("+");
    m_add->setObjectName("chainAdd");
    m_add->setPopupMode(QToolButton::InstantPopup);
    m_add->setToolTip(tr("Add a capture, channel, clock, eye or mask (Insert)"));
    m_add->setShortcut(Qt::Key_Insert);
    head->addWidget(m_add);
    layout->addLayout(head);
    auto *scroll = new QScrollArea;
    scroll->setWidget(m_rails);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(scroll, 1);
    layout->addWidget(new ParameterPanel(bench));
    // Once all have their places: what adds a channel may add a parameter below.
    const auto show = [scroll](double y) { scroll->ensureVisible(0, int(y), 0, 36); };
    connect(m_rails, &ChainRails::rowShown, scroll, show, Qt::QueuedConnection);
}

} // namespace fulvex
