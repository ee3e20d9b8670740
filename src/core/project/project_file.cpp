#include "project_file.h"

#include "atomic_file.h"
#include "capture_reader.h"
#include "document_json.h"
#include "fingerprint.h"
#include "moved_captures.h"
#include "named_files.h"
#include "process_tag.h"
#include "references.h"
#include "report_document.h"
#include "report_seal.h"
#include "run_members.h"
#include "unpacked_project.h"
#include "zip_archive.h"

#include <algorithm>
#include <functional>
#include <map>
#include <ranges>
#include <set>
#include <utility>

namespace fulvex {

namespace fs = std::filesystem;

bool isPackedProject(const fs::path &path)
{
    return looksLikeZip(MappedFile::open(path)->bytes());
}

std::string projectStamp(const fs::path &path)
{
    std::error_code failure;
    if (!fs::exists(path, failure)) return {};
    // A packed one may be of any size; a document is looked at itself, so that touching it is no change.
    return isPackedProject(path) ? identityOf(path).text() : sha256(readTextFile(path));
}

namespace {

/// An entry's own, and those of its run as it names them.
std::vector<std::string> filesNamed(const CaptureEntry &capture)
{
    std::vector<std::string> files = capture.run.files;
    if (!capture.file.empty()) files.insert(files.begin(), capture.file);
    return files;
}

/// The same files by other names.
void renameFiles(CaptureEntry &capture, const std::function<std::string(const std::string &)> &name)
{
    if (!capture.file.empty()) capture.file = name(capture.file);
    for (std::string &file : capture.run.files) file = name(file);
    Reasons leftOut;
    for (const auto &[file, why] : capture.run.leftOut) leftOut[name(file)] = why;
    capture.run.leftOut = std::move(leftOut);
}

/// Whoever made a pack could name any file of its reader's.
void checkInside(const Document &document, const std::string &pack)
{
    const auto check = [&](const std::string &where, const std::string &file) {
        if (leadsOut(file))
            throw NeedsConsent(Error(pack + ": " + where,
                                     "names a file that does not lie in the pack, \"" + file + "\"",
                                     "open it in the desktop, which asks, or pack the project again with its captures"),
                               {.outside = true});
    };
    for (std::size_t i = 0; i < document.captures.size(); ++i)
        for (const std::string &file : filesNamed(document.captures[i]))
            check("captures[" + std::to_string(i) + "].file", file);
    Document named = document;
    renameNamedFiles(named, {}, [&](const NamedFile &file) {
        check(file.where, file.name);
        return file.name;
    });
}

bool holdSame(const fs::path &first, const fs::path &second, Progress &progress)
{
    std::error_code failure;
    if (!fs::exists(second, failure)) return false;
    const auto a = MappedFile::open(first), b = MappedFile::open(second);
    if (a->bytes().size() != b->bytes().size()) return false;
    constexpr std::size_t piece = 4 << 20;
    for (std::size_t at = 0; at < a->bytes().size(); at += piece) {
        const auto part = [&](const MappedFile &file) {
            return file.bytes().subspan(at, std::min(piece, file.bytes().size() - at));
        };
        if (!std::ranges::equal(part(*a), part(*b))) return false;
        a->release(part(*a));
        b->release(part(*b));
        progress.advance(0);
    }
    return true;
}

void copyWhole(const fs::path &from, const fs::path &to, Progress &progress)
{
    const auto source = MappedFile::open(from);
    AtomicFile file(to);
    constexpr std::size_t piece = 4 << 20;
    progress.expect(double(source->bytes().size()));
    for (std::size_t at = 0; at < source->bytes().size(); at += piece) {
        const auto part = source->bytes().subspan(at, std::min(piece, source->bytes().size() - at));
        file.write({reinterpret_cast<const char *>(part.data()), part.size()});
        source->release(part);
        progress.advance(double(part.size()));
    }
    if (const std::string why = source->disturbance(); !why.empty()) throw Error(from.string(), why, "save again");
    file.commit();
}

/// Copies what a packed project was unpacked to, so that it lies where nobody cleans up: into a folder of `wish`'s name
/// in which nothing else has these names. What was saved before is never written over: somebody may be reading it.
fs::path copiedBeside(const fs::path &file, const std::vector<fs::path> &files, const fs::path &wish,
                      Progress &progress)
{
    for (int number = 1;; ++number) {
        const fs::path folder = number == 1 ? wish : fs::path(wish.string() + "-" + std::to_string(number));
        std::error_code failure;
        const auto placeOf = [&](const fs::path &one) { return folder / one.lexically_relative(file.parent_path()); };
        const bool free = std::all_of(files.begin(), files.end(), [&](const fs::path &one) {
            return !fs::exists(placeOf(one), failure) || holdSame(one, placeOf(one), progress);
        });
        if (!free) continue;
        for (const fs::path &one : files) {
            fs::create_directories(placeOf(one).parent_path(), failure);
            if (!fs::exists(placeOf(one), failure)) copyWhole(one, placeOf(one), progress);
        }
        return folder / file.filename();
    }
}

/// All that goes with a file that a document names.
std::vector<fs::path> filesOf(const NamedFile &named, const fs::path &file)
{
    const bool capture = named.kind == NamedFile::Kind::comparison && !isResultName(file);
    if (capture || named.kind == NamedFile::Kind::attempt) return captureFiles(file);
    std::vector<fs::path> files{file};
    if (named.kind == NamedFile::Kind::plan)
        for (const std::string &beside : filesBesidePlan(file))
            if (std::error_code failure; fs::is_regular_file(file.parent_path() / beside, failure))
                files.push_back(file.parent_path() / beside);
    return files;
}

/// A document that lies beside its captures, and no report, results or pack.
bool isPlainProject(const fs::path &file)
{
    return file.extension() == ".fulvex" && !isPackedProject(file);
}

} // namespace

OpenedProject openProject(const fs::path &path, Progress &progress, PackConsent consent)
{
    OpenedProject opened;
    opened.packed = isPackedProject(path);
    opened.stamp = projectStamp(path);
    fs::path document = path;
    std::error_code failure;
    opened.base = fs::absolute(path, failure).parent_path();
    if (opened.packed) {
        opened.base = unpackedFolder(path, consent, progress);
        document = opened.base / packedDocument;
    }
    const std::string text = readTextFile(document);
    opened.sha256 = sha256(text);
    opened.fromReport = !opened.packed && isReport(text);
    opened.document = opened.fromReport ? documentOfReport(text, path.string()) : parseDocument(text, path.string());
    if (opened.packed && !consent.outside) checkInside(opened.document, path.string());
    for (CaptureEntry &capture : opened.document.captures) {
        if (!capture.file.empty()) continue;
        const std::vector<std::string> files = namedFiles(capture.run.files, opened.base);
        if (!files.empty()) capture.file = files.front();
    }
    return opened;
}

std::string saveProject(Document document, const fs::path &base, const fs::path &path, Progress &progress)
{
    std::error_code failure;
    const fs::path project = fs::absolute(path, failure), folder = project.parent_path();
    const fs::path beside = folder / (project.stem().string() + "-captures");
    for (CaptureEntry &capture : document.captures) {
        renameFiles(capture, [&](const std::string &name) {
            fs::path file = (base / name).lexically_normal();
            if (isUnpacked(file)) file = copiedBeside(file, captureFiles(file), beside / capture.id, progress);
            return keptPath(file, folder);
        });
        if (capture.live.address.empty()) continue;
        capture.live.folder = keptPath((base / capture.live.folder).lexically_normal(), folder);
        if (capture.live.dialect.find('/') != std::string::npos || capture.live.dialect.ends_with(".json"))
            capture.live.dialect = keptPath((base / capture.live.dialect).lexically_normal(), folder);
    }
    renameNamedFiles(document, base, [&](const NamedFile &named) {
        fs::path file = (base / named.name).lexically_normal();
        const bool there = fs::is_regular_file(file, failure);
        if (isUnpacked(file) && !there) return named.name;
        if (isUnpacked(file)) file = copiedBeside(file, filesOf(named, file), beside / named.folder, progress);
        return keptPath(file, folder);
    });
    const std::string text = documentText(document);
    writeFileAtomically(path, text);
    return sha256(text);
}

namespace {

/// An archive in the making. The files that go into it stay mapped until it is written.
class Packer {
public:
    explicit Packer(const fs::path &path) : m_path(path), m_file(path)
    {
        int failure = 0;
        m_zip.reset(zip_open(m_file.temporary().c_str(), ZIP_CREATE | ZIP_TRUNCATE, &failure));
        check(m_zip != nullptr);
    }
    void add(const fs::path &from, const std::string &name)
    {
        const auto file = MappedFile::open(from);
        const auto begin = file->bytes().first(std::min<std::size_t>(file->bytes().size(), 4096));
        const bool text = std::find(begin.begin(), begin.end(), std::byte(0)) == begin.end();
        add(file->bytes().data(), file->bytes().size(), name, text);
        m_files.push_back(file);
    }
    void add(const std::string &text, const std::string &name) { add(text.data(), text.size(), name, true); }
    void add(std::shared_ptr<const MappedFile> file, const std::string &name)
    {
        add(file->bytes().data(), file->bytes().size(), name, false);
        m_files.push_back(std::move(file));
    }
    void close(Progress &progress)
    {
        struct Told {
            Progress &progress;
            double bytes, done;
        } told{progress, m_bytes, 0};
        progress.expect(m_bytes);
        zip_register_progress_callback_with_state(
            m_zip.get(), 0.005,
            [](zip_t *, double fraction, void *state) { // no throw may pass through the library
                Told &t = *static_cast<Told *>(state);
                t.progress.count(fraction * t.bytes - std::exchange(t.done, fraction * t.bytes));
            },
            nullptr, &told);
        zip_register_cancel_callback_with_state(
            m_zip.get(), [](zip_t *, void *state) { return int(static_cast<Told *>(state)->progress.cancelled()); },
            nullptr, &told);
        if (zip_close(m_zip.get()) != 0) {
            if (progress.cancelled()) throw Cancelled();
            check(false);
        }
        (void)m_zip.release(); // closed
        for (const auto &file : m_files) {
            if (const std::string why = file->disturbance(); !why.empty())
                throw Error(file->path().string(), why, "pack again when it is written");
        }
        m_file.commit();
    }

private:
    void check(bool well)
    {
        if (!well)
            throw Error(m_path.string(),
                        "cannot be packed: " + std::string(m_zip ? zip_strerror(m_zip.get()) : "no archive"),
                        "the file that was there is untouched");
    }
    void add(const void *data, std::size_t size, const std::string &name, bool text)
    {
        zip_source_t *source = zip_source_buffer(m_zip.get(), data, size, 0);
        const zip_int64_t index = source ? zip_file_add(m_zip.get(), name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
        if (index < 0 && source) zip_source_free(source);
        check(index >= 0);
        // Samples are stored as they are: noise does not get smaller.
        check(zip_set_file_compression(m_zip.get(), zip_uint64_t(index), text ? ZIP_CM_DEFLATE : ZIP_CM_STORE, 0) == 0);
        m_bytes += double(size);
    }
    fs::path m_path;
    AtomicFile m_file;
    ZipArchive m_zip;
    std::vector<std::shared_ptr<const MappedFile>> m_files;
    double m_bytes = 0;
};

/// Another project with its captures, packed on its own: to be laid beside, so what it is laid beside itself stays.
/// `near`: where there is room for it until the archive that it goes into is written.
std::shared_ptr<const MappedFile> packedAlone(const fs::path &project, const fs::path &near, Progress &progress)
{
    OpenedProject other = openProject(project, progress);
    while (!other.document.comparisons.empty())
        removeWithDependents(other.document, std::string(other.document.comparisons.front().id));
    const fs::path file = near.string() + "." + processTag() + ".part";
    packProject(other.document, other.base, file, progress);
    auto mapped = MappedFile::open(file);
    std::error_code failure;
    fs::remove(file, failure); // it is mapped
    return mapped;
}

} // namespace

std::string packProject(const Document &document, const fs::path &base, const fs::path &path, Progress &progress)
{
    Document packed = document;
    Packer packer(path);
    for (CaptureEntry &capture : packed.captures) {
        capture.run.files = namedFiles(capture.run.files, base); // as they are now, each
        std::erase_if(capture.run.leftOut, [&](const auto &one) {
            return std::ranges::find(capture.run.files, one.first) == capture.run.files.end();
        });
        std::map<std::string, std::string> places;
        std::set<std::string> taken;
        renameFiles(capture, [&](const std::string &name) {
            const auto [place, fresh] = places.emplace(name, "");
            if (!fresh) return place->second;
            const fs::path from = base / name;
            std::string folder = "captures/" + capture.id + "/";
            for (int number = 2; !taken.insert(folder + from.stem().string()).second; ++number)
                folder = "captures/" + capture.id + "/" + std::to_string(number) + "/";
            for (const fs::path &one : captureFiles(from)) {
                std::error_code failure;
                if (!fs::exists(one, failure))
                    throw Error(one.string(), "is not there, so capture \"" + capture.id + "\" cannot be packed",
                                "find it, or remove the capture");
                packer.add(one, folder + one.filename().string());
            }
            return place->second = folder + from.filename().string();
        });
    }
    renameNamedFiles(packed, base, [&](const NamedFile &named) {
        const fs::path from = (base / named.name).lexically_normal();
        std::error_code failure;
        const bool there = fs::is_regular_file(from, failure);
        if (!there && named.kind == NamedFile::Kind::attempt) // what was found then is kept in words
            return leadsOut(named.name) ? from.filename().string() : named.name;
        if (!there)
            throw Error(from.string(), "is not there, so " + named.what + " cannot be packed",
                        "put it back, or remove that");
        if (named.kind == NamedFile::Kind::comparison && isPlainProject(from)) {
            const std::string name = named.folder + "/" + from.stem().string() + packedEnding;
            packer.add(packedAlone(from, path, progress), name);
            return name;
        }
        for (const fs::path &one : filesOf(named, from))
            packer.add(one, named.folder + "/" + one.lexically_relative(from.parent_path()).string());
        return named.folder + "/" + from.filename().string();
    });
    const std::string text = documentText(packed);
    packer.add(text, packedDocument);
    packer.close(progress);
    return sha256(text);
}

} // namespace fulvex
