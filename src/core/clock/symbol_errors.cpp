#include "symbol_errors.h"

#include "clock_symbols.h"
#include "shift_register.h"
#include "symbol_levels.h"

#include <algorithm>
#include <array>
#include <bit>
#include <memory>
#include <utility>

namespace fulvex {

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
        for (const ShiftRegister &one : registers)
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

std::int64_t rightOf(std::span<const std::uint8_t> bits, const ShiftRegister &by, bool inverted)
{
    const auto [known, right] = foretold(bits, by);
    return inverted ? known - right : right;
}

using Symbols = std::vector<std::uint8_t>;

/// What is expected, laid out beside the symbols: a stretch of it is found, the rest follows from what lies beside.
class Sequence {
public:
    virtual ~Sequence() = default;
    /// The first stretch at or behind `from` where the symbols are what is expected, written into `expected`; empty
    /// where there is none.
    virtual SampleRange find(std::span<const std::uint8_t> symbols, std::size_t from, Symbols &expected) = 0;
    /// Whether what is expected up to `until` leads to the stretch that was found last, behind it.
    virtual bool goesOn(const Symbols &expected, std::size_t until, SampleRange found) const = 0;
    virtual std::uint8_t next(const Symbols &expected, std::size_t i) const = 0;
    virtual std::uint8_t before(const Symbols &expected, std::size_t i) const = 0;
};

class PrbsSequence final : public Sequence {
public:
    PrbsSequence(const ShiftRegister &by, bool inverted) : m_by(by), m_inverted(inverted) {}
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
    bool goesOn(const Symbols &expected, std::size_t until, SampleRange found) const override
    {
        const std::size_t from = until - std::min(until, std::size_t(m_by.order));
        Symbols ahead(expected.begin() + std::ptrdiff_t(from), expected.begin() + std::ptrdiff_t(until));
        for (std::size_t i = until; i < std::size_t(found.last); ++i) ahead.push_back(next(ahead, i - from));
        return std::equal(expected.begin() + found.first, expected.begin() + found.last,
                          ahead.begin() + found.first - std::ptrdiff_t(from));
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
    const ShiftRegister &m_by;
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
            m_before = std::exchange(m_shift, best);
            for (std::size_t i = from; i < from + window; ++i) expected[i] = next(expected, i);
            return {std::int64_t(from), std::int64_t(from + window)};
        }
        return {};
    }
    bool goesOn(const Symbols &, std::size_t, SampleRange) const override { return m_shift == m_before; }
    std::uint8_t next(const Symbols &, std::size_t i) const override
    {
        return m_pattern[(i + m_shift) % m_pattern.size()];
    }
    std::uint8_t before(const Symbols &expected, std::size_t i) const override { return next(expected, i); }

private:
    Symbols m_pattern;
    Progress &m_progress;
    std::size_t m_shift = 0, m_before = 0; ///< of the stretch that was found last, and the one before
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
        if (free > 0 && sequence.goesOn(expected, free, found)) {
            // A burst of errors, behind which it goes on as before, is no slip: all of it is compared.
            for (; free < first; ++free) expected[free] = sequence.next(expected, free);
        } else if (free > 0) {
            ++slips;
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
            std::fill(expected.begin() + std::ptrdiff_t(free), expected.begin() + std::ptrdiff_t(i) + 1, unknownSymbol);
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
        const ShiftRegister *its = nullptr;
        for (const ShiftRegister &one : registers) // of several of one order that which foretells best
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

} // namespace fulvex
