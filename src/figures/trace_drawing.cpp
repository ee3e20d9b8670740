#include "trace_drawing.h"

#include "sinc_kernel.h"
#include "trace_shade.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fulvex {

namespace {

constexpr int curveSteps = 64; ///< finest division of a sample interval that is drawn

/// The kernel at multiples of 1 / curveSteps.
const SincKernel::Row &kernelAt(int step)
{
    static const auto rows = [] {
        std::array<SincKernel::Row, curveSteps + 1> all;
        for (int i = 0; i <= curveSteps; ++i) all[std::size_t(i)] = SincKernel::row(double(i) / curveSteps);
        return all;
    }();
    return rows[std::size_t(step)];
}

/// Weighted sum of the taps around sample `at` of `values`; beyond the ends the last sample is repeated. NaN where a
/// gap is near.
double filtered(std::span<const double> values, std::int64_t at, const SincKernel::Row &weights)
{
    double sum = 0;
    for (int tap = 0; tap < SincKernel::taps; ++tap) {
        const auto i = std::clamp<std::int64_t>(at - SincKernel::before + tap, 0, std::int64_t(values.size()) - 1);
        sum += weights[std::size_t(tap)] * values[std::size_t(i)];
    }
    return sum;
}

/// Points of the curve from sample `first` to sample `last` of `values`; a straight line where a gap is near.
void fillCurve(std::vector<QPointF> &curve, const TimeAxis &axis, std::int64_t start, std::span<const double> values,
               std::int64_t first, std::int64_t last, int perSample)
{
    for (std::int64_t i = first; i < last; ++i) {
        for (int step = 0; step < perSample; ++step) {
            const double fraction = double(step) / perSample;
            double value = filtered(values, i, kernelAt(step * curveSteps / perSample));
            if (std::isnan(value)) {
                const double here = values[std::size_t(i)], next = values[std::size_t(i + 1)];
                value = here + (next - here) * fraction;
            }
            curve.emplace_back(axis.timeOf(double(start + i) + fraction), value);
        }
    }
    curve.emplace_back(axis.timeOf(double(start + last)), values[std::size_t(last)]);
}

/// The samples themselves, and the curve through them where it can be told from straight lines.
void drawClosely(TraceDrawing &drawing, const TraceDrawing::From &from, double first, double last)
{
    const TimeAxis &axis = from.source->axis();
    const auto within = [&](double position) { return std::int64_t(std::clamp(position, 0.0, double(axis.count))); };
    const std::int64_t start = within(std::floor(first) - 1), stop = within(std::ceil(last) + 2);
    if (start >= stop) return;
    const std::int64_t readFrom = within(double(start - SincKernel::taps)),
                       readTo = within(double(stop + SincKernel::taps));
    std::vector<double> values(std::size_t(readTo - readFrom));
    from.source->read(readFrom, values);
    for (std::int64_t i = start; i < stop; ++i)
        drawing.samples.emplace_back(axis.timeOf(double(i)), values[std::size_t(i - readFrom)]);
    const double spacing = from.columns / (last - first); // pixels
    if (from.straight || spacing < 7 || stop - start < 2) return;
    int perSample = 4;
    while (perSample < curveSteps && spacing / perSample > 3) perSample *= 2;
    fillCurve(drawing.curve, axis, readFrom, values, start - readFrom, stop - 1 - readFrom, perSample);
}

} // namespace

TraceDrawing TraceDrawing::of(const From &from)
{
    TraceDrawing drawing;
    drawing.start = from.start;
    drawing.stop = from.stop;
    drawing.low = from.low;
    drawing.high = from.high;
    drawing.sketch = from.pyramid->isSketch();
    const TimeAxis &axis = from.source->axis();
    const double first = axis.positionOf(from.start), last = axis.positionOf(from.stop);
    if (last - first > 1.0 * from.columns) {
        drawing.columns = traceColumns(*from.source, *from.pyramid, first, last, from.columns);
        drawing.shade = TraceShade::picture(drawing.columns, from.low, from.high, from.rows, QColor::fromRgb(from.ink));
    } else {
        drawClosely(drawing, from, first, last);
    }
    return drawing;
}

std::optional<double> traceValue(const SampleSource &source, double time, bool straight)
{
    const TimeAxis &axis = source.axis();
    const double position = axis.positionOf(time);
    const auto left = std::int64_t(std::floor(position));
    if (left < 0 || left >= axis.count || (left + 1 == axis.count && position > double(left))) return {};
    const double fraction = position - double(left);
    const std::int64_t first = std::max<std::int64_t>(0, left - SincKernel::before),
                       last = std::min(axis.count, left - SincKernel::before + SincKernel::taps);
    std::vector<double> around(std::size_t(last - first));
    source.read(first, around);
    const double here = around[std::size_t(left - first)];
    if (fraction == 0) return std::isnan(here) ? std::nullopt : std::optional(here);
    double value = straight ? NAN : filtered(around, left - first, SincKernel::row(fraction));
    if (std::isnan(value)) value = here + (around[std::size_t(left - first) + 1] - here) * fraction;
    return std::isnan(value) ? std::nullopt : std::optional(value);
}

} // namespace fulvex
