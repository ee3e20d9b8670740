#pragma once

#include "scpi_instrument.h"

#include <atomic>
#include <cstdint>
#include <string>

namespace fulvex::demo {

/// Lets one after the other talk to an instrument over TCP.
class ScpiServer {
public:
    /// Listens at once; port 0: any that is free. Throws std::runtime_error.
    ScpiServer(const std::string &address, std::uint16_t port, ScpiInstrument &instrument);
    ~ScpiServer();
    ScpiServer(const ScpiServer &) = delete;
    ScpiServer &operator=(const ScpiServer &) = delete;
    std::uint16_t port() const { return m_port; }
    void serve(); ///< until stop() is called, from any thread
    void stop() { m_stopped = true; }

private:
    void talk(int connection);
    /// False: the connection is over.
    bool send(int connection, std::string_view bytes, LineFault fault);
    bool waits(int handle, short events) const; ///< until it can be read or written; false: stopped
    ScpiInstrument &m_instrument;
    int m_socket = -1;
    std::uint16_t m_port = 0;
    std::atomic<bool> m_stopped = false;
};

} // namespace fulvex::demo
