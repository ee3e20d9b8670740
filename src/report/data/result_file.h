#pragma once

#include "comparison.h"
#include "progress.h"

#include <filesystem>

namespace fulvex {

/// A result as a file says it, or as a project gives it now.
struct ResultFile {
    ComparedResult numbers;
    std::shared_ptr<const Results> results; ///< null: numbers alone are known
    std::vector<std::string> unread;        ///< of a run: why captures count for nothing
};

/// A document evaluated now with its own captures, all of a run. Throws Error, Cancelled.
ResultFile computed(const Document &document, const std::filesystem::path &base, const std::string &name,
                    Progress &progress);

/// Of a project, packed or not, evaluated now with its own captures, all of a run; or what a report or a results.json
/// says. Throws Error, Cancelled.
ResultFile readResult(const std::filesystem::path &file, Progress &progress);

/// What is laid beside a project: another result, or, where the name's ending is that of none, a capture, measured as
/// the project measures its own, in the place of the first of them. `base`: of the project's files. Throws Error,
/// Cancelled.
ResultFile readBeside(const std::filesystem::path &file, const Document &document, const std::filesystem::path &base,
                      Progress &progress);

/// A project's own results beside another one's.
std::shared_ptr<const Comparison> laidBeside(const ResultFile &other, const Results &own);

} // namespace fulvex
