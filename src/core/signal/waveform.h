#pragma once

#include "extent.h"
#include "mapped_file.h"
#include "sample_type.h"
#include "time_axis.h"

#include <cstdint>
#include <filesystem>
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
    std::ptrdiff_t stride = 8;    ///< bytes from one sample to the next
    double scale = 1, offset = 0; ///< value = sample as stored * scale + offset: audio has a full scale of 1
    std::int64_t count = 0;
    std::shared_ptr<const void> owner;         ///< keeps `data` alive
    std::shared_ptr<const MappedFile> mapping; ///< set when data lies in a mapped file

    /// Writes samples first .. first + out.size() as doubles; what is not finite becomes NaN.
    /// The range must lie within the waveform. O(n); integers beyond 2^53 are rounded.
    void read(std::int64_t first, std::span<double> out) const { readScaled(first, out, 1, 0); }
    /// The same as value * factor + shift, in one pass.
    void readScaled(std::int64_t first, std::span<double> out, double factor, double shift) const;
    /// Samples of at most 16 bits, signed or of 8 bits, as they are stored. False, and nothing done, for others.
    bool readCodes(std::int64_t first, std::span<std::int16_t> out) const;
    /// Codes as they lie there, or null.
    const std::int16_t *codesInPlace(std::int64_t first) const;
    bool hasCodes() const { return type == SampleType::i8 || type == SampleType::u8 || type == SampleType::i16; }
    /// Of 16 bits without a sign, which codes of 17 bits hold.
    bool hasWideCodes() const { return type == SampleType::u16; }
    void readWideCodes(std::int64_t first, std::span<std::int32_t> out) const;
    /// Smallest and largest of each `block` samples of a range as value * factor + shift, without making doubles of
    /// them first. False, and nothing done, for samples that do not lie in order in this machine's types.
    bool extents(SampleRange range, std::int64_t block, std::span<Extent> out, double factor, double shift) const;
    /// Says that a range will be read soon (see MappedFile::announce).
    void announce(SampleRange range) const;
    /// Gives mapped pages of samples first .. last back (see MappedFile::release).
    void release(SampleRange range) const;
};

/// A waveform that owns its samples.
Waveform makeWaveform(std::string name, std::vector<double> samples);

/// Something that a reader understood, and where in the file it stands.
struct ReadFact {
    std::string what, value;            ///< "sample interval", "1.25 ns"
    std::size_t offset = 0, length = 0; ///< bytes in the file; length 0: it stands nowhere
    bool operator==(const ReadFact &) const = default;
};

/// What a file says of itself besides samples: instrument, serial number, settings, time of the capture.
struct StatedFact {
    std::string what, value;
    static constexpr std::size_t most = 200; ///< that are kept of a file
    bool operator==(const StatedFact &) const = default;
};

/// All columns of one file, on one time axis.
struct Capture {
    std::string file;   ///< as opened
    std::string format; ///< "csv", "npy", …
    TimeAxis axis;
    /// Where it says that stretches were triggered one by one, and did not follow each other; empty: it does not.
    std::vector<SampleRange> segments;
    bool intervalKnown = true; ///< false: the file states none and the document gives none
    std::vector<Waveform> columns;
    std::vector<std::string> remarks; ///< what the reader had to assume, in words
    std::vector<std::string> doubts;  ///< what in its times may spoil results, in words
    /// What the import can choose among: the columns of a text table by place, the arrays of a file of several.
    std::vector<std::string> choices;
    std::vector<ReadFact> facts;                            ///< what it found written, in the order of the file
    std::vector<StatedFact> stated;                         ///< what it says of itself, in its own words
    std::vector<std::shared_ptr<const MappedFile>> sources; ///< all files that it was read from
};

} // namespace fulvex
