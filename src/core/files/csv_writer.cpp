#include "csv_writer.h"

#include "atomic_file.h"
#include "interleaved_blocks.h"

#include <charconv>
#include <cmath>

namespace fulvex {

namespace {

void append(std::string &text, double value)
{
    char digits[32];
    if (std::isfinite(value)) text.append(digits, std::to_chars(digits, digits + sizeof digits, value).ptr);
}

std::string title(const WrittenChannel &channel)
{
    std::string name = channel.name;
    if (!channel.unit.empty()) name += " (" + channel.unit + ")";
    for (char &c : name) {
        if (c == ',' || c == '"' || c == '\n' || c == '\r') c = ' ';
    }
    return name;
}

} // namespace

void writeCsv(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
              Progress &progress)
{
    AtomicFile file(path);
    const TimeAxis axis = writtenAxis(channels, range);
    TimeAxis told = axis;
    if (!axis.isFine()) told.start = told.shift = 0; // beside so far a start the times would be rounded to each other
    std::string text = "# sample interval (s): ";
    append(text, axis.interval);
    append(text += "\n# start (s): ", axis.start);
    text += axis.isFine() ? "\ntime (s)" : "\ntime from start (s)";
    for (const WrittenChannel &channel : channels) text += "," + title(channel);
    text += "\n";
    interleavedBlocks(channels, range, progress, [&](std::int64_t first, std::span<const double> block) {
        for (std::size_t i = 0; i < block.size(); i += channels.size()) {
            append(text, told.timeOf(double(first - range.first) + double(i / channels.size())));
            for (std::size_t channel = 0; channel < channels.size(); ++channel) append(text += ',', block[i + channel]);
            text += '\n';
        }
        file.write(text);
        text.clear();
    });
    file.commit();
}

} // namespace fulvex
