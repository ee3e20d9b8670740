#pragma once

#include "import_options.h"
#include "progress.h"
#include "waveform.h"

#include <filesystem>
#include <span>

namespace fulvex {

/// One file format. The table of formats is in capture_reader.cpp.
struct CaptureFormat {
    const char *id;                                      ///< as the document names it
    const char *title;                                   ///< for people
    bool (*recognises)(std::span<const std::byte> head); ///< by content; head is the first 64 KiB or all of it
    Capture (*read)(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);
};

std::span<const CaptureFormat> captureFormats();

/// Opens a capture. Samples stay in the file where its format allows it. All words in it are valid UTF-8. Throws Error:
/// file, line or byte, what is wrong there, what would mend it; also where the file was written to meanwhile, holds
/// more than mostColumns columns, or states times that no instrument has.
Capture readCapture(const std::filesystem::path &path, const ImportOptions &options, Progress &progress);

constexpr std::size_t mostColumns = 4096;
/// Throws Error where a file has more columns than that; `remedy` tells how to choose among them.
void checkColumns(std::size_t columns, const std::string &file, const std::string &remedy);

/// What readers make of files; a new number where one of them reads the same bytes otherwise than before.
constexpr int readersVersion = 4;

/// Whether a file is of a format that says so itself; false also where it cannot be read.
bool isRecognised(const std::filesystem::path &path);

/// How many segments a file consists of, as it says or the options do; 1 where neither does. Throws Error.
std::int64_t segmentsIn(const std::filesystem::path &path, const ImportOptions &options);

/// All files that a capture is made of, given one of them: a SigMF recording's metadata and data, else itself.
std::vector<std::filesystem::path> captureFiles(const std::filesystem::path &path);
/// The same, opened.
std::vector<std::shared_ptr<const MappedFile>> openCaptureFiles(const std::filesystem::path &path);

/// For readers: puts the options' interval and start over what the file said.
void applyTimeOptions(Capture &capture, const ImportOptions &options);

} // namespace fulvex
