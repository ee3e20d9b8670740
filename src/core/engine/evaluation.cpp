#include "evaluation.h"

#include "clock_recovery.h"
#include "error.h"
#include "failure_text.h"
#include "field_text.h"
#include "instant_errors.h"
#include "node_key.h"
#include "number_text.h"
#include "resampled_source.h"
#include "transition_finder.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <sstream>
#include <utility>

namespace fulvex {

namespace {

std::string text(const std::optional<double> &value)
{
    std::ostringstream out;
    if (value) out << std::hexfloat << *value;
    return out.str();
}

LevelRule ruleOf(const LevelsEntry &entry)
{
    LevelRule rule;
    rule.kind = entry.kind == "absolute" ? LevelRule::Kind::absolute : LevelRule::Kind::percent;
    rule.states = entry.states == "fixed"      ? LevelRule::States::fixed
                  : entry.states == "extremes" ? LevelRule::States::extremes
                                               : LevelRule::States::histogram;
    rule.low = entry.low;
    rule.mid = entry.mid;
    rule.high = entry.high;
    rule.hysteresis = entry.hysteresis;
    rule.stateLow = entry.stateLow.value_or(0);
    rule.stateHigh = entry.stateHigh.value_or(0);
    return rule;
}

EdgeInterpolation interpolationOf(const std::string &name)
{
    return name == "linear"     ? EdgeInterpolation::linear
           : name == "sinc"     ? EdgeInterpolation::sinc
           : name == "instants" ? EdgeInterpolation::instants
                                : EdgeInterpolation::automatic;
}

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

std::string surveyKey(const std::string &channel, SampleRange samples, bool stretches)
{
    return keyOf("survey", channel, samples.first, samples.last, stretches);
}

std::string levelsKey(const std::string &survey, const LevelRule &rule)
{
    return keyOf("levels", survey, int(rule.kind), int(rule.states), rule.low, rule.mid, rule.high,
                 text(rule.hysteresis), rule.stateLow, rule.stateHigh);
}

std::string edgesKey(const std::string &levels, EdgeInterpolation settled)
{
    return keyOf("edges", levels, settled == EdgeInterpolation::sinc ? "sinc" : "linear");
}

/// How many samples a transition takes between those levels.
std::string steepnessKey(const std::string &levels)
{
    return keyOf("steepness", levels);
}

} // namespace

Evaluation::Evaluation(const Document &document, std::filesystem::path base, std::filesystem::path masks,
                       NodeCache &cache, Progress &progress)
    : m_document(document), m_entries(std::make_shared<const EntryIndex>(document)), m_base(std::move(base)),
      m_masks(std::move(masks)), m_cache(cache), m_progress(progress)
{
}

std::string Evaluation::definition(const std::string &id)
{
    if (const auto known = m_definitions.find(id); known != m_definitions.end()) return known->second;
    const std::vector<Field> fields = m_entries->fieldsOf(id);
    const EntryKind kind = m_entries->kindOf(id);
    const std::string window = m_window ? digestOf(m_window->first, m_window->second) : "";
    std::string inputs;
    bool whole = true;
    if (kind == EntryKind::capture) {
        try {
            inputs = capture(*findEntry(m_document.captures, id)).key;
        } catch (const Cancelled &) {
            throw;
        } catch (...) { // told where the capture is, whatever it was
            whole = false;
        }
    } else if (kind == EntryKind::program) {
        const ProgramEntry &entry = *findEntry(m_document.programs, id);
        whole = program(entry).error.empty();
        if (whole) inputs = programKey(entry);
    } else {
        for (const Field &field : fields) {
            if (field.role != Role::computes || !field.belongs) continue;
            for (const std::string &used : idsIn(field)) {
                const std::string key = definition(used);
                whole &= !key.empty();
                inputs += used + "=" + key + ";";
            }
        }
    }
    return m_definitions[id] =
               whole ? keyOf("result", int(kind), computingText(fields), inputs, m_document.timeOrigin, window) : "";
}

std::shared_ptr<const std::vector<Finding>> Evaluation::checked(const std::vector<std::string> &channels,
                                                                const std::string &further, const Check &check)
{
    std::string inputs = further;
    for (const std::string &id : channels) inputs += id + channel(id).key + channel(id).unit;
    return m_cache.get<std::vector<Finding>>(keyOf("check", inputs), [&] { return check(m_progress); });
}

SampleRange Evaluation::range(const SampleSource &source, const std::string &region) const
{
    const TimeAxis &axis = source.axis();
    SampleRange all{0, axis.count};
    if (const RegionEntry *entry = findEntry(m_document.regions, region)) {
        all = samplesWithin(axis, entry->start, entry->stop);
        if (all.size() == 0) throw Unmeasurable{"no sample lies in region \"" + region + "\": move it into the record"};
    }
    if (m_window) {
        const SampleRange part = samplesWithin(axis, m_window->first, m_window->second);
        all = {std::max(all.first, part.first),
               std::max(std::max(all.first, part.first), std::min(all.last, part.last))};
    }
    if (all.size() == 0) throw Unmeasurable{"the channel has no samples"};
    return all;
}

Evaluation Evaluation::within(double from, double to) const
{
    Evaluation part = *this;
    part.m_window =
        m_window ? std::pair(std::max(from, m_window->first), std::min(to, m_window->second)) : std::pair(from, to);
    part.m_definitions.clear();
    return part;
}

Evaluation Evaluation::forFirstAnswers() const
{
    Evaluation first = *this;
    first.m_first = true;
    return first;
}

Evaluation::Node<AmplitudeSurvey> Evaluation::survey(const std::string &channelId, const std::string &region)
{
    const ChannelNode from = channel(channelId);
    const SampleRange samples = range(*from.source, region);
    const bool stretches = !m_first;
    const std::string key = surveyKey(from.key, samples, stretches);
    auto value = m_cache.get<AmplitudeSurvey>(
        key, [&] { return surveyAmplitudes(*from.source, samples, m_progress, stretches); });
    if (value->stats.count == 0) {
        const bool computed = !findEntry(m_document.channels, channelId)->formula.empty();
        throw Unmeasurable{std::string("all samples are gaps: check ") +
                           (computed ? "the formula, which gives no number" : "the capture's columns")};
    }
    if (const std::string trouble = value->stats.trouble(); !trouble.empty()) throw Unmeasurable{trouble};
    return {key, value};
}

Evaluation::Node<PowerSpectrum> Evaluation::spectrum(const std::string &channelId, const std::string &region)
{
    const ChannelNode from = channel(channelId);
    const SampleRange samples = range(*from.source, region);
    const std::string key = keyOf("spectrum", from.key, samples.first, samples.last);
    return {key, m_cache.get<PowerSpectrum>(key, [&] {
                return powerSpectrum(*from.source, samples, {{Window::sevenTerms, usualSegment(samples)}}, m_progress);
            })};
}

Evaluation::Node<double> Evaluation::noise(const std::string &channelId, const std::string &region)
{
    const ChannelNode from = channel(channelId);
    const Node<AmplitudeSurvey> base = survey(channelId, region);
    const std::string key = keyOf("noise", base.key);
    return {key, m_cache.get<double>(
                     key, [&] { return sampleNoise(*from.source, range(*from.source, region), *base.value); })};
}

Evaluation::Node<ReferenceLevels> Evaluation::levels(const std::string &channelId, const std::string &region,
                                                     const std::string &levelsId, std::optional<double> mid)
{
    const ChannelNode from = channel(channelId);
    const Node<AmplitudeSurvey> base = survey(channelId, region);
    LevelRule rule = ruleOf(m_document.levelsOf(levelsId));
    if (mid) {
        rule.mid = *mid;
        rule.low = std::min(rule.low, *mid); // they rise, wherever it lies
        rule.high = std::max(rule.high, *mid);
    }
    const std::string key = levelsKey(base.key, rule);
    return {key, m_cache.get<ReferenceLevels>(
                     key, [&] { return referenceLevels(*base.value, from.source->resolution(), rule); })};
}

Evaluation::Node<EdgeList> Evaluation::edges(const std::string &channelId, const std::string &region,
                                             const std::string &levelsId, const std::string &interpolate,
                                             std::optional<double> mid)
{
    const ChannelNode from = channel(channelId);
    const auto amplitudes = survey(channelId, region).value;
    if (amplitudes->stats.minimum == amplitudes->stats.maximum)
        throw Unmeasurable{"the signal is constant: it crosses no level; check the channel or widen the region"};
    const Node<ReferenceLevels> at = levels(channelId, region, levelsId, mid);
    const SampleSource &source = *from.source;
    const std::string straight = edgesKey(at.key, EdgeInterpolation::linear);
    const auto linear = [&] {
        return m_cache.get<EdgeList>(straight, [&] {
            return findLinearEdges(source, range(source, region), crossingLevel(at.value->mid, at.value->hysteresis),
                                   m_progress);
        });
    };
    EdgeInterpolation how = interpolationOf(interpolate);
    if (isOpen(how)) {
        how = settled(how, *m_cache.get<double>(steepnessKey(at.key),
                                                [&] { return medianTransitionSamples(source, *linear(), *at.value); }));
    }
    if (how == EdgeInterpolation::linear) return {straight, linear()};
    const std::string key = edgesKey(at.key, how);
    Node<EdgeList> refined{key, m_cache.get<EdgeList>(key, [&] {
                               return refinedEdges(source, copyOf(*linear()), at.value->mid, m_progress);
                           })};
    m_cache.drop(straight); // as long again, and hardly wanted beside them
    return refined;
}

Evaluation::Node<Transitions> Evaluation::transitions(const std::string &channelId, const std::string &region,
                                                      const std::string &levelsId, EdgeChoice choice,
                                                      const std::string &interpolate)
{
    const Node<EdgeList> crossings = edges(channelId, region, levelsId, interpolate);
    const Node<ReferenceLevels> at = levels(channelId, region, levelsId);
    const SourcePtr source = channel(channelId).source;
    const std::string key = keyOf("transitions", crossings.key, at.key);
    // Of both directions in one pass: whoever asks for one mostly asks for the other as well.
    const auto lists = m_cache.get<TransitionLists>(key, [&] {
        return findTransitionLists(*source, range(*source, region), *crossings.value, *at.value, EdgeChoice::both,
                                   m_progress);
    });
    if (choice == EdgeChoice::rising)
        return {keyOf("rising", key), std::shared_ptr<const Transitions>(lists, &lists->rising)};
    if (choice == EdgeChoice::falling)
        return {keyOf("falling", key), std::shared_ptr<const Transitions>(lists, &lists->falling)};
    const std::string inOrder = keyOf("in order", key);
    return {inOrder, m_cache.get<Transitions>(inOrder, [&] { return lists->inOrder(); })};
}

Evaluation::Node<Aberrations> Evaluation::aberrations(const std::string &channelId, const std::string &region,
                                                      const std::string &levelsId, EdgeChoice choice,
                                                      const std::string &interpolate)
{
    const Node<EdgeList> crossings = edges(channelId, region, levelsId, interpolate);
    const Node<Transitions> beside = transitions(channelId, region, levelsId, choice, interpolate);
    const Node<ReferenceLevels> at = levels(channelId, region, levelsId);
    const SourcePtr source = channel(channelId).source;
    const std::string key = keyOf("aberrations", beside.key);
    return {key, m_cache.get<Aberrations>(key, [&] {
                return findAberrations(*source, range(*source, region), *crossings.value, *beside.value, *at.value,
                                       m_progress);
            })};
}

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
    const std::string key = keyOf("timing", crossings.key, text(period));
    return {key,
            m_cache.get<SymbolTiming>(key, [&] { return findSymbolTiming(*crossings.value, period, m_progress); })};
}

