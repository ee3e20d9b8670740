#include "capture_reader.h"

#include "audio_reader.h"
#include "error.h"
#include "hdf5_reader.h"
#include "mat_reader.h"
#include "npy_reader.h"
#include "npz_reader.h"
#include "plain_text.h"
#include "raw_reader.h"
#include "sigmf_reader.h"
#include "stated_facts.h"
#include "text_reader.h"
#include "word_list.h"
#include "zip_archive.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

static constexpr CaptureFormat formats[] = {
    {"npy", "NumPy array", looksLikeNpy, readNpy},
    {"npz", "NumPy archive", looksLikeZip, readNpz},
    {"wav", "audio file", looksLikeAudio, readAudio},
    {"mat", "MAT-file", looksLikeMat, readMat}, // before HDF5, which level 7.3 is
    {"hdf5", "HDF5 file", looksLikeHdf5, readHdf5},
    {"sigmf", "SigMF recording", looksLikeSigmf, readSigmf},
    {"raw", "raw samples", looksLikeBlock, readRaw},
    {"csv", "text table", looksLikeText, readText},
};

std::span<const CaptureFormat> captureFormats()
{
    return formats;
}

static const CaptureFormat &formatNamed(const std::string &id, const std::string &file)
{
    for (const CaptureFormat &format : formats) {
        if (id == format.id) return format;
    }
    throw Error(file, "the format \"" + id + "\" cannot be read by this version",
                "it reads: " + listed(formats, &CaptureFormat::id));
}

static const CaptureFormat &formatOf(const MappedFile &file, const ImportOptions &options)
{
    const std::string name = file.path().string();
    if (options.format) {
        return formatNamed(*options.format, name);
    }
    if (file.path().extension() == ".sigmf-data") return formatNamed("sigmf", name); // its content says nothing
    const auto head = file.bytes().first(std::min<std::size_t>(file.bytes().size(), 65536));
    for (const CaptureFormat &format : formats) {
        if (format.recognises(head)) return format;
    }
    throw Error(name, "is not of a format that is read (" + listed(formats, &CaptureFormat::id) + ")",
                "save it as one of these, or give \"format\": \"raw\" with \"sample_type\" in its import");
}

bool isRecognised(const std::filesystem::path &path)
{
    try {
        formatOf(*MappedFile::open(path), {});
        return true;
    } catch (const Error &) {
        return false;
    }
}

static void checkAxis(const Capture &capture)
{
    const TimeAxis &axis = capture.axis;
    if (capture.intervalKnown && !(axis.interval >= 1e-18 && axis.interval <= 1e9))
        throw Error(capture.file, "states a sample interval that no instrument has", "give \"sample_interval\" in s");
    if (!(std::abs(axis.start) <= 1e12))
        throw Error(capture.file, "states a start that is no moment", "give \"start\" in s");
}

/// Whatever bytes a file calls its columns by.
static void makeReadable(Capture &capture)
{
    const auto readable = [](std::string &text) { text = shownText(text); };
    for (Waveform &column : capture.columns) {
        readable(column.name);
        readable(column.unit);
        if (column.unit.size() > 64) column.unit.clear(); // no unit is that long
    }
    for (auto *list : {&capture.remarks, &capture.doubts, &capture.choices})
        std::for_each(list->begin(), list->end(), readable);
    for (ReadFact &fact : capture.facts) readable(fact.value);
}

/// Also of a reading that no document holds yet.
static void checkOptions(const ImportOptions &options, const std::string &file)
{
    if (options.headerBytes.value_or(0) < 0)
        throw Error(file, "is to be read from before its first byte", "give \"header_bytes\" of 0 or more");
    if (options.interleave && (*options.interleave < 1 || *options.interleave > int(mostColumns)))
        throw Error(file, "cannot hold " + std::to_string(*options.interleave) + " channels in turn",
                    "give \"interleave\" within 1 … " + std::to_string(mostColumns));
}

