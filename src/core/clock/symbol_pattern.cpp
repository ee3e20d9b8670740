#include "symbol_pattern.h"

#include "cross_correlation.h"
#include "shift_register.h"
#include "symbol_middles.h"

#include <algorithm>
#include <array>
#include <vector>

namespace fulvex {

namespace {

/// Which symbols there are, rising, but for those that could not be decided.
std::vector<std::uint8_t> kindsOf(std::span<const std::uint8_t> symbols)
{
    std::array<bool, 256> there{};
    for (const std::uint8_t symbol : symbols) there[symbol] = true;
    std::vector<std::uint8_t> kinds;
    for (int kind = 0; kind < unknownSymbol; ++kind)
        if (there[std::size_t(kind)]) kinds.push_back(std::uint8_t(kind));
    return kinds;
}

/// The part of places at which a sequence is like itself from which on it repeats.
constexpr double agree = 0.98;

} // namespace

std::int64_t patternLength(std::span<const std::uint8_t> symbols, Progress &progress)
{
    const std::size_t n = symbols.size();
    if (n < 16) return 0;
    // Two places agree where both are the same of the symbols that there are: their autocorrelations add up.
    std::vector<double> agreements(n), is(n);
    for (const std::uint8_t kind : kindsOf(symbols)) {
        std::transform(symbols.begin(), symbols.end(), is.begin(), [&](std::uint8_t one) { return one == kind; });
        const std::vector<double> sums = crossCorrelation(is, is, progress);
        for (std::size_t shift = 0; shift < n; ++shift) agreements[shift] += sums[n - 1 + shift];
    }
    for (std::size_t shift = 2; shift <= n / 2; ++shift) {
        if (agreements[shift] >= agree * double(n - shift)) return std::int64_t(shift);
    }
    return 0;
}

namespace {

/// Of a maximum-length sequence half are ones. Where few are, most recurrences hold at most places.
bool isBalanced(std::span<const std::uint8_t> bits)
{
    const double ones = double(std::count(bits.begin(), bits.end(), 1)),
                 zeroes = double(std::count(bits.begin(), bits.end(), 0));
    return ones > 0.3 * (ones + zeroes) && zeroes > 0.3 * (ones + zeroes);
}

/// Whether a sequence is like itself at a shift, of which it holds two at least.
bool repeatsAfter(std::span<const std::uint8_t> symbols, std::int64_t shift)
{
    if (shift > std::int64_t(symbols.size() / 2)) return false;
    const auto later = symbols.subspan(std::size_t(shift));
    std::int64_t alike = 0;
    for (std::size_t i = 0; i < later.size(); ++i) alike += symbols[i] == later[i] && later[i] != unknownSymbol;
    return double(alike) >= agree * double(later.size());
}

struct FoundPattern {
    const ShiftRegister *by = nullptr;
    bool inverted = false;
};

FoundPattern registerOf(std::span<const std::uint8_t> bits)
{
    constexpr double enough = 0.75;
    FoundPattern best;
    double most = enough;
    for (const ShiftRegister &by : registers) {
        const auto [known, right] = foretold(bits, by);
        if (known < 4 * by.order) continue;
        const double share = double(right) / double(known);
        // Of an even number of stages the recurrence of inverted ones is wrong at each place.
        if (std::max(share, 1 - share) < most) continue;
        most = std::max(share, 1 - share);
        best = {&by, share < 0.5};
    }
    return best;
}

} // namespace

SymbolPattern patternOf(std::span<const std::uint8_t> all, Progress &progress)
{
    using Kind = SymbolPattern::Kind;
    const auto symbols = all.first(std::min(all.size(), std::size_t(2 * longestPattern)));
    const std::vector<std::uint8_t> kinds = kindsOf(symbols);
    if (symbols.size() < 16 || kinds.empty()) return {};
    if (kinds.size() == 1) return {Kind::constant, 0, false, 1};
    const FoundPattern found = kinds.back() <= 1 && isBalanced(symbols) ? registerOf(symbols) : FoundPattern();
    const std::int64_t its = found.by ? (std::int64_t(1) << found.by->order) - 1 : 0;
    const SymbolPattern prbs{Kind::prbs, found.by ? found.by->order : 0, found.inverted, its};
    // What a register makes is not like itself at any shorter shift, and needs no look at them all.
    if (found.by && repeatsAfter(symbols, its)) return prbs;
    const std::int64_t length = patternLength(symbols, progress);
    if (length == 2) return {Kind::clockLike, 0, false, 2};
    if (found.by && (length == 0 || length == its)) return prbs;
    if (length > 0) return {Kind::repeating, 0, false, length};
    return {};
}

std::string wordsOf(const SymbolPattern &pattern)
{
    using Kind = SymbolPattern::Kind;
    switch (pattern.kind) {
    case Kind::constant:
        return "one symbol all the time";
    case Kind::clockLike:
        return "clock-like: two symbols that alternate";
    case Kind::prbs:
        return "PRBS " + std::to_string(pattern.order) + (pattern.inverted ? ", inverted" : "");
    case Kind::repeating:
        return "pattern of " + std::to_string(pattern.length) + " symbols";
    case Kind::none:
        break;
    }
    return "no pattern that repeats";
}

} // namespace fulvex
