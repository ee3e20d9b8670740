#pragma once

#include "time_axis.h"

#include <cstdint>
#include <memory>
#include <span>
#include <vector>

namespace fulvex {

/// Samples of one channel on demand, in the channel's unit: a file's column, scaled and deskewed, or a formula over
/// other channels. Immutable; read() may be called from several threads at once. A sample that is not there (a gap)
/// is NaN; no other non-finite value occurs.
class SampleSource {
public:
    virtual ~SampleSource() = default;
    virtual const TimeAxis &axis() const = 0;
    /// Writes samples first .. first + out.size(), which must lie within the axis.
    virtual void read(std::int64_t first, std::span<double> out) const = 0;
    /// Tells that a streaming pass is done with these samples.
    virtual void release(SampleRange) const {}
    /// False promises that read() never gives NaN.
    virtual bool mayHaveGaps() const = 0;
    /// The smallest step the stored values can take, in the channel's unit; 0 when not known.
    virtual double resolution() const { return 0; }
};

using SourcePtr = std::shared_ptr<const SampleSource>;

/// A source over values in memory, mostly for tests and kept copies.
SourcePtr makeMemorySource(std::vector<double> values, double interval, double start = 0);

} // namespace fulvex
