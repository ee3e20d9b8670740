#include "clock_symbols.h"

#include "error.h"
#include "parallel.h"

#include <algorithm>

namespace fulvex {

std::vector<std::uint8_t> symbolsOf(const SampleSource &source, const UnitIntervalMap &map, SampleRange unitIntervals,
                                    std::span<const double> thresholds, Progress &progress)
{
    std::vector<std::uint8_t> symbols(std::size_t(std::max<std::int64_t>(0, unitIntervals.size())), unknownSymbol);
    constexpr std::int64_t together = 1 << 14;
    for (const SampleRange &run : map.running(unitIntervals)) {
        struct Nothing {}; // each chunk writes to its own place
        inChunks<Nothing>(run, together, progress, [&](SampleRange mine, Nothing &) {
            const double begin = map.positionOf(double(mine.first)), end = map.positionOf(double(mine.last));
            SymbolMiddles(source, map)
                .symbols(mine.first, thresholds,
                         std::span(symbols).subspan(std::size_t(mine.first - unitIntervals.first),
                                                    std::size_t(mine.size())));
            const auto within = [&](double at) {
                return std::int64_t(std::clamp(at, 0.0, double(source.axis().count)));
            };
            source.release({within(begin), within(end)});
        });
    }
    return symbols;
}

std::optional<std::uint8_t> symbolBy(char letter)
{
    if (letter >= '0' && letter <= '9') return std::uint8_t(letter - '0');
    if (letter >= 'a' && letter <= 'f') return std::uint8_t(letter - 'a' + 10);
    return {};
}

std::vector<std::int64_t> placesOf(const std::string &words, std::span<const std::uint8_t> symbols)
{
    std::vector<std::optional<std::uint8_t>> wanted;
    for (const char word : words) {
        if (word == ' ') continue;
        wanted.push_back(word == '?' ? std::optional<std::uint8_t>() : symbolBy(word));
        if (word != '?' && !wanted.back())
            throw Error("", std::string("\"") + word + "\" is no symbol",
                        "write them as digits, ? for any, \"0011?1\"");
    }
    std::vector<std::int64_t> places;
    if (wanted.empty()) return places;
    for (std::size_t i = 0; i + wanted.size() <= symbols.size(); ++i) {
        bool same = true;
        for (std::size_t k = 0; k < wanted.size() && same; ++k)
            same = wanted[k] ? symbols[i + k] == *wanted[k] : symbols[i + k] != unknownSymbol;
        if (same) places.push_back(std::int64_t(i));
    }
    return places;
}

} // namespace fulvex
