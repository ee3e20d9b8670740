#pragma once

#include "field.h"
#include "import_options.h"

namespace fulvex {

/// Captures of one thing, taken together: see membersOf().
struct RunOptions {
    std::vector<std::string> files; ///< also folders, and patterns with * and ?; empty: the entry's own file alone
    Reasons leftOut;                ///< why a file does not count, by its name as the run has it
    std::optional<int> stopAt;      ///< captures that failed end it; none: it goes on
    bool watched = false;           ///< files that come later count as well
    bool operator==(const RunOptions &) const = default;
};

/// An instrument that captures come from.
struct LiveOptions {
    std::string address;                ///< HOST or HOST:PORT; empty: there is none
    std::string dialect = "brackwater"; ///< a shipped one's id, or a file
    std::string folder = "live";        ///< where they are kept
    std::string keep = "all";           ///< all, failed, last
    int last = 100;                     ///< of these so many
    bool operator==(const LiveOptions &) const = default;
};

/// A file of samples and how to read it; with others like it, this one of a run.
struct CaptureEntry {
    std::string id, file;
    std::string sha256; ///< empty: not known yet
    ImportOptions import;
    std::optional<std::int64_t> bytes = {}; ///< of its files, as `sha256` was taken
    RunOptions run = {};
    LiveOptions live = {};
    /// Others like it come with it: files, segments, or what an instrument gives.
    bool isRun() const { return !run.files.empty() || import.segment.has_value(); }
    bool operator==(const CaptureEntry &) const = default;
};

std::vector<Field> fieldsOf(CaptureEntry &entry);
/// The same of how a file is read, in no group.
std::vector<Field> fieldsOf(ImportOptions &options);

} // namespace fulvex
