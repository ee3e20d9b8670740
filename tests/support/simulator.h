#pragma once

#include "scpi_server.h"

#include <string>
#include <thread>

namespace fulvex::test {

/// A simulated instrument that listens at a free port, on a thread.
class Simulator {
public:
    explicit Simulator(demo::SimulatorOptions options)
        : m_instrument(options), m_server("127.0.0.1", 0, m_instrument), m_thread([this] { m_server.serve(); })
    {
    }
    ~Simulator() { m_server.stop(); }
    std::string address() const { return "127.0.0.1:" + std::to_string(m_server.port()); }

private:
    demo::ScpiInstrument m_instrument;
    demo::ScpiServer m_server;
    std::jthread m_thread;
};

} // namespace fulvex::test
