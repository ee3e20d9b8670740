#include "capture_reader.h"

#include "error.h"
#include "npy_reader.h"
#include "text_reader.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

static constexpr CaptureFormat formats[] = {
    {"npy", "NumPy array", looksLikeNpy, readNpy},
    {"csv", "text table", looksLikeText, readText},
};

std::span<const CaptureFormat> captureFormats()
{
    return formats;
}

static const CaptureFormat &formatOf(const MappedFile &file, const ImportOptions &options)
{
    const std::string name = file.path().string();
    if (options.format) {
        for (const CaptureFormat &format : formats) {
            if (*options.format == format.id) return format;
        }
        std::string known;
        for (const CaptureFormat &format : formats) known += std::string(known.empty() ? "" : ", ") + format.id;
        throw Error(name, "the format \"" + *options.format + "\" cannot be read by this version",
                    "it reads: " + known);
    }
    const auto head = file.bytes().first(std::min<std::size_t>(file.bytes().size(), 65536));
    for (const CaptureFormat &format : formats) {
        if (format.recognises(head)) return format;
    }
    throw Error(name, "is neither a NumPy array nor a table of numbers in text",
                "save the capture in one of these formats");
}

Capture readCapture(const std::filesystem::path &path, const ImportOptions &options, Progress &progress)
{
    const auto file = MappedFile::open(path);
    if (file->bytes().empty()) throw Error(path.string(), "is empty (0 bytes)", "check that the export finished");
    const CaptureFormat &format = formatOf(*file, options);
    Capture capture = format.read(file, options, progress);
    capture.file = path.string();
    capture.format = format.id;
    return capture;
}

void applyTimeOptions(Capture &capture, const ImportOptions &options)
{
    if (options.sampleInterval) {
        capture.axis.interval = *options.sampleInterval;
        capture.intervalKnown = true;
    }
    if (options.start) capture.axis.start = *options.start;
}

} // namespace fulvex
