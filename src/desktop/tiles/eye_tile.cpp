#include "eye_tile.h"

#include "axis_painter.h"
#include "lap_fold.h"

namespace fulvex {

EyeTile::EyeTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent, Selection::Kind::eye), m_pen(bench), m_levels(bench),
      m_drawn(bench.figures(), [this] { update(); }), m_paths(bench.figures(), [this] { update(); })
{
    setObjectName("eyeTile");
    setMouseTracking(true);
    setToolTip(tr("Click: settings and evidence · click a cross: that bit on the trace · drag a box: the unit "
                  "intervals that pass through it;\nthen a right click offers its histograms"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::runChanged})
        connect(&bench, changed, this, &EyeTile::refresh);
    for (auto changed : {&Workbench::selectionChanged, &Workbench::momentsListed, &Workbench::viewChanged,
                         &Workbench::pointedAtChanged})
        connect(&bench, changed, this, &EyeTile::refresh);
    refresh();
}

void EyeTile::refresh()
{
    const EyeFigure before = m_figure;
    const auto shown = results();
    if (shown)
        m_figure = eyeFigure(*shown, entryId());
    else if (!m_figure.fold)
        m_figure.empty = bench().document().captures.empty() ? tr("Drop a capture here, or press Ctrl+O.")
                         : isOfRun()                         ? tr("No capture of the run is counted yet.")
                                                             : tr("Folding…");
    const Question &question = bench().question();
    if (m_figure.fold && question.id == entryId() && question.phases && question.values)
        m_figure.asked = QRectF(QPointF(question.phases->first, question.values->first),
                                QPointF(question.phases->second, question.values->second));
    if (const EyeResult *eye = shown ? findEntry(shown->eyes, entryId()) : nullptr)
        for (const std::string &row : {bench().pointedAt(), bench().selection().id})
            if (m_figure.marks.empty()) m_figure.marks = eyeMarks(*shown, *eye, row);
    const Selection &selection = bench().selection();
    if (selection.kind != Selection::Kind::mask || selection.id != m_figure.mask) m_figure.farthest.clear();
    single();
    m_figure.picture = before.picture;
    m_figure.paths = before.paths;
    if (m_figure == before) return;
    if (isVisible() && wantPicture()) return; // which is drawn while the rest is painted
    update();
}

bool EyeTile::wantPicture()
{
    const auto picture = m_figure.pictureFrom(bench().look());
    const auto paths = m_figure.pathsFrom();
    const bool newPicture = picture && m_drawn.want(*picture), newPaths = paths && m_paths.want(*paths);
    return newPicture || newPaths;
}

void EyeTile::single()
{
    if (!m_figure.by || !m_figure.fold) return;
    const UnitIntervalMap &map = m_figure.by->map;
    const EyeRule &rule = m_figure.rule;
    const std::vector<Workbench::Moment> &listed = bench().moments();
    const auto take = [&](std::int64_t n) {
        if (n < 0 || n >= map.unitIntervals() || m_figure.singled.size() == EyeFigure::mostSingled) return;
        m_figure.singled.push_back(n);
    };
    const Selection &selection = bench().selection();
    const RegionEntry *stretch =
        selection.kind == Selection::Kind::region ? findEntry(bench().document().regions, selection.id) : nullptr;
    if (bench().momentsOf() == entryId() && bench().question().narrowed()) {
        m_figure.singled.clear();
        m_figure.singledFailed = false;
        for (const Workbench::Moment &moment : listed) take(moment.unitInterval);
    } else if (stretch) {
        // The other way: what a stretch of the trace is in the eye.
        const std::vector<std::int64_t> there =
            lapsBetween(map, rule, stretch->start, stretch->stop, EyeFigure::mostSingled + 1);
        if (there.size() <= EyeFigure::mostSingled) {
            m_figure.singled.clear();
            m_figure.singledFailed = false;
            for (const std::int64_t n : there) take(n);
        }
    }
    const auto &moment = bench().moment();
    if (!moment || moment->channel != m_figure.source) return;
    const double middle = (moment->from + moment->to) / 2;
    const auto known =
        std::find_if(listed.begin(), listed.end(), [&](const Workbench::Moment &one) { return one.time == middle; });
    const bool its = known != listed.end() && bench().momentsOf() == entryId() && !rule.across.seconds;
    if (const auto there = its ? std::optional(known->unitInterval) : lapAt(map, rule, middle))
        m_figure.chosen = *there;
}

void EyeTile::choose()
{
    Question question;
    question.ofRun = isOfRun();
    askEvidence(question);
}

QString EyeTile::facts() const
{
    return m_figure.title + (m_figure.facts.isEmpty() ? QString() : " · " + m_figure.facts);
}

