#include "eye_box.h"

#include "lap_fold.h"
#include "resampled_source.h"
#include "sinc_kernel.h"
#include "unit_interval_walk.h"
#include "widest_vectors.h"

#include <cstring>

namespace fulvex {

namespace {

/// Whether any of a straight line lies in a box: the span of the line that lies between the box's left and right, cut
/// by its low and high, is not empty (Liang and Barsky, 1984).
bool meets(const EyeBox &box, EyePoint a, EyePoint b)
{
    double from = 0, to = 1;
    const auto cut = [&](double start, double end, double low, double high) {
        const double change = end - start;
        if (change == 0) return start >= low && start <= high;
        const double atLow = (low - start) / change, atHigh = (high - start) / change;
        from = std::max(from, std::min(atLow, atHigh));
        to = std::min(to, std::max(atLow, atHigh));
        return from <= to;
    };
    return cut(a.x, b.x, box.fromPhase, box.toPhase) && cut(a.y, b.y, box.low, box.high);
}

} // namespace

void EyePasses::merge(const EyePasses &later)
{
    unitIntervals += later.unitIntervals;
    count += later.count;
    wanted = std::max(wanted, later.wanted);
    const std::size_t more = std::min(later.first.size(), wanted - std::min(wanted, first.size()));
    first.insert(first.end(), later.first.begin(), later.first.begin() + std::ptrdiff_t(more));
}

namespace {

/// Lines between neighbouring points that may meet a box in some unit intervals: `use(n, start, end, lone, index)`,
/// ends counted from unit interval n's first crossing, `index` being the latter's.
template <typename Use>
void linesNear(const SampleSource &source, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box,
               SampleRange mine, Progress &progress, Use &&use)
{
    UnitIntervalWalk walk(source, map, rule.interpolation, progress);
    // A margin of a unit interval: the line that enters the first one begins in the one before.
    const SampleRange range =
        walk.between(double(mine.first) + std::floor(box.fromPhase) - 1, double(mine.last) + std::ceil(box.toPhase));
    walk.lines(range, [&](EyePoint a, EyePoint b, bool lone, std::int64_t index) {
        const auto from = std::max(mine.first, std::int64_t(std::ceil(std::min(a.x, b.x) - box.toPhase))),
                   to = std::min(mine.last - 1, std::int64_t(std::floor(std::max(a.x, b.x) - box.fromPhase)));
        for (std::int64_t n = from; n <= to; ++n)
            if (isLap(map, rule, n))
                use(n, EyePoint{a.x - double(n), a.y}, EyePoint{b.x - double(n), b.y}, lone, index);
    });
}

/// By all points of each unit interval.
void lookAtAll(const SampleSource &source, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box,
               SampleRange mine, std::vector<EyePass> &found, Progress &progress)
{
    linesNear(source, map, rule, box, mine, progress,
              [&](std::int64_t n, EyePoint a, EyePoint b, bool, std::int64_t index) {
                  if (!meets(box, a, b)) return;
                  const auto known = [&](const EyePass &pass) { return pass.unitInterval == n; };
                  // By unit interval; lines come in time, so the last few are enough to look at.
                  const auto recent = found.end() - std::min<std::ptrdiff_t>(std::ptrdiff_t(found.size()), 8);
                  if (std::any_of(recent, found.end(), known)) return;
                  found.push_back({source.axis().timeOf(double(index)), n, b.y});
              });
}

/// By those points alone that a narrow box lies between: most of the interpolation is saved. For records without gaps,
/// away from their ends.
class NarrowLook {
public:
    NarrowLook(const SampleSource &original, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box)
        : m_original(original), m_map(map), m_rule(rule), m_box(box), m_factor(rule.interpolation)
    {
        for (int phase = 0; phase < m_factor; ++phase) m_between.push_back(SincKernel::row(double(phase) / m_factor));
    }
    /// The unit intervals that may be looked at so: all points of them have samples on both sides.
    SampleRange within(SampleRange unitIntervals) const
    {
        const auto isIn = [&](std::int64_t n) {
            return m_map.positionOf(double(n) + std::min(0.0, m_box.fromPhase)) > SincKernel::taps &&
                   m_map.positionOf(double(n) + std::max(1.0, m_box.toPhase)) <
                       double(m_original.axis().count) - SincKernel::taps;
        };
        while (unitIntervals.first < unitIntervals.last && !isIn(unitIntervals.first)) ++unitIntervals.first;
        while (unitIntervals.first < unitIntervals.last && !isIn(unitIntervals.last - 1)) --unitIntervals.last;
        return unitIntervals;
    }
    FULVEX_WIDEST_VECTORS void look(SampleRange mine, std::vector<EyePass> &found)
    {
        const auto count = std::size_t(mine.size());
        if (count == 0) return;
        m_from.resize(count);
        m_to.resize(count);
        m_map.positionsOf(double(mine.first) + m_box.fromPhase, m_from);
        m_map.positionsOf(double(mine.first) + m_box.toPhase, m_to);
        const std::int64_t first = std::int64_t(std::floor(m_from.front())) - SincKernel::before - 1,
                           last = std::int64_t(std::ceil(m_to.back())) + SincKernel::taps + 1;
        m_values.resize(std::size_t(last - first));
        m_original.read(first, m_values);
        const TimeAxis &axis = m_original.axis();
        for (std::size_t i = 0; i < count; ++i) {
            if (!isLap(m_map, m_rule, mine.first + std::int64_t(i))) continue;
            // Counted in points from the sample that the box begins behind: few branches, and no division.
            const double place = m_from[i] - double(first), length = m_to[i] - m_from[i];
            const auto sample = std::int64_t(place); // not negative
            const double from = (place - double(sample)) * m_factor, to = from + length * m_factor;
            auto point = std::int64_t(from);
            const auto end = std::int64_t(std::ceil(to));
            const double *values = m_values.data() + sample - SincKernel::before;
            std::int64_t phase = point;
            double before = valueAt(values, phase);
            for (; point < end; ++point) {
                const bool next = ++phase == m_factor;
                values += next;
                phase = next ? 0 : phase;
                const double after = valueAt(values, phase), slope = after - before;
                const double start = before + slope * std::max(0.0, from - double(point)),
                             stop = before + slope * std::min(1.0, to - double(point));
                if (std::max(start, stop) >= m_box.low && std::min(start, stop) <= m_box.high) {
                    const double at = double(first + sample) + double(point + 1) / m_factor;
                    found.push_back({axis.timeOf(at), mine.first + std::int64_t(i), after});
                    break;
                }
                before = after;
            }
        }
        m_original.release({first, last});
    }

private:
    /// In so many parts of an interval behind the sample that the kernel's taps begin `before` samples ahead of.
    double valueAt(const double *taps, std::int64_t phase) const
    {
        const double *weights = m_between[std::size_t(phase)].data();
        Lanes sum{}, weight, value;
        for (int tap = 0; tap < SincKernel::taps; tap += lanes) {
            std::memcpy(&weight, weights + tap, sizeof weight);
            std::memcpy(&value, taps + tap, sizeof value);
            sum += weight * value;
        }
        return ((sum[0] + sum[4]) + (sum[1] + sum[5])) + ((sum[2] + sum[6]) + (sum[3] + sum[7]));
    }
    static constexpr int lanes = 8;
    using Lanes = double __attribute__((vector_size(lanes * 8))); ///< side by side, which a loop is not made into
    const SampleSource &m_original;
    const UnitIntervalMap &m_map;
    const EyeRule &m_rule;
    const EyeBox &m_box;
    int m_factor;
    std::vector<SincKernel::Row> m_between; ///< the first: the sample itself
    std::vector<double> m_from, m_to, m_values;
};

} // namespace

EyePasses passesThrough(const SourcePtr &original, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box,
                        std::size_t wanted, Progress &progress)
{
    const SourcePtr source = upsampled(original, rule.interpolation);
    constexpr double narrow = 0.5, longest = 1 << 12; // UI; samples of one, of which more are read block by block
    const bool few = !original->mayHaveGaps() && box.toPhase - box.fromPhase < narrow && map.period() < longest;
    const auto lookThrough = [&](SampleRange mine, std::vector<EyePass> &found) {
        NarrowLook by(*original, map, rule, box);
        const SampleRange inside = few ? by.within(mine) : SampleRange{mine.first, mine.first};
        if (inside.first > mine.first) lookAtAll(*source, map, rule, box, {mine.first, inside.first}, found, progress);
        by.look(inside, found);
        if (inside.last < mine.last) lookAtAll(*source, map, rule, box, {inside.last, mine.last}, found, progress);
    };
    return inChunksMerged<EyePasses>({rule.first, rule.last}, unitIntervalsAChunk(map, rule.interpolation), progress,
                                     [&](SampleRange mine, EyePasses &part) {
                                         std::vector<EyePass> found;
                                         for (const SampleRange &run : map.running(mine)) {
                                             lookThrough(run, found);
                                             part.unitIntervals += lapsIn(map, rule, run);
                                         }
                                         part.wanted = wanted;
                                         part.count = std::int64_t(found.size());
                                         found.resize(std::min(found.size(), wanted));
                                         part.first = std::move(found);
                                     });
}

namespace {

/// `take(start, end, lone, position, builder)` for all lines that may meet a box, by the original's positions.
template <typename Take>
Population gathered(const SourcePtr &original, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box,
                    Progress &progress, Take &&take)
{
    const SourcePtr source = upsampled(original, rule.interpolation);
    PopulationBuilder all(original->axis());
    for (const SampleRange &run : map.running({rule.first, rule.last})) {
        auto parts = inChunks<PopulationBuilder>(
            run, unitIntervalsAChunk(map, rule.interpolation), progress,
            [&](SampleRange mine, PopulationBuilder &part) {
                part = PopulationBuilder(original->axis());
                linesNear(*source, map, rule, box, mine, progress,
                          [&](std::int64_t, EyePoint a, EyePoint b, bool lone, std::int64_t index) {
                              take(a, b, lone, double(index) / rule.interpolation, part);
                          });
            });
        for (PopulationBuilder &part : parts) all.append(part.take());
    }
    return all.take();
}

} // namespace

Population levelsInBox(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box,
                       Progress &progress)
{
    return gathered(source, map, rule, box, progress,
                    [&](EyePoint, EyePoint at, bool, double position, PopulationBuilder &found) {
                        if (at.x >= box.fromPhase && at.x < box.toPhase && at.y >= box.low && at.y < box.high)
                            found.add(position, 0, at.y);
                    });
}

Population timesInBox(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, const EyeBox &box,
                      Progress &progress)
{
    const double middle = (box.low + box.high) / 2, unitInterval = map.period() * map.axis().interval;
    return gathered(source, map, rule, box, progress,
                    [&](EyePoint a, EyePoint b, bool lone, double position, PopulationBuilder &found) {
                        if (lone || (a.y < middle) == (b.y < middle)) return;
                        const double part = (middle - a.y) / (b.y - a.y), phase = a.x + part * (b.x - a.x);
                        if (phase >= box.fromPhase && phase < box.toPhase)
                            found.add(position - (1 - part) / rule.interpolation, 0, phase * unitInterval);
                    });
}

} // namespace fulvex