static const std::string &instantsOf(const ClockEntry &entry)
{
    static const std::string usual = "instants";
    return entry.interpolate == "auto" ? usual : entry.interpolate;
}

std::optional<Evaluation::Timed> Evaluation::knownTimed(const ClockEntry &entry)
{
    const auto window = std::exchange(m_window, std::nullopt);
    const ChannelNode from = channel(entry.source);
    const SampleRange all = range(*from.source, "");
    // Keys follow from keys alone, so that nothing is computed to find out whether it is there.
    const std::string levels = levelsKey(surveyKey(from.key, all, true), ruleOf(m_document.levelsOf(entry.levels)));
    EdgeInterpolation how = interpolationOf(instantsOf(entry));
    const auto steepness = m_cache.peek<double>(steepnessKey(levels));
    if (isOpen(how) && steepness) how = settled(how, *steepness);
    std::optional<Timed> known;
    const std::string key = edgesKey(levels, how);
    const auto edges = isOpen(how) ? nullptr : m_cache.peek<EdgeList>(key);
    if (edges) known = Timed{{key, edges}, timing(entry, {key, edges})};
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
    const Node<EdgeList> found = edges(entry.source, "", entry.levels, instantsOf(entry));
    return {found, timing(entry, found)};
}

Evaluation::ClockNode Evaluation::clock(const std::string &id)
{
    const ClockEntry &entry = *findEntry(m_document.clocks, id);
    if (entry.method == "forwarded") throw Unmeasurable{"a forwarded clock needs a later version; use fixed or pll"};
    if (entry.modulation > 2)
        throw Unmeasurable{"clocks of 3 and 4 levels need a later version; use \"modulation\": 2"};
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

Evaluation::EyeNode Evaluation::eye(const std::string &id, Crossings crossings)
{
    const EyeEntry &entry = *findEntry(m_document.eyes, id);
    const ClockEntry &clockEntry = *findEntry(m_document.clocks, entry.clock);
    const ClockNode by = clock(entry.clock);
    const ChannelNode from = channel(entry.source);
    EyeNode node;
    node.clock = by.clock;
    node.source = resampled(from.source, by.clock->map.axis());
    const auto amplitudes = survey(entry.source, "").value;
    node.levels = *levels(entry.source, "", clockEntry.levels).value;
    node.rule.first = by.clock->map.firstSettled();
    node.rule.last = by.clock->map.unitIntervals();
    const auto keepWithin = [&](double start, double stop) { // which may lie anywhere
        const auto unitIntervalAt = [&](double time) {
            return std::clamp(by.clock->map.unitIntervalAt(by.clock->map.axis().positionOf(time)), -1.0,
                              double(node.rule.last) + 1);
        };
        node.rule.first = std::max(node.rule.first, std::int64_t(std::ceil(unitIntervalAt(start))));
        node.rule.last = std::min(node.rule.last, std::int64_t(std::floor(unitIntervalAt(stop))));
    };
    if (const RegionEntry *region = findEntry(m_document.regions, entry.region))
        keepWithin(region->start, region->stop);
    if (m_window) keepWithin(m_window->first, m_window->second);
    if (node.rule.first >= node.rule.last)
        throw Unmeasurable{"no whole unit interval lies between the loop's settling and the end: take a longer capture "
                           "or region, or a higher bandwidth"};
    EyeRule &rule = node.rule;
    rule.thresholds = {node.levels.mid};
    rule.least = amplitudes->stats.minimum;
    rule.most = amplitudes->stats.maximum;
    rule.interpolation = entry.interpolate == "none"   ? 1
                         : entry.interpolate == "sinc" ? std::max(4, automaticInterpolation(by.clock->map.period()))
                                                       : automaticInterpolation(by.clock->map.period());
    rule.withStretches = !m_first;
    node.key =
        keyOf("eye", from.key, by.key, rule.first, rule.last, node.levels.mid, rule.interpolation, rule.withStretches);
    node.fold = m_cache.get<EyeFold>(node.key, [&] { return foldEye(node.source, by.clock->map, rule, m_progress); });
    const double level = node.fold->crossing();
    if (crossings == Crossings::none || !(level == level)) return node;
    const std::string key = keyOf("crossings", node.key);
    if (crossings == Crossings::known) {
        node.crossings = m_cache.peek<EyeCrossings>(key);
        return node;
    }
    node.crossings = m_cache.get<EyeCrossings>(key, [&] {
        return eyeCrossings(node.source, by.clock->map, level, node.levels.hysteresis,
                            interpolationOf(clockEntry.interpolate == "auto" ? "instants" : clockEntry.interpolate),
                            node.rule.first, node.rule.last, m_progress);
    });
    return node;
}

MaskDefinition Evaluation::definitionOf(const MaskEntry &entry) const
{
    try {
        return loadMask(entry.mask, m_base, m_masks);
    } catch (const Error &error) {
        throw error.within("masks: \"" + entry.id + "\"");
    }
}

MaskRun Evaluation::mask(const MaskEntry &entry)
{
    MaskRun run;
    run.id = entry.id;
    run.eye = entry.eye;
    run.appliedMargin = entry.margin;
    if (entry.eye.empty()) {
        run.reason = "a template at a channel's edges needs a later version; give an \"eye\"";
        run.verdict = Verdict::fail;
        return run;
    }
    run.definition = definitionOf(entry);
    try {
        const EyeNode on = eye(entry.eye, Crossings::none);
        const Measured one = EyeQuantities{*on.fold, nullptr, 0}.oneLevel(),
                       zero = EyeQuantities{*on.fold, nullptr, 0}.zeroLevel();
        if (!one.reason.empty()) throw Unmeasurable{one.reason};
        MaskRule rule;
        rule.zero = run.zero = zero.value;
        rule.one = run.one = one.value;
        rule.margin = entry.margin;
        rule.first = on.rule.first;
        rule.last = on.rule.last;
        rule.interpolation = on.fold->interpolation;
        std::string shape = run.definition.normalised ? "n" : "V";
        for (const MaskArea &area : run.definition.areas) {
            shape += std::to_string(int(area.kind));
            for (const MaskPoint &point : area.points) shape += digestOf(point.x, point.y);
        }
        run.result = m_cache.get<MaskResult>(keyOf("mask", on.key, shape, rule.zero, rule.one, rule.margin), [&] {
            return runMask(on.source, on.clock->map, run.definition, rule, m_progress);
        });
        run.verdict = run.result->failedUnitIntervals == 0 ? Verdict::pass : Verdict::fail;
    } catch (const Cancelled &) {
        throw;
    } catch (const Unmeasurable &none) {
        run.reason = none.reason;
        run.verdict = Verdict::fail;
    } catch (...) {
        run.reason = failureText();
        run.verdict = Verdict::fail;
    }
    return run;
}

} // namespace fulvex
