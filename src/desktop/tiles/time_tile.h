#pragma once

#include "tile_frame.h"

namespace fulvex {

/// A tile with time across: the sheet's view, or one of its own. Wheel or pinch: zoom at the pointer; Shift+wheel: pan;
/// arrows, +, - and F; the mouse's back and forward buttons.
class TimeTile : public TileFrame {
    Q_OBJECT
public:
    TimeTile(Workbench &bench, int index, QWidget *parent, Selection::Kind kind = Selection::Kind::nothing);

protected:
    virtual QRectF plot() const = 0; ///< across which time goes
    Workbench::View view() const { return bench().view(index()); }
    double timeAt(double x) const; ///< by the present view, painted or not
    /// Moves the view so that `from`, where it was pressed, follows the pointer to `to`.
    void pan(double viewFrom, double from, double to);
    bool keyMovesView(const QKeyEvent &event); ///< whether it was such a key
    void wheelMovesView(const QWheelEvent &event);
    bool buttonMovesView(const QMouseEvent &event);
    bool event(QEvent *event) override;
};

} // namespace fulvex
