#pragma once

#include "code_scale.h"
#include "extent.h"
#include "time_axis.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string>
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
    /// Where samples are whole numbers of a scale, and none is a gap: the scale, by which codes are to the last bit
    /// what read() gives.
    virtual std::optional<CodeScale> codeScale() const { return std::nullopt; }
    /// The codes of samples first .. first + out.size(), of a source that has a scale. False, and anything written,
    /// where the scale is wide and one of them does not fit.
    virtual bool readCodes(std::int64_t, std::span<std::int16_t>) const { return false; }
    /// The same of a source whose scale is wide: they fit.
    virtual void readWideCodes(std::int64_t, std::span<std::int32_t>) const {}
    /// The same from one on, where they lie in memory as they are; null where they have to be made.
    virtual const std::int16_t *codesInPlace(std::int64_t) const { return nullptr; }
    /// Smallest and largest sample of each `block` samples of a range, the last block being what is left of it; `out`
    /// has one place a block. The same numbers as from read(), rounded to float.
    virtual void extents(SampleRange range, std::int64_t block, std::span<Extent> out) const;
    /// Says that a range will be read soon.
    virtual void announce(SampleRange) const {}
    /// Tells that a streaming pass is done with these samples.
    virtual void release(SampleRange) const {}
    /// How many readings of a file's samples a reading of this one costs, about.
    virtual double readEffort() const { return 1; }
    /// Samples ahead of a place far from all others that are read with it, where only an estimate is wanted.
    virtual std::int64_t runIn() const { return 0; }
    /// False promises that read() never gives NaN.
    virtual bool mayHaveGaps() const = 0;
    /// What whoever made it has to say, such as a program of the user's: lines, mostly none.
    virtual std::string remark() const { return {}; }
    /// Of memory, or of disk, that it keeps to itself, bytes.
    virtual std::size_t heldBytes() const { return 0; }
    /// The smallest step the stored values can take, in the channel's unit; 0 when not known.
    virtual double resolution() const { return 0; }
};

using SourcePtr = std::shared_ptr<const SampleSource>;

Extent extentOf(std::span<const double> values);

/// A source over values in memory, mostly for tests and kept copies.
SourcePtr makeMemorySource(std::vector<double> values, double interval, double start = 0);

} // namespace fulvex
