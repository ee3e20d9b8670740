#include "unpacked_project.h"

#include "atomic_file.h"
#include "fingerprint.h"
#include "memory_budget.h"
#include "moved_captures.h"
#include "process_tag.h"
#include "user_folders.h"
#include "zip_archive.h"

#include <algorithm>
#include <map>
#include <optional>
#include <sstream>

namespace fulvex {

namespace fs = std::filesystem;

namespace {

constexpr const char *accountFile = ".fulvex-account"; ///< what was unpacked, and how it was left
constexpr std::string_view partEnding = ".part";

/// An entry's place below a folder. Refuses names that lead out of it.
fs::path placeOf(const fs::path &folder, const std::string &name, const std::string &archive)
{
    const fs::path path(name);
    bool inside = !name.empty() && path.is_relative() && name.find('\\') == std::string::npos && name != accountFile;
    for (const fs::path &part : path) inside = inside && part != ".." && part != ".";
    if (!inside)
        throw Error(archive + ": \"" + name + "\"", "leads out of the project", "it was not packed by this program");
    return folder / path;
}

void unpackEntry(zip_t *zip, const zip_stat_t &facts, const fs::path &to, const std::string &where, Progress &progress)
{
    const ZipEntry entry(zip_fopen_index(zip, facts.index, 0));
    if (!entry) throw Error(where, "cannot be unpacked: " + std::string(zip_strerror(zip)), "pack the project again");
    std::error_code failure;
    fs::create_directories(to.parent_path(), failure);
    AtomicFile file(to);
    std::string piece(1 << 20, '\0');
    for (std::uint64_t done = 0; done < facts.size;) {
        const auto got = zip_fread(entry.get(), piece.data(), std::min<std::uint64_t>(piece.size(), facts.size - done));
        if (got <= 0)
            throw Error(where,
                        "is damaged: it ends after " + std::to_string(done) + " of " + std::to_string(facts.size) +
                            " bytes",
                        "copy the packed project again");
        file.write(std::string_view(piece.data(), std::size_t(got)));
        done += std::uint64_t(got);
        progress.advance(double(got));
    }
    file.commit();
}

/// "NAME IDENTITY" of every file below a folder: a touched, replaced or missing one makes another account.
std::string accountOf(const fs::path &folder)
{
    std::map<std::string, std::string> files;
    std::error_code failure;
    for (fs::recursive_directory_iterator each(folder, failure), end; !failure && each != end;
         each.increment(failure)) {
        std::error_code gone;
        const std::string name = each->path().lexically_relative(folder).string();
        if (each->is_regular_file(gone) && name != accountFile) files[name] = identityOf(each->path()).text();
    }
    std::string account;
    for (const auto &[name, identity] : files) account += name + " " + identity + "\n";
    return account;
}

bool isAsItWasLeft(const fs::path &folder)
{
    try {
        return readTextFile(folder / accountFile) == accountOf(folder);
    } catch (const Error &) {
        return false;
    }
}

/// What killed programs left half unpacked.
void cleanParts(const fs::path &cache)
{
    std::error_code failure;
    for (fs::directory_iterator each(cache, failure), end; !failure && each != end; each.increment(failure)) {
        const std::string name = each->path().filename().string();
        if (!name.ends_with(partEnding)) continue;
        const std::size_t dot = name.find('.');
        const std::string tag = name.substr(dot + 1, name.size() - partEnding.size() - dot - 1);
        std::error_code gone;
        if (isOver(tag)) fs::remove_all(each->path(), gone);
    }
}

struct Contents {
    std::vector<zip_stat_t> entries;
    double bytes = 0;
};

Contents contentsOf(zip_t *zip, const std::string &pack)
{
    constexpr zip_int64_t mostEntries = 20000;
    const zip_int64_t count = zip_get_num_entries(zip, 0);
    if (count > mostEntries)
        throw Error(pack, "holds " + std::to_string(count) + " files", "it was not packed by this program");
    Contents contents;
    for (zip_int64_t i = 0; i < count; ++i) {
        zip_stat_t facts;
        constexpr zip_uint64_t needed = ZIP_STAT_NAME | ZIP_STAT_SIZE | ZIP_STAT_INDEX;
        if (zip_stat_index(zip, zip_uint64_t(i), 0, &facts) != 0 || (facts.valid & needed) != needed)
            throw Error(pack, "has an entry without a name or size", "pack the project again");
        contents.bytes += double(facts.size);
        contents.entries.push_back(facts);
    }
    return contents;
}

void checkSize(const Contents &contents, const MappedFile &file, const fs::path &cache, PackConsent consent)
{
    const std::string pack = file.path().string();
    const auto megabytes = [](double bytes) { return std::to_string(std::uint64_t(bytes / 1e6)) + " MB"; };
    std::error_code failure;
    const auto space = fs::space(cache, failure);
    if (!failure && contents.bytes > 0.9 * double(space.available))
        throw Error(pack,
                    "needs " + megabytes(contents.bytes) + " to be unpacked, more than " + cache.string() + " has",
                    "free some space, or set XDG_CACHE_HOME to a folder on another disk");
    if (contents.bytes > MemoryBudget::allowed(file.bytes().size()) && !consent.large)
        throw NeedsConsent(
            Error(pack,
                  "is " + megabytes(double(file.bytes().size())) + " and would unpack to " + megabytes(contents.bytes),
                  "open it in the desktop, which asks, or unpack it yourself"),
            {.large = true});
}

/// Unpacks into a folder beside `folder` first, so that `folder` is there whole or not at all.
void unpack(const MappedFile &file, zip_t *zip, const Contents &contents, const fs::path &folder, Progress &progress)
{
    const std::string pack = file.path().string();
    std::error_code failure;
    progress.expect(contents.bytes);
    const fs::path part =
        folder.string() + "." + processTag() + std::string(partEnding); // two windows may open it at once
    fs::remove_all(part, failure);
    fs::create_directories(part, failure);
    try {
        for (const zip_stat_t &facts : contents.entries) {
            if (std::string_view(facts.name).ends_with('/')) continue;
            unpackEntry(zip, facts, placeOf(part, facts.name, pack), pack + ": \"" + facts.name + "\"", progress);
        }
        if (!fs::exists(part / packedDocument, failure))
            throw Error(pack, "holds no \"project.fulvex\": it is no packed project",
                        "an archive of arrays (.npz) is opened as a capture");
        if (const std::string why = file.disturbance(); !why.empty()) throw Error(pack, why, "open it again");
        writeFileAtomically(part / accountFile, accountOf(part));
        fs::rename(part, folder, failure);
        if (!failure) return;
        if (!fs::exists(folder, failure))
            throw Error(folder.string(), "cannot be made", "set XDG_CACHE_HOME to another folder");
        fs::remove_all(part, failure); // another window was first
    } catch (...) {
        fs::remove_all(part, failure);
        throw;
    }
}

} // namespace

fs::path unpackedFolder(const fs::path &path, PackConsent consent, Progress &progress)
{
    const fs::path cache = cacheFolder("unpacked");
    const auto file = MappedFile::open(path);
    std::error_code failure;
    const fs::path folder =
        cache / sha256(fs::absolute(path, failure).string() + file->identity().text()).substr(0, 24);
    if (!fs::exists(folder, failure) || !isAsItWasLeft(folder)) {
        const ZipArchive zip = openZip(*file);
        const Contents contents = contentsOf(zip.get(), path.string());
        checkSize(contents, *file, cache, consent);
        fs::remove_all(folder, failure);
        cleanParts(cache);
        trimCache(cache, cacheShare(0.8));
        unpack(*file, zip.get(), contents, folder, progress);
    }
    touchCached(folder);
    return folder;
}

bool isUnpacked(const fs::path &file)
{
    try {
        return keptPath(file, cacheFolder("unpacked")) != file;
    } catch (const Error &) {
        return false; // without a cache folder there is none
    }
}

} // namespace fulvex
