#include "run_gathering.h"

#include "capture_reader.h"
#include "error.h"
#include "mapped_file.h"
#include "part_file.h"
#include "run_overview.h"
#include "turns.h"

#include <algorithm>
#include <ranges>

namespace fulvex {

namespace {

/// What numbers of all captures together follow from, but for which they are.
std::string identityOfRun(const Document &document)
{
    std::string identity = identityOf(document, Alike::namedNumbers);
    for (const CaptureEntry &capture : document.captures)
        if (!capture.isRun()) identity += "\n" + capture.file; // the same for all of them
    return identity;
}

bool isLeftOut(const Document &document, const RunMember &member)
{
    return !leftOutOf(document, member).empty();
}

} // namespace

bool RunGathering::startsOver(const Document &document, const std::filesystem::path &base,
                              const std::string &identity) const
{
    if (!m_document || base != m_base || identity != m_identity) return true;
    for (std::size_t i = 0; i < document.captures.size(); ++i) {
        const RunOptions &before = m_document->captures[i].run, &now = document.captures[i].run;
        const auto isThere = [&](const std::string &file) {
            return std::ranges::find(now.files, file) != now.files.end();
        };
        if (before.watched != now.watched || !std::ranges::all_of(before.files, isThere)) return true;
    }
    if (std::ranges::any_of(m_members, [&](const RunMember &member) {
            return m_counted.contains(member.name) && isLeftOut(document, member);
        }))
        return true;
    const auto most = stopAt(document);
    return most && m_failed > std::size_t(*most); // it would have ended before
}

RunGathering::RunGathering(const std::filesystem::path &masks, Manner manner) : m_forReports(manner.forReports)
{
    for (int i = 0; i < std::max(1, manner.jobs); ++i) m_engines.push_back(std::make_unique<Engine>(masks, 0));
}

void RunGathering::follow(const Document &document, const std::filesystem::path &base)
{
    const std::string identity = identityOfRun(document);
    const bool anew = startsOver(document, base, identity);
    const bool judged = m_document && computingText(fieldsOf(*m_document), Alike::results) !=
                                          computingText(fieldsOf(document), Alike::results);
    m_document = std::make_shared<const Document>(document);
    m_base = base;
    m_identity = identity;
    m_watched = std::ranges::any_of(document.captures, [](const CaptureEntry &one) { return one.run.watched; });
    if (anew) {
        begin();
        if (!m_journal) return;
        m_tally.restore(m_journal->load(document));
        if (m_tally.empty()) return;
        for (const CountedCapture &one : m_tally.results().counted) {
            m_counted.insert(one.name);
            m_known.insert(one.name);
        }
    }
    m_tally.judgeBy(m_document);
    if ((judged || anew) && !m_tally.empty()) {
        m_failed = std::size_t(std::ranges::count(overviewOf(m_tally.results()), Verdict::fail, &RunLine::verdict));
        const auto most = stopAt(document);
        if (most && m_failed > std::size_t(*most) && !anew) return begin();
    }
    const auto most = stopAt(document);
    m_ended = most && m_failed >= std::size_t(*most);
}

void RunGathering::begin()
{
    m_tally = {};
    m_members.clear();
    m_waiting.clear();
    m_arrivals.clear();
    m_counted.clear();
    m_known.clear();
    m_unread.clear();
    m_failed = 0;
    m_ended = false;
}

void RunGathering::take(RunMember member)
{
    const bool out = isLeftOut(*m_document, member);
    if (!out && m_known.insert(member.name).second) m_waiting.push_back(member);
    m_members.push_back(std::move(member));
}

void RunGathering::look(ArrivingFiles::Instant now)
{
    if (!m_document || !hasRun(*m_document)) return;
    std::erase_if(m_waiting, [&](const RunMember &member) {
        const bool out = isLeftOut(*m_document, member);
        if (out) m_known.erase(member.name);
        return out;
    });
    if (m_watched) return pairArrivals(now);
    std::vector<RunMember> there = membersOf(*m_document, m_base);
    m_members.clear();
    for (RunMember &member : there) take(std::move(member));
}

void RunGathering::pairArrivals(ArrivingFiles::Instant now)
{
    const auto &captures = m_document->captures;
    for (const CaptureEntry &capture : captures) {
        if (capture.run.files.empty()) continue;
        Arrivals &arrivals = m_arrivals[capture.id];
        for (std::string &file : arrivals.files.take(namedFiles(capture.run.files, m_base), m_base, now))
            arrivals.complete.push_back(std::move(file));
    }
    for (RunMember &member : m_members) { // what was left out may count again
        member.leftOut = leftOutOf(*m_document, member);
        if (member.leftOut.empty() && m_known.insert(member.name).second) m_waiting.push_back(member);
    }
    pair();
}

void RunGathering::pair()
{
    const auto allCame = [&] {
        return std::ranges::none_of(m_arrivals, [](const auto &one) { return one.second.complete.empty(); });
    };
    while (!m_arrivals.empty() && allCame()) {
        Document one = *m_document;
        for (CaptureEntry &capture : one.captures) {
            const auto arrivals = m_arrivals.find(capture.id);
            if (arrivals == m_arrivals.end()) continue;
            capture.file = arrivals->second.complete.front();
            capture.run.files = {capture.file};
            arrivals->second.complete.pop_front();
        }
        for (RunMember &member : membersOf(one, m_base)) take(std::move(member)); // of several segments each
    }
}

void RunGathering::arrive(const std::string &capture, const std::string &file)
{
    if (!m_watched) return;
    Arrivals &arrivals = m_arrivals[capture];
    if (arrivals.files.isKnown(file)) return; // a look came first
    arrivals.files.know(file);
    arrivals.complete.push_back(file);
    pair();
}

bool RunGathering::putBack(const RunMember &member)
{
    if (!m_watched) return false;
    const auto now = std::chrono::steady_clock::now();
    bool any = false;
    for (std::size_t i = 0; i < member.files.size(); ++i) {
        const auto arrivals = m_arrivals.find(m_document->captures[i].id);
        if (arrivals != m_arrivals.end()) any |= arrivals->second.files.putBack(member.files[i], m_base, now);
    }
    if (!any) return false;
    for (std::size_t i = 0; i < member.files.size(); ++i) { // those that were whole go with it again
        const auto arrivals = m_arrivals.find(m_document->captures[i].id);
        if (arrivals != m_arrivals.end() && arrivals->second.files.isKnown(member.files[i]))
            arrivals->second.complete.push_front(member.files[i]);
    }
    m_known.erase(member.name);
    std::erase_if(m_members, [&](const RunMember &one) { return one.name == member.name; });
    return true;
}

Results RunGathering::evaluate(Engine &engine, const RunMember &member, Progress &progress) const
{
    Engine::Options options;
    options.fingerprints = options.check = options.clockFacts = m_forReports;
    options.brokenMasksStop = false;
    options.mergeable = true;
    options.pyramids = !m_traced.empty();
    options.traces = m_traced;
    return engine.evaluate(documentOf(*m_document, member), m_base, options, progress);
}

void RunGathering::count(const RunMember &member, Results results)
{
    results.document = m_document;
    m_failed += captureFailed(results);
    const std::size_t replaced = m_tally.add(summaryOf(std::move(results), member.name));
    if (m_journal) m_journal->write(m_tally.last(), replaced);
    m_counted.insert(member.name);
    const auto most = stopAt(*m_document);
    m_ended = most && m_failed >= std::size_t(*most);
}

/// Has a capture's files fetched, whose turn comes next, while others are computed. What cannot be is told at its turn.
static void fetchAhead(const RunMember &member, const std::filesystem::path &base)
{
    constexpr std::size_t most = 256 << 20; // of each
    for (const std::string &file : member.files) {
        try {
            for (const auto &mapped : openCaptureFiles(base / file))
                mapped->announce(mapped->bytes().first(std::min(most, mapped->bytes().size())));
        } catch (const Error &) {
        }
    }
}

std::vector<std::string> RunGathering::takeNext(Progress &progress,
                                                const std::function<void(const RunMember &, const Results &)> &made)
{
    const std::size_t jobs = std::min(m_engines.size(), m_waiting.size()), most = jobs > 1 ? 16 * jobs : 1;
    const std::vector<RunMember> members(m_waiting.begin(),
                                         m_waiting.begin() + std::ptrdiff_t(std::min(most + jobs, m_waiting.size())));
    Turns<Results> turns(jobs, std::min(most, members.size()), [&](std::size_t job, std::size_t at) {
        if (at + jobs < members.size()) fetchAhead(members[at + jobs], m_base);
        return evaluate(*m_engines[job], members[at], progress);
    });
    std::vector<std::string> taken;
    try {
        turns.run([&](std::size_t at, Results results) {
            const RunMember &member = members[at];
            m_waiting.pop_front();
            const std::string error = results.firstError();
            if (!error.empty() && putBack(member)) return true;
            if (!error.empty()) {
                m_unread[member.name] = error;
                m_tally.leaveOut(results);
            } else {
                if (made) made(member, results);
                count(member, std::move(results));
            }
            taken.push_back(member.name);
            return !m_ended; // what comes behind the end does not count
        });
    } catch (...) {
        if (taken.empty()) throw; // else at the next one's turn
    }
    return taken;
}

std::optional<Results> RunGathering::all() const
{
    if (m_tally.empty()) return std::nullopt;
    return m_tally.results();
}

std::optional<Results> gathered(Document document, const std::filesystem::path &base,
                                const std::filesystem::path &masks, Progress &progress,
                                std::vector<std::string> &unread)
{
    for (CaptureEntry &capture : document.captures) capture.run.watched = false; // what comes later is not waited for
    RunGathering run(masks);
    run.follow(document, base);
    run.look();
    while (run.hasNext()) run.takeNext(progress);
    for (const auto &[member, why] : run.unread()) unread.push_back(why);
    return run.all();
}

} // namespace fulvex
