#pragma once

#include "progress.h"
#include "sample_source.h"

#include <filesystem>
#include <string>
#include <utility>
#include <vector>

namespace fulvex {

/// A program's bytes as they were read once: what is looked at, allowed and run are the same.
struct ProgramContent {
    std::string name; ///< the file's, without its folder
    std::string bytes;
    std::string sha256;
};
/// Throws Error for what is no file, or longer than 16 MiB.
ProgramContent readProgram(const std::filesystem::path &path);

/// What a program is asked to make: of signals on one grid, and numbers, a signal on the same grid.
struct ProgramTask {
    std::vector<SourcePtr> inputs;
    std::vector<std::string> units; ///< of the signals
    std::vector<std::pair<std::string, double>> parameters;
    double seconds = 60;   ///< that it may take, at most
    double memory = 2.0e9; ///< bytes that it may take beside what it is given, at most
};

/// What came of it: a source that lies in a file of its own, and what the program printed on standard error.
class ProgramResult final : public SampleSource {
public:
    ProgramResult(SourcePtr made, std::string said, std::size_t bytes)
        : m_made(std::move(made)), m_said(std::move(said)), m_bytes(bytes)
    {
    }
    const TimeAxis &axis() const override { return m_made->axis(); }
    void read(std::int64_t first, std::span<double> out) const override { m_made->read(first, out); }
    void extents(SampleRange range, std::int64_t block, std::span<Extent> out) const override
    {
        m_made->extents(range, block, out);
    }
    void announce(SampleRange range) const override { m_made->announce(range); }
    void release(SampleRange range) const override { m_made->release(range); }
    bool mayHaveGaps() const override { return true; }
    std::string remark() const override { return m_said; }
    std::size_t heldBytes() const override { return m_bytes; }

private:
    SourcePtr m_made;
    std::string m_said;
    std::size_t m_bytes;
};

/// Runs a copy of the content, without a shell and with nothing of this program's environment but PATH, HOME and LANG.
/// On its standard input it finds a line of JSON and then each signal as an NPY array of little-endian doubles, gaps
/// being NaN; on its standard output it gives one such array, of integers or floats, with as many numbers. See
/// docs/programs.md. Throws Error, with the last lines of what it printed, where it ends with another number than 0, is
/// killed, takes too long, says too much, too little, or something else; a cancel of `progress` ends it with Cancelled.
SourcePtr runProgram(const ProgramContent &content, const ProgramTask &task, Progress &progress);

} // namespace fulvex
