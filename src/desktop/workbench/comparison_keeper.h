#pragma once

#include "mailbox.h"
#include "result_file.h"

#include <QObject>
#include <condition_variable>
#include <map>
#include <mutex>
#include <thread>

namespace fulvex {

/// The other result of a comparison, and what lies beside it here. Immutable.
struct Compared {
    std::string id;                          ///< of the document's entry
    std::filesystem::path file;              ///< the other result's
    bool working = false;                    ///< it is being read, or compared
    bool outdated = false;                   ///< a capture, measured as the project was before
    std::string error;                       ///< not empty: it cannot be read, and why
    std::shared_ptr<const ResultFile> other; ///< null: not read yet
    std::shared_ptr<const Results> own;      ///< that were laid beside it
    std::shared_ptr<const Comparison> found; ///< of them: the other one is the first; null: none yet
};

/// All of a project's.
struct ComparedResults {
    std::uint64_t session = 0;
    std::map<std::string, Compared> by; ///< by id
};

/// Reads the other results of a project's comparisons once they are wanted and lays its own beside them, on a thread of
/// its own behind what is computed for the window. What is told carries the session of the project that it is of.
class ComparisonKeeper final : public QObject {
    Q_OBJECT
public:
    explicit ComparisonKeeper(QObject *parent = nullptr);
    ~ComparisonKeeper() override;                               ///< cancels what it reads
    using Files = std::map<std::string, std::filesystem::path>; ///< by the id of the comparison
    /// From now on of these; what was read and is wanted still stays.
    /// `base`: of the project's files, which captures laid beside it are measured with.
    void follow(Files files, const std::filesystem::path &base, std::uint64_t session);
    /// Lays these beside them: whole results of that session; null: none are there.
    void compareWith(std::shared_ptr<const Results> own, std::uint64_t session);
    /// They are to be read, in this session: what nobody looks at takes no memory.
    void want();
    void readAnew(); ///< whatever became of the files
    /// While something more pressing is computed nothing is begun.
    void hold(bool held);

signals:
    void told(std::shared_ptr<const ComparedResults> compared);

private:
    struct Wanted {
        Files files;
        std::filesystem::path base;
        std::uint64_t session = 0;
        std::shared_ptr<const Results> own;
        bool anew = false;
        bool operator==(const Wanted &) const = default;
    };
    void work(std::stop_token stop);
    void read(ComparedResults &state, const std::string &id, const std::filesystem::path &base,
              const std::shared_ptr<const Results> &own);
    void tell(const ComparedResults &state);
    std::mutex m_mutex;
    std::condition_variable_any m_wake;
    Wanted m_wanted;
    bool m_changed = false, m_held = false, m_isWanted = false;
    std::string m_reading;                ///< id
    std::shared_ptr<Progress> m_progress; ///< of what is read
    Mailbox m_mail;
    std::jthread m_thread;
};

} // namespace fulvex
