#include "plain_link.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>

namespace fulvex::test {

PlainLink::PlainLink(std::span<const double> values, const PlainLinkRule &rule)
{
    findEdges(values, rule);
    if (edges.size() < 4) return;
    number(rule);
    follow(rule);
    foldEye(values, rule);
}

void PlainLink::findEdges(std::span<const double> values, const PlainLinkRule &rule)
{
    const double nan = std::nan("");
    double before = nan, up = nan, down = nan;
    int side = 0;
    bool gap = false;
    for (std::size_t i = 0; i < values.size(); ++i) {
        const double v = values[i];
        if (!(v == v)) {
            side = 0;
            gap = true;
            before = v;
            continue;
        }
        const double passage = double(i) - 1 + (rule.mid - before) / (v - before);
        if (before < rule.mid && v >= rule.mid) up = passage;
        if (before >= rule.mid && v < rule.mid) down = passage;
        const bool high = v >= rule.top, low = v <= rule.bottom && v < rule.mid;
        if ((side < 0 && high) || (side > 0 && low)) {
            edges.positions.push_back(side < 0 ? up : down);
            edges.flags.push_back(std::uint8_t((side < 0 ? EdgeList::rising : 0) | (gap ? EdgeList::afterGap : 0)));
            gap = false;
        }
        if (high) side = 1;
        if (low) side = -1;
        before = v;
    }
}

/// A tracker of second order, then the least-squares line.
void PlainLink::number(const PlainLinkRule &rule)
{
    std::complex<double> sum = 0;
    const double turn = 2 * std::numbers::pi / rule.period;
    for (std::size_t i = 0; i < std::min<std::size_t>(edges.size(), 256); ++i)
        sum += std::polar(1.0, turn * (edges.positions[i] - edges.positions[0]));
    double clock = edges.positions[0] + std::arg(sum) / turn, tracked = rule.period;
    if (edges.positions[0] - clock > rule.period / 2) clock += rule.period;
    std::int64_t at = 0;
    numbers.reserve(edges.size());
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const double distance = (edges.positions[i] - clock) / tracked;
        const double steps = std::max(0.0, std::floor(distance + 0.5));
        at += std::int64_t(steps);
        numbers.push_back(at);
        if (steps == 0 && i > 0) continue;
        const double error = std::clamp(distance - steps, -0.5, 0.5), gain = 0.12;
        clock += (steps + gain * error) * tracked;
        tracked *= 1 + std::clamp(gain * gain / 4 * error / std::max(steps, 1.0), -0.01, 0.01);
        tracked = std::clamp(tracked, 0.98 * rule.period, 1.02 * rule.period);
    }
    double n = 0, nn = 0, d = 0, nd = 0;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const double own = double(numbers[i]), deviation = edges.positions[i] - edges.positions[0] - rule.period * own;
        n += own;
        nn += own * own;
        d += deviation;
        nd += own * deviation;
    }
    const double count = double(edges.size()), slope = (nd - n * d / count) / (nn - n * n / count);
    period = rule.period + slope;
    offset = edges.positions[0] + d / count - slope * n / count;
}

/// y' = w + g e, w' = k e, e = x - y, by the trapezoidal rule, unit interval by unit interval; x runs straight from
/// edge to edge.
void PlainLink::follow(const PlainLinkRule &rule)
{
    const double warped = std::tan(std::numbers::pi * rule.bandwidth * period * rule.interval) / std::numbers::pi,
                 z = rule.damping, a = 1 + 2 * z * z,
                 wn = 2 * std::numbers::pi * warped / std::sqrt(a + std::sqrt(a * a + 1)), g = 2 * z * wn, k = wn * wn,
                 c = g / 2 + k / 4;
    const auto lateAt = [&](std::size_t i) { return (edges.positions[i] - offset) / period - double(numbers[i]); };
    double last = lateAt(0), y = last, w = 0;
    followed.push_back(y);
    for (std::size_t i = 1; i < edges.size(); ++i) {
        const std::int64_t steps = numbers[i] - numbers[i - 1];
        const double to = lateAt(i);
        double x = last;
        for (std::int64_t step = 0; step < steps; ++step) {
            const double error = x - y;
            x += (to - last) / double(steps);
            y = (y + w + c * (error + x)) / (1 + c);
            w += k / 2 * (error + x - y);
        }
        if (steps > 0) last = to;
        followed.push_back(y);
    }
}

