#include "child_process.h"

#include "error.h"

#include <cerrno>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <spawn.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

extern char **environ;

namespace fulvex {

namespace {

std::vector<char *> pointers(const std::vector<std::string> &words)
{
    std::vector<char *> all;
    for (const std::string &word : words) all.push_back(const_cast<char *>(word.c_str()));
    all.push_back(nullptr);
    return all;
}

void limit(pid_t id, __rlimit_resource what, double most)
{
    if (!(most > 0)) return;
    const rlimit bound{rlim_t(most), rlim_t(most)};
    ::prlimit(id, what, &bound, nullptr);
}

} // namespace

void Descriptor::close()
{
    if (m_id >= 0) ::close(m_id);
    m_id = -1;
}

ChildProcess::ChildProcess(const How &how)
{
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    const auto give = [&](int descriptor, int as, int mode) {
        if (descriptor >= 0)
            posix_spawn_file_actions_adddup2(&actions, descriptor, as);
        else
            posix_spawn_file_actions_addopen(&actions, as, "/dev/null", mode, 0);
    };
    give(how.input, 0, O_RDONLY);
    give(how.output, 1, O_WRONLY);
    give(how.error, 2, O_WRONLY);
    if (how.further >= 0) posix_spawn_file_actions_adddup2(&actions, how.further, 3);
    if (!how.folder.empty()) posix_spawn_file_actions_addchdir_np(&actions, how.folder.c_str());
    posix_spawnattr_t attributes;
    posix_spawnattr_init(&attributes);
    posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETPGROUP);
    posix_spawnattr_setpgroup(&attributes, 0); // of its own
    auto arguments = pointers(how.words);
    auto given = how.environment ? pointers(*how.environment) : std::vector<char *>();
    int failure = ETXTBSY;
    // What was written just now may for a moment be open in a process that another thread is starting.
    for (int attempt = 0; failure == ETXTBSY && attempt < 50; ++attempt) {
        if (attempt > 0) ::usleep(2000);
        failure = ::posix_spawn(&m_id, arguments[0], &actions, &attributes, arguments.data(),
                                how.environment ? given.data() : environ);
    }
    posix_spawn_file_actions_destroy(&actions);
    posix_spawnattr_destroy(&attributes);
    if (failure) {
        m_id = -1;
        throw Error(how.words[0], std::string("cannot be started: ") + std::strerror(failure));
    }
    limit(m_id, RLIMIT_AS, how.memory);
    limit(m_id, RLIMIT_FSIZE, how.memory);
    limit(m_id, RLIMIT_CPU, how.seconds);
    limit(m_id, RLIMIT_CORE, 0.5); // no bytes
}

void ChildProcess::end()
{
    if (m_id <= 0) return;
    ::kill(-m_id, SIGKILL);
    ::waitpid(m_id, nullptr, 0);
    m_id = -1;
}

bool ChildProcess::endsWithin(int milliseconds)
{
    for (int waited = 0; m_id > 0; ++waited) {
        int status = 0;
        if (::waitpid(m_id, &status, WNOHANG) == m_id) {
            ::kill(-m_id, SIGKILL); // what it may have left behind
            m_id = -1;
            exit = WIFEXITED(status) ? WEXITSTATUS(status) : 0;
            signal = WIFSIGNALED(status) ? WTERMSIG(status) : 0;
            return true;
        }
        if (waited >= milliseconds) return false;
        ::usleep(1000);
    }
    return true;
}

} // namespace fulvex
