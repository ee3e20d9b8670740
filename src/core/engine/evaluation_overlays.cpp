// Overlays: what is folded at a pattern's repeats or at trigger edges in place of unit intervals.

#include "error.h"
#include "evaluation.h"
#include "lap_fold.h"
#include "level_keys.h"
#include "node_key.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

Evaluation::Node<EdgeList> Evaluation::triggers(const EyeEntry &overlay)
{
    const std::string &by = overlay.triggeredBy();
    const Node<EdgeList> found = overAll([&](Evaluation &all) { return all.edges(by, "", overlay.levels, "auto"); });
    const TimeAxis &axis = channel(overlay.source).source->axis(), &its = channel(by).source->axis();
    const EdgeChoice choice = choiceOf(overlay.each, EdgeChoice::rising);
    const std::string key = keyOf("triggers", found.key, int(choice), axis.start, axis.interval, axis.shift);
    const Node<EdgeList> triggers{key, m_cache.get<EdgeList>(key, [&] {
                                      EdgeList some;
                                      for (std::size_t i = 0; i < found.value->size(); ++i) {
                                          if (!chosen(choice, found.value->isRising(i))) continue;
                                          some.positions.push_back(its.positionOn(axis, found.value->positions[i]));
                                          some.flags.push_back(found.value->flags[i]);
                                      }
                                      return some;
                                  })};
    if (triggers.value->size() == 0)
        throw Unmeasurable{"no such edge lies in the record: check the levels, or choose the other edge"};
    return triggers;
}

namespace {

/// To two digits, so that an axis says short numbers.
double rounded(double value)
{
    const double digit = std::pow(10, std::floor(std::log10(value)) - 1);
    return std::round(value / digit) * digit;
}

/// How far apart they lie mostly, samples; of a single one half the record.
double usualSpacing(std::span<const double> of, double record)
{
    std::vector<double> positions(of.begin(), of.end());
    if (positions.size() < 2) return record / 2;
    for (std::size_t i = positions.size() - 1; i > 0; --i) positions[i] -= positions[i - 1];
    const auto middle = positions.begin() + 1 + std::ptrdiff_t((positions.size() - 1) / 2);
    std::nth_element(positions.begin() + 1, middle, positions.end());
    return *middle;
}

} // namespace

Evaluation::EyeNode Evaluation::aboutEdges(const EyeEntry &entry)
{
    const ChannelNode from = channel(entry.source);
    const Node<EdgeList> at = triggers(entry);
    const TimeAxis &axis = from.source->axis();
    const double spacing = *m_cache.get<double>(keyOf("spacing", from.key, at.key), [&] {
        return usualSpacing(at.value->positions, double(axis.count)) * axis.interval;
    });
    const double before = entry.before.value_or(rounded(0.2 * spacing)),
                 length = before + entry.after.value_or(rounded(0.6 * spacing));
    if (!(length >= 2 * axis.interval))
        throw Unmeasurable{"less than two samples lie between \"before\" and \"after\" the edge: make it longer"};
    EyeNode node;
    node.key = keyOf("about edges", from.key, at.key, before, length);
    node.clock = m_cache.get<Clock>(node.key, [&] {
        const UnitIntervalMap map =
            lapsAbout(axis, at.value->positions, before / axis.interval, length / axis.interval);
        return Clock{map, NumberedEdges(std::make_shared<const EdgeList>(), map)};
    });
    node.source = from.source;
    node.rule.across = {-before, length, true};
    node.triggers = std::int64_t(at.value->size());
    return node;
}

void Evaluation::foldOverlay(const EyeEntry &entry, EyeNode &node)
{
    EyeRule &rule = node.rule;
    const UnitIntervalMap &map = node.clock->map;
    if (entry.atPattern()) {
        std::int64_t every = entry.pattern.value_or(0);
        if (every == 0) {
            const ClockEntry &clock = *findEntry(m_document.clocks, entry.clock);
            every = overAll([&](Evaluation &all) { return all.pattern(clock)->length; });
        }
        constexpr std::int64_t longest = 1 << 20;
        if (every < 2 || every > longest)
            throw Unmeasurable{"no pattern is found to come again there: give the unit intervals after which it does"};
        const std::int64_t to = entry.patternTo.value_or(int(every));
        if (entry.patternFrom >= to || to > every)
            throw Unmeasurable{"the pattern is of " + std::to_string(every) +
                               " unit intervals: let \"from\" and \"to\" lie within it"};
        node.levels = eyeLevels(entry, *findEntry(m_document.clocks, entry.clock), node, keyOf("levels of", node.key));
        rule.thresholds = node.levels.thresholds;
        rule.laps = {every, entry.patternFrom, int(to - entry.patternFrom)};
        rule.across.origin = entry.patternFrom;
    }
    rule.interpolation = entry.interpolate == "none" ? 1 : automaticInterpolation(map.period());
    if (entry.interpolate == "sinc") rule.interpolation = std::max(4, rule.interpolation);
    rule.columns = entry.resolution == "fine" ? 1024 : entry.resolution == "coarse" ? 256 : 512;
    rule.rows = rule.columns / 2;
    rule.withStretches = false;
    constexpr std::int64_t points = 1 << 25; // that curves are drawn by
    rule.curves = std::clamp<std::int64_t>(points / rule.columns, 1, 1 << 14);
    node.key = keyOf("overlay", node.key, rule.first, rule.last, rule.laps.each, rule.laps.from, rule.laps.lasts,
                     rule.interpolation, rule.columns);
    node.fold = m_cache.get<EyeFold>(node.key, [&] { return foldLaps(node.source, map, rule, m_progress); });
    if (node.fold->unitIntervals == 0)
        throw Unmeasurable{entry.atPattern()
                               ? "no whole repeat of the pattern lies there: take a longer record or region"
                               : "what is laid over each other lies nowhere in the record as a whole: "
                                 "let it begin nearer to the edge, or end sooner"};
}

} // namespace fulvex
