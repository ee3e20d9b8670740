#include "symbol_pattern.h"

#include "cross_correlation.h"
#include "error.h"
#include "parallel.h"
#include "symbol_levels.h"

#include <algorithm>
#include <array>
#include <bit>
#include <memory>

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

/// Which symbols there are, rising, but for those that could not be decided.
static std::vector<std::uint8_t> kindsOf(std::span<const std::uint8_t> symbols)
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

/// A shift register whose next symbol is the sum of some of its stages.
struct Register {
    int order;
    std::array<int, 4> stages; ///< 0: none
    bool holdsAt(std::span<const std::uint8_t> bits, std::size_t i) const { return bits[i] == next(bits, i); }
    /// What follows on the bits before i.
    std::uint8_t next(std::span<const std::uint8_t> bits, std::size_t i) const
    {
        std::uint8_t sum = 0;
        for (const int stage : stages)
            if (stage > 0) sum ^= bits[i - std::size_t(stage)];
        return sum;
    }
    /// What came before the bits behind i: the last stage, by all the others.
    std::uint8_t before(std::span<const std::uint8_t> bits, std::size_t i) const
    {
        std::uint8_t sum = bits[i + std::size_t(order)];
        for (const int stage : stages)
            if (stage > 0 && stage != order) sum ^= bits[i + std::size_t(order - stage)];
        return sum;
    }
};

constexpr Register registers[] = {
    {7, {6, 7}},   {9, {5, 9}},    {11, {9, 11}},  {13, {1, 2, 12, 13}}, {15, {14, 15}},
    {20, {3, 20}}, {20, {17, 20}}, {23, {18, 23}}, {29, {27, 29}},       {31, {28, 31}},
};

/// How many places a register foretells, and how many of them rightly.
std::pair<std::int64_t, std::int64_t> foretold(std::span<const std::uint8_t> bits, const Register &by)
{
    std::int64_t known = 0, right = 0;
    int since = 0; // known ones in a row
    for (std::size_t i = 0; i < bits.size(); ++i) {
        since = bits[i] == unknownSymbol ? 0 : since + 1;
        if (since <= by.order) continue;
        ++known;
        right += by.holdsAt(bits, i);
    }
    return {known, right};
}

std::int64_t rightOf(std::span<const std::uint8_t> bits, const Register &by, bool inverted)
{
    const auto [known, right] = foretold(bits, by);
    return inverted ? known - right : right;
}

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
    const Register *by = nullptr;
    bool inverted = false;
};

