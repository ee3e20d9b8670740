#include "population.h"

#include "core_loop.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

void Population::reserve(std::size_t count)
{
    position.reserve(count);
    span.reserve(count);
    value.reserve(count);
}

void Population::resize(std::size_t count)
{
    position.resize(count);
    span.resize(count);
    value.resize(count);
}

void Population::add(double at, double lasts, double is)
{
    position.push_back(at);
    span.push_back(lasts);
    value.push_back(is);
}

void Population::append(const Population &later)
{
    if (size() == 0) axis = later.axis;
    for (std::size_t i = 0; i < later.size(); ++i) {
        position.push_back(later.axis == axis ? later.position[i] : later.axis.positionOn(axis, later.position[i]));
        span.push_back(later.span[i] * (later.axis.interval / axis.interval));
    }
    value.insert(value.end(), later.value.begin(), later.value.end());
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
double sumOf(const std::vector<double> &values, const Use &use)
{
    const auto parts = inParts<double>(values.size(), [&](std::size_t first, std::size_t last, double &part) {
        double sum = 0;
        for (std::size_t i = first; i < last; ++i) sum += use(values[i]);
        part = sum;
    });
    double all = 0;
    for (const double part : parts) all += part;
    return all;
}

std::pair<double, double> extremesOf(const std::vector<double> &values)
{
    using Pair = std::pair<double, double>;
    const auto parts = inParts<Pair>(values.size(), [&](std::size_t first, std::size_t last, Pair &part) {
        double low = values[first], high = low;
        for (std::size_t i = first; i < last; ++i) {
            low = std::min(low, values[i]);
            high = std::max(high, values[i]);
        }
        part = {low, high};
    });
    Pair all = parts.front();
    for (const Pair &part : parts) all = {std::min(all.first, part.first), std::max(all.second, part.second)};
    return all;
}

double meanOf(const double *values, std::size_t count)
{
    double sum = 0;
    for (std::size_t i = 0; i < count; ++i) sum += values[i];
    return sum / double(count);
}

} // namespace

Statistics statisticsOf(const Population &population)
{
    Statistics found;
    const std::vector<double> &values = population.value;
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
        means[std::size_t(batch)] = meanOf(values.data() + std::size_t(batch) * length, length);
    });
    const double whole = meanOf(means.data(), batches); // they are equally long
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

Measured Measured::one(double value, std::optional<double> uncertainty)
{
    Measured measured;
    measured.single = true;
    measured.value = value;
    measured.uncertainty = uncertainty;
    return measured;
}

Statistics Measured::statistics() const
{
    if (!reason.empty()) return {};
    if (!single) return statisticsOf(population);
    Statistics found;
    found.count = 1;
    found.mean = found.min = found.max = found.last = value;
    found.uncertainty = uncertainty;
    return found;
}

ValueHistogram histogramOf(const Population &population)
{
    ValueHistogram histogram;
    if (population.size() == 0) return histogram;
    const auto [low, high] = extremesOf(population.value);
    const double pad = high > low ? 0 : std::max(std::abs(low) * 1e-6, 1e-18);
    histogram.low = low - pad;
    histogram.high = high + pad;
    const auto bins = std::size_t(std::clamp(2 * std::cbrt(double(population.size())), 16.0, 128.0));
    histogram.counts.resize(bins);
    using Counts = std::vector<std::int64_t>;
    const auto parts = inParts<Counts>(population.size(), [&](std::size_t first, std::size_t last, Counts &part) {
        part.resize(bins);
        for (std::size_t i = first; i < last; ++i) ++part[histogram.binOf(population.value[i])];
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
