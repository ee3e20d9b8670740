#include "crash_note.h"

#include "user_folders.h"

#include <algorithm>
#include <array>
#include <csignal>
#include <cstring>
#include <ctime>
#include <execinfo.h>
#include <fcntl.h>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <unistd.h>

namespace fulvex {

namespace fs = std::filesystem;

namespace {

/// All that a signal handler needs, made before: it may call next to nothing.
struct Prepared {
    char path[4096] = "", head[512] = "";
    std::array<char[48], 16> actions{};
    std::atomic<unsigned> count{0};
    alignas(16) char stack[1 << 16];
} prepared;

void say(int file, const char *words)
{
    std::size_t size = std::strlen(words);
    while (size > 0) {
        const ssize_t written = ::write(file, words, size);
        if (written <= 0) return;
        words += written;
        size -= std::size_t(written);
    }
}

void sayNumber(int file, std::uint64_t number)
{
    char digits[24];
    char *at = digits + sizeof digits;
    *--at = 0;
    do *--at = char('0' + number % 10);
    while (number /= 10);
    say(file, at);
}

const char *nameOfSignal(int number)
{
    switch (number) {
    case SIGSEGV:
        return "SIGSEGV (memory that is not there)";
    case SIGABRT:
        return "SIGABRT (given up)";
    case SIGBUS:
        return "SIGBUS (a file or memory that cannot be read)";
    case SIGFPE:
        return "SIGFPE (arithmetic)";
    case SIGILL:
        return "SIGILL (an instruction that this processor does not have)";
    default:
        return "a signal";
    }
}

void leaveNote(int number, siginfo_t *, void *)
{
    const int file = ::open(prepared.path, O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0600);
    if (file >= 0) {
        say(file, prepared.head);
        say(file, "ended by ");
        say(file, nameOfSignal(number));
        say(file, "\nseconds since 1970: ");
        sayNumber(file, std::uint64_t(::time(nullptr)));
        say(file, "\nlast actions, the newest first:");
        const unsigned count = prepared.count;
        for (unsigned i = 0; i < std::min<unsigned>(count, unsigned(prepared.actions.size())); ++i) {
            say(file, " ");
            say(file, prepared.actions[(count - 1 - i) % prepared.actions.size()]);
        }
        say(file, "\nwhere:\n");
        void *frames[64];
        ::backtrace_symbols_fd(frames, ::backtrace(frames, 64), file);
        ::close(file);
    }
    ::signal(number, SIG_DFL);
    ::raise(number);
}

/// Frames without the folders that libraries lie in: a home folder may be among them.
std::string withoutFolders(const std::string &note)
{
    std::istringstream lines(note);
    std::string told;
    bool frames = false;
    for (std::string line; std::getline(lines, line);) {
        const std::size_t name = frames ? line.rfind('/', line.find('(')) : std::string::npos;
        told += (name == std::string::npos ? line : line.substr(name + 1)) + "\n";
        frames |= line == "where:";
    }
    return told;
}

fs::path folder()
{
    return stateFolder() / "crashes";
}

} // namespace

void startCrashNotes(const std::string &program, const std::string &version)
{
    try {
        fs::create_directories(folder());
        const std::string path =
            (folder() / (std::to_string(::time(nullptr)) + "-" + std::to_string(::getpid()) + ".txt")).string();
        if (path.size() >= sizeof prepared.path) return;
        std::strcpy(prepared.path, path.c_str());
    } catch (const std::exception &) {
        return;
    }
    std::strncpy(prepared.head, (program + " " + version + "\n").c_str(), sizeof prepared.head - 1);
    void *frame;
    (void)::backtrace(&frame, 1); // loads what it needs, while loading is allowed
    stack_t stack{};
    stack.ss_sp = prepared.stack; // also where the usual one has run over
    stack.ss_size = sizeof prepared.stack;
    ::sigaltstack(&stack, nullptr);
    struct sigaction act {};
    act.sa_flags = SA_SIGINFO | SA_ONSTACK;
    act.sa_sigaction = leaveNote;
    ::sigemptyset(&act.sa_mask);
    for (const int number : {SIGSEGV, SIGABRT, SIGBUS, SIGFPE, SIGILL}) ::sigaction(number, &act, nullptr);
}

void rememberAction(const char *name)
{
    char *place = prepared.actions[prepared.count % prepared.actions.size()];
    std::strncpy(place, name, sizeof prepared.actions[0] - 1);
    ++prepared.count;
}

std::vector<CrashNote> crashNotes()
{
    constexpr std::size_t most = 5, mostBytes = 1 << 16;
    std::vector<CrashNote> notes;
    try {
        for (const auto &entry : fs::directory_iterator(folder()))
            if (entry.path() != prepared.path) notes.push_back({entry.path().string(), {}});
    } catch (const std::exception &) {
        return notes;
    }
    std::ranges::sort(notes, std::greater(), &CrashNote::path);
    for (std::size_t i = most; i < notes.size(); ++i) {
        std::error_code gone;
        fs::remove(notes[i].path, gone);
    }
    notes.resize(std::min(notes.size(), most));
    for (CrashNote &note : notes) {
        std::ifstream file(note.path, std::ios::binary);
        note.text.resize(mostBytes);
        file.read(note.text.data(), std::streamsize(mostBytes));
        note.text.resize(std::size_t(file.gcount()));
        note.text = withoutFolders(note.text);
    }
    return notes;
}

void discardCrashNotes()
{
    for (const CrashNote &note : crashNotes()) {
        std::error_code gone;
        fs::remove(note.path, gone);
    }
}

} // namespace fulvex
