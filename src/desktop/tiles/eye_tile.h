#pragma once

#include "eye_figure.h"
#include "figure_worker.h"
#include "level_pen.h"
#include "mask_pen.h"
#include "tile_frame.h"

namespace fulvex {

/// An eye with its mask. Click selects the eye; a click on a failure goes to its bit on the trace; a box drawn over it
/// asks Evidence which unit intervals pass there. While the project's own mask is selected, it is edited here; while an
/// eye of several amplitude levels is, these are corrected.
class EyeTile final : public TileFrame {
    Q_OBJECT
public:
    EyeTile(Workbench &bench, int index, QWidget *parent);

    void choose() override;

protected:
    QString title() const override { return (m_figure.rule.overlay() ? tr("Overlay") : tr("Eye")) + ofWhich(); }
    QString facts() const override;
    QString aside() const override { return m_figure.verdict; }
    bool asideFails() const override { return m_figure.failed; }
    bool selected() const override;
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void leaveEvent(QEvent *event) override;

private:
    bool isOfRun() const { return entry().captures != "one" && hasRun(bench().document()); }
    void refresh();
    bool wantPicture(); ///< whether a new one will come
    /// Which unit intervals are drawn as curves: what Evidence lists of it, and where one is on the traces.
    void single();
    /// Says what stands under the pointer.
    void readOut(QPointF at);
    QString m_words;
    EyeWindow window() const { return m_figure.window(m_figure.plotRect(body())); }
    EyeFigure m_figure;
    MaskPen m_pen;
    LevelPen m_levels;
    Drawn<EyePicture> m_drawn;
    Drawn<EyePaths> m_paths;
    std::optional<QPointF> m_pressed;
    std::optional<QRectF> m_dragged; ///< UI, channel's unit
};

} // namespace fulvex
