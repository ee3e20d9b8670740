#include "pattern_check.h"

#include "cross_correlation.h"
#include "number_text.h"

#include <algorithm>

namespace fulvex {

std::vector<std::uint8_t> symbolsOf(const EdgeList &edges, const std::function<std::int64_t(std::size_t)> &numberOf)
{
    constexpr auto most = std::size_t(2 * longestPattern);
    std::vector<std::uint8_t> longest, here;
    for (std::size_t i = 0; i + 1 < edges.size() && here.size() < most; ++i) {
        const std::int64_t length = numberOf(i + 1) - numberOf(i);
        if (!edges.isAfterGap(i + 1) && length >= 0) {
            here.insert(here.end(), std::min(std::size_t(length), most - here.size()),
                        std::uint8_t(edges.symbolBehind(i)));
            continue;
        }
        if (here.size() > longest.size()) longest.swap(here);
        here.clear();
    }
    return here.size() > longest.size() ? here : longest;
}

std::int64_t patternLength(std::span<const std::uint8_t> symbols, Progress &progress)
{
    constexpr double agree = 0.98;
    if (symbols.size() < 16) return 0;
    std::vector<double> signs;
    for (const std::uint8_t symbol : symbols) signs.push_back(symbol ? 1 : -1);
    const std::vector<double> sums = crossCorrelation(signs, signs, progress);
    const std::size_t n = symbols.size();
    for (std::size_t shift = 2; shift <= n / 2; ++shift) {
        if (sums[n - 1 + shift] >= (2 * agree - 1) * double(n - shift)) return std::int64_t(shift);
    }
    return 0;
}

std::vector<Finding> checkPattern(std::int64_t length, std::int64_t unitIntervals, const std::string &channel)
{
    if (length == 0) return {};
    const double repeats = double(unitIntervals) / double(length);
    if (repeats >= wantedRepeats) return {};
    return {{"pattern_repeats",
             "warning",
             "the pattern of " + std::to_string(length) + " symbols is repeated " + fixedText(repeats, 1) +
                 " times: data-dependent jitter is told from random jitter by its repeats, and " +
                 std::to_string(wantedRepeats) +
                 " are needed; take a "
                 "longer "
                 "record",
             channel,
             {},
             {},
             {}}};
}

} // namespace fulvex
