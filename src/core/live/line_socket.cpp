#include "line_socket.h"

#include "error.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <memory>
#include <netdb.h>
#include <netinet/in.h>
#include <netinet/tcp.h>
#include <poll.h>
#include <sys/socket.h>
#include <unistd.h>

namespace fulvex {

namespace {

constexpr std::chrono::milliseconds glance(20); // between two looks whether it was cancelled
constexpr std::size_t piece = 1 << 18;
constexpr const char *usualPort = "5025";

/// Host and port.
std::pair<std::string, std::string> partsOf(const std::string &address)
{
    const std::size_t colon = address.rfind(':');
    if (address.starts_with('[')) {
        const std::size_t close = address.find(']');
        if (close == std::string::npos) return {address.substr(1), usualPort};
        const bool port = close + 2 < address.size() && address[close + 1] == ':';
        return {address.substr(1, close - 1), port ? address.substr(close + 2) : usualPort};
    }
    if (colon == std::string::npos || address.find(':') != colon) return {address, usualPort}; // an IPv6 alone
    return {address.substr(0, colon), address.substr(colon + 1)};
}

} // namespace

LineSocket::LineSocket(const std::string &address, Patience patience, Progress &progress)
    : m_address(address), m_patience(patience)
{
    const auto [host, port] = partsOf(address);
    if (host.empty()) fail("is no address", "write HOST or HOST:PORT, for example 127.0.0.1:5025");
    try {
        connectTo(host, port, progress);
    } catch (...) {
        if (m_socket >= 0) close(m_socket);
        throw;
    }
}

LineSocket::~LineSocket()
{
    if (m_socket >= 0) close(m_socket);
}

void LineSocket::fail(const std::string &what, const std::string &mend) const
{
    throw Error(m_address, what, mend);
}

void LineSocket::connectTo(const std::string &host, const std::string &port, Progress &progress)
{
    addrinfo wanted{}, *found = nullptr;
    wanted.ai_socktype = SOCK_STREAM;
    if (const int failure = getaddrinfo(host.c_str(), port.c_str(), &wanted, &found); failure != 0)
        fail(std::string("cannot be looked up: ") + gai_strerror(failure), "check the address");
    const std::unique_ptr<addrinfo, decltype(&freeaddrinfo)> freed(found, &freeaddrinfo);
    std::string why = "has no address";
    for (const addrinfo *one = found; one; one = one->ai_next) {
        if (m_socket >= 0) close(m_socket);
        m_socket = socket(one->ai_family, one->ai_socktype | SOCK_CLOEXEC | SOCK_NONBLOCK, one->ai_protocol);
        if (m_socket < 0) continue;
        const int yes = 1;
        setsockopt(m_socket, IPPROTO_TCP, TCP_NODELAY, &yes, sizeof yes);
        if (connect(m_socket, one->ai_addr, one->ai_addrlen) == 0) return;
        if (errno == EINPROGRESS) {
            await(POLLOUT, "does not answer", progress);
            int failure = 0;
            socklen_t size = sizeof failure;
            getsockopt(m_socket, SOL_SOCKET, SO_ERROR, &failure, &size);
            if (failure == 0) return;
            errno = failure;
        }
        why = std::strerror(errno);
    }
    fail("cannot be connected to: " + why, "is the instrument on, and its port the right one?");
}

void LineSocket::await(short events, const char *what, Progress &progress) const
{
    const auto end = std::chrono::steady_clock::now() + m_patience;
    while (true) {
        progress.advance(0); // throws when it was cancelled
        pollfd one{m_socket, events, 0};
        const int ready = poll(&one, 1, int(glance.count()));
        if (ready > 0) return;
        if (ready < 0 && errno != EINTR) fail(std::strerror(errno), "connect again");
        if (std::chrono::steady_clock::now() > end)
            fail(std::string(what) + " within " + std::to_string(m_patience.count()) + " ms",
                 "is it busy? A longer time-out may be given in its dialect");
    }
}

void LineSocket::send(std::string_view text, Progress &progress)
{
    while (!text.empty()) {
        const ssize_t sent = ::send(m_socket, text.data(), text.size(), MSG_NOSIGNAL);
        if (sent > 0) {
            text.remove_prefix(std::size_t(sent));
        } else if (errno == EAGAIN || errno == EINTR) {
            await(POLLOUT, "takes no command", progress);
        } else {
            fail(std::string("is gone: ") + std::strerror(errno), "connect again");
        }
    }
}

void LineSocket::fill(Progress &progress)
{
    m_buffer.resize(piece);
    m_at = 0;
    while (true) {
        const ssize_t got = recv(m_socket, m_buffer.data(), piece, 0);
        if (got > 0) {
            m_buffer.resize(std::size_t(got));
            return;
        }
        if (got == 0) {
            m_buffer.clear();
            fail("ended the connection in the middle of an answer", "connect again");
        }
        if (errno != EAGAIN && errno != EINTR) {
            m_buffer.clear();
            fail(std::string("is gone: ") + std::strerror(errno), "connect again");
        }
        await(POLLIN, "sent nothing", progress);
    }
}

char LineSocket::next(Progress &progress)
{
    if (m_at >= m_buffer.size()) fill(progress);
    return m_buffer[m_at++];
}

std::string LineSocket::line(Progress &progress, std::size_t longest)
{
    std::string line;
    for (char letter = next(progress); letter != '\n'; letter = next(progress)) {
        if (line.size() >= longest) fail("sent a line without an end", "is it the right dialect?");
        line += letter;
    }
    if (line.ends_with('\r')) line.pop_back();
    return line;
}

std::size_t LineSocket::block(std::size_t most, const std::function<void(std::span<const std::byte>)> &take,
                              Progress &progress)
{
    const char *const mend = "does the dialect ask for data of definite length?";
    if (const char first = next(progress); first != '#')
        fail(std::string("sent no block: it begins with '") + (first >= ' ' && first <= '~' ? first : '?') +
                 "', not '#'",
             mend);
    const char digits = next(progress);
    if (digits < '1' || digits > '9') fail("sent a block that does not say how long it is", mend);
    std::size_t length = 0;
    for (int i = 0; i < digits - '0'; ++i) {
        const char digit = next(progress);
        if (digit < '0' || digit > '9') fail("sent a block whose length is no number", mend);
        length = 10 * length + std::size_t(digit - '0');
    }
    if (length > most)
        fail("sent a block of " + std::to_string(length) + " bytes, and " + std::to_string(most) + " were expected",
             "what it says of its samples and what it sends do not go together");
    for (std::size_t left = length; left > 0;) {
        if (m_at >= m_buffer.size()) fill(progress);
        const std::size_t some = std::min(left, m_buffer.size() - m_at);
        take(std::as_bytes(std::span(m_buffer.data() + m_at, some)));
        m_at += some;
        left -= some;
    }
    if (const char end = next(progress); end != '\n' && !(end == '\r' && next(progress) == '\n'))
        fail("goes on behind the end of a block", "what it says of its samples and what it sends do not go together");
    return length;
}

} // namespace fulvex
