#pragma once

#include "tile_frame.h"
#include "words_figure.h"

namespace fulvex {

/// What somebody wrote on a sheet. A click on a link shows that sheet, a double click edits.
class WordsTile final : public TileFrame {
    Q_OBJECT
public:
    WordsTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return {}; } ///< the words have their own heading
    bool selected() const override { return hasFocus(); }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override; ///< F2 or Return edits, Up and Down scroll
    void wheelEvent(QWheelEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    bool event(QEvent *event) override;

private:
    void refresh();
    void scrollTo(double pixels);
    QRectF page() const; ///< the words'
    QString linkAt(const QPointF &place) const;
    WordsFigure m_figure;
};

/// Lets the user write on a tile, as one undoable step.
void editWords(Workbench &bench, const std::string &tile, QWidget *window);

} // namespace fulvex
