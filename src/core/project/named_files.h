#pragma once

#include "document.h"

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace fulvex {

/// A file that a document names besides its captures'.
struct NamedFile {
    std::string where;  ///< JSON path of the field
    std::string folder; ///< in a packed project: "masks/ID"
    std::string what;   ///< for people: "mask \"m\""
    std::string name;   ///< as the document has it
    enum class Kind { mask, program, comparison, plan, attempt } kind = Kind::mask;
};

/// Calls use(file) for each and writes what it gives in its place: masks that are files, programs, other results,
/// plans, and what was put into plans' slots.
void renameNamedFiles(Document &document, const std::filesystem::path &base,
                      const std::function<std::string(const NamedFile &)> &use);

/// What lies beside a plan and goes with it, as it names them: pictures, masks and programs of its setups. Nothing of
/// one that cannot be read.
std::vector<std::string> filesBesidePlan(const std::filesystem::path &plan);

/// Whether a file that another result is named by is one, by its ending: a project, packed or not, a report, or a
/// results.json. Else it is a capture, which is measured as the project measures its own.
bool isResultName(const std::filesystem::path &file);

/// Whether it is that of a project, packed or not.
bool isProjectName(const std::filesystem::path &file);

/// Whether a name leads out of the folder that it is relative to.
bool leadsOut(const std::string &file);

} // namespace fulvex
