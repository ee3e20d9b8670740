#include "plan_keeper.h"

#include "atomic_file.h"
#include "error.h"
#include "failure_text.h"
#include "fingerprint.h"
#include "freed_memory.h"
#include "give_way.h"
#include "program_folders.h"
#include "program_log.h"

#include <algorithm>

namespace fulvex {

struct PlanKeeper::Work {
    PlanStates states;
    Wanted wanted;
    Engine engine{shareFolder() / "masks", 0};
    /// What an attempt is done by: the same again is not done again.
    std::map<std::string, std::string> doneBy;
    std::string byOf(const PlanEntry &plan, const AttemptEntry &attempt) const
    {
        std::string by = states.by.at(plan.id).sha256 + "\n" + attempt.step + "\n" + wanted.base.string();
        for (const std::string &capture : attempt.captures) by += "\n" + capture;
        for (const std::string &test : withoutOf(plan, attempt.step)) by += "\n-" + test;
        return by;
    }
    /// The attempt to be done next; null: all are.
    const AttemptEntry *next() const
    {
        std::set<std::string> seen;
        const AttemptEntry *older = nullptr;
        for (auto at = wanted.attempts.rbegin(); at != wanted.attempts.rend(); ++at) {
            const bool newest = seen.insert(at->plan + "." + at->step).second;
            const PlanEntry *plan = findEntry(wanted.plans, at->plan);
            if (!plan || !states.by.contains(plan->id)) continue;
            const PlanState &state = states.by.at(plan->id);
            if (!state.plan || !state.plan->step(at->step)) continue;
            const auto done = doneBy.find(at->id);
            if (done != doneBy.end() && done->second == byOf(*plan, *at)) continue;
            if (newest) return &*at;
            older = &*at;
        }
        return older;
    }
};

PlanKeeper::PlanKeeper(QObject *parent) : QObject(parent), m_thread([this](std::stop_token stop) { work(stop); }) {}

PlanKeeper::~PlanKeeper()
{
    m_thread.request_stop();
    {
        const std::lock_guard lock(m_mutex);
        if (m_progress) m_progress->cancel();
    }
    m_thread.join();
}

void PlanKeeper::follow(std::vector<PlanEntry> plans, std::vector<AttemptEntry> attempts,
                        const std::filesystem::path &base, std::uint64_t session)
{
    const std::lock_guard lock(m_mutex);
    if (m_wanted.session == session && m_wanted.plans == plans && m_wanted.attempts == attempts &&
        m_wanted.base == base)
        return;
    if (m_wanted.session != session) m_isWanted = false;
    m_wanted = {std::move(plans), std::move(attempts), base, session};
    m_changed = true;
    if (m_progress) m_progress->cancel(); // what is wanted still is the next one again, from the engine's cache
    m_wake.notify_all();
}

void PlanKeeper::want()
{
    const std::lock_guard lock(m_mutex);
    m_isWanted = true;
    m_wake.notify_all();
}

void PlanKeeper::doAnew()
{
    const std::lock_guard lock(m_mutex);
    m_changed = m_anew = true;
    if (m_progress) m_progress->cancel();
    m_wake.notify_all();
}

void PlanKeeper::hold(bool held)
{
    const std::lock_guard lock(m_mutex);
    m_held = held;
    m_wake.notify_all();
}

void PlanKeeper::tell(const Work &work)
{
    m_mail.post([this, copy = std::make_shared<const PlanStates>(work.states)] { emit told(copy); });
}

void PlanKeeper::adopt(Work &work, Wanted wanted)
{
    const bool other = wanted.session != work.wanted.session;
    if (other) {
        work.states = {wanted.session, {}};
        work.doneBy.clear();
        work.engine.clear();
    }
    work.wanted = std::move(wanted);
    std::map<std::string, PlanState> now;
    for (const PlanEntry &entry : work.wanted.plans) {
        const std::filesystem::path file = (work.wanted.base / entry.file).lexically_normal();
        const auto known = work.states.by.find(entry.id);
        PlanState &state = now[entry.id];
        if (known != work.states.by.end() && known->second.file == file && known->second.plan) {
            state = known->second;
        } else {
            state.file = file;
            try {
                const std::string text = readTextFile(file);
                state.sha256 = sha256(text);
                state.plan = std::make_shared<const Plan>(parsePlan(text, file.string()));
            } catch (const Error &error) {
                state.error = error.what();
            }
        }
        std::erase_if(state.attempts, [&](const auto &one) { return !findEntry(work.wanted.attempts, one.first); });
    }
    work.states.by = std::move(now);
    for (const AttemptEntry &attempt : work.wanted.attempts) {
        const auto state = work.states.by.find(attempt.plan);
        if (state != work.states.by.end()) state->second.attempts[attempt.id].id = attempt.id;
    }
    std::erase_if(work.doneBy, [&](const auto &one) { return !findEntry(work.wanted.attempts, one.first); });
    tell(work);
}

void PlanKeeper::doNext(Work &work)
{
    const AttemptEntry attempt = *work.next();
    const PlanEntry plan = *findEntry(work.wanted.plans, attempt.plan);
    PlanState &state = work.states.by.at(plan.id);
    AttemptState &own = state.attempts[attempt.id];
    const auto progress = std::make_shared<Progress>();
    {
        const std::lock_guard lock(m_mutex);
        if (m_changed) return; // it may be wanted no longer
        m_progress = progress;
    }
    own.working = true;
    own.error.clear();
    tell(work);
    bool ended = true;
    try {
        const PlanStep &step = *state.plan->step(attempt.step);
        StepOutcome outcome =
            doStep(*state.plan, step, filesOf(attempt, work.wanted.base), state.file.parent_path(),
                   withoutOf(plan, attempt.step), work.engine, *progress, [&](const StepOutcome &sofar) {
                       own.outcome = std::make_shared<const StepOutcome>(sofar);
                       tell(work);
                   });
        own.outcome = std::make_shared<const StepOutcome>(std::move(outcome));
    } catch (const Cancelled &) {
        ended = false;
    } catch (...) {
        own.error = failureText();
        logLine(LogLevel::warning, "a step of a plan cannot be done: " + failureForLog());
    }
    own.working = false;
    if (ended) work.doneBy[attempt.id] = work.byOf(plan, attempt);
    {
        const std::lock_guard lock(m_mutex);
        m_progress.reset();
    }
    tell(work);
}

void PlanKeeper::work(std::stop_token stop)
{
    giveWay();
    Work work;
    while (!stop.stop_requested()) {
        std::optional<Wanted> wanted;
        bool mayDo = false;
        {
            std::unique_lock lock(m_mutex);
            const auto mayGoOn = [&] { return m_isWanted && !m_held && work.next(); };
            m_wake.wait(lock, stop, [&] { return m_changed || mayGoOn(); });
            if (stop.stop_requested()) return;
            if (std::exchange(m_changed, false)) wanted = m_wanted;
            if (std::exchange(m_anew, false)) {
                work.doneBy.clear();
                work.engine.clear();
                for (auto &[id, state] : work.states.by) state.plan.reset();
            }
            mayDo = !wanted && mayGoOn();
        }
        if (wanted) adopt(work, std::move(*wanted));
        if (mayDo) doNext(work);
        if (mayDo && !work.next()) {
            work.engine.clear(); // what was found stays; a step is seldom done again
            giveFreedMemoryBack();
        }
    }
}

} // namespace fulvex
