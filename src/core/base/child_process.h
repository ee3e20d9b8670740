#pragma once

#include <string>
#include <sys/types.h>
#include <vector>

namespace fulvex {

/// A file descriptor that is closed.
class Descriptor {
public:
    explicit Descriptor(int id = -1) : m_id(id) {}
    ~Descriptor() { close(); }
    Descriptor(Descriptor &&other) noexcept : m_id(other.m_id) { other.m_id = -1; }
    Descriptor(const Descriptor &) = delete;
    Descriptor &operator=(const Descriptor &) = delete;
    void close();
    int id() const { return m_id; }
    explicit operator bool() const { return m_id >= 0; }

private:
    int m_id;
};

/// A program that runs without a shell, with all that it starts in a group of processes of its own; all of them are
/// killed when nobody waits for it any more.
class ChildProcess {
public:
    struct How {
        std::vector<std::string> words;          ///< the program's path, and what it is called with
        int input = -1, output = -1, error = -1; ///< its standard streams; -1: nothing
        int further = -1;                        ///< its descriptor 3; -1: none
        double memory = 0;  ///< bytes of address space and of what it writes to a file; 0: as it is
        double seconds = 0; ///< of processor time; 0: as it is
        const std::vector<std::string> *environment = nullptr; ///< "NAME=value"; null: this program's
        std::string folder = {};                               ///< that it runs in; empty: this program's
    };
    /// Throws Error where it cannot be started.
    explicit ChildProcess(const How &how);
    ~ChildProcess() { end(); }
    ChildProcess(const ChildProcess &) = delete;
    ChildProcess &operator=(const ChildProcess &) = delete;
    void end(); ///< kills it
    /// Waits for its end up to so long; whether it came. Then `exit` is what it ended with, or `signal` what ended it.
    bool endsWithin(int milliseconds);
    int exit = 0, signal = 0;

private:
    pid_t m_id = -1;
};

} // namespace fulvex
