#pragma once

#include "progress.h"
#include "sample_source.h"

#include <filesystem>
#include <span>
#include <string>

namespace fulvex {

/// A channel to be written; all of one file lie on one time axis.
struct WrittenChannel {
    std::string name, unit;
    SourcePtr source;
};

/// One format that captures are written in. Values are written as doubles, so that reading them again gives the same
/// bits; gaps are NaN (empty in text).
struct CaptureWriter {
    const char *id, *title, *ending; ///< ending with its dot
    void (*write)(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
                  Progress &progress);
};

std::span<const CaptureWriter> captureWriters();

/// Writes samples first <= k < last of the channels in the format of the path's ending, whole or not at all. Throws
/// Error for an ending that is not known, channels on different axes, or what the format cannot hold.
void writeCapture(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
                  Progress &progress);

} // namespace fulvex
