#pragma once

#include "progress.h"

#include <chrono>
#include <cstddef>
#include <functional>
#include <span>
#include <string>
#include <string_view>

namespace fulvex {

/// A TCP connection to an instrument that answers in lines and in definite-length blocks. Each wait ends at a time-out,
/// and within some 20 ms of a cancel of the Progress that it is given (Cancelled). Throws Error: what, where, what
/// would mend it; then it is of no use any more.
class LineSocket {
public:
    using Patience = std::chrono::milliseconds;
    /// `address`: "HOST", "HOST:PORT", "[IPV6]:PORT"; port 5025 (IANA: scpi-raw) where it names none.
    LineSocket(const std::string &address, Patience patience, Progress &progress);
    ~LineSocket();
    LineSocket(const LineSocket &) = delete;
    LineSocket &operator=(const LineSocket &) = delete;

    void send(std::string_view text, Progress &progress);
    /// Up to the next line feed, without it and a carriage return before it. At most `longest` bytes.
    std::string line(Progress &progress, std::size_t longest = 65536);
    /// A definite-length block (IEEE Std 488.2, 8.7.9: #, a digit, so many digits of length, the bytes) and the line
    /// feed behind it. `take` is given its bytes piece by piece; `most`: it may be as long.
    std::size_t block(std::size_t most, const std::function<void(std::span<const std::byte>)> &take,
                      Progress &progress);
    const std::string &address() const { return m_address; }

private:
    void connectTo(const std::string &host, const std::string &port, Progress &progress);
    /// Waits until it can be read or written.
    void await(short events, const char *what, Progress &progress) const;
    void fill(Progress &progress); ///< reads what is there; at least a byte
    char next(Progress &progress);
    [[noreturn]] void fail(const std::string &what, const std::string &mend) const;

    std::string m_address;
    Patience m_patience;
    int m_socket = -1;
    std::string m_buffer;
    std::size_t m_at = 0; ///< of what is read in the buffer
};

} // namespace fulvex
