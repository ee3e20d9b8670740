#pragma once

#include "drawn_traces.h"
#include "painted_from.h"
#include "symbol_row.h"
#include "time_tile.h"
#include "trace_grips.h"

namespace fulvex {

/// Traces over the sheet's view or one of its own. Drag: zoom to the span. Wheel or pinch: zoom at the pointer.
/// Shift+drag or the middle button: pan. Click: marker a, on the trace where there is one under the pointer;
/// Shift+click: marker b; Ctrl+click: one more. Ctrl+drag: a named region. Double click: a note there, or the one there
/// again. Drag the value axis or a trace's zero: its position; wheel on them: its scale; double click: as wide as the
/// record. Drag between lanes: their heights. Markers, regions and notes are dragged where they are.
class TraceTile final : public TimeTile {
    Q_OBJECT
public:
    TraceTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return (entry().ownView ? tr("Detail") : tr("Traces")) + ofWhich(); }
    QString facts() const override;
    QString aside() const override;
    QRectF plot() const override { return m_figure.plotRect(body()); }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dropEvent(QDropEvent *event) override;

private:
    enum class Drag { none, span, pan, region, box, grip };
    using TileEdit = std::function<void(Document &, TileEntry &)>;
    void follow();
    TraceFigure figureOf(const QRectF &area);
    void addMeasuredPoints(TraceFigure &figure) const;
    std::string secondChannel() const; ///< of the selected row; empty: it is of one
    void addLevels(TraceFigure &figure, const Document &document) const;
    void addMarks(TraceFigure &figure) const;
    /// Asks what is to be measured in a box dragged from one place to the other.
    void askOfBox(QPointF from, QPointF to, QPoint menuAt);
    std::optional<double> valueAt(const std::string &channel, double time) const;
    std::string traceAt(QPointF at) const; ///< channel whose trace passes there; empty: none
    const TileEntry &shownEntry() const;   ///< as it is, or as it is being dragged
    const Document &shownDocument() const { return m_draft ? *m_draft : bench().document(); }
    void changeTile(const QString &what, const TileEdit &edit, const QString &mergeKey = {});
    void drag(Document &document); ///< what is taken hold of, as far as the pointer is now
    void clicked(const Grip &grip, QPointF at, Qt::KeyboardModifiers modifiers);
    void addNote(QPointF at);
    void editNote(const std::string &id);
    void removeSelected();
    TraceFigure m_figure, m_taken; ///< as painted; as it was when something was taken hold of
    PaintedFrom m_paintedFrom;
    DrawnTraces m_drawn;
    const ClockResult *shownClock(const TraceFigure &figure) const;
    void addOthers(TraceFigure &figure) const;
    void addSymbols(TraceFigure &figure, const ClockResult &clock) const;
    mutable Drawn<SymbolRow> m_symbols;
    mutable bool m_close = true; ///< the view is so close that a clock's boundaries are shown
    Drag m_drag = Drag::none;
    Grip m_grip;
    std::optional<Document> m_draft;        ///< while something is dragged: how it would be
    std::optional<std::uint64_t> m_byClick; ///< the revision that a click made which may become a double click
    QPointF m_from, m_to;
    double m_viewFrom = 0;
};

} // namespace fulvex
