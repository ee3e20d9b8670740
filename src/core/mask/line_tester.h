#pragma once

#include "clear_grid.h"
#include "line_sieve.h"
#include "mask_geometry.h"
#include "mask_result.h"
#include "mask_test_run.h"
#include "phased_samples.h"

#include <atomic>
#include <memory>
#include <mutex>
#include <optional>
#include <span>
#include <vector>

namespace fulvex {

/// What is known of some unit intervals before all of them are tested, and what no chunk has to find again: the
/// smallest margin that failed so far. Margins are on one grid, so that it is no matter which chunk found it when.
class KnownSoFar {
public:
    double margin() const { return m_margin.load(std::memory_order_relaxed); }
    void lower(double margin);

    /// What tells that lines are clear of the areas at a margin.
    struct Sieve {
        std::shared_ptr<const LineSieve> lines;
        double margin = HUGE_VAL;
    };
    double sieveMargin() const { return m_sieveMargin.load(std::memory_order_relaxed); }
    Sieve sieve() const;
    bool mayMakeSieve() { return !m_isBeingMade.exchange(true); } ///< who may has to offer it
    void offer(const Sieve &sieve);                               ///< kept if it is of smaller areas

private:
    std::atomic<double> m_margin = 1, m_sieveMargin = HUGE_VAL;
    std::atomic<bool> m_isBeingMade = false;
    mutable std::mutex m_mutex;
    Sieve m_sieve;
};

/// One chunk's worth of lines against the areas at the rule's margin and at the smallest failing margin so far.
class LineTester {
public:
    /// `axis`: that samples are counted on. What is passed is kept by reference.
    LineTester(const std::vector<MovableArea> &areas, const MaskRule &rule, const TimeAxis &axis, KnownSoFar &known,
               MaskResult &result);
    /// From now on of these unit intervals alone.
    void only(SampleRange unitIntervals);
    /// Samples behind each other, in UI counted through the record; `first` being the first one's index. `step`: UI
    /// from one to the next, about.
    void samples(std::int64_t first, std::span<const double> values, std::span<const double> ui, double step);
    /// The same of as many as were loaded together: few of them are looked at.
    void samples(const PhasedSamples &at, const UnitIntervalMap &map, int interpolation, double step);
    /// The same of one unit interval, from where it begins.
    void lineIn(std::int64_t n, MaskPoint start, MaskPoint end, bool lone, std::int64_t index);
    void finish();

private:
    void prepare(double step);
    bool isOutdated() const { return m_sieve.margin != outer(); }
    void heedLooks(int more);
    void rebuild();
    void lineTo(MaskPoint now, std::int64_t index);
    void line(MaskPoint a, MaskPoint b, bool lone, std::int64_t index);
    void setBest(double margin);
    double outer() const { return m_best > m_rule.margin ? m_best : m_rule.margin; } ///< of both margins
    double passingMargin(MaskPoint start, MaskPoint end, bool lone, std::size_t i, double failing) const;
    double depthOf(MaskPoint start, MaskPoint end, bool lone, std::size_t i);
    void climb();
    void place(MaskPoint start, MaskPoint end, bool lone, std::int64_t n, std::int64_t index);
    void place(MaskPoint start, MaskPoint end, bool lone, std::size_t i, std::int64_t n, std::int64_t index);
    void hit(MaskPoint start, MaskPoint end, bool lone, std::size_t i, std::int64_t n, std::int64_t index);

    const std::vector<MovableArea> &m_areas;
    const MaskRule &m_rule;
    const TimeAxis m_axis;
    KnownSoFar &m_known;
    MaskResult &m_result;
    std::vector<MaskShape> m_atRule, m_atBest;
    std::vector<std::vector<MaskShape>>
        m_ladder; ///< per area, from the rule's margin down to the middle; once there is a hit
    double m_best = 1;
    double m_left = 0, m_right = 0;   ///< between which areas lie, UI from where their unit interval begins
    KnownSoFar::Sieve m_sieve;        ///< of lines that are `m_step` long; none at first, when all are looked at
    std::optional<ClearGrid> m_clear; ///< instead of it where lines come one by one
    LineSieve::Found m_found;
    double m_step = 0;
    int m_looks = 0; ///< at lines, since that was made
    SampleRange m_unitIntervals;
    MaskPoint m_before{0, NAN}; ///< the sample before those that come
};

} // namespace fulvex
