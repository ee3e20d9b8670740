#include "program_run.h"

#include "atomic_file.h"
#include "channel_source.h"
#include "child_process.h"
#include "error.h"
#include "fingerprint.h"
#include "npy_header.h"
#include "npy_reader.h"
#include "number_text.h"
#include "plain_text.h"
#include "user_folders.h"

#include <algorithm>
#include <chrono>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <nlohmann/json.hpp>
#include <poll.h>
#include <sys/socket.h>
#include <unistd.h>

namespace fulvex {

namespace fs = std::filesystem;

namespace {

using Clock = std::chrono::steady_clock;
using Json = nlohmann::ordered_json;

constexpr std::size_t mostKept = 4096;                     ///< bytes of what it prints on standard error
constexpr std::size_t mostPrinted = std::size_t(64) << 20; ///< of them in all

/// A new file for the program's answer, which no folder has: it goes when nobody has it open any more.
Descriptor scratchFile()
{
    std::string pattern = (cacheFolder("programs") / "answer-XXXXXX").string();
    Descriptor file(::mkostemp(pattern.data(), O_CLOEXEC));
    if (!file)
        throw Error(pattern, std::string("cannot be made: ") + std::strerror(errno), "make room in the cache folder");
    ::unlink(pattern.c_str());
    return file;
}

/// The content as a file that can be run, in a folder that holds nothing else.
fs::path installed(const ProgramContent &content)
{
    const fs::path folder = fs::absolute(cacheFolder("programs/" + content.sha256)), file = folder / content.name;
    std::error_code failure;
    if (fs::exists(file, failure) && readProgram(file).sha256 == content.sha256) return file;
    fs::remove(file, failure);
    constexpr std::uintmax_t mostKeptCopies = std::uintmax_t(64) << 20;
    trimCache(cacheFolder("programs"), mostKeptCopies);
    fs::create_directories(folder, failure); // in case it was among them
    writeFileAtomically(file, content.bytes);
    fs::permissions(file, fs::perms::owner_read | fs::perms::owner_exec, failure);
    if (failure) throw Error(file.string(), "cannot be made a program: " + failure.message());
    return file;
}

std::vector<std::string> environmentOf()
{
    std::vector<std::string> kept{"LANG=C.UTF-8"};
    for (const char *name : {"PATH", "HOME"})
        if (const char *value = std::getenv(name)) kept.push_back(std::string(name) + "=" + value);
    return kept;
}

/// What it is to read, piece by piece.
class Feed {
public:
    explicit Feed(const ProgramTask &task) : m_task(task), m_count(task.inputs.front()->axis().count)
    {
        const TimeAxis &axis = task.inputs.front()->axis();
        Json line{{"fulvex_program", 1}, {"interval", axis.interval}, {"start", axis.start + axis.shift}};
        line["lengths"] = std::vector<std::int64_t>(task.inputs.size(), m_count);
        line["units"] = task.units;
        line["parameters"] = Json::object();
        for (const auto &[name, value] : task.parameters) line["parameters"][name] = value;
        m_ready = line.dump() + "\n";
        m_ready += npyHeader("<f8", m_count);
    }
    bool over() const { return m_at == m_ready.size() && m_signal == m_task.inputs.size(); }
    double share() const
    {
        const double all = double(m_task.inputs.size()) * double(m_count);
        return (double(m_signal) * double(m_count) + double(m_next)) / std::max(1.0, all);
    }
    /// Sends what the other end takes without waiting; false where it takes nothing any more.
    bool send(int to)
    {
        if (m_at == m_ready.size()) make();
        const ssize_t sent = ::send(to, m_ready.data() + m_at, m_ready.size() - m_at, MSG_DONTWAIT | MSG_NOSIGNAL);
        if (sent < 0) return errno == EAGAIN || errno == EINTR;
        m_at += std::size_t(sent);
        return true;
    }

private:
    void make()
    {
        constexpr std::int64_t block = 1 << 16;
        m_at = 0;
        m_ready.clear();
        const auto count = std::size_t(std::min(block, m_count - m_next));
        m_values.resize(count);
        const SampleSource &signal = *m_task.inputs[m_signal];
        signal.read(m_next, m_values);
        signal.release({m_next, m_next + std::int64_t(count)});
        m_ready.assign(reinterpret_cast<const char *>(m_values.data()), count * sizeof(double));
        m_next += std::int64_t(count);
        if (m_next < m_count) return;
        m_next = 0;
        if (++m_signal < m_task.inputs.size()) m_ready += npyHeader("<f8", m_count);
    }
    const ProgramTask &m_task;
    std::int64_t m_count;
    std::size_t m_signal = 0;
    std::int64_t m_next = 0;
    std::vector<double> m_values;
    std::string m_ready;
    std::size_t m_at = 0;
};

/// The last of what was printed.
class Printed {
public:
    void take(const char *bytes, std::size_t count)
    {
        m_all += count;
        m_kept.append(bytes, count);
        if (m_kept.size() > 2 * mostKept) m_kept.erase(0, m_kept.size() - mostKept);
    }
    bool tooMuch() const { return m_all > mostPrinted; }
    /// Its last lines, as can be shown.
    std::string lastLines() const
    {
        constexpr std::size_t most = 6;
        std::vector<std::string> lines(1);
        for (const char c : m_kept) {
            if (c == '\n')
                lines.emplace_back();
            else if (c != '\r')
                lines.back() += c;
        }
        // Blanks, and the marks by which some languages point into the line above.
        std::erase_if(lines,
                      [](const std::string &line) { return line.find_first_not_of(" \t^~") == std::string::npos; });
        for (std::string &line : lines) line.erase(0, line.find_first_not_of(" \t"));
        std::string text;
        for (std::size_t i = lines.size() - std::min(most, lines.size()); i < lines.size(); ++i)
            text += (text.empty() ? "" : " · ") + shownText(lines[i].substr(0, 300));
        return text;
    }

private:
    std::string m_kept;
    std::size_t m_all = 0;
};

/// One run of it, up to its end.
class Run {
public:
    Run(const ProgramContent &content, const ProgramTask &task, Progress &progress)
        : m_content(content), m_task(task), m_progress(progress), m_feed(task), m_answer(scratchFile())
    {
        const double samples = double(task.inputs.front()->axis().count);
        m_mostAnswered = std::size_t(samples) * sizeof(double) + (1 << 16);
        m_progress.expect(1);
    }
    SourcePtr result()
    {
        attend();
        if (m_child->signal != 0)
            throw failure(std::string("was ended by signal ") + std::to_string(m_child->signal) + " (" +
                              ::strsignal(m_child->signal) + ")",
                          m_child->signal == SIGXCPU || m_child->signal == SIGKILL
                              ? "it may have wanted more memory or time than it is allowed"
                              : "correct it, or what it is called with");
        if (m_child->exit != 0)
            throw failure("ended with " + std::to_string(m_child->exit), "correct it, or what it is called with");
        return read();
    }

private:
    Error failure(const std::string &what, const std::string &remedy) const
    {
        const std::string said = m_printed.lastLines();
        return Error("program " + m_content.name, what + (said.empty() ? "" : "; it said: " + said), remedy);
    }
    /// Feeds it and takes what it gives until it has ended.
    void attend()
    {
        constexpr int glance = 30; // ms
        int ends[2], errors[2], answers[2];
        if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, ends) != 0 || ::pipe2(errors, O_CLOEXEC) != 0 ||
            ::pipe2(answers, O_CLOEXEC) != 0)
            throw Error("program " + m_content.name, "no pipe can be opened", "close something");
        Descriptor feeding(ends[0]), fed(ends[1]), error(errors[0]), toError(errors[1]), answer(answers[0]),
            toAnswer(answers[1]);
        const std::string path = installed(m_content).string();
        const auto environment = environmentOf();
        ChildProcess::How how{.words = {path}, .input = fed.id(), .output = toAnswer.id(), .error = toError.id()};
        how.memory = m_task.memory + 8 * double(m_task.inputs.size() + 2) * sizeof(double) *
                                         double(m_task.inputs.front()->axis().count);
        how.seconds = std::ceil(4 * m_task.seconds) + 1; // of all its threads
        how.environment = &environment;
        how.folder = fs::path(path).parent_path().string();
        try {
            m_child.emplace(how);
        } catch (const Error &why) {
            throw Error(
                "program " + m_content.name, why.found(),
                "it is run by itself: let it begin with #! and the program that reads it, such as #!/usr/bin/env "
                "python3, or be one for this machine");
        }
        for (Descriptor *its : {&fed, &toError, &toAnswer}) its->close();
        const auto begun = Clock::now();
        double told = 0;
        while (answer || error) {
            m_progress.advance(0);
            if (std::chrono::duration<double>(Clock::now() - begun).count() > m_task.seconds) {
                m_child->end();
                throw failure("took longer than " + quantityText(m_task.seconds, "s", {}, 3) + " and was stopped",
                              "give it more \"seconds\", or fewer samples");
            }
            pollfd waiting[] = {
                {feeding ? feeding.id() : -1, POLLOUT, 0}, {answer.id(), POLLIN, 0}, {error.id(), POLLIN, 0}};
            if (::poll(waiting, 3, glance) <= 0) continue;
            if (waiting[0].revents && !m_feed.over() && !m_feed.send(feeding.id())) feeding.close();
            if (feeding && m_feed.over()) feeding.close(); // its input ends
            if (waiting[1].revents) takeAnswer(answer);
            if (waiting[2].revents) takeError(error);
            const double share =
                0.5 * m_feed.share() + 0.5 * std::min(1.0, double(m_answered) / double(m_mostAnswered));
            m_progress.advance(std::max(0.0, share - told));
            told = std::max(told, share);
        }
        if (!m_child->endsWithin(2000)) { // it has closed its streams, and goes on
            m_child->end();
            throw failure("closed its output but did not end, and was stopped", "let it end when it has answered");
        }
    }
    void takeAnswer(Descriptor &from)
    {
        char block[1 << 16];
        const ssize_t got = ::read(from.id(), block, sizeof block);
        if (got < 0 && (errno == EAGAIN || errno == EINTR)) return;
        if (got <= 0) return from.close();
        m_answered += std::size_t(got);
        if (m_answered > m_mostAnswered) {
            m_child->end();
            throw failure("gave more than " + std::to_string(m_mostAnswered) +
                              " bytes, which is more than an array of " +
                              std::to_string(m_task.inputs.front()->axis().count) + " numbers takes, and was stopped",
                          "let it write one NPY array as long as what it is given, and nothing else");
        }
        for (ssize_t written = 0; written < got;) {
            const ssize_t some = ::write(m_answer.id(), block + written, std::size_t(got - written));
            if (some < 0 && errno == EINTR) continue;
            if (some <= 0)
                throw Error(cacheFolder("programs").string(), std::string("cannot be written: ") + std::strerror(errno),
                            "make room in the cache folder");
            written += some;
        }
    }
    void takeError(Descriptor &from)
    {
        char block[4096];
        const ssize_t got = ::read(from.id(), block, sizeof block);
        if (got < 0 && (errno == EAGAIN || errno == EINTR)) return;
        if (got <= 0) return from.close();
        m_printed.take(block, std::size_t(got));
        if (!m_printed.tooMuch()) return;
        m_child->end();
        throw failure("printed more than " + std::to_string(mostPrinted >> 20) +
                          " MiB on standard error, and was stopped",
                      "let it say less");
    }
    SourcePtr read()
    {
        const TimeAxis axis = m_task.inputs.front()->axis();
        const std::string wanted = "one NPY array of " + std::to_string(axis.count) + " numbers";
        if (m_answered == 0) throw failure("gave nothing", "let it write " + wanted + " on its standard output");
        const auto file = MappedFile::open("/proc/self/fd/" + std::to_string(m_answer.id()));
        Capture answer;
        try {
            answer = readNpy(file, {}, m_progress);
        } catch (const Error &error) {
            throw failure("gave what is no such array: it " + error.found(), "let it write " + wanted);
        }
        if (answer.columns.size() != 1 || answer.axis.count != axis.count)
            throw failure("gave " + std::to_string(answer.columns.size()) + " × " + std::to_string(answer.axis.count) +
                              " numbers of one signal of " + std::to_string(axis.count),
                          "let it write " + wanted + "; what it does not know is NaN");
        return std::make_shared<ProgramResult>(std::make_shared<ChannelSource>(answer.columns.front(), axis, 1, 0, 0),
                                               m_printed.lastLines(), m_answered);
    }
    const ProgramContent &m_content;
    const ProgramTask &m_task;
    Progress &m_progress;
    Feed m_feed;
    Descriptor m_answer;
    std::optional<ChildProcess> m_child;
    Printed m_printed;
    std::size_t m_answered = 0, m_mostAnswered = 0;
};

} // namespace

ProgramContent readProgram(const fs::path &path)
{
    constexpr std::size_t most = std::size_t(16) << 20;
    const auto file = MappedFile::open(path);
    if (file->bytes().size() > most)
        throw Error(path.string(), "is longer than 16 MiB", "a program is one small file: let it start what is larger");
    const std::string bytes(reinterpret_cast<const char *>(file->bytes().data()), file->bytes().size());
    return {path.filename().string(), bytes, sha256(std::string_view(bytes))};
}

SourcePtr runProgram(const ProgramContent &content, const ProgramTask &task, Progress &progress)
{
    return Run(content, task, progress).result();
}

} // namespace fulvex
