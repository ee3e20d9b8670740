#include "fold_stretch.h"

#include "bit_list.h"
#include "word_bits.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cassert>
#include <type_traits>
#include <utility>

namespace fulvex {

namespace {

constexpr std::int64_t margin = 2; ///< unit intervals to either side, of whose symbols the first is needed

} // namespace

bool Stretch::load(const SampleSource &source, const UnitIntervalMap &map, int interpolation, SampleRange unitIntervals,
                   SampleRange own, std::span<const double> thresholds)
{
    if (!m_at.load(source, map, interpolation, unitIntervals, margin)) return false;
    m_unitIntervals = std::size_t(unitIntervals.size());
    for (Words *words : {&m_middles, &m_behind, &m_centre, &m_edge}) words->resize(m_at.words);
    phaseWords(m_at.phases.data(), m_at.words, {m_middles.data(), m_behind.data(), m_centre.data(), m_edge.data()});
    keepBits(m_middles, 0, m_at.samples - 1);
    m_middle = (m_at.phases[0] + ClockPhase::half) >> ClockPhase::bits;
    m_allThere = m_at.there == m_at.samples;
    m_there.assign(m_at.words, ~std::uint64_t(0));
    if (!m_allThere) keepBits(m_there, m_at.thereFirst, m_at.thereFirst + m_at.there);
    compareAll(thresholds);
    if (bitsOf(m_middles) + m_middle < m_unitIntervals + margin) return false; // a clock that is no clock there
    keepOwn(own);
    return true;
}

void Stretch::compareAll(std::span<const double> thresholds)
{
    for (std::vector<Words> *planes : {&m_before, &m_after}) {
        planes->resize(thresholds.size());
        for (Words &words : *planes) words.resize(m_at.words);
    }
    m_reached.resize(thresholds.size());
    const std::size_t middles = bitsOf(m_middles) + 1; // the one before the first is not known
    m_some.resize(m_at.words + 1);
    for (std::size_t t = 0; t < thresholds.size(); ++t) {
        m_at.compare(thresholds[t], m_some.data(), m_there.data());
        if (t == 0 && !m_at.scale) {
            std::uint64_t all = ~std::uint64_t(0);
            for (std::size_t w = 0; w + 1 < m_at.words; ++w) all &= m_there[w];
            m_allThere &= all == ~std::uint64_t(0) && std::countr_one(m_there.back()) >= int(m_at.samples % 64);
        }
        m_reached[t].resize(middles);
        decide(thresholds[t], m_reached[t]);
        spreadBits(m_reached[t], 0, m_middles, m_before[t].data());
        spreadBits(m_reached[t], 1, m_middles, m_after[t].data());
    }
    m_knownBefore.assign(m_at.words, ~std::uint64_t(0));
    m_knownAfter.assign(m_at.words, ~std::uint64_t(0));
    if (m_allThere) return;
    m_known.resize(middles);
    m_known.words()[0] = 0;
    for (std::size_t w = 0; w < m_at.words; ++w)
        m_some[w] = m_there[w] & (m_there[w] >> 1 | (w + 1 < m_at.words ? m_there[w + 1] << 63 : 0));
    gatherBits(std::span(m_some).first(m_at.words), m_middles, 1, m_known);
    spreadBits(m_known, 0, m_middles, m_knownBefore.data());
    spreadBits(m_known, 1, m_middles, m_knownAfter.data());
}

/// On the straight line between the samples about a middle: where both have reached a threshold, or neither, so has
/// the middle. In m_some stand those that have, and then the middles.
void Stretch::decide(double threshold, BitRow &symbols)
{
    std::size_t before = 0, line = 0; // middles before the word; where the last middle lies
    m_some.back() = 0;
    for (std::size_t w = 0; w < m_at.words; ++w) {
        const std::uint64_t here = m_some[w], next = here >> 1 | m_some[w + 1] << 63;
        std::uint64_t reached = here & next;
        const std::uint64_t middles = m_middles[w];
        for (std::uint64_t open = (here ^ next) & middles; open; open &= open - 1) {
            const std::uint64_t bit = open & -open;
            const std::size_t i = w * 64 + std::size_t(std::countr_zero(open));
            const auto number = std::int32_t(m_middle + before + std::size_t(std::popcount(middles & (bit - 1))));
            while (line + 1 < m_at.lines.size() && m_at.lines.number[line + 1] <= number) ++line;
            const double middle =
                m_at.lines.from[line] + (double(number - m_at.lines.number[line]) + 0.5) * m_at.lines.step[line];
            const double v = m_at.valueAt(i), along = middle - double(m_at.first + std::int64_t(i));
            if (v + (m_at.valueAt(i + 1) - v) * along >= threshold) reached |= bit;
        }
        before += std::size_t(std::popcount(middles));
        m_some[w] = reached;
    }
    symbols.words()[0] = 0;
    gatherBits(std::span(m_some).first(m_at.words), m_middles, 1, symbols);
}

/// Samples of the own unit intervals, and of transitions those from the middle before the first to the last one.
void Stretch::keepOwn(SampleRange own)
{
    m_ownFirst = std::size_t(own.first - m_at.first);
    m_ownSamples = std::size_t(own.size());
    keepBits(m_centre, m_ownFirst, m_ownFirst + m_ownSamples);
    const std::size_t before = margin - 1 - m_middle;
    keepBits(m_edge, placeOfBit(m_middles, before) + 1, placeOfBit(m_middles, before + m_unitIntervals) + 1);
    if (m_allThere) return;
    for (std::size_t w = 0; w < m_at.words; ++w) {
        m_centre[w] &= m_there[w];
        m_edge[w] &= m_there[w];
    }
}

std::uint64_t Stretch::symbolsOf(const std::vector<Words> &reached, const Words &known, std::size_t symbol,
                                 std::size_t word) const
{
    std::uint64_t bits = known[word];
    if (symbol > 0) bits &= reached[symbol - 1][word];
    if (symbol < reached.size()) bits &= ~reached[symbol][word];
    return bits;
}

std::span<const std::int32_t> Stretch::listed()
{
    m_places.resize(m_at.words * 64 + lanePadding);
    return std::span(m_places).first(listBits(std::span(m_some).first(m_at.words), m_places.data()));
}

void Stretch::fold(const FoldGrid &grid, double origin, std::uint32_t *counts, EyeFold::Part &part)
{
    assert(part.levels.size() == levels());
    for (std::size_t symbol = 0; symbol < levels(); ++symbol) {
        for (std::size_t w = 0; w < m_at.words; ++w) // the middle of its own unit interval lies before it or behind
            m_some[w] = m_centre[w] & ((symbolsOf(m_before, m_knownBefore, symbol, w) & m_behind[w]) |
                                       (symbolsOf(m_after, m_knownAfter, symbol, w) & ~m_behind[w]));
        part.levels[symbol].merge(levelOf(origin));
    }
    for (std::size_t from = 0; from < levels(); ++from) {
        for (std::size_t to = 0; to < levels(); ++to) {
            if (from == to) continue;
            for (std::size_t w = 0; w < m_at.words; ++w)
                m_some[w] =
                    m_edge[w] & symbolsOf(m_before, m_knownBefore, from, w) & symbolsOf(m_after, m_knownAfter, to, w);
            addTransitions(listed(), part.from(from, to));
        }
    }
    constexpr std::size_t some = 2048; // cells that stay next to the core
    m_cells.resize(some + lanePadding);
    for (std::size_t done = 0; done < m_ownSamples; done += some) {
        const std::size_t first = m_ownFirst + done, count = std::min(some, m_ownSamples - done);
        const std::uint32_t *phases = m_at.phases.data() + first;
        m_at.visit([&](const auto *samples) {
            if constexpr (PhasedSamples::areValues<decltype(samples)>)
                foldCells(samples + first, phases, count, grid, m_cells.data());
            else
                foldCells(samples + first, *m_at.scale, phases, count, grid, m_cells.data());
        });
        for (const std::int32_t cell : std::span(m_cells).first(count)) ++counts[cell];
    }
}

/// Of the samples whose bits stand in m_some.
Moments Stretch::levelOf(double origin)
{
    const auto chosen = std::span(m_some).first(m_at.words);
    // Of sums of what samples exceed some value by, in units of `step`.
    const auto moments = [](double count, double sum, double squares, double from, double step) -> Moments {
        if (count == 0) return {};
        const double mean = sum / count;
        return {count, mean * step + from, std::max(0.0, (squares - sum * mean) * (step * step)), 0, 0};
    };
    return m_at.visit([&](const auto *samples) {
        if constexpr (PhasedSamples::areValues<decltype(samples)>) {
            const ValueSums sums = sumValues(samples, origin, chosen);
            return moments(sums.count, sums.sum, sums.squares, origin, 1);
        } else {
            const CodeSums sums = sumCodes(samples, chosen);
            return moments(double(sums.count), double(sums.sum), double(sums.squares), m_at.scale->offset,
                           m_at.scale->step);
        }
    });
}

/// Of each bin's samples how many there are and their phases' sum in one number, so that a sample is two additions, of
/// codes both at once.
void Stretch::addTransitions(std::span<const std::int32_t> places, EyeFold::Trace &trace) const
{
    static_assert(EyeFold::Trace::reach == 0.25 && EyeFold::Trace::size == 64);
    constexpr int binBits = ClockPhase::bits - 7;             // half a unit interval in 64
    constexpr int countBits = 20, countFrom = 64 - countBits; // of the samples of a stretch
    constexpr std::uint64_t one = std::uint64_t(1) << countFrom;
    static_assert(binBits + countBits <= countFrom);
    assert(places.size() < std::size_t(1) << countBits);
    const CodeScale scale = m_at.scale.value_or(CodeScale{1, 0}); // values are their own
    m_at.visit([&](const auto *samples) {
        constexpr bool areValues = PhasedSamples::areValues<decltype(samples)>;
        typedef std::uint64_t Two __attribute__((vector_size(16)));
        struct ValueBin {
            std::uint64_t phases;
            double sum;
        };
        std::array<std::conditional_t<areValues, ValueBin, Two>, EyeFold::Trace::size> bins{};
        for (const std::int32_t place : places) {
            const auto i = std::size_t(place);
            const std::uint32_t phase = (m_at.phases[i] + ClockPhase::quarter) & ClockPhase::within;
            auto &bin = bins[phase >> binBits];
            const std::uint64_t counted = one + (phase & ((1U << binBits) - 1));
            if constexpr (areValues) {
                bin.phases += counted;
                bin.sum += samples[i];
            } else {
                bin += Two{counted, std::uint64_t(std::int64_t(samples[i]))};
            }
        }
        for (std::size_t i = 0; i < bins.size(); ++i) {
            const auto [phases, sum] = [&]() -> std::pair<std::uint64_t, double> {
                if constexpr (areValues)
                    return {bins[i].phases, bins[i].sum};
                else
                    return {bins[i][0], double(std::int64_t(bins[i][1]))};
            }();
            const auto count = double(phases >> countFrom);
            constexpr double unit = ClockPhase::unitInterval;
            trace.bins[i].count += count;
            trace.bins[i].phase +=
                (double(phases & (one - 1)) + count * double(i << binBits)) / unit - count * EyeFold::Trace::reach;
            trace.bins[i].value += sum * scale.step + count * scale.offset;
        }
    });
}

} // namespace fulvex
