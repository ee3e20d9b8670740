#pragma once

#include "trace_drawing.h"

namespace fulvex {

/// Traces of several captures over each other, as one picture. May be made on any thread, and be painted for a moment
/// where the figure has moved on: it says itself what it is of.
struct TraceStack {
    struct From {
        struct One {
            TraceDrawing::From trace;
            double strength; ///< 0 … 1
            bool operator==(const One &) const = default;
        };
        std::vector<One> traces; ///< the lowest first; all of one span and scale
        bool operator==(const From &) const = default;
    };
    static TraceStack of(const From &from);

    double start = 0, stop = 1, low = 0, high = 1; ///< s, and values, at its edges
    QImage image;                                  ///< null: there are none
};

} // namespace fulvex
