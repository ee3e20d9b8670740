#pragma once

#include "mailbox.h"
#include "plan_course.h"

#include <QObject>
#include <condition_variable>
#include <mutex>
#include <thread>

namespace fulvex {

/// What an attempt at a step came to. Immutable.
struct AttemptState {
    std::string id; ///< of the document's entry
    bool working = false;
    std::string error;                          ///< not empty: the setup cannot be used, and why
    std::shared_ptr<const StepOutcome> outcome; ///< null: nothing is known yet; while it works what is known so far
};

/// A plan as its file says, and how far it went.
struct PlanState {
    std::filesystem::path file;
    std::string error; ///< not empty: the plan cannot be read, and why
    std::string sha256;
    std::shared_ptr<const Plan> plan;
    std::map<std::string, AttemptState> attempts; ///< by id
};

struct PlanStates {
    std::uint64_t session = 0;
    std::map<std::string, PlanState> by; ///< by the plan entry's id
};

/// Reads a project's plans and does their attempts once they are wanted, the newest of each step first, on a thread of
/// its own behind what is computed for the window. What is told carries the session of the project that it is of.
class PlanKeeper final : public QObject {
    Q_OBJECT
public:
    explicit PlanKeeper(QObject *parent = nullptr);
    ~PlanKeeper() override; ///< cancels what it does
    /// From now on of this document's; what was done and is not changed stays.
    void follow(std::vector<PlanEntry> plans, std::vector<AttemptEntry> attempts, const std::filesystem::path &base,
                std::uint64_t session);
    /// Their attempts are to be done, in this session: what nobody looks at takes no memory.
    void want();
    void doAnew(); ///< whatever became of the files
    /// While something more pressing is computed nothing is begun.
    void hold(bool held);

signals:
    void told(std::shared_ptr<const PlanStates> states);

private:
    struct Wanted {
        std::vector<PlanEntry> plans;
        std::vector<AttemptEntry> attempts;
        std::filesystem::path base;
        std::uint64_t session = 0;
    };
    struct Work;
    void work(std::stop_token stop);
    void adopt(Work &work, Wanted wanted);
    void doNext(Work &work);
    void tell(const Work &work);
    std::mutex m_mutex;
    std::condition_variable_any m_wake;
    Wanted m_wanted;
    bool m_changed = false, m_anew = false, m_held = false, m_isWanted = false;
    std::shared_ptr<Progress> m_progress; ///< of what is done
    Mailbox m_mail;
    std::jthread m_thread;
};

} // namespace fulvex
