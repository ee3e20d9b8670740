// Clocks: the instants they go by, and what they are made of them.

#include "clock_recovery.h"
#include "clock_symbols.h"
#include "evaluation.h"
#include "forwarded_clock.h"
#include "level_keys.h"
#include "node_key.h"
#include "number_text.h"
#include "pulse_populations.h"
#include "symbol_edges.h"
#include "symbol_errors.h"
#include "trend_spectrum.h"

#include <algorithm>
#include <utility>

namespace fulvex {

namespace {

/// Symbols are samples apart at least, and the record holds one whole one.
void checkRate(double rate, const TimeAxis &axis)
{
    const double sampleRate = 1 / axis.interval, slowest = 1 / (axis.interval * double(axis.count));
    const auto words = [](double value, const char *unit) { return quantityText(value, unit, {}, 4); };
    if (!(rate <= sampleRate))
        throw Unmeasurable{"a rate of " + words(rate, "Bd") + " is above the sample rate of " +
                           words(sampleRate, "S/s") + ": give the rate in Bd, or take a faster capture"};
    if (!(rate >= slowest))
        throw Unmeasurable{"at a rate of " + words(rate, "Bd") +
                           " not one unit interval fits the record: give the rate "
                           "in Bd, or take a longer capture"};
}

void checkCorner(const ClockEntry &entry, double rate)
{
    const double highest = highestCorner * rate;
    if (entry.bandwidth <= highest) return;
    throw Unmeasurable{"a loop of " + quantityText(entry.bandwidth, "Hz", {}, 4) +
                       " is faster than its symbols allow: "
                       "at " +
                       quantityText(rate, "Bd", {}, 4) + " give a bandwidth of at most " +
                       quantityText(highest, "Hz", {}, 3)};
}

} // namespace

/// Samples a unit interval where the document gives the rate.
static std::optional<double> givenPeriod(const ClockEntry &entry, const TimeAxis &axis)
{
    if (!entry.rate) return {};
    checkRate(*entry.rate, axis);
    return 1 / (*entry.rate * axis.interval);
}

Evaluation::Node<SymbolTiming> Evaluation::timing(const ClockEntry &entry, const Node<EdgeList> &crossings)
{
    const auto period = givenPeriod(entry, channel(entry.source).source->axis());
    const std::string key = keyOf("timing", crossings.key, period.value_or(0));
    return {key,
            m_cache.get<SymbolTiming>(key, [&] { return findSymbolTiming(*crossings.value, period, m_progress); })};
}

static const std::string &instantsOf(const ClockEntry &entry)
{
    static const std::string usual = "instants";
    return entry.interpolate == "auto" ? usual : entry.interpolate;
}

std::string Evaluation::symbolEdgesKey(const ClockEntry &entry, const std::string &channelKey, SampleRange samples)
{
    const SymbolLevelRule rule = symbolRuleOf(m_document.levelsOf(entry.levels), entry.modulation);
    const auto period = givenPeriod(entry, channel(entry.source).source->axis());
    return keyOf("symbol edges", channelKey, samples.first, samples.last, textOf(rule), period.value_or(0),
                 entry.interpolate);
}

Evaluation::Node<SymbolEdges> Evaluation::symbolEdges(const ClockEntry &entry)
{
    const ChannelNode from = channel(entry.source);
    const auto amplitudes = survey(entry.source, "").value;
    if (amplitudes->stats.minimum == amplitudes->stats.maximum)
        throw Unmeasurable{"the signal is constant: it crosses no level; check the channel or widen the region"};
    const SampleRange samples = range(*from.source, "");
    const std::string key = symbolEdgesKey(entry, from.key, samples);
    Node<SymbolEdges> node{key, m_cache.get<SymbolEdges>(key, [&] {
                               return findSymbolEdges(from.source, samples, amplitudes->histogram,
                                                      symbolRuleOf(m_document.levelsOf(entry.levels), entry.modulation),
                                                      givenPeriod(entry, from.source->axis()),
                                                      interpolationOf(instantsOf(entry)), m_progress);
                           })};
    if (!node.value->reason.empty()) throw Unmeasurable{node.value->reason};
    return node;
}

static std::shared_ptr<const EdgeList> edgesOf(const std::shared_ptr<const SymbolEdges> &found)
{
    return {found, &found->edges};
}

std::shared_ptr<const SymbolLevels> Evaluation::levelsOf(const ClockEntry &entry)
{
    if (entry.modulation == 2) return nullptr;
    const auto found = symbolEdges(entry).value;
    return {found, &found->levels};
}

Evaluation::Node<EdgeList> Evaluation::crossings(const ClockEntry &entry)
{
    if (entry.modulation == 2) return edges(entry.source, "", entry.levels, instantsOf(entry));
    const Node<SymbolEdges> found = symbolEdges(entry);
    return {found.key, edgesOf(found.value)};
}

std::optional<Evaluation::Node<EdgeList>> Evaluation::knownCrossings(const ClockEntry &entry)
{
    const ChannelNode from = channel(entry.source);
    const SampleRange all = range(*from.source, "");
    if (entry.modulation > 2) {
        const std::string key = symbolEdgesKey(entry, from.key, all);
        const auto found = m_cache.peek<SymbolEdges>(key);
        if (!found) return {};
        return Node<EdgeList>{key, edgesOf(found)};
    }
    const std::string levels = levelsKey(surveyKey(from.key, all, true), ruleOf(m_document.levelsOf(entry.levels)));
    EdgeInterpolation how = interpolationOf(instantsOf(entry));
    const auto steepness = m_cache.peek<double>(steepnessKey(levels));
    if (isOpen(how) && steepness) how = settled(how, *steepness);
    if (isOpen(how)) return {};
    const std::string key = edgesKey(levels, how);
    const auto found = m_cache.peek<EdgeList>(key);
    if (!found) return {};
    return Node<EdgeList>{key, found};
}

std::optional<Evaluation::Timed> Evaluation::knownTimed(const ClockEntry &entry)
{
    const auto window = std::exchange(m_window, std::nullopt);
    std::optional<Timed> known;
    if (const auto found = knownCrossings(entry)) known = Timed{*found, timing(entry, *found)};
    m_window = window;
    return known;
}

Evaluation::Timed Evaluation::timed(const ClockEntry &entry)
{
    if (m_window) {
        const auto whole = knownTimed(entry);
        // A line is quickly drawn through all edges, and no part may have one of its own.
        if (whole && (entry.method == "fixed" || !whole->timing.value->found())) return *whole;
        if (whole) {
            const SampleRange part = range(*channel(entry.source).source, "");
            const auto &positions = whole->edges.value->positions;
            const auto placeOf = [&](std::int64_t sample) {
                return std::lower_bound(positions.begin(), positions.end(), double(sample)) - positions.begin();
            };
            const SampleRange some{placeOf(part.first), placeOf(part.last)};
            if (some.size() < 4) throw Unmeasurable{"too few crossings"};
            const auto keyFor = [&](const std::string &key) { return keyOf("part", key, some.first, some.last); };
            return {{keyFor(whole->edges.key), std::make_shared<const EdgeList>(whole->edges.value->part(some))},
                    {keyFor(whole->timing.key), std::make_shared<const SymbolTiming>(whole->timing.value->part(some))}};
        }
    }
    const Node<EdgeList> found = crossings(entry);
    return {found, timing(entry, found)};
}

Evaluation::ClockNode Evaluation::forwarded(const ClockEntry &entry)
{
    const TimeAxis axis = channel(entry.source).source->axis();
    const ChannelNode beside = channel(entry.from);
    // Which edges count where some do not is counted from the record's first.
    const auto edgesBeside = [&](Evaluation &on) {
        return on.edges(entry.from, "", entry.fromLevels, instantsOf(entry));
    };
    const Node<EdgeList> ticks = entry.divide > 1 ? overAll(edgesBeside) : edgesBeside(*this);
    const ForwardedRule rule{choiceOf(entry.edges, EdgeChoice::both), entry.multiply, entry.divide, entry.delay};
    const std::string key = keyOf("forwarded", ticks.key, channel(entry.source).key, entry.edges, entry.multiply,
                                  entry.divide, entry.delay);
    const auto made = m_cache.get<ForwardedClock>(
        key, [&] { return forwardedClock(*ticks.value, beside.source->axis(), axis, rule); });
    if (!made->map) throw Unmeasurable{made->reason};
    checkRate(made->map->rate(), axis);
    const Node<EdgeList> data = crossings(entry);
    ClockNode node;
    node.levels = levelsOf(entry);
    node.key = keyOf("clock", key, data.key);
    node.clock = m_cache.get<Clock>(node.key, [&] {
        return Clock{
            *made->map,
            NumberedEdges(std::make_shared<const EdgeList>(edgesWhereItRuns(*data.value, *made->map)), *made->map)};
    });
    node.rateUncertainty = made->rateUncertainty * made->map->rate();
    if (made->stops)
        node.remark = "the forwarded clock pauses " +
                      (made->stops == 1 ? std::string("once") : std::to_string(made->stops) + " times") +
                      ", first at " + quantityText(made->firstStop, "s", {}, 6) + ", for up to " +
                      quantityText(made->longestStop, "s", {}, 3) + ": what lies there is left out";
    return node;
}

Evaluation::ClockNode Evaluation::clock(const std::string &id)
{
    return clock(*findEntry(m_document.clocks, id));
}

Evaluation::ClockNode Evaluation::clock(const ClockEntry &entry)
{
    if (entry.method == "forwarded") return forwarded(entry);
    const TimeAxis axis = channel(entry.source).source->axis();
    const Timed from = timed(entry);
    const SymbolTiming &timing = *from.timing.value;
    if (!timing.found()) throw Unmeasurable{timing.reason};
    checkRate(1 / (timing.period * axis.interval), axis);
    const auto period = givenPeriod(entry, axis);
    // The rate that the loop runs at: of order 1 the given one, which the edges need not have.
    const double unitInterval = entry.order == 1 ? period.value_or(timing.period) : timing.period;
    if (entry.method == "pll") checkCorner(entry, 1 / (unitInterval * axis.interval));
    ClockNode node;
    node.levels = levelsOf(entry);
    node.key =
        keyOf("clock", from.timing.key, entry.method, entry.order, entry.bandwidth, entry.damping, entry.bandwidthOf);
    node.clock = m_cache.get<Clock>(node.key, [&] {
        if (entry.method == "fixed") return fixedClock(from.edges.value, from.timing.value, axis, period);
        LoopRule rule{entry.order, entry.bandwidth, entry.damping, entry.bandwidthOf == "error"};
        return loopClock(from.edges.value, from.timing.value, axis, period, rule, m_progress);
    });
    const bool given = entry.rate && (entry.method == "fixed" || entry.order == 1);
    node.rateUncertainty = given ? 0 : node.clock->map.rate() * timing.periodUncertainty / timing.period;
    return node;
}

std::shared_ptr<const TrendSpectrum> Evaluation::jitterSpectrum(const ClockEntry &entry)
{
    const Timed from = timed(entry);
    return m_cache.get<TrendSpectrum>(keyOf("jitter spectrum", from.timing.key), [&] {
        const Clock line = fixedClock(from.edges.value, from.timing.value, channel(entry.source).source->axis(), {});
        return trendSpectrum(timeIntervalErrors(line.edges, line.map, EdgeChoice::both, m_progress), Window::hann, 0,
                             m_progress);
    });
}

Evaluation::Node<ClockSymbols> Evaluation::symbols(const ClockEntry &entry, std::int64_t first)
{
    const ClockNode by = clock(entry.id);
    const ChannelNode from = channel(entry.source);
    const std::vector<double> thresholds = entry.modulation == 2
                                               ? std::vector{levels(entry.source, "", entry.levels).value->mid}
                                               : levelsOf(entry)->thresholds;
    SampleRange unitIntervals{by.clock->map.firstSettled(), by.clock->map.unitIntervals()};
    if (first > 0) unitIntervals.last = std::min(unitIntervals.last, unitIntervals.first + first);
    std::string key = keyOf("symbols", by.key, from.key, unitIntervals.first, unitIntervals.last);
    for (const double threshold : thresholds) key += digestOf(threshold);
    return {key, m_cache.get<ClockSymbols>(key, [&] {
                return ClockSymbols{unitIntervals, thresholds,
                                    symbolsOf(*from.source, by.clock->map, unitIntervals, thresholds, m_progress)};
            })};
}

std::shared_ptr<const SymbolErrors> Evaluation::symbolErrors(const ClockEntry &entry, SampleRange unitIntervals,
                                                             const std::string &expected)
{
    const Node<ClockSymbols> sent = symbols(entry);
    return m_cache.get<SymbolErrors>(
        keyOf("symbol errors", sent.key, unitIntervals.first, unitIntervals.last, expected), [&] {
            const auto some = std::span(sent.value->symbols)
                                  .subspan(std::size_t(unitIntervals.first - sent.value->unitIntervals.first),
                                           std::size_t(unitIntervals.size()));
            return errorsOf(some, expectedBy(expected).value_or(ExpectedSymbols{}), m_progress);
        });
}

std::shared_ptr<const SymbolPattern> Evaluation::pattern(const ClockEntry &entry)
{
    const Node<ClockSymbols> sent = symbols(entry, 2 * longestPattern);
    return m_cache.get<SymbolPattern>(keyOf("pattern", sent.key),
                                      [&] { return patternOf(sent.value->symbols, m_progress); });
}

} // namespace fulvex
