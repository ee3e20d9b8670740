#include "transition_stretch.h"

#include "bit_list.h"
#include "clear_symbols.h"
#include "phase_kernels.h"
#include "word_bits.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>

namespace fulvex {

namespace {

constexpr std::uint8_t none = 255; ///< no transition is wanted there
constexpr double nowhere = std::numeric_limits<double>::quiet_NaN();

} // namespace

void TransitionStretch::layKinds()
{
    m_kinds.fill(none);
    const std::size_t symbols = m_levels.levels.size();
    for (std::size_t from = 0; from < symbols; ++from) {
        for (std::size_t to = 0; to < symbols; ++to) {
            if (from == to) continue;
            const std::size_t step = from * mostSymbols + to;
            m_kinds[step] = std::uint8_t(2 * m_bands.of(from, to) + (to > from));
            m_mids[step] = m_bands.levels()[m_bands.of(from, to)].mid;
        }
    }
    for (auto *rows : {&m_atLeast, &m_below}) rows->resize(m_levels.thresholds.size());
}

/// False where the clock has unit intervals without a sample, so that it is none.
bool TransitionStretch::load(SampleRange boundaries)
{
    m_centres.resize(std::size_t(boundaries.size() + 2 * m_margin));
    m_map.positionsOf(double(boundaries.first - m_margin) + 0.5, m_centres);
    const double first = m_centres.front(), last = m_centres.back(),
                 most = 2 * StretchSamples::longest * double(m_centres.size());
    if (!(std::abs(first) < 0x1p52 && last - first > 0 && last - first < most)) return false;
    const SampleRange range{std::int64_t(std::ceil(first)) - 1, std::int64_t(std::ceil(last)) + 1};
    m_at.read(m_source, range);
    m_there = {std::int64_t(m_at.thereFirst), std::int64_t(m_at.thereFirst + m_at.there)};
    m_middles.resize(m_at.words);
    return passedBits(m_centres, double(range.first), m_middles);
}

/// Those that samples beside the middles leave no doubt of as bits; the others one by one.
void TransitionStretch::decideSymbols(SampleRange boundaries)
{
    std::array<std::uint64_t *, mostSymbols> atLeast, below;
    std::array<std::int32_t, mostSymbols> codes;
    const std::size_t count = m_levels.thresholds.size();
    for (std::size_t t = 0; t < count; ++t) {
        for (auto *row : {&m_atLeast[t], &m_below[t]}) row->resize(m_at.words);
        atLeast[t] = m_atLeast[t].data();
        below[t] = m_below[t].data();
        if (m_at.scale) codes[t] = m_at.scale->firstAt(m_levels.thresholds[t]);
    }
    const ClearWords clear{std::span(atLeast).first(count), std::span(below).first(count)};
    m_at.visit([&](const auto *samples) {
        if constexpr (StretchSamples::areValues<decltype(samples)>)
            findClear(samples, m_at.words, m_levels.thresholds, m_reader.isBandLimited(), clear);
        else
            findClear(samples, m_at.words, std::span(std::as_const(codes)).first(count), m_reader.isBandLimited(),
                      clear);
    });
    const std::size_t room = m_centres.size() / 64 * 64 + 64;
    m_symbols.assign(room, 0);
    std::vector<std::uint64_t> &open =
        m_about; // those that are looked at, what lies about the record's ends among them
    open.assign(m_at.words, ~std::uint64_t(0));
    keepBits(open, m_there.first + 2, m_there.last - 3);
    for (std::uint64_t &word : open) word = ~word;
    const auto gather = [&](const std::vector<std::uint64_t> &from, BitRow &row) {
        row.resize(room);
        std::fill_n(row.words(), room / 64, 0);
        gatherBits(from, m_middles, 0, row);
    };
    for (std::size_t t = 0; t < count; ++t) {
        for (std::size_t w = 0; w < m_at.words; ++w) open[w] |= ~(m_atLeast[t][w] | m_below[t][w]);
        gather(m_atLeast[t], m_row);
        addBits(m_row, room, m_symbols.data());
    }
    gather(open, m_open);
    m_places.resize(room + lanePadding);
    const std::size_t some = listBits(std::span(m_open.words(), room / 64), m_places.data());
    m_openOnes.clear();
    m_openPlaces.clear();
    for (const std::int32_t unitInterval : std::span(m_places).first(some)) {
        const std::int64_t own = unitInterval - (m_margin - 1); // from the one before the first boundary on
        if (own < 0 || own > boundaries.size()) continue;
        m_openOnes.push_back(unitInterval);
        m_openPlaces.push_back(m_centres[std::size_t(unitInterval)]);
    }
    m_openSymbols.resize(m_openOnes.size());
    m_reader.symbolsAt(m_openPlaces, m_levels.thresholds, m_at, m_openSymbols);
    for (std::size_t i = 0; i < m_openOnes.size(); ++i) m_symbols[std::size_t(m_openOnes[i])] = m_openSymbols[i];
}

/// What transitions there are; false where there is none.
bool TransitionStretch::list(std::size_t count)
{
    const std::uint8_t *const symbols = m_symbols.data() + m_margin - 1;
    m_wanted.assign((count + 2 * std::size_t(m_margin)) / 64 * 64 + 64, none);
    m_steps.resize(count + 1);
    m_gaps.clear();
    std::uint8_t *const steps = m_steps.data(), *const wanted = m_wanted.data() + m_margin;
    std::size_t size = 0;
    if (symbols[0] == unknownSymbol) m_gaps.push_back(0);
    for (std::size_t i = 0; i < count; ++i) { // but for gaps without a way that depends on the data
        const std::uint8_t from = symbols[i], to = symbols[i + 1];
        if ((from | to) == unknownSymbol) {
            m_gaps.push_back(size);
            continue;
        }
        const auto step = std::uint8_t(from * mostSymbols + to);
        steps[size] = step;
        wanted[i] = m_kinds[step];
        size += from != to;
    }
    m_steps.resize(size);
    return size > 0;
}

/// Bits of the crossings that are wanted where they are, and of the last samples about boundaries that want one.
void TransitionStretch::findPassages(SampleRange boundaries)
{
    for (auto *words : {&m_crossings, &m_ends, &m_doubts}) words->assign(m_at.words, 0);
    m_isDoubtful = false;
    m_about.resize(m_at.words);
    const double reach = transitionReach * m_map.period();
    const auto placeAt = [&](std::int64_t boundary, double off) {
        return std::int64_t(std::floor(m_map.positionOf(double(boundary)) + off)) - m_at.first;
    };
    const SampleRange asked{placeAt(boundaries.first, -reach), placeAt(boundaries.last - 1, reach) + 2};
    std::size_t known = m_passages.size(); // the band that passages were found of last
    for (std::size_t kind = 0; kind < 2 * m_passages.size(); ++kind) {
        bitsEqual(m_wanted.data(), m_wanted.size(), std::uint8_t(kind), m_row);
        if (bitsOf(std::span(m_row.words(), m_wanted.size() / 64)) == 0) continue;
        const std::size_t band = kind / 2;
        if (band != known) findPassages(band, asked);
        known = band;
        spreadBits(m_row, 0, m_middles, m_about.data());
        const ConfirmedPassages::Words &own = m_passages[band].of(kind & 1);
        // A crossing between the two samples about a middle is taken for the next boundary's: it may be the other's.
        std::uint64_t doubts = 0, before = 1; // whether the sample before is the first one about a middle
        for (std::size_t w = 0; w < m_at.words; ++w) {
            const std::uint64_t ends = m_about[w] & m_middles[w],
                                doubt = ends & (own[w] >> 1 | (w + 1 < m_at.words ? own[w + 1] << 63 : 0));
            m_crossings[w] |= m_about[w] & own[w];
            m_ends[w] |= ends;
            m_doubts[w] |= doubt;
            doubts |= doubt | (m_about[w] & own[w] & (m_middles[w] << 1 | before));
            before = m_middles[w] >> 63;
        }
        m_isDoubtful |= doubts != 0;
    }
}

void TransitionStretch::findPassages(std::size_t band, SampleRange asked)
{
    const CrossingLevel level = m_bands.levels()[band];
    ConfirmedPassages &passages = m_passages[band];
    m_at.compare(level, m_masks);
    std::uint64_t gaps = 0;
    for (std::size_t w = 0; w < m_at.words && !m_at.scale; ++w) // codes have none
        gaps |= ~m_masks[w].finite & bitsBetween(m_there.first - placeOf(w), m_there.last - placeOf(w));
    if (gaps == 0)
        passages.find(m_masks, m_there);
    else
        passages.findPlainly([&](std::size_t i) { return m_at.valueAt(i); }, level, m_at.words, m_there);
    passages.settle(m_source, m_at.first, level, asked);
}

/// Whether there is one crossing about each boundary that one is wanted about, and no doubt whose it is. Adding ones to
/// the places about a boundary, but for the last, carries into the last where any other of them has a crossing.
bool TransitionStretch::areByTurns() const
{
    std::uint64_t missing = 0, carry = 0;
    for (std::size_t w = 0; w < m_at.words; ++w) {
        const std::uint64_t last = m_middles[w], sum = (m_crossings[w] & ~last) + carry, all = sum + ~last;
        carry = (sum < carry) | (all < sum);
        missing |= m_ends[w] & ~(all | m_crossings[w]);
    }
    return !missing && !m_isDoubtful && bitsOf(m_ends) == m_steps.size();
}

/// The place of the crossing about each boundary, where there is one alone; else -1.
void TransitionStretch::matchPlaces(std::size_t crossings)
{
    m_endPlaces.resize(m_at.words * 64 + lanePadding);
    const std::size_t ends = listBits(m_ends, m_endPlaces.data());
    std::int32_t *const places = m_places.data(), *const last = m_endPlaces.data();
    for (std::size_t k = 0, at = 0; k < m_steps.size(); ++k) { // written over those that were looked at
        std::int32_t place = -1;
        std::size_t some = 0;
        for (; k < ends && at < crossings && places[at] <= last[k]; ++at, ++some) place = places[at];
        const bool isDoubtful = k < ends && m_doubts[std::size_t(last[k] / 64)] >> last[k] % 64 & 1;
        last[k] = some == 1 && !isDoubtful ? place : -1;
    }
    std::swap(m_places, m_endPlaces);
}

double TransitionStretch::positionAt(std::int64_t place, double mid) const
{
    const double left = m_at.valueAt(std::size_t(place) - 1), right = m_at.valueAt(std::size_t(place));
    return double(m_at.first - 1 + place) + (mid - left) / (right - left);
}

void TransitionStretch::layPositions(std::span<double> positions) const
{
    const CodeScale scale = m_at.scale.value_or(CodeScale{1, 0}); // values are their own
    m_at.visit([&, places = m_places.data(), steps = m_steps.data(), out = positions.data(),
                base = double(m_at.first - 1)](const auto *samples) {
        for (std::size_t k = 0; k < positions.size(); ++k) {
            const std::int32_t place = std::max(places[k], 1);
            const double left = double(samples[place - 1]) * scale.step + scale.offset,
                         right = double(samples[place]) * scale.step + scale.offset;
            out[k] = base + double(place) + (m_mids[steps[k]] - left) / (right - left);
        }
    });
}

/// The crossing nearest to where one is expected, within reach; NaN where there is none.
double TransitionStretch::nearest(std::uint8_t step, double expected) const
{
    const double reach = transitionReach * m_map.period(), from = expected - reach, to = expected + reach,
                 mid = m_mids[step];
    const ConfirmedPassages::Words &words = m_passages[bandOf(step)].of(isRising(step));
    const std::int64_t first = std::max<std::int64_t>(1, std::int64_t(std::floor(from)) - m_at.first),
                       last = std::min(std::int64_t(std::floor(to)) - m_at.first + 2, std::int64_t(m_at.samples));
    double best = nowhere;
    for (std::int64_t w = first / 64; w * 64 < last; ++w) {
        for (std::uint64_t left = words[std::size_t(w)] & bitsBetween(first - w * 64, last - w * 64); left;
             left &= left - 1) {
            const double position = positionAt(w * 64 + std::countr_zero(left), mid);
            if (position >= from && position <= to && !(std::abs(position - expected) >= std::abs(best - expected)))
                best = position;
        }
    }
    return best;
}

void TransitionStretch::lookAtOthers(SampleRange boundaries, std::span<double> positions)
{
    m_expected.resize(std::size_t(boundaries.size()) + 2); // the boundary before them and the one behind as well
    m_map.positionsOf(double(boundaries.first - 1), m_expected);
    const std::uint8_t *const wanted = m_wanted.data() + m_margin;
    std::size_t k = 0;
    for (std::size_t i = 0; i < std::size_t(boundaries.size()); ++i) {
        if (wanted[i] == none) continue;
        const double before = m_expected[i], own = m_expected[i + 1], behind = m_expected[i + 2];
        // As near as half of the way to either neighbour: then no crossing about those is nearer.
        const double half = std::min(own - before, behind - own) / 2;
        if (m_places[k] < 0 || !(std::abs(positions[k] - own) <= half)) positions[k] = nearest(m_steps[k], own);
        ++k;
    }
}

/// Leaves out those without a crossing, and says where gaps lie.
void TransitionStretch::keepFound(FoundTransitions &found) const
{
    EdgeList &edges = found.edges;
    std::size_t size = 0;
    auto unknown = m_gaps.begin();
    for (std::size_t k = 0; k < edges.size(); ++k) {
        for (; unknown != m_gaps.end() && *unknown == k; ++unknown) found.gap = true;
        edges.positions[size] = edges.positions[k];
        edges.flags[size] = std::uint8_t(edges.flags[k] | found.gap * EdgeList::afterGap);
        edges.steps[size] = edges.steps[k];
        const bool isFound = edges.positions[k] == edges.positions[k];
        found.gap &= !isFound;
        size += isFound;
    }
    found.gap |= unknown != m_gaps.end();
    found.resize(size);
}

void TransitionStretch::giveTo(SampleRange boundaries, FoundTransitions &found)
{
    findPassages(boundaries);
    const std::size_t count = m_steps.size();
    EdgeList &edges = found.edges;
    edges.positions.resize(count);
    edges.flags.resize(count);
    m_places.resize(m_at.words * 64 + lanePadding);
    const std::size_t crossings = listBits(m_crossings, m_places.data());
    const bool byTurns = crossings == count && areByTurns();
    if (!byTurns) matchPlaces(crossings);
    layPositions(edges.positions);
    if (!byTurns) lookAtOthers(boundaries, edges.positions);
    for (std::size_t k = 0; k < count; ++k) edges.flags[k] = std::uint8_t(isRising(m_steps[k]) * EdgeList::rising);
    std::swap(edges.steps, m_steps);
    if (!byTurns || !m_gaps.empty()) keepFound(found);
}

void TransitionStretch::seek(SampleRange boundaries, FoundTransitions &found)
{
    found.resize(0);
    found.gap = true;
    if (load(boundaries)) {
        decideSymbols(boundaries);
        found.gap = false;
        if (list(std::size_t(boundaries.size())))
            giveTo(boundaries, found);
        else
            found.gap = !m_gaps.empty();
    }
    const auto sampleAt = [&](std::int64_t boundary) { return std::int64_t(m_map.positionOf(double(boundary))); };
    m_source.release({sampleAt(boundaries.first), sampleAt(boundaries.last)});
}

} // namespace fulvex
