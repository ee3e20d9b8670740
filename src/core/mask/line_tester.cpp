#include "line_tester.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>

namespace fulvex {

namespace {

constexpr int looksBefore = 600; ///< at lines, that cost about as much as making anew what tells that they are clear
constexpr int rungs = 64;

bool meets(const MaskShape &shape, MaskPoint start, MaskPoint end, bool lone)
{
    return lone ? shape.contains(end) : shape.touches(start, end);
}

} // namespace

void KnownSoFar::lower(double margin)
{
    double known = this->margin();
    while (margin < known && !m_margin.compare_exchange_weak(known, margin, std::memory_order_relaxed)) {
    }
}

KnownSoFar::Sieve KnownSoFar::sieve() const
{
    const std::lock_guard lock(m_mutex);
    return m_sieve;
}

void KnownSoFar::offer(const Sieve &sieve)
{
    m_isBeingMade = false;
    const std::lock_guard lock(m_mutex);
    if (!(sieve.margin < m_sieve.margin)) return;
    m_sieve = sieve;
    m_sieveMargin = sieve.margin;
}

LineTester::LineTester(const std::vector<MovableArea> &areas, const MaskRule &rule, const TimeAxis &axis,
                       KnownSoFar &known, MaskResult &result)
    : m_areas(areas), m_rule(rule), m_axis(axis), m_known(known),
      m_result(result), m_unitIntervals{rule.first, rule.last}
{
    m_result.areaHits.resize(areas.size());
    for (const MovableArea &area : areas) m_atRule.push_back(area.at(rule.margin));
    setBest(m_known.margin());
}

void LineTester::only(SampleRange unitIntervals)
{
    m_unitIntervals = unitIntervals;
    m_before = {0, NAN};
}

void LineTester::samples(std::int64_t first, std::span<const double> values, std::span<const double> ui, double step)
{
    prepare(step);
    for (std::size_t i = 0; i < values.size(); ++i) {
        const MaskPoint now{ui[i], values[i]};
        lineTo(now, first + std::int64_t(i));
        m_before = now;
    }
}

void LineTester::samples(const PhasedSamples &at, const UnitIntervalMap &map, int interpolation, double step)
{
    prepare(step);
    const std::int64_t first = at.ofSource().first;
    std::array<double, 65> ui;
    std::size_t hint = 0;
    const auto place = [&](std::size_t from, std::size_t count) {
        map.unitIntervalsAt(first + std::int64_t(from), 1.0 / interpolation, std::span(ui).first(count), hint);
    };
    const auto value = [&](std::size_t i) { return at.valueAt(at.thereFirst + i); };
    if (first == 0 && at.there > 0) { // no line leads to it
        place(0, 1);
        lineTo({ui[0], value(0)}, 0);
    }
    if (!m_sieve.lines) rebuild();
    const auto suspects = m_sieve.lines->suspects(at, m_found);
    for (std::size_t w = 0; w < suspects.size(); ++w) {
        if (suspects[w] == 0) continue;
        const auto from = 64 * w + std::size_t(std::countr_zero(suspects[w]));
        place(from, 65 - std::size_t(std::countr_zero(suspects[w]) + std::countl_zero(suspects[w])));
        for (std::uint64_t open = suspects[w]; open; open &= open - 1) {
            const std::size_t i = 64 * w + std::size_t(std::countr_zero(open));
            m_before = {ui[i - from], value(i)};
            lineTo({ui[i - from + 1], value(i + 1)}, first + std::int64_t(i) + 1);
        }
    }
}

void LineTester::lineIn(std::int64_t n, MaskPoint start, MaskPoint end, bool lone, std::int64_t index)
{
    if (!m_clear) rebuild();
    if (m_clear->isClear(lone ? end : start, end)) return;
    heedLooks(1);
    place(start, end, lone, n, index);
}

void LineTester::finish()
{
    m_result.sum();
    m_result.margin = m_best;
}

/// Goes on with what others found meanwhile.
void LineTester::prepare(double step)
{
    m_step = step;
    if (const double known = m_known.margin(); known < m_best) setBest(known);
    if (m_known.sieveMargin() < m_sieve.margin) {
        m_sieve = m_known.sieve();
        m_looks = 0;
    }
    heedLooks(0);
}

/// Makes anew what tells quickly that lines are clear where that pays.
void LineTester::heedLooks(int more)
{
    if ((m_looks += more) > looksBefore && isOutdated()) rebuild();
}

/// What tells quickly that lines are clear, by the areas at the best margin so far. Until it is made again, it is of
/// larger ones, and tells it of fewer lines.
void LineTester::rebuild()
{
    m_looks = 0;
    if (m_sieve.lines && !m_known.mayMakeSieve()) return; // another one does, of about the same areas
    m_sieve.margin = outer();
    if (m_step > 0) {
        m_sieve.lines = std::make_shared<LineSieve>(m_step, m_atBest);
        m_known.offer(m_sieve);
    } else {
        m_clear.emplace(m_atBest);
    }
}

/// From the sample before, if that is none it is the sample alone; nothing reaches across a gap.
void LineTester::lineTo(MaskPoint now, std::int64_t index)
{
    if (!(now.y == now.y)) return;
    const bool lone = !(m_before.y == m_before.y);
    if (!lone && m_sieve.lines && m_sieve.lines->isClear(m_before, now)) return;
    heedLooks(1);
    line(lone ? now : m_before, now, lone, index);
}

/// A line between two samples; `lone`: there is none before, and both ends are the same.
void LineTester::line(MaskPoint a, MaskPoint b, bool lone, std::int64_t index)
{
    const double first = std::ceil(std::min(a.x, b.x) - m_right), last = std::floor(std::max(a.x, b.x) - m_left);
    if (!(first <= last)) return;
    for (auto n = std::int64_t(first); n <= std::int64_t(last); ++n) {
        if (n < m_unitIntervals.first || n >= m_unitIntervals.last) continue;
        place({a.x - double(n), a.y}, {b.x - double(n), b.y}, lone, n, index);
    }
}

void LineTester::setBest(double margin)
{
    m_best = margin;
    m_atBest.clear();
    for (const MovableArea &area : m_areas) m_atBest.push_back(area.at(outer()));
    m_left = HUGE_VAL;
    m_right = -HUGE_VAL;
    for (const MaskShape &shape : m_atBest) { // a little wider, for rounding
        constexpr double some = 1e-6;
        m_left = std::min(m_left, shape.left() - some);
        m_right = std::max(m_right, shape.right() + some);
    }
}

/// The largest margin at which the line still passes area i, of a grid of steps of 2^-20 from -1 to 1, so that it
/// is the same whatever is known before; `failing` is known to fail.
double LineTester::passingMargin(MaskPoint start, MaskPoint end, bool lone, std::size_t i, double failing) const
{
    double low = -1, high = 1;
    if (meets(m_areas[i].at(low), start, end, lone)) return low;
    constexpr int halvings = 21;
    for (int step = 0; step < halvings; ++step) {
        const double middle = (low + high) / 2;
        (middle >= failing || meets(m_areas[i].at(middle), start, end, lone) ? high : low) = middle;
    }
    return low;
}

/// How far the rule's margin would have to shrink for the line to pass, in steps of 1/64 of the way to the middle:
/// cheap, since an eye that smears has a hit in every unit interval.
double LineTester::depthOf(MaskPoint start, MaskPoint end, bool lone, std::size_t i)
{
    if (m_ladder.empty()) climb();
    int failing = 0, passing = int(m_ladder[i].size());
    while (passing - failing > 1) {
        const int middle = (failing + passing) / 2;
        (meets(m_ladder[i][std::size_t(middle)], start, end, lone) ? failing : passing) = middle;
    }
    return failing * (1 + m_rule.margin) / rungs;
}

void LineTester::climb()
{
    for (const MovableArea &area : m_areas) {
        auto &ladder = m_ladder.emplace_back();
        for (int rung = 0; rung <= rungs; ++rung)
            ladder.push_back(area.at(m_rule.margin - rung * (1 + m_rule.margin) / rungs));
    }
}

void LineTester::place(MaskPoint start, MaskPoint end, bool lone, std::int64_t n, std::int64_t index)
{
    for (std::size_t i = 0; i < m_areas.size(); ++i) place(start, end, lone, i, n, index);
}

void LineTester::place(MaskPoint start, MaskPoint end, bool lone, std::size_t i, std::int64_t n, std::int64_t index)
{
    if (!meets(m_atBest[i], start, end, lone)) return;
    const bool lowers = m_best > -1 && (outer() == m_best || meets(m_areas[i].at(m_best), start, end, lone));
    if (meets(m_atRule[i], start, end, lone)) hit(start, end, lone, i, n, index);
    if (!lowers) return;
    setBest(passingMargin(start, end, lone, i, m_best));
    m_known.lower(m_best);
}

void LineTester::hit(MaskPoint start, MaskPoint end, bool lone, std::size_t i, std::int64_t n, std::int64_t index)
{
    const bool inside = m_atRule[i].contains(end), wasInside = !lone && m_atRule[i].contains(start);
    if (!inside && wasInside) return; // the sample before was the hit
    ++m_result.hits;
    ++m_result.areaHits[i];
    const double depth = depthOf(start, end, lone, i), time = m_axis.timeOf(double(index));
    auto &failures = m_result.failures;
    const auto known =
        std::find_if(failures.rbegin(), failures.rend(), [&](const MaskFailure &f) { return f.unitInterval <= n; });
    if (known == failures.rend() || known->unitInterval != n) {
        failures.insert(known.base(), MaskFailure{time, n, depth, time, int(i), end.x, end.y});
    } else if (depth > known->deepest) {
        known->deepest = depth;
        known->worstTime = time;
        known->area = int(i);
        known->phase = end.x;
        known->value = end.y;
    }
}

} // namespace fulvex
