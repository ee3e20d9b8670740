// Eyes of channels at clocks, and the masks laid on them.

#include "error.h"
#include "evaluation.h"
#include "failure_text.h"
#include "level_keys.h"
#include "node_key.h"
#include "own_mask.h"
#include "resampled_source.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// How a clock's symbols are told apart in an eye, whose channel need not be the clock's.
int modulationOf(const EyeEntry &eye, const ClockEntry &clock)
{
    return eye.modulation.value_or(clock.modulation);
}

} // namespace

SymbolLevels Evaluation::eyeLevels(const EyeEntry &entry, const ClockEntry &clockEntry, const EyeNode &node,
                                   const std::string &key)
{
    const int modulation = modulationOf(entry, clockEntry);
    if (modulation == 2) {
        const auto at = levels(entry.source, "", clockEntry.levels).value;
        return {{at->states.low, at->states.high}, {at->mid}, at->hysteresis};
    }
    const SymbolLevelRule rule = symbolRuleOf(m_document.levelsOf(clockEntry.levels), modulation);
    SampleRange unitIntervals{node.clock->map.firstSettled(), node.clock->map.unitIntervals()};
    if (m_window) unitIntervals = {node.rule.first, node.rule.last};
    const auto amplitudes = survey(entry.source, "").value;
    return *m_cache.get<SymbolLevels>(
        keyOf("symbol levels", key, textOf(rule), unitIntervals.first, unitIntervals.last), [&] {
            return symbolLevels(*node.source, node.clock->map, unitIntervals, rule,
                                roughSymbolLevels(amplitudes->histogram, rule), m_progress);
        });
}

Evaluation::EyeNode Evaluation::byClock(const EyeEntry &entry)
{
    const ClockEntry &clockEntry = *findEntry(m_document.clocks, entry.clock);
    const ClockNode by = clock(entry.clock);
    const ChannelNode from = channel(entry.source);
    EyeNode node;
    node.key = keyOf("by clock", from.key, by.key);
    node.clock = by.clock;
    node.source = resampled(from.source, by.clock->map.axis());
    node.instants = interpolationOf(clockEntry.interpolate == "auto" ? "instants" : clockEntry.interpolate);
    return node;
}

Evaluation::EyeNode Evaluation::eye(const std::string &id)
{
    const EyeEntry &entry = *findEntry(m_document.eyes, id);
    EyeNode node = entry.atEdges() ? aboutEdges(entry) : byClock(entry);
    const UnitIntervalMap &map = node.clock->map;
    EyeRule &rule = node.rule;
    const auto amplitudes = survey(entry.source, "").value;
    rule.first = map.firstSettled();
    rule.last = map.unitIntervals();
    const auto keepWithin = [&](double start, double stop) { // which may lie anywhere
        const auto unitIntervalAt = [&](double time) {
            return std::clamp(map.unitIntervalAt(map.axis().positionOf(time)), -1.0, double(rule.last) + 1);
        };
        rule.first = std::max(rule.first, std::int64_t(std::ceil(unitIntervalAt(start))));
        rule.last = std::min(rule.last, std::int64_t(std::floor(unitIntervalAt(stop))));
    };
    if (const RegionEntry *region = findEntry(m_document.regions, entry.region))
        keepWithin(region->start, region->stop);
    if (m_window) keepWithin(m_window->first, m_window->second);
    rule.least = amplitudes->stats.minimum;
    rule.most = amplitudes->stats.maximum;
    if (!entry.atUnitIntervals()) {
        foldOverlay(entry, node);
        return node;
    }
    if (rule.first >= rule.last)
        throw Unmeasurable{"no whole unit interval lies between the loop's settling and the end: take a longer capture "
                           "or region, or a higher bandwidth"};
    if (map.running({rule.first, rule.last}).empty())
        throw Unmeasurable{
            "the forwarded clock pauses all the time there: choose another region, or check its channel"};
    node.levels = eyeLevels(entry, *findEntry(m_document.clocks, entry.clock), node, keyOf("levels of", node.key));
    rule.thresholds = node.levels.thresholds;
    rule.interpolation = entry.interpolate == "none"   ? 1
                         : entry.interpolate == "sinc" ? std::max(4, automaticInterpolation(map.period()))
                                                       : automaticInterpolation(map.period());
    rule.columns = entry.resolution == "fine" ? 512 : entry.resolution == "coarse" ? 128 : 256;
    rule.withStretches = tellsUncertainties();
    if (m_addsUp) rule.room = Room::none;
    // As many as a screen shows apart, and no more than are drawn while the rest is folded.
    const std::int64_t folded = rule.last - rule.first;
    const std::int64_t share = m_addsUp ? 4 : 1; // of captures that are added up fewer each do
    rule.curves = m_first ? 1 << 10 : std::clamp<std::int64_t>(folded / 128, 1 << 10, 1 << 15) / share;

    std::string thresholds;
    for (const double threshold : rule.thresholds) thresholds += digestOf(threshold);
    node.key = keyOf("eye", node.key, rule.first, rule.last, thresholds, rule.interpolation, rule.withStretches,
                     m_addsUp, rule.columns, rule.curves);
    node.fold = m_cache.get<EyeFold>(
        node.key, [&] { return foldEye(node.source, map, rule, m_progress); }, m_first);
    return node;
}