bool EyeTile::selected() const
{
    return TileFrame::selected() || bench().selection() == Selection{Selection::Kind::mask, m_figure.mask};
}

void EyeTile::paintBody(QPainter &painter, const QRectF &area)
{
    wantPicture();
    m_figure.picture = m_drawn.newest();
    m_figure.paths = m_paths.newest();
    paintEye(painter, area, m_figure, bench().look());
    if (m_figure.fold && !m_words.isEmpty()) {
        painter.setFont(bench().look().font(10));
        const QRectF plot = m_figure.plotRect(area);
        QRectF box = QRectF(QFontMetrics(painter.font()).boundingRect(m_words)).adjusted(-5, -2, 5, 2);
        box.moveBottomLeft(plot.bottomLeft() + QPointF(3, -3));
        painter.fillRect(box, bench().look().tile);
        painter.setPen(bench().look().quiet);
        painter.drawText(box, Qt::AlignCenter, m_words);
    }
    if (m_levels.isOn(entryId()))
        m_levels.paint(painter, entryId(), m_figure.window(m_figure.plotRect(area)), bench().look());
    if (const std::string mask = m_pen.maskOn(entryId()); m_figure.fold && !mask.empty())
        m_pen.paint(painter, mask, m_figure.window(m_figure.plotRect(area)), bench().look());
}

void EyeTile::mousePressEvent(QMouseEvent *event)
{
    m_pressed.reset();
    if (!m_figure.fold || event->button() != Qt::LeftButton) return;
    setFocus(Qt::MouseFocusReason);
    if (const std::string mask = m_pen.maskOn(entryId()); !mask.empty()) {
        update();
        if (m_pen.press(mask, window(), event->position())) return;
    }
    if (m_levels.press(entryId(), window(), event->position())) return;
    m_pressed = event->position();
}

void EyeTile::mouseMoveEvent(QMouseEvent *event)
{
    if (m_pen.holds()) {
        m_pen.drag(m_pen.maskOn(entryId()), window(), event->position());
        return;
    }
    if (m_levels.holds()) {
        m_levels.drag(entryId(), window(), event->position());
        return;
    }
    readOut(event->position());
    if (!m_pressed || !m_figure.fold) return;
    if (!m_dragged && (event->position() - *m_pressed).manhattanLength() < QApplication::startDragDistance()) return;
    const QRectF plot = m_figure.plotRect(body());
    const auto at = [&](QPointF point) {
        return m_figure.valuesAt(
            plot, {std::clamp(point.x(), plot.left(), plot.right()), std::clamp(point.y(), plot.top(), plot.bottom())});
    };
    m_dragged = QRectF(at(*m_pressed), at(event->position())).normalized();
    m_figure.asked = m_dragged;
    update();
}

void EyeTile::readOut(QPointF at)
{
    const QRectF plot = m_figure.plotRect(body());
    const bool there = m_figure.fold && plot.contains(at);
    const QPointF values = m_figure.valuesAt(plot, at);
    const QString words = there ? m_figure.wordsAt(values.x(), values.y()) : QString();
    if (std::exchange(m_words, words) != words) update();
}

void EyeTile::leaveEvent(QEvent *)
{
    if (!std::exchange(m_words, QString()).isEmpty()) update();
}

void EyeTile::mouseReleaseEvent(QMouseEvent *)
{
    if (m_pen.release() || m_levels.release()) return update();
    const auto pressed = std::exchange(m_pressed, {});
    const auto box = std::exchange(m_dragged, {});
    if (!pressed || !m_figure.fold) return;
    if (box) {
        Question question;
        question.phases = {box->left(), box->right()};
        question.values = {box->top(), box->bottom()};
        question.ofRun = isOfRun();
        return askEvidence(question);
    }
    if (m_pen.maskOn(entryId()).empty()) choose();
    const QRectF plot = m_figure.plotRect(body());
    for (const EyeFigure::Failure &failure : m_figure.failures) {
        if ((m_figure.pointOf(plot, failure.x, failure.y) - *pressed).manhattanLength() > 9) continue;
        RecordSpan place{failure.from, failure.to, m_figure.source, true};
        place.capture = failure.capture;
        bench().goTo(place);
        return;
    }
}

void EyeTile::mouseDoubleClickEvent(QMouseEvent *event)
{
    const std::string mask = m_pen.maskOn(entryId());
    if (!mask.empty() && m_figure.fold) m_pen.doubleClick(mask, window(), event->position());
}

void EyeTile::keyPressEvent(QKeyEvent *event)
{
    const std::string mask = m_pen.maskOn(entryId());
    if (!mask.empty() && m_pen.key(mask, event->key(), event->modifiers() & Qt::ShiftModifier)) return;
    TileFrame::keyPressEvent(event);
}

} // namespace fulvex
