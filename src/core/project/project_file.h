#pragma once

#include "document.h"
#include "error.h"
#include "progress.h"

#include <filesystem>

namespace fulvex {

/// A project as it lies on disk: a document beside its captures, or a packed one, a ZIP archive of the document
/// ("project.fulvex"), the captures ("captures/ID/NAME") and mask files ("masks/ID/NAME"). See docs/formats.md.

/// By content. Throws Error when the file cannot be read.
bool isPackedProject(const std::filesystem::path &path);

/// What tells whether somebody else wrote the file meanwhile; empty while there is none.
std::string projectStamp(const std::filesystem::path &path);

struct OpenedProject {
    Document document;
    std::filesystem::path base; ///< folder that relative capture files are relative to
    bool packed = false;
    std::string sha256;      ///< of the document's text
    std::string stamp;       ///< see projectStamp
    bool fromReport = false; ///< it is what a report holds: nothing is to be saved there
};

/// What a packed project may do only when the user said so.
struct PackConsent {
    bool large = false;   ///< unpack to a great deal more than it is
    bool outside = false; ///< open files that do not lie in it
    bool operator==(const PackConsent &) const = default;
};

/// Thrown where that consent is missing: a question to the user, or an Error where nobody is to be asked.
class NeedsConsent final : public Error {
public:
    NeedsConsent(const Error &error, PackConsent wanted) : Error(error), m_wanted(wanted) {}
    PackConsent wanted() const { return m_wanted; } ///< what has to be given besides

private:
    PackConsent m_wanted;
};

/// Opens either form, or the document that a report or a results.json holds (base: its folder). A packed one is
/// unpacked into the user's cache folder, once, and again where what lies there was touched. Throws Error: what is
/// wrong and where; NeedsConsent.
OpenedProject openProject(const std::filesystem::path &path, Progress &progress, PackConsent consent = {});

/// The ending that packed projects are saved under.
constexpr const char *packedEnding = ".fulvexpack";

/// Writes the document with the paths of its captures and masks relative to it. Where they lie in the cache folder (a
/// packed project was opened), they are copied to "NAME-captures" beside it first: what is there already is not copied
/// again, and never written over. Gives the SHA-256 of the document's text there. Throws Error.
std::string saveProject(Document document, const std::filesystem::path &base, const std::filesystem::path &path,
                        Progress &progress);

/// Writes the document and all files of its captures and masks into one archive, whole or not at all. `base`: folder
/// that their paths are relative to. Throws Error, also when a capture is not there or changes meanwhile. Gives the
/// SHA-256 of the document's text in it.
std::string packProject(const Document &document, const std::filesystem::path &base, const std::filesystem::path &path,
                        Progress &progress);

} // namespace fulvex