/// Those of a record that the options cut into equal ones, or that says itself what it consists of.
static std::vector<SampleRange> segmentsOf(const Capture &capture, const ImportOptions &options)
{
    if (!options.segments) return capture.segments;
    std::vector<SampleRange> segments;
    const std::int64_t length = capture.axis.count / *options.segments;
    for (std::int64_t i = 0; i < *options.segments; ++i) segments.push_back({i * length, (i + 1) * length});
    return segments;
}

/// Of the record one segment alone, whose time begins as the record's does.
static void takeSegment(Capture &capture, const ImportOptions &options)
{
    const std::vector<SampleRange> segments = segmentsOf(capture, options);
    const auto wanted = std::size_t(*options.segment);
    if (segments.empty())
        throw Error(capture.file, "does not say that it consists of segments",
                    "give \"segments\", how many equally long ones it has, or no \"segment\"");
    if (wanted >= segments.size())
        throw Error(capture.file,
                    "has " + std::to_string(segments.size()) + " segments; number " + std::to_string(wanted) +
                        " (from 0 on) is none of them",
                    "give another \"segment\"");
    const SampleRange range = segments[wanted];
    if (range.size() == 0)
        throw Error(capture.file, "has no sample in segment " + std::to_string(wanted), "leave it out");
    for (Waveform &column : capture.columns) {
        column.data += range.first * column.stride;
        column.count = range.size();
    }
    capture.axis.count = range.size();
}

std::int64_t segmentsIn(const std::filesystem::path &path, const ImportOptions &options)
{
    if (options.segments) return *options.segments;
    Progress progress;
    const auto file = MappedFile::open(path);
    if (!looksLikeSigmf(file->bytes().first(std::min<std::size_t>(file->bytes().size(), 4096)))) return 1;
    ImportOptions whole = options;
    whole.segment.reset();
    return std::max<std::int64_t>(1, std::int64_t(readCapture(path, whole, progress).segments.size()));
}

Capture readCapture(const std::filesystem::path &path, const ImportOptions &options, Progress &progress)
{
    const auto file = MappedFile::open(path);
    if (file->bytes().empty()) throw Error(path.string(), "is empty (0 bytes)", "check that the export finished");
    checkOptions(options, path.string());
    const CaptureFormat &format = formatOf(*file, options);
    const auto checkFile = [](const MappedFile &one) {
        if (const std::string why = one.disturbance(); !why.empty())
            throw Error(one.path().string(), why, "wait until it is written, and read it again");
    };
    Capture capture;
    try {
        capture = format.read(file, options, progress);
    } catch (const Error &) {
        checkFile(*file); // which explains whatever was found in it
        throw;
    }
    capture.file = path.string();
    capture.format = format.id;
    if (capture.sources.empty()) capture.sources = {file};
    for (const auto &source : capture.sources) checkFile(*source);
    checkColumns(capture.columns.size(), capture.file, "save fewer of them in one file");
    checkAxis(capture);
    if (options.segment) takeSegment(capture, options);
    makeReadable(capture);
    for (const StatedFact &fact : capture.stated) {
        if (const auto factor = statedProbeFactor(fact); factor && *factor != 1)
            capture.remarks.push_back("states \"" + fact.what + "\" of " + fact.value +
                                      ": the values are taken as they stand; if that is not in them yet, set the "
                                      "channel's scale");
    }
    return capture;
}

void checkColumns(std::size_t columns, const std::string &file, const std::string &remedy)
{
    if (columns > mostColumns)
        throw Error(file,
                    "has " + std::to_string(columns) + " columns; up to " + std::to_string(mostColumns) + " are read",
                    remedy);
}

std::vector<std::filesystem::path> captureFiles(const std::filesystem::path &path)
{
    const auto ending = path.extension();
    return ending == ".sigmf-meta" || ending == ".sigmf-data" ? sigmfFiles(path) : std::vector{path};
}

std::vector<std::shared_ptr<const MappedFile>> openCaptureFiles(const std::filesystem::path &path)
{
    std::vector<std::shared_ptr<const MappedFile>> files;
    for (const std::filesystem::path &one : captureFiles(path)) files.push_back(MappedFile::open(one));
    return files;
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
