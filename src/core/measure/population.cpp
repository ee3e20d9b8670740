#include "population.h"

#include "value_runs.h"
#include "value_sums.h"
#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>

namespace fulvex {

void PopulationBuilder::add(double at, double lasts, double is)
{
    m_position.push_back(at);
    m_span.push_back(lasts);
    m_value.push_back(is);
}

void PopulationBuilder::append(const Population &later)
{
    if (size() == 0) m_axis = later.axis;
    const bool same = later.axis == m_axis;
    for (std::size_t i = 0; i < later.size(); ++i)
        add(same ? later.position[i] : later.axis.positionOn(m_axis, later.position[i]),
            later.span[i] * (later.axis.interval / m_axis.interval), later.value[i]);
}

namespace {

std::pair<double, double> extremesOf(const Column &values)
{
    using Pair = std::pair<double, double>;
    const auto parts = inParts<Pair>(values.size(), [&](std::size_t first, std::size_t last, Pair &part) {
        double low = values[first], high = low;
        values.each(first, last, [&](double v) {
            low = std::min(low, v);
            high = std::max(high, v);
        });
        part = {low, high};
    });
    Pair all = parts.front();
    for (const Pair &part : parts) all = {std::min(all.first, part.first), std::max(all.second, part.second)};
    return all;
}

constexpr std::size_t inCache = 4096; ///< values

/// Of a batch of values: sums of how far they lie from a reference, and of the squares of how far from their own mean.
struct BatchSums {
    double count = 0, sum = 0, squares = 0, low = INFINITY, high = -INFINITY;
};

BatchSums batchOf(const Column &values, std::size_t first, std::size_t last, double reference)
{
    std::array<double, inCache> some;
    const double about = values[first]; // near all of them, so that digits are kept
    ValueSums sums;
    for (std::size_t from = first; from < last; from += inCache) {
        const std::size_t count = std::min(inCache, last - from);
        values.copy(from, from + count, some.data());
        sums.merge(sumsOf(std::span(some).first(count), about));
    }
    return {sums.count, sums.sum + sums.count * (about - reference),
            std::max(0.0, sums.squares - sums.sum * sums.sum / sums.count), sums.least, sums.most};
}

/// Over batches of `length`, and what is left behind them as the last one; many batches to a core at a time.
std::vector<BatchSums> batchSums(const Column &values, std::size_t length, double reference)
{
    const std::size_t count = values.size(), batches = (count + length - 1) / length;
    const std::size_t together = std::max<std::size_t>(1, valueRun / length);
    std::vector<BatchSums> sums(batches);
    onAllCores(std::int64_t((batches + together - 1) / together), [&](std::int64_t index) {
        const std::size_t end = std::min(batches, (std::size_t(index) + 1) * together);
        for (std::size_t batch = std::size_t(index) * together; batch < end; ++batch)
            sums[batch] = batchOf(values, batch * length, std::min(count, (batch + 1) * length), reference);
    });
    return sums;
}

/// As binOf(), of values beyond the extremes the bin behind the last.
FULVEX_WIDEST_VECTORS void binsOf(std::span<const double> values, const ValueHistogram &of, std::int32_t *bins)
{
    const double low = of.low, high = of.high, last = double(of.counts.size() - 1),
                 perValue = double(of.counts.size()) / (high - low);
    for (std::size_t i = 0; i < values.size(); ++i) {
        const double at = (values[i] - low) * perValue, bin = at < last ? at : last;
        bins[i] = std::int32_t(values[i] >= low && values[i] <= high ? bin : last + 1);
    }
}

/// How many values lie in each bin of a histogram; those beyond its extremes are left out. Four counts are under way
/// side by side, since neighbours often meet in one.
std::vector<std::int64_t> countsIn(const ValueHistogram &histogram, const Column &values)
{
    constexpr std::size_t ways = 4;
    const std::size_t size = histogram.counts.size() + 1; // what lies beyond has one
    using Counts = std::vector<std::uint32_t>;            // of a run, which has fewer
    const auto parts = inParts<Counts>(values.size(), [&](std::size_t first, std::size_t last, Counts &part) {
        part.resize(ways * size);
        std::array<double, inCache> some;
        std::array<std::int32_t, inCache> bins;
        for (std::size_t from = first; from < last; from += inCache) {
            const std::size_t count = std::min(inCache, last - from);
            values.copy(from, from + count, some.data());
            binsOf(std::span(some).first(count), histogram, bins.data());
            for (std::size_t i = 0; i < count; ++i) ++part[i % ways * size + std::size_t(bins[i])];
        }
    });
    std::vector<std::int64_t> counts(size);
    for (const Counts &part : parts)
        for (std::size_t i = 0; i < part.size(); ++i) counts[i % size] += part[i];
    counts.pop_back();
    return counts;
}

} // namespace

/// One pass for sums, squares and extremes, and where they are wanted one for bars.
static Described described(const Population &population, bool withHistogram)
{
    Described made;
    Statistics &found = made.statistics;
    const Column &values = population.value;
    const std::size_t count = values.size();
    found.count = std::int64_t(count);
    if (count == 0) return made;
    const double reference = values.front(); // deviations from it keep the digits that matter
    // Few batches say little of how far they scatter.
    const auto batches = std::max(std::size_t(std::sqrt(double(count))), std::min<std::size_t>(count, 16)),
               length = count / batches;
    const std::vector<BatchSums> sums = batchSums(values, length, reference);
    double sum = 0, low = sums.front().low, high = sums.front().high;
    for (const BatchSums &one : sums) {
        sum += one.sum;
        low = std::min(low, one.low);
        high = std::max(high, one.high);
    }
    const double mean = reference + sum / double(count);
    found.mean = mean;
    found.min = low;
    found.max = high;
    found.last = values.back();
    if (withHistogram) {
        ValueHistogram &histogram = made.histogram;
        const double pad = high > low ? 0 : std::max(std::abs(low) * 1e-6, 1e-18);
        histogram = {low - pad, high + pad, std::vector<std::int64_t>(usualBins(count))};
        histogram.counts = countsIn(histogram, values);
    }
    if (count < 2) return made;
    double squares = 0; // within batches, and of their means
    for (const BatchSums &one : sums) {
        const double off = one.sum / one.count - sum / double(count);
        squares += one.squares + one.count * off * off;
    }
    found.std = std::sqrt(squares / double(count - 1));
    if (count < 4) return made;
    double whole = 0, scatter = 0; // of batches that are equally long
    for (std::size_t batch = 0; batch < batches; ++batch) whole += sums[batch].sum / double(length) / double(batches);
    for (std::size_t batch = 0; batch < batches; ++batch) {
        const double off = sums[batch].sum / double(length) - whole;
        scatter += off * off;
    }
    // Where the same values come round and round, whole rounds say nothing of a part of one at the end.
    found.uncertainty =
        std::hypot(std::sqrt(scatter / double(batches - 1) / double(batches)), mean - reference - whole);
    return made;
}

Statistics statisticsOf(const Population &population)
{
    return described(population, false).statistics;
}

Measured Measured::none(std::string why)
{
    Measured measured;
    measured.reason = std::move(why);
    return measured;
}

Measured Measured::one(double value, std::vector<UncertaintyPart> parts)
{
    Measured measured;
    measured.single = true;
    measured.value = value;
    measured.parts = std::move(parts);
    return measured;
}

Measured Measured::scattered(double value, std::optional<double> uncertainty)
{
    return uncertainty ? one(value, {{"scatter", *uncertainty}}) : one(value);
}

Statistics Measured::statistics() const
{
    return describe(false).statistics;
}

Described Measured::describe(bool withHistogram) const
{
    Described made;
    if (!reason.empty()) return made;
    Statistics &found = made.statistics;
    if (!single) {
        made = described(population, withHistogram);
        if (scatter) {
            if (const auto told = scatter(population)) found.uncertainty = told;
        }
        if (found.uncertainty) found.parts.push_back({"scatter", *found.uncertainty});
    } else {
        found.count = 1;
        found.mean = found.min = found.max = found.last = value;
    }
    found.parts.insert(found.parts.end(), parts.begin(), parts.end());
    double squares = 0;
    for (const UncertaintyPart &part : found.parts) squares += part.value * part.value;
    if (!found.parts.empty()) found.uncertainty = std::sqrt(squares);
    return made;
}

Population within(const Population &population, double from, double to)
{
    const std::size_t first = population.position.firstNotBelow(population.axis.positionOf(from)),
                      last = population.position.firstAbove(population.axis.positionOf(to));
    const std::size_t count = last > first ? last - first : 0;
    return {population.axis, population.position.part(first, count), population.span.part(first, count),
            population.value.part(first, count)};
}

std::size_t usualBins(std::size_t count)
{
    return std::size_t(std::clamp(2 * std::cbrt(double(count)), 16.0, 128.0));
}

ValueHistogram histogramOf(const Population &population, std::optional<std::size_t> bins)
{
    if (population.size() == 0) return {};
    const auto [low, high] = extremesOf(population.value);
    const double pad = high > low ? 0 : std::max(std::abs(low) * 1e-6, 1e-18);
    return histogramOf(population, bins.value_or(usualBins(population.size())), low - pad, high + pad);
}

ValueHistogram histogramOf(const Population &population, std::size_t bins, double low, double high)
{
    ValueHistogram histogram{low, high, std::vector<std::int64_t>(bins)};
    histogram.counts = countsIn(histogram, population.value);
    return histogram;
}

std::pair<double, double> ValueHistogram::valuesOf(std::size_t first, std::size_t last) const
{
    constexpr double forever = std::numeric_limits<double>::infinity();
    const auto leastIn = [&](std::size_t bin) { // binOf() does not fall as values rise
        if (bin == 0) return low;
        double value = low + double(bin) * binWidth();
        while (binOf(value) < bin) value = std::nextafter(value, forever);
        while (binOf(std::nextafter(value, low)) >= bin) value = std::nextafter(value, low);
        return value;
    };
    return {leastIn(first), last + 1 < counts.size() ? leastIn(last + 1) : std::nextafter(high, forever)};
}

} // namespace fulvex
