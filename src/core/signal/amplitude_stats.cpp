#include "amplitude_stats.h"

#include "widest_vectors.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstring>

namespace fulvex {

double AmplitudeStats::rms() const
{
    return std::sqrt(mean * mean + squares / double(count));
}

double AmplitudeStats::acRms() const
{
    return std::sqrt(squares / double(count));
}

void AmplitudeStats::merge(const AmplitudeStats &later)
{
    gaps += later.gaps;
    if (later.count == 0) return;
    if (count == 0) {
        const std::int64_t seenGaps = gaps;
        *this = later;
        gaps = seenGaps;
        return;
    }
    if (later.minimum < minimum) minimum = later.minimum, minimumAt = later.minimumAt;
    if (later.maximum > maximum) maximum = later.maximum, maximumAt = later.maximumAt;
    const double all = double(count) + double(later.count), step = later.mean - mean;
    squares += later.squares + step * step * double(count) * double(later.count) / all;
    mean += step * double(later.count) / all;
    count += later.count;
}

namespace {

constexpr std::size_t lanes = 8; // side by side, and added up in their order: the same bits in vectors of any width
using Lanes = double __attribute__((vector_size(lanes * sizeof(double)))); // which loops with gaps are not turned into

struct BlockSums {
    double low = INFINITY, high = -INFINITY, sum = 0, count = 0;
};

/// NaN compares false everywhere.
FULVEX_WIDEST_VECTORS BlockSums sumsOf(const double *values, std::size_t size)
{
    Lanes low = Lanes{} + INFINITY, high = -low, sum = {}, count = {};
    for (std::size_t i = 0; i < size; i += lanes) {
        Lanes v = Lanes{} + NAN;
        if (i + lanes <= size)
            std::memcpy(&v, values + i, sizeof v);
        else
            std::memcpy(&v, values + i, (size - i) * sizeof(double));
        const auto there = v == v;
        count += there ? 1.0 : 0.0;
        sum += there ? v : 0.0;
        low = v < low ? v : low;
        high = v > high ? v : high;
    }
    BlockSums all;
    for (std::size_t lane = 0; lane < lanes; ++lane) {
        all.low = std::min(all.low, low[lane]);
        all.high = std::max(all.high, high[lane]);
        all.sum += sum[lane];
        all.count += count[lane];
    }
    return all;
}

FULVEX_WIDEST_VECTORS double squaresAbout(double mean, const double *values, std::size_t size)
{
    double sums[lanes] = {};
    const auto square = [mean](double v) { return v == v ? (v - mean) * (v - mean) : 0; };
    std::size_t i = 0;
    for (; i + lanes <= size; i += lanes) {
        for (std::size_t lane = 0; lane < lanes; ++lane) sums[lane] += square(values[i + lane]);
    }
    for (; i < size; ++i) sums[i % lanes] += square(values[i]);
    double all = 0;
    for (const double sum : sums) all += sum;
    return all;
}

/// The first that is as great; the size where none is.
FULVEX_WIDEST_VECTORS std::size_t placeOf(double value, const double *values, std::size_t size)
{
    constexpr std::size_t some = 64;
    std::size_t i = 0;
    for (; i + some <= size; i += some) {
        std::int64_t any = 0;
        for (std::size_t k = 0; k < some; ++k) any |= std::int64_t(values[i + k] == value);
        if (any) break;
    }
    while (i < size && values[i] != value) ++i;
    return i;
}

} // namespace

std::pair<double, double> AmplitudeStats::add(std::int64_t first, std::span<const double> values)
{
    const BlockSums sums = sumsOf(values.data(), values.size());
    AmplitudeStats block;
    block.count = std::int64_t(sums.count);
    block.gaps = std::int64_t(values.size()) - block.count;
    if (block.count > 0) {
        block.minimum = sums.low;
        block.maximum = sums.high;
        block.mean = sums.sum / sums.count;
        block.squares = squaresAbout(block.mean, values.data(), values.size());
        const auto placeOf = [&](double value) {
            return first + std::int64_t(fulvex::placeOf(value, values.data(), values.size()));
        };
        if (count == 0 || sums.low < minimum) block.minimumAt = placeOf(sums.low); // else nobody asks
        if (count == 0 || sums.high > maximum) block.maximumAt = placeOf(sums.high);
    }
    merge(block);
    return {sums.low, sums.high};
}

std::string AmplitudeStats::trouble() const
{
    constexpr double most = 1e150, least = 1e-150; // squares and ratios of these are numbers
    const double reach = std::max(std::abs(minimum), std::abs(maximum)), span = maximum - minimum;
    const auto sentence = [](const std::string &what) {
        return what + ": check the capture's \"sample_type\", \"byte_order\" and \"scale\"";
    };
    if (count == 0) return {};
    const auto plain = [](double value) {
        char text[32];
        std::snprintf(text, sizeof text, "%.3g", value);
        return std::string(text);
    };
    if (!(reach <= most))
        return sentence("the samples reach from " + plain(minimum) + " to " + plain(maximum) +
                        ", farther than can be computed with");
    if (span > 0 && span < least)
        return sentence("the samples differ by " + plain(span) + ", less than can be computed with");
    return {};
}

AmplitudeStats AmplitudeStats::without(const AmplitudeStats &part) const
{
    AmplitudeStats rest;
    rest.count = count - part.count;
    if (rest.count <= 0) return {};
    const double own = double(rest.count), off = part.mean - mean;
    rest.mean = mean - off * double(part.count) / own;
    const double moved = rest.mean - mean;
    rest.squares = std::max(0.0, squares - part.squares - off * off * double(part.count) - moved * moved * own);
    return rest;
}

} // namespace fulvex
