#pragma once

#include "comparison.h"
#include "look.h"

#include <QPainter>

namespace fulvex {

/// A difference in units of its uncertainty along a small scale: a needle from nothing to it, with what chance explains
/// shaded. Its head is full where the device differs, hollow where a setting does, so that it says nothing of the
/// device; an arrow where it lies beyond the scale.
class DifferenceScale {
public:
    static constexpr double most = 20; ///< uncertainties, either way
    static void paint(QPainter &painter, const QRectF &area, const Comparison::Pair &pair, const Look &look);
    /// Its numbers, above a column of such.
    static void paintNumbers(QPainter &painter, const QRectF &area, const Look &look);

private:
    static double xOf(const QRectF &area, double times);
};

/// How a compared number is told: with its uncertainty; counts plainly; "—" where there is none.
std::string comparedText(const ComparedNumber &number);
std::string differenceText(const Comparison::Pair &pair);

} // namespace fulvex
