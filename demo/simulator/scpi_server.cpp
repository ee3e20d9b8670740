#include "scpi_server.h"

#include <arpa/inet.h>
#include <cerrno>
#include <cstring>
#include <netinet/in.h>
#include <netinet/tcp.h>
#include <poll.h>
#include <stdexcept>
#include <sys/socket.h>
#include <thread>
#include <unistd.h>

namespace fulvex::demo {

using namespace std::chrono_literals;

ScpiServer::ScpiServer(const std::string &address, std::uint16_t port, ScpiInstrument &instrument)
    : m_instrument(instrument)
{
    sockaddr_in place{};
    place.sin_family = AF_INET;
    place.sin_port = htons(port);
    if (inet_pton(AF_INET, address.c_str(), &place.sin_addr) != 1)
        throw std::runtime_error(address + ": is no IPv4 address; write for example 127.0.0.1");
    m_socket = socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
    const int yes = 1;
    setsockopt(m_socket, SOL_SOCKET, SO_REUSEADDR, &yes, sizeof yes);
    socklen_t size = sizeof place;
    if (bind(m_socket, reinterpret_cast<const sockaddr *>(&place), size) != 0 || listen(m_socket, 4) != 0 ||
        getsockname(m_socket, reinterpret_cast<sockaddr *>(&place), &size) != 0) {
        const std::string why = std::strerror(errno);
        close(m_socket);
        throw std::runtime_error(address + ":" + std::to_string(port) + ": cannot be listened at: " + why +
                                 "; give another --port");
    }
    m_port = ntohs(place.sin_port);
}

ScpiServer::~ScpiServer()
{
    close(m_socket);
}

bool ScpiServer::waits(int handle, short events) const
{
    constexpr int glance = 50; // ms
    while (!m_stopped) {
        pollfd one{handle, events, 0};
        if (poll(&one, 1, glance) > 0) return true;
    }
    return false;
}

void ScpiServer::serve()
{
    while (waits(m_socket, POLLIN)) {
        const int connection = accept4(m_socket, nullptr, nullptr, SOCK_CLOEXEC);
        if (connection < 0) continue;
        const int yes = 1;
        setsockopt(connection, IPPROTO_TCP, TCP_NODELAY, &yes, sizeof yes);
        talk(connection);
        close(connection);
    }
}

void ScpiServer::talk(int connection)
{
    std::string heard;
    bool over = false;
    constexpr std::size_t longest = 65536;
    while (!over && heard.size() < longest && waits(connection, POLLIN)) {
        char piece[4096];
        const ssize_t got = recv(connection, piece, sizeof piece, 0);
        if (got <= 0) return;
        heard.append(piece, std::size_t(got));
        for (std::size_t end = heard.find('\n'); end != std::string::npos && !over; end = heard.find('\n')) {
            const std::string line = heard.substr(0, end);
            heard.erase(0, end + 1);
            m_instrument.take(
                line, [&](std::string_view bytes, LineFault fault) { over = over || !send(connection, bytes, fault); });
        }
    }
}

bool ScpiServer::send(int connection, std::string_view bytes, LineFault fault)
{
    if (fault == LineFault::silent) return true;
    if (fault == LineFault::cut) bytes = bytes.substr(0, bytes.size() / 2);
    const std::size_t most = fault == LineFault::slow ? bytes.size() / 100 + 1 : bytes.size();
    while (!bytes.empty()) {
        if (!waits(connection, POLLOUT)) return false;
        const ssize_t sent = ::send(connection, bytes.data(), std::min(most, bytes.size()), MSG_NOSIGNAL);
        if (sent <= 0) return false;
        bytes.remove_prefix(std::size_t(sent));
        if (fault == LineFault::slow) std::this_thread::sleep_for(10ms);
    }
    return fault != LineFault::cut;
}

} // namespace fulvex::demo
