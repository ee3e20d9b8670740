#include "run_tally.h"

#include "engine.h"
#include "run_entries.h"

#include <algorithm>
#include <map>

namespace fulvex {

Results summaryOf(Results results, const std::string &name)
{
    for (Row &row : results.rows) {
        row.total = std::make_shared<const PopulationTotal>(PopulationTotal::of(*row.measured, name));
        Measured alone; // what kind of number it is
        alone.reason = row.measured->reason;
        alone.single = row.measured->single;
        alone.value = row.measured->value;
        row.measured = std::make_shared<const Measured>(std::move(alone));
        row.levels.clear();
    }
    std::string prints;
    for (const CaptureResult &capture : results.captures) prints += capture.id + "=" + capture.sha256 + ";";
    results.counted = {{name, prints, {}}};
    results.varied = variedCaptures(*results.document);
    const auto noteFailed = [&](const auto &list) {
        for (const auto &one : list)
            if (one.verdict == Verdict::fail) results.counted.front().failed.push_back(one.id);
    };
    noteFailed(results.budgets);
    noteFailed(results.phaseNoise);
    for (ClockResult &clock : results.clocks) {
        clock.clock.reset();
        clock.samples.reset();
        clock.jitter.reset();
    }
    for (EyeResult &eye : results.eyes) {
        eye.samples.reset();
        eye.by.reset();
        eye.errors.reset();
    }
    for (MaskRun &mask : results.masks) {
        mask.captures = {mask.counts(name)};
        if (!mask.result) continue;
        MaskResult named = *mask.result;
        for (auto *list : {&named.failures, &named.worst})
            for (MaskFailure &failure : *list) failure.capture = name;
        mask.result = std::make_shared<const MaskResult>(std::move(named));
    }
    for (SpectrumResult &spectrum : results.spectra) spectrum.samples.reset();
    for (PhaseNoiseResult &noise : results.phaseNoise) {
        noise.edges.reset();
        noise.stability.reset();
        noise.by.reset();
    }
    for (BudgetResult &budget : results.budgets) { // what is told of several follows from their sums
        budget.by.reset();
        budget.found.reset();
        budget.tails.reset();
        budget.budget = {};
        budget.remarks.clear();
    }
    for (CaptureResult &capture : results.captures) capture.sources.clear();
    for (ChannelResult &channel : results.channels) {
        channel.source.reset();
        channel.pyramid.reset();
    }
    return results;
}

bool captureFailed(const Results &results)
{
    const Document &document = *results.document;
    return results.anyFailed(sameEachTime(document, variedCaptures(document)));
}

std::size_t RunTally::add(Results summary)
{
    std::size_t replaced = 0;
    m_sums.push_back(std::move(summary));
    const auto areAlike = [&] {
        return m_sums.size() >= together &&
               m_sums[m_sums.size() - together].counted.size() <= m_sums.back().counted.size();
    };
    while (areAlike()) {
        const auto first = m_sums.end() - together;
        std::vector<Results> alike(std::make_move_iterator(first), std::make_move_iterator(m_sums.end()));
        m_sums.erase(first + 1, m_sums.end());
        m_sums.back() = accumulated(alike, Told::later);
        replaced += together - 1;
    }
    return replaced;
}

void RunTally::leaveOut(const Results &unread)
{
    for (const CaptureResult &capture : unread.captures)
        if (!capture.error.empty()) m_unread.push_back(capture);
}

void RunTally::judgeBy(const std::shared_ptr<const Document> &document)
{
    for (Results &sum : m_sums) sum.document = document;
}

Results RunTally::results() const
{
    Results all = accumulated(m_sums);
    all.captures.insert(all.captures.end(), m_unread.begin(), m_unread.end());
    // By entry, then by name: the same whatever came first.
    std::map<std::string, std::size_t> places;
    for (const CaptureEntry &entry : all.document->captures) places.emplace(entry.id, places.size());
    std::stable_sort(all.captures.begin(), all.captures.end(), [&](const CaptureResult &a, const CaptureResult &b) {
        return std::pair(places[a.id], a.file) < std::pair(places[b.id], b.file);
    });
    return all;
}

} // namespace fulvex
