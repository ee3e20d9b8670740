#include "trace_stack.h"

#include "trace_strokes.h"

namespace fulvex {

TraceStack TraceStack::of(const From &from)
{
    TraceStack stack;
    if (from.traces.empty()) return stack;
    const TraceDrawing::From &first = from.traces.front().trace;
    stack.start = first.start;
    stack.stop = first.stop;
    stack.low = first.low;
    stack.high = first.high;
    stack.image = QImage(first.columns, first.rows, QImage::Format_ARGB32_Premultiplied);
    stack.image.fill(Qt::transparent);
    QPainter painter(&stack.image);
    const QRectF rect(stack.image.rect());
    for (const From::One &one : from.traces) {
        const TraceDrawing drawing = TraceDrawing::of(one.trace);
        painter.setOpacity(one.strength);
        if (drawing.columns.size() > 0) {
            painter.drawImage(rect, drawing.shade);
            continue;
        }
        painter.setPen(tracePen(QColor(one.trace.ink), 1.3));
        paintSamples(painter, rect, drawing, {stack.start, stack.stop, stack.low, stack.high}, 0);
    }
    return stack;
}

} // namespace fulvex
