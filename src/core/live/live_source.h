#pragma once

#include "dialect.h"
#include "line_socket.h"
#include "raw_vector.h"

#include <cstdint>
#include <string>
#include <vector>

namespace fulvex {

/// What an instrument captured, as it sent it.
struct LiveRecord {
    struct Channel {
        std::string name;
        double scale = 1, offset = 0; ///< value = sample as sent * scale + offset
        RawVector<std::byte> bytes;
    };
    std::vector<Channel> channels; ///< equally long
    SampleType type = SampleType::i16;
    bool bigEndian = false;
    std::string unit, identity;
    double interval = 0, start = 0; ///< s
    std::int64_t samples() const;
};

/// An instrument on the other end of a connection. Every call may throw Error, after which the connection is of no use,
/// and Cancelled.
class LiveSource {
public:
    LiveSource(const std::string &address, Dialect dialect, Progress &progress);
    const std::string &identity() const { return m_identity; } ///< as it says, one line
    void take(Progress &progress);                             ///< has one capture taken, and waits for that
    /// Asks how the capture that was taken last is to be read, and reads it; perhaps again. What it says and what it
    /// sends have to go together.
    LiveRecord read(Progress &progress);
    LiveRecord acquire(Progress &progress) ///< both
    {
        take(progress);
        return read(progress);
    }
    /// Tells it that nobody waits any more; whatever fails then is no matter.
    void abort() noexcept;

private:
    std::string ask(const std::string &question, Progress &progress);
    void tell(const std::vector<std::string> &lines, Progress &progress);
    void describe(LiveRecord &record, LiveRecord::Channel &channel, std::size_t &samples, Progress &progress);
    [[noreturn]] void fail(const std::string &what, const std::string &mend) const;
    Dialect m_dialect;
    LineSocket m_socket;
    std::string m_identity;
};

} // namespace fulvex
