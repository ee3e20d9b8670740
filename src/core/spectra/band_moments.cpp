#include "band_moments.h"

#include "parallel.h"

#include <algorithm>
#include <bit>
#include <cmath>

namespace fulvex {

namespace {

std::size_t lengthFor(const SampleSource &source, SampleRange range, double width)
{
    constexpr std::size_t least = 64, most = std::size_t(1) << 20;
    const double wanted = 4 * windowNoiseBandwidth(Window::hann) / (std::max(width, 1e-300) * source.axis().interval);
    const auto room = std::bit_floor(std::size_t(std::max<std::int64_t>(8, range.size())));
    return std::min({room, most, std::bit_ceil(std::size_t(std::clamp(wanted, double(least), double(most))))});
}

} // namespace

BandMoments bandMoments(const SampleSource &source, SampleRange range, double low, double high, std::size_t most,
                        Progress &progress)
{
    SegmentRule rule;
    rule.length = lengthFor(source, range, high - low);
    const Segments segments(range, rule);
    BandMoments found;
    if (segments.count() == 0) return found;
    const double step = 1 / (source.axis().interval * double(rule.length));
    const auto last = double(segments.lines() - 1);
    const auto from = std::size_t(std::clamp(std::ceil(low / step - 1e-9), 0.0, last)),
               to = std::size_t(std::clamp(std::floor(high / step + 1e-9), double(from), last));
    std::vector<double> powers(std::size_t(segments.count()));
    const std::int64_t together = std::max<std::int64_t>(1, (1 << 18) / std::int64_t(rule.length));
    struct Nothing {};
    inChunks<Nothing>({0, segments.count()}, together, progress, [&](SampleRange mine, Nothing &) {
        FourierBuffer buffer({}, segments.length());
        for (std::int64_t k = mine.first; k < mine.last; ++k) {
            progress.advance(0);
            double power = NAN;
            if (segments.transform(source, k, buffer)) {
                power = 0;
                for (std::size_t line = from; line <= to; ++line)
                    power += std::norm(buffer.lines()[line]) * segments.densityScale(line, source.axis().interval);
            }
            powers[std::size_t(k)] = power * step;
        }
        source.release(segments.samples(mine));
    });
    std::vector<std::int64_t> order;
    double squares = 0;
    for (std::int64_t k = 0; k < segments.count(); ++k) {
        const double power = powers[std::size_t(k)];
        if (std::isnan(power)) continue;
        order.push_back(k);
        found.mean += std::sqrt(power);
        squares += power;
    }
    found.count = std::int64_t(order.size());
    if (order.empty()) return found;
    found.mean /= double(order.size());
    found.std = std::sqrt(std::max(0.0, squares / double(order.size()) - found.mean * found.mean));
    std::stable_sort(order.begin(), order.end(),
                     [&](std::int64_t a, std::int64_t b) { return powers[std::size_t(a)] > powers[std::size_t(b)]; });
    std::vector<bool> taken(powers.size());
    for (const std::int64_t k : order) {
        if (found.strongest.size() >= most) break;
        const auto at = std::size_t(k);
        if ((at > 0 && taken[at - 1]) || (at + 1 < taken.size() && taken[at + 1])) continue; // half of it is another's
        taken[at] = true;
        found.strongest.push_back({segments.samples({k, k + 1}), std::sqrt(powers[at])});
    }
    return found;
}

} // namespace fulvex
