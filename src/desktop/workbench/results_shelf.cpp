#include "results_shelf.h"

#include "document_json.h"

#include <algorithm>
#include <utility>

namespace fulvex {

/// The same results, told of another document that they are those of as well.
static std::shared_ptr<const Results> toldOf(const std::shared_ptr<const Results> &results, const Document &document)
{
    auto told = std::make_shared<Results>(*results);
    told->document = std::make_shared<const Document>(document);
    return told;
}

void ResultsShelf::clear()
{
    m_results.reset();
    m_current = m_complete = false;
}

void ResultsShelf::follow(const Document &now, bool sameNumbers)
{
    if (!sameNumbers)
        m_current = false;
    else if (current())
        m_results = toldOf(m_results, now);
}

void ResultsShelf::put(std::shared_ptr<const Results> results, bool complete, const Document &now, bool own)
{
    m_current = own || sameComputation(*results->document, now);
    m_results = m_current && !own ? toldOf(results, now) : std::move(results);
    m_complete = complete;
}

bool ResultsShelf::tracesReady(const Document &now) const
{
    const auto &channels = m_results->channels;
    return channels.size() == now.channels.size() &&
           std::none_of(channels.begin(), channels.end(), [](const ChannelResult &one) { return one.pending; });
}

bool ResultsShelf::serves(const Document &now, bool tracesWillDo) const
{
    return current() && (m_complete || (tracesWillDo && tracesReady(now)));
}

std::vector<ResultsShelf::Waiting> ResultsShelf::takeServed(const Document &now)
{
    std::vector<Waiting> served;
    for (auto at = m_waiting.begin(); at != m_waiting.end();) {
        if (!serves(now, at->tracesWillDo)) {
            ++at;
            continue;
        }
        served.push_back(std::move(*at));
        at = m_waiting.erase(at);
    }
    return served;
}

QStringList ResultsShelf::giveUp()
{
    QStringList names;
    for (const Waiting &one : std::exchange(m_waiting, {})) names << one.what;
    return names;
}

} // namespace fulvex