/// Of a number counted on the line; `knot` is one at or before it, and is moved along.
double PlainLink::boundary(std::int64_t number, std::size_t &knot) const
{
    while (knot + 1 < numbers.size() && numbers[knot + 1] <= number) ++knot;
    double behind = followed[knot];
    if (knot + 1 < numbers.size() && number > numbers[knot])
        behind +=
            (followed[knot + 1] - behind) * double(number - numbers[knot]) / double(numbers[knot + 1] - numbers[knot]);
    return offset + (double(number) + behind) * period;
}

void PlainLink::foldEye(std::span<const double> values, const PlainLinkRule &rule)
{
    // Whole unit intervals of the record, the first numbered 0.
    std::size_t knot = 0;
    std::int64_t shift = numbers[0];
    while (boundary(shift, knot = 0) > 0) --shift;
    while (boundary(shift, knot = 0) < -1e-9) ++shift;
    std::int64_t end = numbers.back();
    const double lastSample = double(values.size() - 1) + 1e-9;
    while (boundary(end + 1, knot) <= lastSample) ++end;
    unitIntervals = end - shift;
    const double settled = std::max(0.0, edges.positions[0]) + 3 / rule.bandwidth / rule.interval;
    knot = 0;
    std::int64_t first = shift;
    while (first < end && boundary(first, knot) < settled) ++first;
    firstSettled = first - shift;

    double squares = 0;
    std::size_t counted = 0;
    for (std::size_t i = 0, its = 0; i < edges.size(); ++i) {
        late.push_back((edges.positions[i] - boundary(numbers[i], its)) / period);
        if (numbers[i] - shift < firstSettled) continue;
        squares += late.back() * late.back();
        ++counted;
    }
    settledRms = std::sqrt(squares / double(counted));

    fold.picture = EyeCounts::laidFor(rule.least, rule.most, 256);
    fold.unitIntervals = end - first;
    fold.sum = EyeFold::Part(2);
    const double width = fold.picture.rows.width(), rows = fold.picture.rows.count;
    const auto symbolAt = [&](double from, double to) { // 2: unknown
        const double middle = (from + to) / 2, left = std::floor(middle);
        if (left < 0 || left + 1 >= double(values.size())) return 2;
        const double v = values[std::size_t(left)], next = values[std::size_t(left) + 1];
        const double value = v + (next - v) * (middle - left);
        return value == value ? int(value >= rule.mid) : 2;
    };
    knot = 0;
    double before = boundary(first - 1, knot), from = boundary(first, knot), to = boundary(first + 1, knot);
    int last = symbolAt(before, from), own = symbolAt(from, to);
    for (std::int64_t n = first; n < end; ++n) {
        const double behind = boundary(n + 2, knot);
        const int next = symbolAt(to, behind);
        for (auto i = std::int64_t(std::ceil(from)); double(i) < to; ++i) {
            if (i < 0 || i >= std::int64_t(values.size())) continue;
            const double v = values[std::size_t(i)], phase = (double(i) - from) / (to - from);
            ++fold.samples; // gaps among them
            if (!(v == v)) continue;
            const double row = std::clamp(std::floor(v / width) - double(fold.picture.rows.first), 0.0, rows - 1);
            ++fold.picture.counts[std::size_t(row) * 256 + std::size_t(std::min(phase * 256, 255.0))];
            if (own < 2 && phase >= 0.4 && phase < 0.6) fold.sum.levels[std::size_t(own)].add(v);
        }
        // The transition at this one's begin, if it is one: a quarter of a unit interval before and after it.
        if (last != own && last < 2 && own < 2) {
            EyeFold::Trace &trace = fold.sum.from(std::size_t(last), std::size_t(own));
            const double reach = EyeFold::Trace::reach;
            for (auto i = std::int64_t(std::ceil(from - reach * (from - before)));
                 double(i) < from + reach * (to - from); ++i) {
                const double v = values[std::size_t(i)],
                             off = (double(i) - from) / (double(i) < from ? from - before : to - from);
                if (!(v == v) || !(off >= -reach && off < reach)) continue;
                EyeFold::Trace::Bin &bin = trace.bins[std::size_t((off + reach) * EyeFold::Trace::size / (2 * reach))];
                bin.count += 1;
                bin.phase += off;
                bin.value += v;
            }
        }
        before = from;
        from = to;
        to = behind;
        last = own;
        own = next;
    }
    fold.parts = {fold.sum};
}

} // namespace fulvex::test
