#include "symbol_context.h"

#include "number_text.h"
#include "symbol_levels.h"
#include "symbol_middles.h"

#include <algorithm>
#include <map>
#include <numeric>

namespace fulvex {

SymbolContext symbolsAbout(const EyeResult &eye, const std::vector<std::int64_t> &unitIntervals)
{
    constexpr std::int64_t beside = SymbolContext::beside, length = 2 * beside + 1;
    SymbolContext context;
    if (!eye.samples || !eye.by) return context;
    const auto &thresholds = eye.rule.thresholds;
    std::vector<double> middles(std::size_t(length), 0.0);
    std::vector<std::map<char, std::size_t>> counts(std::size_t(length), std::map<char, std::size_t>{});
    SymbolMiddles reader(*eye.samples, eye.by->map);
    for (const std::int64_t n : unitIntervals) {
        reader.values(n - beside, middles);
        std::string symbols;
        for (std::size_t i = 0; i < middles.size(); ++i) {
            const char symbol = middles[i] == middles[i] ? "0123456789abcdef"[symbolOf(middles[i], thresholds)] : '?';
            symbols += symbol;
            ++counts[i][symbol];
        }
        context.each.push_back(symbols.substr(0, beside) + " " + symbols[beside] + " " + symbols.substr(beside + 1));
    }
    if (unitIntervals.size() < 3) return context;
    bool any = false;
    for (std::size_t i = 0; i < counts.size(); ++i) {
        const auto most = std::max_element(counts[i].begin(), counts[i].end(),
                                           [](const auto &a, const auto &b) { return a.second < b.second; });
        const bool agree = 20 * most->second >= 19 * unitIntervals.size() && most->first != '?';
        const bool own = std::int64_t(i) == beside;
        if (own) context.common += ' ';
        context.common += agree ? std::string(1, most->first) : "·";
        if (own) context.common += ' ';
        any |= agree && !own;
    }
    if (!any) context.common.clear();
    return context;
}

std::string rhythmOf(std::vector<std::int64_t> places, std::int64_t all, double unitInterval)
{
    std::sort(places.begin(), places.end());
    places.erase(std::unique(places.begin(), places.end()), places.end());
    if (places.size() < 4) return {};
    std::int64_t apart = 0;
    for (std::size_t i = 1; i < places.size(); ++i) apart = std::gcd(apart, places[i] - places[0]);
    if (apart > 2)
        return "all whole multiples of " + std::to_string(apart) + " UI apart (" +
               quantityText(double(apart) * unitInterval, "s", {}, 4) + ")";
    // The shortest part that holds four fifths of them.
    const std::size_t most = (4 * places.size() + 4) / 5;
    std::int64_t shortest = places.back() - places.front() + 1;
    for (std::size_t i = 0; i + most <= places.size(); ++i)
        shortest = std::min(shortest, places[i + most - 1] - places[i] + 1);
    if (20 * shortest > all) return {};
    return std::to_string(most) + " of " + std::to_string(places.size()) + " within " +
           quantityText(double(shortest) * unitInterval, "s", {}, 3);
}

} // namespace fulvex
