#include "project_file.h"

#include "atomic_file.h"
#include "cache_folder.h"
#include "capture_reader.h"
#include "document_json.h"
#include "error.h"
#include "fingerprint.h"
#include "moved_captures.h"
#include "zip_archive.h"

#include <algorithm>
#include <cstring>
#include <unistd.h>

namespace fulvex {

namespace fs = std::filesystem;

namespace {

constexpr const char *documentEntry = "project.fulvex";
constexpr std::uintmax_t keptUnpacked = std::uintmax_t(16) << 30; ///< bytes in the cache folder

/// An entry's place below a folder. Refuses names that lead out of it.
fs::path placeOf(const fs::path &folder, const std::string &name, const std::string &archive)
{
    const fs::path path(name);
    bool inside = !name.empty() && path.is_relative() && name.find('\\') == std::string::npos;
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

/// Unpacks into a folder beside `folder` first, so that `folder` is there whole or not at all.
void unpack(const fs::path &path, const fs::path &folder, Progress &progress)
{
    const auto file = MappedFile::open(path);
    const ZipArchive zip = openZip(*file);
    std::vector<zip_stat_t> entries;
    double bytes = 0;
    for (zip_int64_t i = 0; i < zip_get_num_entries(zip.get(), 0); ++i) {
        zip_stat_t facts;
        constexpr zip_uint64_t needed = ZIP_STAT_NAME | ZIP_STAT_SIZE | ZIP_STAT_INDEX;
        if (zip_stat_index(zip.get(), zip_uint64_t(i), 0, &facts) != 0 || (facts.valid & needed) != needed)
            throw Error(path.string(), "has an entry without a name or size", "pack the project again");
        bytes += double(facts.size);
        entries.push_back(facts);
    }
    std::error_code failure;
    const auto space = fs::space(folder.parent_path(), failure);
    if (!failure && bytes > 0.9 * double(space.available))
        throw Error(path.string(),
                    "needs " + std::to_string(std::uint64_t(bytes / 1e6)) + " MB to be unpacked, more than " +
                        folder.parent_path().string() + " has",
                    "free some space, or set XDG_CACHE_HOME to a folder on another disk");
    progress.expect(bytes);
    const fs::path part =
        folder.string() + "." + std::to_string(::getpid()) + ".part"; // two windows may open it at once
    fs::remove_all(part, failure);
    fs::create_directories(part, failure);
    try {
        for (const zip_stat_t &facts : entries) {
            if (std::string_view(facts.name).ends_with('/')) continue;
            unpackEntry(zip.get(), facts, placeOf(part, facts.name, path.string()),
                        path.string() + ": \"" + facts.name + "\"", progress);
        }
        if (!fs::exists(part / documentEntry))
            throw Error(path.string(), "holds no \"project.fulvex\": it is no packed project",
                        "an archive of arrays (.npz) is opened as a capture");
        fs::rename(part, folder, failure);
        if (!failure) return;
        if (!fs::exists(folder))
            throw Error(folder.string(), "cannot be made: " + failure.message(),
                        "set XDG_CACHE_HOME to another folder");
        fs::remove_all(part, failure); // another window was first
    } catch (...) {
        fs::remove_all(part, failure);
        throw;
    }
}

} // namespace

bool isPackedProject(const fs::path &path)
{
    return looksLikeZip(MappedFile::open(path)->bytes());
}

std::string projectStamp(const fs::path &path)
{
    std::error_code failure;
    const auto size = fs::file_size(path, failure);
    if (failure) return {};
    const auto time = fs::last_write_time(path, failure).time_since_epoch().count();
    // A packed one may be of any size; a document is looked at itself, so that touching it is no change.
    return isPackedProject(path) ? std::to_string(size) + "@" + std::to_string(time) : sha256(readTextFile(path));
}

OpenedProject openProject(const fs::path &path, Progress &progress)
{
    OpenedProject opened;
    opened.packed = isPackedProject(path);
    opened.stamp = projectStamp(path);
    fs::path document = path;
    opened.base = fs::absolute(path).parent_path();
    if (opened.packed) {
        const fs::path cache = cacheFolder("unpacked");
        opened.base = cache / sha256(fs::absolute(path).string() + opened.stamp).substr(0, 24);
        if (!fs::exists(opened.base)) {
            trimCache(cache, keptUnpacked);
            unpack(path, opened.base, progress);
        }
        touchCached(opened.base);
        document = opened.base / documentEntry;
    }
    const std::string text = readTextFile(document);
    opened.sha256 = sha256(text);
    opened.document = parseDocument(text, path.string());
    return opened;
}

/// Whether a file is part of what a packed project was unpacked to. Without a cache folder there is none.
static bool isUnpacked(const fs::path &file)
{
    try {
        return keptPath(file, cacheFolder("unpacked")) != file;
    } catch (const Error &) {
        return false;
    }
}

/// Copies what a packed project was unpacked to, so that it lies where nobody cleans up.
static fs::path copiedBeside(const fs::path &file, const CaptureEntry &capture, const fs::path &project,
                             Progress &progress)
{
    const fs::path folder = project.parent_path() / (project.stem().string() + "-captures") / capture.id;
    std::error_code failure;
    fs::create_directories(folder, failure);
    for (const fs::path &one : captureFiles(file)) {
        progress.advance(0);
        fs::copy_file(one, folder / one.filename(), fs::copy_options::overwrite_existing, failure);
        if (failure) throw Error((folder / one.filename()).string(), "cannot be written: " + failure.message());
    }
    return folder / file.filename();
}

void saveProject(Document document, const fs::path &base, const fs::path &path, Progress &progress)
{
    const fs::path folder = fs::absolute(path).parent_path();
    for (CaptureEntry &capture : document.captures) {
        fs::path file = (base / capture.file).lexically_normal();
        if (isUnpacked(file)) file = copiedBeside(file, capture, fs::absolute(path), progress);
        capture.file = keptPath(file, folder);
    }
    saveDocument(document, path);
}

void packProject(const Document &document, const fs::path &base, const fs::path &path, Progress &progress)
{
    Document packed = document;
    AtomicFile file(path);
    int failure = 0;
    ZipArchive zip(zip_open(file.temporary().c_str(), ZIP_CREATE | ZIP_TRUNCATE, &failure));
    const auto check = [&](bool well) {
        if (!well)
            throw Error(path.string(), "cannot be packed: " + std::string(zip ? zip_strerror(zip.get()) : "no archive"),
                        "the file that was there is untouched");
    };
    check(zip != nullptr);
    const auto add = [&](zip_source_t *source, const std::string &name, bool text) {
        const zip_int64_t index = source ? zip_file_add(zip.get(), name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
        if (index < 0 && source) zip_source_free(source);
        check(index >= 0);
        // Samples are stored as they are: noise does not get smaller.
        check(zip_set_file_compression(zip.get(), zip_uint64_t(index), text ? ZIP_CM_DEFLATE : ZIP_CM_STORE, 0) == 0);
    };
    double bytes = 0;
    for (CaptureEntry &capture : packed.captures) {
        const fs::path from = base / capture.file;
        for (const fs::path &one : captureFiles(from)) {
            std::error_code missing;
            bytes += double(fs::file_size(one, missing));
            if (missing)
                throw Error(one.string(), "is not there, so capture \"" + capture.id + "\" cannot be packed",
                            "find it, or remove the capture");
            const auto head = MappedFile::open(one);
            const auto begin = head->bytes().first(std::min<std::size_t>(head->bytes().size(), 4096));
            const bool text = std::find(begin.begin(), begin.end(), std::byte(0)) == begin.end();
            add(zip_source_file(zip.get(), one.c_str(), 0, -1),
                "captures/" + capture.id + "/" + one.filename().string(), text);
        }
        capture.file = "captures/" + capture.id + "/" + from.filename().string();
    }
    const std::string text = documentText(packed);
    add(zip_source_buffer(zip.get(), text.data(), text.size(), 0), documentEntry, true);

    progress.expect(bytes);
    struct Told {
        Progress &progress;
        double bytes, done;
    } told{progress, bytes, 0};
    zip_register_progress_callback_with_state(
        zip.get(), 0.005,
        [](zip_t *, double fraction, void *state) {
            Told &t = *static_cast<Told *>(state);
            if (t.progress.cancelled()) return; // the other callback ends it
            t.progress.advance(fraction * t.bytes - std::exchange(t.done, fraction * t.bytes));
        },
        nullptr, &told);
    zip_register_cancel_callback_with_state(
        zip.get(), [](zip_t *, void *state) { return int(static_cast<Told *>(state)->progress.cancelled()); }, nullptr,
        &told);
    if (zip_close(zip.get()) != 0) {
        if (progress.cancelled()) throw Cancelled();
        check(false);
    }
    zip.release(); // closed
    file.commit();
}

} // namespace fulvex
