#pragma once

#include "figure_worker.h"
#include "painted_from.h"
#include "trace_drawing.h"
#include "workbench.h"

#include <QWidget>

namespace fulvex {

/// The whole record in miniature, always there: the present view as a frame, the views of detail tiles as dashed ones,
/// regions, loop settling, failures, outliers, notes, markers. Drag a frame to move its view, drag elsewhere to choose
/// one, wheel to zoom, double click to see all. A region is moved by its tab above the record, and made longer or
/// shorter by the tab's ends: what is made of it follows as it moves.
class StripView final : public QWidget {
    Q_OBJECT
public:
    explicit StripView(Workbench &bench, QWidget *parent = nullptr);
    /// Where values of the selected row lie far from the others, s.
    void showOutliers(const std::vector<double> &times);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;

private:
    enum class Drag { none, frame, span, region, regionStart, regionStop };
    QRectF plot() const { return QRectF(rect()).adjusted(14, 12, -14, -16); }
    double timeAt(double x) const;
    double xOf(double time) const;
    const ChannelResult *shownChannel() const;
    bool wantRecord(); ///< drawn as it is now; whether there is one
    void paintMarks(QPainter &painter);
    void paintRegions(QPainter &painter);
    void paintFrames(QPainter &painter);
    std::vector<int> detailTiles() const; ///< tiles of the sheet that have views of their own
    int frameAt(double x) const;          ///< tile whose frame lies there, or Workbench::wholeSheet; noFrame: none
    static constexpr int noFrame = -2;
    QRectF tabOf(const RegionEntry &region) const; ///< empty where it lies beside the record
    /// What of a region lies at a place of its tab, and which; Drag::none beside all of them.
    std::pair<Drag, std::string> grabbedAt(QPointF at) const;
    void dragRegion(double time);
    Workbench &m_bench;
    PaintedFrom m_paintedFrom;
    Drawn<TraceDrawing> m_drawn; ///< the record
    Drag m_drag = Drag::none;
    int m_dragged = Workbench::wholeSheet; ///< tile whose frame is dragged
    std::string m_region;                  ///< that is dragged
    int m_undoStep = 0;                    ///< one a drag
    double m_grip = 0, m_start = 0, m_end = 0;
    std::pair<double, double> m_whole{0, 1};
    std::vector<double> m_outliers; ///< s
};

} // namespace fulvex
