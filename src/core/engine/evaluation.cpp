#include "evaluation.h"

#include "clock_recovery.h"
#include "error.h"
#include "failure_text.h"
#include "field_text.h"
#include "instant_errors.h"
#include "level_keys.h"
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

std::pair<double, double> Evaluation::positionsIn(const std::string &region, const TimeAxis &axis) const
{
    constexpr double forever = std::numeric_limits<double>::infinity();
    const RegionEntry *found = findEntry(m_document.regions, region);
    return found ? std::pair(axis.positionOf(found->start), axis.positionOf(found->stop))
                 : std::pair(-forever, forever);
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

Evaluation Evaluation::forFirstAnswers(bool estimates) const
{
    Evaluation first = *this;
    first.m_first = true;
    first.m_estimates = estimates;
    return first;
}

Evaluation::Node<AmplitudeSurvey> Evaluation::survey(const std::string &channelId, const std::string &region)
{
    const ChannelNode from = channel(channelId);
    const SampleRange samples = range(*from.source, region);
    const bool stretches = tellsUncertainties();
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
    const Node<AmplitudeSurvey> base = survey(channelId, region);
    LevelRule rule = ruleOf(m_document.levelsOf(levelsId));
    if (mid) {
        rule.mid = *mid;
        rule.low = std::min(rule.low, *mid); // they rise, wherever it lies
        rule.high = std::max(rule.high, *mid);
    }
    const std::string key = levelsKey(base.key, rule);
    return {key, m_cache.get<ReferenceLevels>(key, [&] { return referenceLevels(*base.value, rule); })};
}

StateUncertainty Evaluation::stateUncertainty(const std::string &channelId, const std::string &region,
                                              const std::string &levelsId)
{
    const ChannelNode from = channel(channelId);
    const Node<AmplitudeSurvey> base = survey(channelId, region);
    const LevelRule rule = ruleOf(m_document.levelsOf(levelsId));
    return *m_cache.get<StateUncertainty>(keyOf("states", levelsKey(base.key, rule)), [&] {
        return fulvex::stateUncertainty(*base.value, from.source->resolution(), rule);
    });
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
    const auto transitionSamples = [&] {
        return *m_cache.get<double>(steepnessKey(at.key),
                                    [&] { return medianTransitionSamples(source, *linear(), *at.value); });
    };
    EdgeInterpolation how = interpolationOf(interpolate);
    if (isOpen(how)) how = settled(how, transitionSamples());
    if (how == EdgeInterpolation::linear) return {straight, linear()};
    const std::string key = edgesKey(at.key, how);
    Node<EdgeList> refined{key, m_cache.get<EdgeList>(key, [&] {
                               EdgeList found = refinedEdges(source, copyOf(*linear()), at.value->mid, m_progress);
                               found.transitionSamples = transitionSamples();
                               return found;
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

} // namespace fulvex
