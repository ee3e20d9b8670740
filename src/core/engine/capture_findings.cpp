#include "capture_findings.h"

#include "error.h"
#include "formula.h"
#include "formula_check.h"
#include "number_text.h"
#include "pair_check.h"
#include "pattern_check.h"
#include "references.h"
#include "symbol_pattern.h"

#include <algorithm>
#include <set>

namespace fulvex {

namespace {

/// The file channels that a channel is made of.
void collectLeaves(const Document &document, const std::string &id, std::set<std::string> &leaves)
{
    std::set<std::string> seen{id}; // however many formulas share a channel, it is looked at once
    std::vector<std::string> open{id};
    const Formula::OwnFunctions own = ownFunctions(document);
    while (!open.empty()) {
        const ChannelEntry *entry = findEntry(document.channels, open.back());
        open.pop_back();
        if (!entry) continue;
        if (entry->formula.empty()) {
            leaves.insert(entry->id);
            continue;
        }
        for (const std::string &name : Formula::parse(entry->formula, own).names()) {
            for (const std::string &behind : channelsBehind(document, name))
                if (seen.insert(behind).second) open.push_back(behind);
        }
    }
}

CheckedChannel checkedChannel(Evaluation &evaluation, const ChannelEntry &entry)
{
    CheckedChannel checked;
    checked.id = entry.id;
    const auto node = evaluation.channel(entry.id);
    checked.unit = node.unit;
    checked.unitStated = node.unitStated;
    checked.source = node.source;
    checked.stored = evaluation.column(entry);
    try {
        checked.survey = evaluation.survey(entry.id, {}).value;
    } catch (const Unmeasurable &) {
        // gaps alone, or numbers that nothing can be computed from: the rows on it say so
    }
    return checked;
}

void checkLoop(Evaluation &evaluation, const ClockEntry &clock, std::vector<Finding> &findings)
{
    if (clock.method != "pll") return;
    const TimeAxis &axis = evaluation.channel(clock.source).source->axis();
    const double duration = axis.interval * double(axis.count);
    if (duration >= 10 / clock.bandwidth) return;
    findings.push_back({"record_length",
                        "warning",
                        "the record of " + quantityText(duration, "s", {}, 3) +
                            " is shorter than ten times the settling of loop " + clock.id + " (" +
                            quantityText(10 / clock.bandwidth, "s", {}, 3) +
                            "): a good part of it is left out, and slow jitter is not seen; take a longer record or a "
                            "wider loop",
                        clock.source,
                        {},
                        {},
                        {}});
}

} // namespace

static std::vector<Finding> patternFindings(Evaluation &evaluation, const ClockEntry &entry)
{
    try {
        const Clock &clock = *evaluation.clock(entry.id).clock;
        const std::int64_t length = evaluation.pattern(entry)->length;
        if (length > longestPattern) return {}; // a PRBS so long that nobody waits for its repeats
        return checkPattern(length, clock.map.unitIntervals(), entry.source);
    } catch (const Unmeasurable &) {
        return {}; // without a clock there are no symbols
    }
}

std::vector<Finding> captureFindings(Evaluation &evaluation, const CaptureEntry &capture)
{
    const Document &document = evaluation.document();
    std::vector<Finding> findings;
    const auto append = [&](const std::vector<Finding> &more) {
        findings.insert(findings.end(), more.begin(), more.end());
    };
    const auto guarded = [&](auto &&check) {
        try {
            check();
        } catch (const Error &) {
            // what keeps a channel from being read is told at the channel
        }
    };
    for (const ChannelEntry &entry : document.channels) {
        if (!entry.formula.empty() || entry.capture != capture.id) continue;
        guarded([&] {
            append(*evaluation.checked({entry.id}, "", [&](Progress &progress) {
                return checkChannel(checkedChannel(evaluation, entry), progress);
            }));
        });
    }
    for (const ChannelEntry &entry : document.channels) {
        const auto legs = legsOf(document, entry);
        if (!legs || findEntry(document.channels, legs->second)->capture != capture.id) continue;
        guarded([&] {
            append(*evaluation.checked({legs->first, legs->second}, "", [&](Progress &progress) {
                return checkPair(checkedChannel(evaluation, *findEntry(document.channels, legs->first)),
                                 checkedChannel(evaluation, *findEntry(document.channels, legs->second)), progress);
            }));
        });
    }
    for (const ClockEntry &clock : document.clocks) {
        guarded([&] {
            std::set<std::string> leaves;
            collectLeaves(document, clock.source, leaves);
            const bool here = !leaves.empty() && findEntry(document.channels, *leaves.begin())->capture == capture.id;
            if (!here) return;
            checkLoop(evaluation, clock, findings);
            for (const Finding &finding : patternFindings(evaluation, clock)) { // of each source once
                const bool known = std::any_of(findings.begin(), findings.end(), [&](const Finding &other) {
                    return other.check == finding.check && other.channel == finding.channel;
                });
                if (!known) findings.push_back(finding);
            }
        });
    }
    return findings;
}

} // namespace fulvex
