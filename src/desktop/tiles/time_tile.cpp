#include "time_tile.h"

#include <QGestureEvent>
#include <QPinchGesture>
#include <algorithm>
#include <cmath>

namespace fulvex {

TimeTile::TimeTile(Workbench &bench, int index, QWidget *parent, Selection::Kind kind)
    : TileFrame(bench, index, parent, kind)
{
    grabGesture(Qt::PinchGesture);
}

double TimeTile::timeAt(double x) const
{
    return view().from + (x - plot().left()) / plot().width() * (view().to - view().from);
}

void TimeTile::pan(double viewFrom, double from, double to)
{
    const double width = view().to - view().from, start = viewFrom - (to - from) / plot().width() * width;
    bench().setView(start, start + width, index());
}

bool TimeTile::keyMovesView(const QKeyEvent &event)
{
    const double width = view().to - view().from, middle = view().from + width / 2;
    switch (event.key()) {
    case Qt::Key_Left:
        bench().setView(view().from - width / 8, view().to - width / 8, index());
        return true;
    case Qt::Key_Right:
        bench().setView(view().from + width / 8, view().to + width / 8, index());
        return true;
    case Qt::Key_Plus:
    case Qt::Key_Up:
        bench().zoom(0.5, middle, index());
        return true;
    case Qt::Key_Minus:
    case Qt::Key_Down:
        bench().zoom(2, middle, index());
        return true;
    case Qt::Key_F:
        bench().fitView(index());
        return true;
    default:
        return false;
    }
}

void TimeTile::wheelMovesView(const QWheelEvent &event)
{
    const double steps = event.angleDelta().y() / 120.0;
    if (event.modifiers() & Qt::ShiftModifier || event.angleDelta().x() != 0) {
        const double by = -(steps + event.angleDelta().x() / 120.0) * 0.1 * (view().to - view().from);
        bench().setView(view().from + by, view().to + by, index());
    } else {
        bench().zoom(std::pow(0.8, steps), timeAt(event.position().x()), index());
    }
}

bool TimeTile::buttonMovesView(const QMouseEvent &event)
{
    if (event.button() == Qt::BackButton)
        bench().goBack();
    else if (event.button() == Qt::ForwardButton)
        bench().goForward();
    else
        return false;
    return true;
}

bool TimeTile::event(QEvent *event)
{
    if (event->type() == QEvent::NativeGesture) {
        const auto *gesture = static_cast<QNativeGestureEvent *>(event);
        if (gesture->gestureType() != Qt::ZoomNativeGesture) return false;
        bench().zoom(1 / std::max(0.1, 1 + gesture->value()), timeAt(gesture->position().x()), index());
        return true;
    }
    if (event->type() == QEvent::Gesture) {
        const auto *pinch =
            static_cast<QPinchGesture *>(static_cast<QGestureEvent *>(event)->gesture(Qt::PinchGesture));
        if (!pinch || !(pinch->scaleFactor() > 0)) return false;
        bench().zoom(1 / pinch->scaleFactor(), timeAt(mapFromGlobal(pinch->centerPoint()).x()), index());
        return true;
    }
    return TileFrame::event(event);
}

} // namespace fulvex
