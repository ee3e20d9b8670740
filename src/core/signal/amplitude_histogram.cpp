#include "amplitude_histogram.h"

#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

namespace fulvex {

namespace {

/// A value's bin, counted from `first`; `nowhere` for gaps.
inline std::int32_t placeOf(double value, double scale, double first, std::int32_t nowhere)
{
    // What is taken away is whole, and nothing lies below: cut off is rounded down. Just below a whole number the
    // difference may be rounded up to it, beyond the last bin.
    const double last = double(nowhere) - 1, place = value * scale - first, kept = place < last ? place : last;
    return std::int32_t(value == value ? kept : double(nowhere));
}

FULVEX_WIDEST_VECTORS void placesOf(const double *values, std::size_t size, double scale, double first,
                                    std::int32_t nowhere, std::int32_t *places)
{
    for (std::size_t i = 0; i < size; ++i) places[i] = placeOf(values[i], scale, first, nowhere);
}

/// sums += times * some, element by element.
FULVEX_WIDEST_VECTORS void addTo(double *sums, const double *some, std::size_t size, double times)
{
    for (std::size_t i = 0; i < size; ++i) sums[i] += times * some[i];
}

void addTo(AmplitudeHistogram::Bin *sums, std::span<const AmplitudeHistogram::Bin> some, double times)
{
    static_assert(sizeof(AmplitudeHistogram::Bin) == 2 * sizeof(double));
    addTo(&sums->count, &some.data()->count, 2 * some.size(), times);
}

} // namespace

void AmplitudeHistogram::addBins(const AmplitudeHistogram &finer, double times)
{
    if (finer.bins.empty()) return;
    if (finer.grid.exponent == grid.exponent)
        return addTo(bins.data() + (finer.grid.first - grid.first), finer.bins, times);
    for (std::size_t i = 0; i < finer.bins.size();) {
        const std::int64_t place = grid.binOf(finer.grid, std::int64_t(i));
        Bin there = bins[std::size_t(place)];
        for (; i < finer.bins.size() && grid.binOf(finer.grid, std::int64_t(i)) == place; ++i) {
            there.count += times * finer.bins[i].count;
            there.sum += times * finer.bins[i].sum;
        }
        bins[std::size_t(place)] = there;
    }
}

void AmplitudeHistogram::widen(double low, double high)
{
    if (!bins.empty() && low >= least && high <= most) return;
    AmplitudeHistogram wider;
    wider.least = bins.empty() ? low : std::min(least, low);
    wider.most = bins.empty() ? high : std::max(most, high);
    wider.grid = NestedBins::over(wider.least, wider.most, between);
    const auto count = std::size_t(wider.grid.count);
    if (!bins.empty() && wider.grid.exponent == grid.exponent) {
        wider.bins = std::move(bins);
        wider.bins.reserve(count + 1); // for that of gaps
        wider.bins.insert(wider.bins.begin(), std::size_t(grid.first - wider.grid.first), Bin());
        wider.bins.resize(count);
    } else {
        wider.bins.reserve(count + 1);
        wider.bins.resize(count);
        wider.addBins(*this, 1);
    }
    *this = std::move(wider);
}

AmplitudeHistogram AmplitudeHistogram::of(std::span<const double> values)
{
    AmplitudeHistogram histogram;
    if (values.empty()) return histogram;
    const auto [least, most] = std::minmax_element(values.begin(), values.end());
    histogram.add(values, *least, *most);
    return histogram;
}

double AmplitudeHistogram::count() const
{
    double sum = 0;
    for (const Bin &bin : bins) sum += bin.count;
    return sum;
}

/// Whether values that far apart are counted.
static bool areCounted(double low, double high)
{
    return low <= high && std::max(std::abs(low), std::abs(high)) <= 1e150;
}

/// Values rise with the codes, so that a bin's lie one behind the other.
void AmplitudeHistogram::addCodes(const CodeScale &scale, std::int32_t first, std::span<const std::uint32_t> counts)
{
    const auto size = std::int32_t(counts.size());
    const double low = scale.valueOf(first), high = scale.valueOf(first + size - 1);
    if (!areCounted(low, high)) return;
    widen(low, high);
    const double perValue = std::ldexp(1.0, -grid.exponent), firstBin = double(grid.first);
    const auto binOf = [&](std::int32_t code) {
        return placeOf(scale.valueOf(first + code), perValue, firstBin, grid.count);
    };
    const double codesPerBin = 1 / (perValue * scale.step);
    for (std::int32_t code = 0; code < size;) {
        const std::int32_t bin = binOf(code);
        // Where the next one begins: about a bin on, then exactly.
        const double about = double(code) + std::max(1.0, codesPerBin);
        std::int32_t end = about < size ? std::int32_t(about) : size;
        while (end < size && binOf(end) == bin) ++end;
        while (end - 1 > code && binOf(end - 1) != bin) --end;
        std::uint64_t count = 0, sum = 0; // of codes from this one on
        for (std::int32_t i = code; i < end; ++i) {
            count += counts[std::size_t(i)];
            sum += std::uint64_t(counts[std::size_t(i)]) * std::uint64_t(i - code);
        }
        bins[std::size_t(bin)].count += double(count);
        bins[std::size_t(bin)].sum += double(count) * scale.valueOf(first + code) + double(sum) * scale.step;
        code = end;
    }
}

void AmplitudeHistogram::add(std::span<const double> values, double low, double high)
{
    if (!areCounted(low, high)) return;
    widen(low, high);
    bins.emplace_back(); // for gaps
    // So that of two alike samples in a row the second need not wait for the first. Empty between the calls.
    static thread_local std::vector<Bin> odd;
    odd.resize(std::max(odd.size(), bins.size()));
    const double scale = std::ldexp(1.0, -grid.exponent), first = double(grid.first);
    std::array<std::int32_t, 512> places;
    for (std::size_t done = 0; done < values.size(); done += places.size()) {
        const auto some = values.subspan(done, std::min(places.size(), values.size() - done));
        placesOf(some.data(), some.size(), scale, first, grid.count, places.data());
        const auto count = [&](std::vector<Bin> &into, std::size_t i) {
            Bin &bin = into[std::size_t(places[i])];
            bin.count += 1;
            bin.sum += some[i];
        };
        for (std::size_t i = 0; i + 1 < some.size(); i += 2) {
            count(bins, i);
            count(odd, i + 1);
        }
        if (some.size() % 2 == 1) count(bins, some.size() - 1);
    }
    addTo(bins.data(), std::span(odd).first(bins.size()), 1);
    std::fill_n(odd.begin(), bins.size(), Bin());
    bins.pop_back();
}

void AmplitudeHistogram::merge(const AmplitudeHistogram &later)
{
    if (later.bins.empty()) return;
    if (bins.empty()) {
        *this = later;
        return;
    }
    widen(later.least, later.most);
    addBins(later, 1);
}

AmplitudeHistogram AmplitudeHistogram::without(const AmplitudeHistogram &part) const
{
    AmplitudeHistogram rest = *this;
    rest.addBins(part, -1);
    return rest;
}

double AmplitudeHistogram::countWithin(double from, double to) const
{
    double count = 0;
    for (std::size_t i = 0; i < bins.size(); ++i) {
        const double low = grid.low() + double(i) * grid.width();
        if (low >= from && low + grid.width() <= to) count += bins[i].count;
    }
    return count;
}

} // namespace fulvex
