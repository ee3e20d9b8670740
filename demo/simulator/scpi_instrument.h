#pragma once

#include "simulated_link.h"

#include <chrono>
#include <functional>
#include <optional>
#include <string>
#include <string_view>

namespace fulvex::demo {

/// What goes wrong with the next answers, on demand.
enum class LineFault {
    none,
    silent,     ///< no answer
    cut,        ///< the connection ends in the middle of a block
    shortened,  ///< a block ends before its length
    lengthened, ///< a block goes on behind it
    header,     ///< a block that is none
    preamble,   ///< its description holds no numbers
    zero,       ///< its description says that samples lie no time apart
    count,      ///< its description speaks of other samples than come
    garbage,    ///< bytes that are no answer
    slow,       ///< a hundredth of the block every 10 ms: a second in all
    offended    ///< an entry in its list of errors
};
/// By its name; none for another one.
LineFault lineFaultOf(std::string_view name);

struct SimulatorOptions {
    std::uint64_t seed = 1;
    std::size_t samples = 1'000'000;
    double mostPerSecond = 25;  ///< captures; what bounds its speed
    std::size_t sweep = 0;      ///< captures over which jitter and noise grow to five times; 0: they stay
    std::size_t faultEvery = 0; ///< so many captures a fault of the line, all kinds in turn; 0: on demand alone
};

/// A simulated instrument: what it answers to lines in SCPI (1999.0) and IEEE Std 488.2. Knows no sockets.
class ScpiInstrument {
public:
    explicit ScpiInstrument(const SimulatorOptions &options);
    /// How an answer goes out: its bytes, and what is to go wrong on the way.
    using Send = std::function<void(std::string_view bytes, LineFault fault)>;
    /// Takes a line, which may hold several commands with semicolons between.
    void take(std::string_view line, const Send &send);

private:
    void command(std::string_view words, const Send &send);
    void acquire();
    void answerData(std::string_view channel, const Send &send);
    LineFault takeFault(); ///< the one that waits, which is over then
    SimulatorOptions m_is;
    SimulatedLink m_link;
    SimulatedFaults m_faults;
    LineFault m_fault = LineFault::none;
    bool m_bigEndian = true; ///< as the standard has it until it is told otherwise
    std::size_t m_captures = 0;
    std::string m_error;
    std::chrono::steady_clock::time_point m_last{};
};

} // namespace fulvex::demo
