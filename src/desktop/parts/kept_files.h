#pragma once

#include <QString>
#include <string>
#include <vector>

namespace fulvex {

/// Small files of the user's, kept for other projects: one for each title, in a folder of the program's data for each
/// `kind` ("rows", "reports").
struct KeptFile {
    std::string name, text;
};
std::vector<KeptFile>
keptFiles(const QString &kind); ///< a file that cannot be read, or is far too large, is passed over
/// Throws Error.
void keepFile(const QString &kind, const std::string &title, const std::string &text);
void forgetFile(const QString &kind, const std::string &title);

} // namespace fulvex
