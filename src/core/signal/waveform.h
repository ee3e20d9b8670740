#pragma once

#include "mapped_file.h"
#include "sample_type.h"
#include "time_axis.h"

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace fulvex {

/// One column of a capture as it lies in its file or in memory: the file's own type, byte order and spacing.
/// Copying is cheap; the bytes are shared.
struct Waveform {
    std::string name; ///< from the file, may be empty
    std::string unit; ///< from the file, may be empty
    SampleType type = SampleType::f64;
    bool swapped = false; ///< byte order is not this machine's
    const std::byte *data = nullptr;
    std::ptrdiff_t stride = 8; ///< bytes from one sample to the next
    std::int64_t count = 0;
    std::shared_ptr<const void> owner;         ///< keeps `data` alive
    std::shared_ptr<const MappedFile> mapping; ///< set when data lies in a mapped file

    /// Writes samples first .. first + out.size() as doubles, counts as stored; what is not finite becomes NaN.
    /// The range must lie within the waveform. O(n); integers beyond 2^53 are rounded.
    void read(std::int64_t first, std::span<double> out) const { readScaled(first, out, 1, 0); }
    /// The same as sample * scale + offset, in one pass.
    void readScaled(std::int64_t first, std::span<double> out, double scale, double offset) const;
    /// Gives mapped pages of samples first .. last back (see MappedFile::release).
    void release(SampleRange range) const;
};

/// A waveform that owns its samples.
Waveform makeWaveform(std::string name, std::vector<double> samples);

/// All columns of one file, on one time axis.
struct Capture {
    std::string file;   ///< as opened
    std::string format; ///< "csv", "npy", …
    TimeAxis axis;
    bool intervalKnown = true; ///< false: the file states none and the document gives none
    std::vector<Waveform> columns;
    std::vector<std::string> remarks; ///< what the reader had to assume, in words
};

} // namespace fulvex
