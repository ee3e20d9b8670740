#include "comparison_keeper.h"

#include "failure_text.h"
#include "freed_memory.h"
#include "give_way.h"
#include "named_files.h"
#include "program_log.h"

#include <algorithm>

namespace fulvex {

/// Whether a capture that is measured as these are gives the same by both.
static bool isMeasuredAlike(const std::shared_ptr<const Results> &a, const std::shared_ptr<const Results> &b)
{
    return a == b || (a && b && sameComputation(*a->document, *b->document));
}

ComparisonKeeper::ComparisonKeeper(QObject *parent)
    : QObject(parent), m_thread([this](std::stop_token stop) { work(stop); })
{
}

ComparisonKeeper::~ComparisonKeeper()
{
    m_thread.request_stop();
    {
        const std::lock_guard lock(m_mutex);
        if (m_progress) m_progress->cancel();
    }
    m_thread.join();
}

void ComparisonKeeper::follow(Files files, const std::filesystem::path &base, std::uint64_t session)
{
    const std::lock_guard lock(m_mutex);
    if (m_wanted.session == session && m_wanted.files == files && m_wanted.base == base) return;
    const auto wanted = files.find(m_reading);
    const bool stays =
        m_wanted.session == session && wanted != files.end() && wanted->second == m_wanted.files[m_reading];
    if (m_progress && !stays) m_progress->cancel();
    if (m_wanted.session != session) {
        m_wanted.own.reset();
        m_isWanted = false;
    }
    m_wanted.files = std::move(files);
    m_wanted.base = base;
    m_wanted.session = session;
    m_changed = true;
    m_wake.notify_all();
}

void ComparisonKeeper::compareWith(std::shared_ptr<const Results> own, std::uint64_t session)
{
    const std::lock_guard lock(m_mutex);
    if (session != m_wanted.session || own == m_wanted.own) return;
    const bool alike = isMeasuredAlike(m_wanted.own, own);
    m_wanted.own = std::move(own);
    const auto reading = m_wanted.files.find(m_reading);
    if (m_progress && !alike && reading != m_wanted.files.end() && !isResultName(reading->second)) m_progress->cancel();
    m_changed = true;
    m_wake.notify_all();
}

void ComparisonKeeper::want()
{
    const std::lock_guard lock(m_mutex);
    m_isWanted = true;
    m_wake.notify_all();
}

void ComparisonKeeper::readAnew()
{
    const std::lock_guard lock(m_mutex);
    if (m_progress) m_progress->cancel();
    m_wanted.anew = m_changed = true;
    m_wake.notify_all();
}

void ComparisonKeeper::hold(bool held)
{
    const std::lock_guard lock(m_mutex);
    m_held = held;
    m_wake.notify_all();
}

void ComparisonKeeper::tell(const ComparedResults &state)
{
    m_mail.post([this, copy = std::make_shared<const ComparedResults>(state)] { emit told(copy); });
}

void ComparisonKeeper::read(ComparedResults &state, const std::string &id, const std::filesystem::path &base,
                            const std::shared_ptr<const Results> &own)
{
    Compared &one = state.by.at(id);
    const auto progress = std::make_shared<Progress>();
    {
        const std::lock_guard lock(m_mutex);
        if (m_changed) return; // it may be wanted no longer
        m_progress = progress;
        m_reading = id;
    }
    try {
        one.other = std::make_shared<const ResultFile>(
            readBeside(one.file, own ? *own->document : Document(), base, *progress));
        one.outdated = false;
        one.found.reset();
        one.error.clear();
    } catch (const Cancelled &) {
        // what is wanted now comes next, this one again where it is among that
    } catch (...) {
        one.error = failureText();
        logLine(LogLevel::warning, "another result cannot be read: " + failureForLog());
    }
    const std::lock_guard lock(m_mutex);
    m_progress.reset();
    m_reading.clear();
}

void ComparisonKeeper::work(std::stop_token stop)
{
    giveWay();
    ComparedResults state;
    std::shared_ptr<const Results> own;
    const auto isUnread = [&](const auto &each) {
        const Compared &one = each.second;
        // A capture is measured as our own.
        return (!one.other || one.outdated) && one.error.empty() && (own || isResultName(one.file));
    };
    std::filesystem::path base;
    while (!stop.stop_requested()) {
        std::optional<Wanted> wanted;
        bool mayRead = false;
        {
            std::unique_lock lock(m_mutex);
            const auto mayGoOn = [&] { return m_isWanted && !m_held && std::ranges::any_of(state.by, isUnread); };
            m_wake.wait(lock, stop, [&] { return m_changed || mayGoOn(); });
            if (stop.stop_requested()) return;
            if (std::exchange(m_changed, false)) {
                wanted = m_wanted;
                m_wanted.anew = false;
            }
            mayRead = mayGoOn();
        }
        if (wanted) {
            if (wanted->session != state.session || wanted->anew) state.by.clear();
            state.session = wanted->session;
            base = wanted->base;
            const bool otherOwn = !isMeasuredAlike(std::exchange(own, wanted->own), wanted->own);
            std::map<std::string, Compared> now;
            for (const auto &[id, file] : wanted->files) {
                const auto known = state.by.find(id);
                now[id] = known != state.by.end() && known->second.file == file ? known->second : Compared{};
                now[id].id = id;
                now[id].file = file;
                if (otherOwn && !isResultName(file)) now[id].outdated = true, now[id].error.clear();
            }
            state.by = std::move(now);
        } else if (mayRead) {
            read(state, std::ranges::find_if(state.by, isUnread)->first, base, own);
            giveFreedMemoryBack();
        }
        for (auto &[id, one] : state.by) {
            one.working = isUnread(std::pair(id, one)) || (one.other && !own);
            if (!one.other || one.outdated || !own || (one.own == own && one.found)) continue;
            one.found = laidBeside(*one.other, *own);
            one.own = own;
        }
        tell(state);
    }
}

} // namespace fulvex