std::shared_ptr<const EyeErrorRatio> Evaluation::errorRatios(const EyeNode &node)
{
    constexpr std::int64_t most = 1 << 21; // more make no curve smoother that a screen shows
    return m_cache.get<EyeErrorRatio>(keyOf("error ratios", node.key), [&] {
        return fulvex::errorRatios(node.source, node.clock->map, node.rule, most, m_progress);
    });
}

std::shared_ptr<const EyeCrossings> Evaluation::eyeCrossings(const EyeNode &node, std::size_t opening, bool known)
{
    // Of several levels, where all transitions that pass the opening pass its middle.
    const Moments &zero = node.fold->sum.level(opening), &one = node.fold->sum.level(opening + 1);
    const bool any = zero.count > 0 && one.count > 0;
    const double level = node.rule.thresholds.size() == 1 ? node.fold->crossing()
                         : any                            ? (zero.mean + one.mean) / 2
                                                          : std::nan("");
    if (!(level == level)) return nullptr;
    const std::string key = keyOf("crossings", node.key, opening);
    if (known) return m_cache.peek<EyeCrossings>(key);
    return m_cache.get<EyeCrossings>(key, [&] {
        return fulvex::eyeCrossings(node.source, node.clock->map, level, node.levels.hysteresis, node.instants,
                                    node.rule.first, node.rule.last, m_progress);
    });
}

std::shared_ptr<const EyeCrossings> Evaluation::eyeTransitions(const EyeNode &node, std::size_t opening,
                                                               const LevelRule &rule, bool rising, bool known)
{
    const Moments &zero = node.fold->sum.level(opening), &one = node.fold->sum.level(opening + 1);
    if (zero.count == 0 || one.count == 0) return nullptr;
    const double amplitude = one.mean - zero.mean;
    const auto at = [&](double level) {
        return rule.kind == LevelRule::Kind::percent ? zero.mean + level / 100 * amplitude : level;
    };
    ReferenceLevels levels;
    levels.states = {zero.mean, one.mean};
    levels.low = at(rule.low);
    levels.mid = (zero.mean + one.mean) / 2;
    levels.high = at(rule.high);
    levels.hysteresis = 0.1 * amplitude;
    const std::string key = keyOf("eye transitions", node.key, opening, levels.low, levels.high, rising);
    if (known) return m_cache.peek<EyeCrossings>(key);
    return m_cache.get<EyeCrossings>(key, [&] {
        return fulvex::eyeTransitions(node.source, node.clock->map, levels, node.rule.thresholds, opening, rising,
                                      node.instants, node.rule.first, node.rule.last, m_progress);
    });
}

