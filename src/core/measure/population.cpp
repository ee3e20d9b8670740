#include "population.h"

#include "core_loop.h"

#include <algorithm>
#include <cmath>
#include <numeric>

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

constexpr std::size_t chunkSize = 1 << 16;

/// Calls `work(first, last, part)` for chunks of `count` values on all cores; the parts, in order.
template <typename Part, typename Work>
std::vector<Part> inParts(std::size_t count, const Work &work)
{
    std::vector<Part> parts((count + chunkSize - 1) / chunkSize);
    onAllCores(std::int64_t(parts.size()), [&](std::int64_t index) {
        const std::size_t first = std::size_t(index) * chunkSize;
        work(first, std::min(count, first + chunkSize), parts[std::size_t(index)]);
    });
    return parts;
}

/// The sum of use(value).
template <typename Use>
double sumOf(const Column &values, const Use &use)
{
    const auto parts = inParts<double>(values.size(), [&](std::size_t first, std::size_t last, double &part) {
        double sum = 0;
        values.each(first, last, [&](double v) { sum += use(v); });
        part = sum;
    });
    double all = 0;
    for (const double part : parts) all += part;
    return all;
}

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

double meanOf(const Column &values, std::size_t first, std::size_t last)
{
    double sum = 0;
    values.each(first, last, [&](double v) { sum += v; });
    return sum / double(last - first);
}

} // namespace

Statistics statisticsOf(const Population &population)
{
    Statistics found;
    const Column &values = population.value;
    const std::size_t count = values.size();
    found.count = std::int64_t(count);
    if (count == 0) return found;
    const double reference = values.front(); // deviations from it keep the digits that matter
    const double mean = reference + sumOf(values, [&](double v) { return v - reference; }) / double(count);
    found.mean = mean;
    const auto [low, high] = extremesOf(values);
    found.min = low;
    found.max = high;
    found.last = values.back();
    if (count < 2) return found;
    found.std = std::sqrt(sumOf(values, [&](double v) { return (v - mean) * (v - mean); }) / double(count - 1));
    if (count < 4) return found;
    const auto batches = std::size_t(std::sqrt(double(count))), length = count / batches;
    std::vector<double> means(batches);
    onAllCores(std::int64_t(batches), [&](std::int64_t batch) {
        means[std::size_t(batch)] = meanOf(values, std::size_t(batch) * length, std::size_t(batch + 1) * length);
    });
    const double whole = std::accumulate(means.begin(), means.end(), 0.0) / double(batches); // they are equally long
    double scatter = 0;
    for (const double one : means) scatter += (one - whole) * (one - whole);
    found.uncertainty = std::sqrt(scatter / double(batches - 1) / double(batches));
    return found;
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
    if (!reason.empty()) return {};
    Statistics found;
    if (!single) {
        found = statisticsOf(population);
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
    return found;
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
    using Counts = std::vector<std::int64_t>;
    const auto parts = inParts<Counts>(population.size(), [&](std::size_t first, std::size_t last, Counts &part) {
        part.resize(bins);
        population.value.each(first, last, [&](double v) {
            if (v >= low && v <= high) ++part[histogram.binOf(v)];
        });
    });
    for (const Counts &part : parts) {
        for (std::size_t bin = 0; bin < bins; ++bin) histogram.counts[bin] += part[bin];
    }
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
