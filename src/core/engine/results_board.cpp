#include "results_board.h"

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
    const auto clear = [](auto &slots, std::size_t size) {
        slots.clear();
        slots.resize(size);
    };
    clear(m_captures, m_document->captures.size());
    clear(m_channels, m_document->channels.size());
    clear(m_clocks, m_document->clocks.size());
    clear(m_rows, m_document->measurements.size());
    clear(m_eyes, m_document->eyes.size());
    clear(m_masks, m_document->masks.size());
    m_changed = false;
}

template <typename Result>
void ResultsBoard::place(std::vector<std::optional<Result>> &slots, std::size_t index, Result &&result)
{
    const std::lock_guard lock(m_mutex);
    slots[index] = std::move(result);
    m_changed = true;
}

void ResultsBoard::put(std::size_t index, CaptureResult result)
{
    place(m_captures, index, std::move(result));
}
void ResultsBoard::put(std::size_t index, ChannelResult result)
{
    place(m_channels, index, std::move(result));
}
void ResultsBoard::put(std::size_t index, ClockResult result)
{
    place(m_clocks, index, std::move(result));
}
void ResultsBoard::put(std::size_t index, Row result)
{
    place(m_rows, index, std::move(result));
}
void ResultsBoard::put(std::size_t index, EyeResult result)
{
    place(m_eyes, index, std::move(result));
}
void ResultsBoard::put(std::size_t index, MaskRun result)
{
    place(m_masks, index, std::move(result));
}

Results ResultsBoard::collected() const
{
    Results results;
    results.document = m_document;
    const Results *older = m_older.get();
    collect(m_document->captures, m_captures, older ? &older->captures : nullptr, results.captures);
    collect(m_document->channels, m_channels, older ? &older->channels : nullptr, results.channels);
    collect(m_document->clocks, m_clocks, older ? &older->clocks : nullptr, results.clocks);
    collect(m_document->measurements, m_rows, older ? &older->rows : nullptr, results.rows);
    collect(m_document->eyes, m_eyes, older ? &older->eyes : nullptr, results.eyes);
    collect(m_document->masks, m_masks, older ? &older->masks : nullptr, results.masks);
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