MaskDefinition Evaluation::definitionOf(const MaskEntry &entry) const
{
    try {
        MaskDefinition mask = entry.own() ? ownMask(entry) : loadMask(entry.mask, m_base, m_masks);
        const EyeEntry *eye = findEntry(m_document.eyes, entry.eye);
        if (!mask.seconds && (!eye || eye->atEdges()))
            throw Error("", "the mask \"" + mask.title + "\" is in unit intervals, and cannot be laid at edges",
                        "lay it on an eye, or take a template, with \"x\": \"s\"");
        return mask;
    } catch (const Error &error) {
        throw error.within("masks: \"" + entry.id + "\"");
    }
}

/// All that hits follow from beside what it is laid on.
static std::string shapeOf(const MaskDefinition &mask)
{
    std::string shape = mask.normalised ? "n" : "V";
    for (const MaskArea &area : mask.areas) {
        shape += std::to_string(int(area.kind));
        for (const MaskPoint &point : area.points) shape += digestOf(point.x, point.y);
    }
    return shape;
}

void Evaluation::testEye(const MaskEntry &entry, MaskRun &run)
{
    const EyeEntry &eyeEntry = *findEntry(m_document.eyes, entry.eye);
    if (eyeEntry.atPattern())
        throw Unmeasurable{"a mask is of single unit intervals: lay it on an eye of these, not of a pattern's repeats"};
    const EyeNode on = eye(entry.eye);
    run.source = eyeEntry.source;
    run.lasts = on.clock->map.period() * on.clock->map.axis().interval;
    // Of several levels the mask lies on one opening, or on all of the eye.
    const std::size_t openings = on.rule.thresholds.size();
    const auto opening = std::size_t(entry.opening.value_or(0));
    needOpening(entry.opening, openings);
    const std::size_t top = entry.opening ? opening : openings - 1;
    const Measured one = EyeQuantities{.fold = *on.fold, .opening = top}.oneLevel(),
                   zero = EyeQuantities{.fold = *on.fold, .opening = opening}.zeroLevel();
    for (const Measured *level : {&one, &zero})
        if (!level->reason.empty()) throw Unmeasurable{level->reason};
    run.definition = inUnitIntervals(run.definition, run.lasts);
    MaskRule rule;
    rule.stopAt = entry.stopAt.value_or(0);
    rule.zero = run.zero = zero.value;
    rule.one = run.one = one.value;
    rule.margin = entry.margin;
    rule.first = on.rule.first;
    rule.last = on.rule.last;
    rule.interpolation = on.fold->interpolation;
    const std::string key =
        keyOf("mask", on.key, shapeOf(run.definition), rule.zero, rule.one, rule.margin, rule.stopAt);
    run.result = m_cache.get<MaskResult>(
        key, [&] { return runMask(on.source, on.clock->map, run.definition, rule, m_progress); });
}

void Evaluation::testEdges(const MaskEntry &entry, const EyeEntry &at, MaskRun &run)
{
    const ChannelNode from = channel(at.source);
    const Node<EdgeList> edges = triggers(at);
    const ReferenceLevels laid = *levels(at.source, "", "default").value;
    const auto [left, right] = acrossOf(run.definition.areas);
    run.source = at.source;
    run.atEdges = true;
    run.lasts = right - left;
    MaskRule rule;
    rule.stopAt = entry.stopAt.value_or(0);
    rule.zero = run.zero = laid.states.low;
    rule.one = run.one = laid.states.high;
    rule.margin = entry.margin;
    const std::string key =
        keyOf("template", from.key, edges.key, shapeOf(run.definition), rule.zero, rule.one, rule.margin, rule.stopAt);
    run.result = m_cache.get<MaskResult>(
        key, [&] { return runTemplate(from.source, edges.value->positions, run.definition, rule, m_progress); });
}

MaskRun Evaluation::mask(const MaskEntry &entry)
{
    MaskRun run;
    run.id = entry.id;
    run.eye = entry.eye;
    run.source = entry.source;
    run.appliedMargin = entry.margin;
    try {
        run.definition = definitionOf(entry);
        const EyeEntry *on = findEntry(m_document.eyes, entry.eye);
        EyeEntry alone; // a template that names its edges itself
        alone.source = entry.source;
        alone.each = entry.edge.empty() ? "rising" : entry.edge;
        if (!on || on->atEdges())
            testEdges(entry, on ? *on : alone, run);
        else
            testEye(entry, run);
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
