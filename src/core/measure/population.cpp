#include "population.h"

#include <algorithm>

namespace fulvex {

void Population::reserve(std::size_t count)
{
    position.reserve(count);
    span.reserve(count);
    value.reserve(count);
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

static double meanOf(const double *values, std::size_t count)
{
    double sum = 0;
    for (std::size_t i = 0; i < count; ++i) sum += values[i];
    return sum / double(count);
}

Statistics statisticsOf(const Population &population)
{
    Statistics found;
    const std::vector<double> &values = population.value;
    const std::size_t count = values.size();
    found.count = std::int64_t(count);
    if (count == 0) return found;
    const double reference = values.front(); // deviations from it keep the digits that matter
    double sum = 0;
    for (const double v : values) sum += v - reference;
    const double mean = reference + sum / double(count);
    found.mean = mean;
    const auto [low, high] = std::minmax_element(values.begin(), values.end());
    found.min = *low;
    found.max = *high;
    found.last = values.back();
    if (count < 2) return found;
    double squares = 0;
    for (const double v : values) squares += (v - mean) * (v - mean);
    found.std = std::sqrt(squares / double(count - 1));
    if (count < 4) return found;
    const auto batches = std::size_t(std::sqrt(double(count))), length = count / batches;
    double scatter = 0;
    const double whole = meanOf(values.data(), batches * length);
    for (std::size_t batch = 0; batch < batches; ++batch) {
        const double off = meanOf(values.data() + batch * length, length) - whole;
        scatter += off * off;
    }
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
    const auto [low, high] = std::minmax_element(population.value.begin(), population.value.end());
    const double pad = *high > *low ? 0 : std::max(std::abs(*low) * 1e-6, 1e-18);
    histogram.low = *low - pad;
    histogram.high = *high + pad;
    const auto bins = std::size_t(std::clamp(2 * std::cbrt(double(population.size())), 16.0, 128.0));
    histogram.counts.resize(bins);
    const double scale = double(bins) / (histogram.high - histogram.low);
    for (const double v : population.value)
        ++histogram.counts[std::min(bins - 1, std::size_t((v - histogram.low) * scale))];
    return histogram;
}

} // namespace fulvex
