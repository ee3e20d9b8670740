#pragma once

#include "tile_frame.h"
#include "trace_figure.h"

namespace fulvex {

/// Traces over the sheet's view. Drag: zoom to the span. Wheel: zoom at the pointer. Shift+drag or the middle button:
/// pan. Click and Shift+click: markers a and b. Double click: a note there. Keys: arrows, +, -, F, Esc.
class TraceTile final : public TileFrame {
    Q_OBJECT
public:
    TraceTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Traces"); }
    QString facts() const override;
    QString aside() const override;
    void paintBody(QPainter &painter, const QRectF &area) override;
    void addToMenu(QMenu &menu) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dropEvent(QDropEvent *event) override;

private:
    enum class Drag { none, span, pan };
    void addMeasuredPoints(TraceFigure &figure) const;
    void addMarks(TraceFigure &figure) const;
    double timeAt(double x) const; ///< by the present view, painted or not
    std::optional<double> valueAt(const std::string &channel, double time) const;
    void addNote(QPointF at);
    TraceFigure m_figure;
    Drag m_drag = Drag::none;
    QPointF m_from, m_to;
    double m_viewFrom = 0;
};

} // namespace fulvex
