#pragma once

#include "pyramid.h"

#include <QImage>
#include <QPointF>
#include <memory>
#include <optional>
#include <vector>

namespace fulvex {

/// What is drawn of a channel's samples over a span of time: all of a traces figure that takes time to make. Cheap
/// whatever the length of the record (see traceColumns); reads at most 256 samples a pixel column. May be made on any
/// thread, and be painted for a moment where the figure has moved on: it says itself what it is of.
struct TraceDrawing {
    /// All that it is drawn from.
    struct From {
        std::shared_ptr<const SampleSource> source;
        std::shared_ptr<const Pyramid> pyramid;
        double start, stop; ///< s
        int columns;        ///< pixels from start to stop
        bool straight;      ///< straight lines between samples, no band-limited curve
        double low, high;   ///< values at the bottom and top of the shade
        int rows;           ///< pixels from low to high
        QRgb ink;
        bool operator==(const From &) const = default;
    };
    static TraceDrawing of(const From &from);

    double start = 0, stop = 1;   ///< s
    double low = 0, high = 1;     ///< values at the bottom and top of the shade
    bool sketch = false;          ///< most of its samples are still to be read
    TraceColumns columns;         ///< per pixel column, when far
    QImage shade;                 ///< of the columns
    std::vector<QPointF> samples; ///< (s, value) when close; NaN for gaps
    std::vector<QPointF> curve;   ///< the band-limited signal through the samples, when very close
    bool empty() const { return columns.size() == 0 && samples.empty(); }
};

/// A channel's value at a time: on the band-limited curve through the samples around it, or on the straight line
/// between two; nothing outside the record and in gaps.
std::optional<double> traceValue(const SampleSource &source, double time, bool straight);

} // namespace fulvex