FoundPattern registerOf(std::span<const std::uint8_t> bits)
{
    constexpr double enough = 0.75;
    FoundPattern best;
    double most = enough;
    for (const Register &by : registers) {
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

static std::optional<std::uint8_t> symbolBy(char word)
{
    if (word >= '0' && word <= '9') return std::uint8_t(word - '0');
    if (word >= 'a' && word <= 'f') return std::uint8_t(word - 'a' + 10);
    return {};
}

std::optional<ExpectedSymbols> expectedBy(const std::string &words)
{
    ExpectedSymbols expected;
    if (words.empty() || words == "auto") return expected;
    expected.found = false;
    if (words.starts_with("prbs")) {
        const std::string inverted = " inverted";
        std::string number = words.substr(4);
        expected.inverted = number.ends_with(inverted);
        if (expected.inverted) number.resize(number.size() - inverted.size());
        for (const Register &one : registers)
            if (number == std::to_string(one.order)) expected.order = one.order;
        if (expected.order == 0) return {};
        return expected;
    }
    for (const char word : words) {
        const auto symbol = symbolBy(word);
        if (!symbol) return {};
        expected.symbols.push_back(*symbol);
    }
    return expected;
}

namespace {

using Symbols = std::vector<std::uint8_t>;

/// What is expected, laid out beside the symbols: a stretch of it is found, the rest follows from what lies beside.
class Sequence {
public:
    virtual ~Sequence() = default;
    /// The first stretch at or behind `from` where the symbols are what is expected, written into `expected`; empty
    /// where there is none.
    virtual SampleRange find(std::span<const std::uint8_t> symbols, std::size_t from, Symbols &expected) = 0;
    virtual std::uint8_t next(const Symbols &expected, std::size_t i) const = 0;
    virtual std::uint8_t before(const Symbols &expected, std::size_t i) const = 0;
};

class PrbsSequence final : public Sequence {
public:
    PrbsSequence(const Register &by, bool inverted) : m_by(by), m_inverted(inverted) {}
    SampleRange find(std::span<const std::uint8_t> symbols, std::size_t from, Symbols &expected) override
    {
        const auto order = std::size_t(m_by.order), sure = std::size_t(32); // chance makes such a run once in 2^32
        std::size_t known = 0, held = 0;
        for (std::size_t i = from; i < symbols.size(); ++i) {
            known = symbols[i] <= 1 ? known + 1 : 0;
            held = known > order && m_by.holdsAt(symbols, i) != m_inverted ? held + 1 : 0;
            if (held < sure) continue;
            const std::size_t first = i + 1 - order - sure;
            std::copy(symbols.begin() + std::ptrdiff_t(first), symbols.begin() + std::ptrdiff_t(i + 1),
                      expected.begin() + std::ptrdiff_t(first));
            return {std::int64_t(first), std::int64_t(i + 1)};
        }
        return {};
    }
    std::uint8_t next(const Symbols &expected, std::size_t i) const override
    {
        return m_by.next(expected, i) ^ std::uint8_t(m_inverted);
    }
    std::uint8_t before(const Symbols &expected, std::size_t i) const override
    {
        return m_by.before(expected, i) ^ std::uint8_t(m_inverted);
    }

private:
    const Register &m_by;
    bool m_inverted;
};

class RepeatingSequence final : public Sequence {
public:
    explicit RepeatingSequence(Symbols pattern, Progress &progress)
        : m_pattern(std::move(pattern)), m_progress(progress)
    {
    }
    SampleRange find(std::span<const std::uint8_t> symbols, std::size_t from, Symbols &expected) override
    {
        const std::size_t length = m_pattern.size(), window = std::clamp<std::size_t>(length, 64, 4096);
        constexpr int mostTries = 64;
        for (int tries = 0; tries < mostTries && from + window <= symbols.size(); ++tries, from += window / 2) {
            std::size_t fewest = window / 8 + 1, best = 0;
            for (std::size_t shift = 0; shift < length && fewest > 0; ++shift) {
                if (shift % 4096 == 0) m_progress.advance(0);
                std::size_t differ = 0;
                for (std::size_t i = 0; i < window && differ < fewest; ++i)
                    differ += symbols[from + i] != m_pattern[(from + i + shift) % length];
                if (differ < fewest) fewest = differ, best = shift;
            }
            if (fewest > window / 8) continue;
            m_shift = best;
            for (std::size_t i = from; i < from + window; ++i) expected[i] = next(expected, i);
            return {std::int64_t(from), std::int64_t(from + window)};
        }
        return {};
    }
    std::uint8_t next(const Symbols &, std::size_t i) const override
    {
        return m_pattern[(i + m_shift) % m_pattern.size()];
    }
    std::uint8_t before(const Symbols &expected, std::size_t i) const override { return next(expected, i); }

private:
    Symbols m_pattern;
    Progress &m_progress;
    std::size_t m_shift = 0;
};

/// Whether a sequence still holds: a third of the last 64 places that were compared may differ.
class Hold {
public:
    static constexpr std::size_t window = 64;
    bool after(std::uint8_t symbol, std::uint8_t expected)
    {
        if (symbol == unknownSymbol) return true;
        m_differ = m_differ << 1 | std::uint64_t(symbol != expected);
        return std::popcount(m_differ) <= int(window / 3);
    }

private:
    std::uint64_t m_differ = 0;
};

/// The symbols that most repeats have at each place of a pattern of that length.
Symbols mostCommon(std::span<const std::uint8_t> symbols, std::size_t length)
{
    Symbols pattern(length);
    for (std::size_t place = 0; place < length; ++place) {
        std::array<int, mostSymbols> counts{};
        for (std::size_t i = place; i < symbols.size(); i += length)
            if (symbols[i] < mostSymbols) ++counts[symbols[i]];
        pattern[place] = std::uint8_t(std::max_element(counts.begin(), counts.end()) - counts.begin());
    }
    return pattern;
}

/// Lays the whole sequence beside the symbols; what stays unknown could not be laid. Gives how often it was lost and
/// found at another place.
int layOut(std::span<const std::uint8_t> symbols, Sequence &sequence, Symbols &expected)
{
    const std::size_t n = symbols.size();
    int slips = 0;
    std::size_t free = 0; // the first place that is not laid for good
    while (free < n) {
        const SampleRange found = sequence.find(symbols, free, expected);
        if (found.size() == 0) break;
        const auto first = std::size_t(found.first), last = std::size_t(found.last);
        if (free > 0) {
            // A burst of errors, behind which it goes on as before, is no slip: all of it is compared.
            Symbols before(expected.begin(), expected.begin() + std::ptrdiff_t(free));
            const Symbols there(expected.begin() + std::ptrdiff_t(first), expected.begin() + std::ptrdiff_t(last));
            for (std::size_t i = free; i < last; ++i) before.push_back(sequence.next(before, i));
            const bool same = std::equal(there.begin(), there.end(), before.begin() + std::ptrdiff_t(first));
            if (same)
                std::copy(before.begin() + std::ptrdiff_t(free), before.end(), expected.begin() + std::ptrdiff_t(free));
            slips += !same;
            if (same) free = first;
        }
        Hold back, ahead;
        for (std::size_t i = first; i-- > free;) {
            expected[i] = sequence.before(expected, i);
            if (back.after(symbols[i], expected[i])) continue;
            std::fill_n(expected.begin() + std::ptrdiff_t(i), std::min(Hold::window, first - i), unknownSymbol);
            break;
        }
        free = n;
        for (std::size_t i = last; i < n; ++i) {
            expected[i] = sequence.next(expected, i);
            if (ahead.after(symbols[i], expected[i])) continue;
            free = std::max(last, i + 1 - std::min(Hold::window, i));
            std::fill(expected.begin() + std::ptrdiff_t(free), expected.end(), unknownSymbol);
            break;
        }
    }
    return slips;
}

} // namespace

SymbolErrors errorsOf(std::span<const std::uint8_t> symbols, const ExpectedSymbols &wanted, Progress &progress)
{
    SymbolErrors errors;
    const std::size_t n = symbols.size();
    std::unique_ptr<Sequence> sequence;
    ExpectedSymbols expected = wanted;
    if (wanted.found) {
        const SymbolPattern pattern = errors.pattern = patternOf(symbols, progress);
        if (pattern.kind == SymbolPattern::Kind::none) {
            errors.reason = "no pattern repeats within the record: say which symbols are expected";
            return errors;
        }
        expected.order = pattern.order;
        expected.inverted = pattern.inverted;
        if (pattern.order == 0)
            expected.symbols =
                mostCommon(symbols.first(std::min(n, std::size_t(2 * longestPattern))), std::size_t(pattern.length));
    }
    if (expected.order > 0) {
        const Register *its = nullptr;
        for (const Register &one : registers) // of several of one order that which foretells best
            if (one.order == expected.order &&
                (!its || rightOf(symbols, one, expected.inverted) > rightOf(symbols, *its, expected.inverted)))
                its = &one;
        sequence = std::make_unique<PrbsSequence>(*its, expected.inverted);
    } else {
        sequence = std::make_unique<RepeatingSequence>(expected.symbols, progress);
    }
    Symbols laid(n, unknownSymbol);
    errors.slips = layOut(symbols, *sequence, laid);
    for (std::size_t i = 0; i < n; ++i) {
        if (symbols[i] == unknownSymbol || laid[i] == unknownSymbol) continue;
        ++errors.compared;
        if (symbols[i] == laid[i]) continue;
        errors.at.push_back(std::int64_t(i));
        errors.by.push_back(int(symbols[i]) - int(laid[i]));
    }
    if (errors.compared == 0)
        errors.reason =
            "what is expected is found nowhere in the record: check the pattern, its polarity, or the clock";
    return errors;
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
