#pragma once

#include "look.h"
#include "plan_verdict.h"

#include <QPainter>
#include <optional>

namespace fulvex {

/// A small scale with limits, measured value and uncertainty, as stands wherever there is a verdict: what passes is
/// shaded, limits are strokes across, the value a dot with twice its standard uncertainty as a bar.
struct Ruler {
    std::optional<double> value, uncertainty, least, most; ///< in one unit
    enum class As { passes, fails, undecided } as = As::passes;
    /// Values at its ends: such that limits and value lie well within.
    std::pair<double, double> span() const;
};

/// Of a test of a plan; of a mask how far it is from touching, not how often it did.
Ruler rulerOf(const TestOutcome &outcome);

/// Of what cannot be decided.
QColor undecidedInk(const Look &look);

void paintRuler(QPainter &painter, const QRectF &area, const Ruler &ruler, const Look &look);

} // namespace fulvex
