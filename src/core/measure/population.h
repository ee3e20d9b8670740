#pragma once

#include "column.h"
#include "time_axis.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <limits>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace fulvex {

/// The occurrences of a measured quantity, as columns, in time order. Statistics, histogram, trend and evidence are
/// views of this one list, and what it has in common with others (the edges that it is found at) is a view itself.
/// Places are sample positions; time() and duration() are for people.
struct Population {
    TimeAxis axis;   ///< that the positions count on
    Column position; ///< samples, start of the occurrence
    Column span;     ///< samples, 0 for an instant
    Column value;    ///< the quantity's unit
    std::size_t size() const { return value.size(); }
    double time(std::size_t i) const { return axis.timeOf(position[i]); }          ///< s
    double duration(std::size_t i) const { return span[i] * axis.interval; }       ///< s
    double end(std::size_t i) const { return axis.timeOf(position[i] + span[i]); } ///< s
    std::size_t ownBytes() const { return position.ownBytes() + span.ownBytes() + value.ownBytes(); }
};

/// Makes a population one by one.
class PopulationBuilder {
public:
    explicit PopulationBuilder(const TimeAxis &axis = {}) : m_axis(axis) {}
    void add(double at, double lasts, double is);
    void append(const Population &later); ///< whose positions are laid on this one's axis, the first one's if empty
    std::size_t size() const { return m_value.size(); }
    Population take()
    {
        return {m_axis, Column(std::move(m_position)), Column(std::move(m_span)), Column(std::move(m_value))};
    }

private:
    TimeAxis m_axis;
    std::vector<double> m_position, m_span, m_value;
};

/// A part of a standard uncertainty, in the quantity's unit, and what it comes from: parts add up as squares.
struct UncertaintyPart {
    const char *from; ///< scatter, noise, levels, quantisation, interpolation, period
    double value;
};

/// What is told of a population. Fields that cannot be had are empty, never 0.
struct Statistics {
    std::int64_t count = 0;
    std::optional<double> mean, std, min, max, last;
    std::optional<double> uncertainty;  ///< standard uncertainty of the mean
    std::vector<UncertaintyPart> parts; ///< that it is made of
};

/// Uncertainty by batch means over about sqrt(N) batches, 16 at least, so that correlated neighbours do not flatter it;
/// it needs 4 values. `std` is the sample standard deviation and needs 2. Source: JCGM 100:2008, 4.2; batch means: Law,
/// Kelton, "Simulation Modeling and Analysis".
Statistics statisticsOf(const Population &population);

/// Equal bins over a population's extremes.
struct ValueHistogram {
    double low = 0, high = 0;
    std::vector<std::int64_t> counts;
    bool operator==(const ValueHistogram &) const = default;
    double binWidth() const { return (high - low) / double(counts.size()); }
    /// The bin that a value between the extremes lies in.
    std::size_t binOf(double value) const
    {
        return std::min(counts.size() - 1, std::size_t((value - low) * (double(counts.size()) / (high - low))));
    }
    /// The values of which binOf() is one of the bins first to last: from the first of the pair to before the second,
    /// to the last bit.
    std::pair<double, double> valuesOf(std::size_t first, std::size_t last) const;
};

/// What is told of a population, in one go.
struct Described {
    Statistics statistics;
    ValueHistogram histogram; ///< empty where it was not asked for
};

/// A measured quantity: a population, or one number for the whole record, or neither and a reason why.
struct Measured {
    std::string reason;    ///< not empty: unmeasurable, why, and what would make it measurable
    Population population; ///< of a single number: the moments that it rests on, where it tells them
    bool single = false;
    double value = 0;
    const char *momentsUnit = ""; ///< of a single number's population
    bool counts = false;          ///< a single number that is how many moments there are
    /// Parts of the uncertainty: of a single number all of them, of a population's mean those beside its scatter.
    std::vector<UncertaintyPart> parts;
    /// What the scatter of a population leaves uncertain of its mean, where batch means are not the way to tell.
    std::optional<double> (*scatter)(const Population &) = nullptr;
    static Measured none(std::string why);
    static Measured one(double value, std::vector<UncertaintyPart> parts = {});
    /// Without a part: nothing is known of how certain it is. By scatter alone.
    static Measured scattered(double value, std::optional<double> uncertainty);
    Statistics statistics() const;
    Described describe(bool withHistogram = true) const;
};

/// The occurrences that begin within a span of time, s.
Population within(const Population &population, double from, double to);

/// About twice the cube root of the count (Rice), 16 to 128.
std::size_t usualBins(std::size_t count);
/// Over its extremes; empty for an empty population.
ValueHistogram histogramOf(const Population &population, std::optional<std::size_t> bins = {});
/// Between given values; what lies beyond them is not counted.
ValueHistogram histogramOf(const Population &population, std::size_t bins, double low, double high);

} // namespace fulvex
