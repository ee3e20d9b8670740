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

/// A capture measured as a project measures its own: in the place of the first of them. `base`: of the project's other
/// files. Throws Error, Cancelled.
ResultFile measuredAs(const Document &document, const std::filesystem::path &base, const std::filesystem::path &capture,
                      Progress &progress);

} // namespace fulvex
