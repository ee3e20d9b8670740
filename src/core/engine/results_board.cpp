#include "results_board.h"

#include <type_traits>
#include <unordered_map>

namespace fulvex {

namespace {

/// In the document's order: what is ready, else what was there before, else nothing.
template <typename Entry, typename Result>
void collect(const std::vector<Entry> &entries, const std::vector<std::optional<Result>> &ready,
             const std::vector<Result> *older, std::vector<Result> &into)
{
    std::unordered_map<std::string, const Result *> before;
    if (older) {
        for (const Result &result : *older) before.emplace(result.id, &result);
    }
    for (std::size_t i = 0; i < entries.size(); ++i) {
        if (ready[i]) {
            into.push_back(*ready[i]);
        } else if (const auto found = before.find(entries[i].id); found != before.end()) {
            into.push_back(*found->second);
            into.back().pending = true;
        }
    }
}

/// A check of the same bytes is good until the next has ended.
void keepCheck(CaptureResult &result, const CaptureResult &older)
{
    if (!result.pending || !result.error.empty() || result.sources != older.sources) return;
    if (result.sha256.empty()) result.sha256 = older.sha256;
    if (!older.findings.empty()) result.findings = older.findings;
}

} // namespace

void ResultsBoard::begin(std::shared_ptr<const Document> document, std::shared_ptr<const Results> older)
{
    const std::lock_guard lock(m_mutex);
    m_document = std::move(document);
    m_older = std::move(older);
    const auto clear = [&]<typename Result>(std::type_identity<Result>, std::size_t size) {
        auto &slots = std::get<Slots<Result>>(m_slots);
        slots.clear();
        slots.resize(size);
    };
    clear(std::type_identity<CaptureResult>(), m_document->captures.size());
    clear(std::type_identity<ChannelResult>(), m_document->channels.size());
    clear(std::type_identity<ClockResult>(), m_document->clocks.size());
    clear(std::type_identity<Row>(), m_document->measurements.size());
    clear(std::type_identity<EyeResult>(), m_document->eyes.size());
    clear(std::type_identity<MaskRun>(), m_document->masks.size());
    clear(std::type_identity<SpectrumResult>(), m_document->spectra.size());
    clear(std::type_identity<BudgetResult>(), m_document->budgets.size());
    clear(std::type_identity<PhaseNoiseResult>(), m_document->phaseNoise.size());
    clear(std::type_identity<ProgramStatus>(), m_document->programs.size());
    m_jitter.clear();
    m_changed = false;
}

void ResultsBoard::putJitter(std::vector<JitterResult> jitter)
{
    const std::lock_guard lock(m_mutex);
    m_jitter = std::move(jitter);
}

Results ResultsBoard::collected() const
{
    Results results;
    results.document = m_document;
    results.jitter = m_jitter;
    const Results *older = m_older.get();
    const auto fill = [&]<typename Entry, typename Result>(const std::vector<Entry> &entries,
                                                           std::vector<Result> Results::*list) {
        collect(entries, std::get<Slots<Result>>(m_slots), older ? &(older->*list) : nullptr, results.*list);
    };
    fill(m_document->captures, &Results::captures);
    fill(m_document->channels, &Results::channels);
    fill(m_document->clocks, &Results::clocks);
    fill(m_document->measurements, &Results::rows);
    fill(m_document->eyes, &Results::eyes);
    fill(m_document->masks, &Results::masks);
    fill(m_document->spectra, &Results::spectra);
    fill(m_document->budgets, &Results::budgets);
    fill(m_document->phaseNoise, &Results::phaseNoise);
    fill(m_document->programs, &Results::programs);
    if (!older) return results;
    for (CaptureResult &capture : results.captures) {
        if (const CaptureResult *before = findEntry(older->captures, capture.id)) keepCheck(capture, *before);
    }
    return results;
}

Results ResultsBoard::all() const
{
    const std::lock_guard lock(m_mutex);
    return collected();
}

std::optional<Results> ResultsBoard::news()
{
    const std::lock_guard lock(m_mutex);
    if (!m_changed) return {};
    m_changed = false;
    return collected();
}

} // namespace fulvex
