#include "part_file.h"

#include "atomic_file.h"
#include "engine.h"
#include "fingerprint.h"
#include "mapped_file.h"
#include "part_contents.h"

#include <algorithm>
#include <map>
#include <optional>

namespace fulvex {

namespace {

constexpr std::string_view heading = "fulvex part 4\n";
constexpr std::size_t hashSize = 64; ///< SHA-256 in hexadecimal

} // namespace

template <typename Result, typename Entry>
static bool areOf(const std::vector<Result> &results, const std::vector<Entry> &entries)
{
    return std::equal(results.begin(), results.end(), entries.begin(), entries.end(),
                      [](const Result &result, const Entry &entry) { return result.id == entry.id; });
}

std::string identityOf(const Document &document, Alike alike)
{
    Document plain = document;
    for (CaptureEntry &capture : plain.captures) {
        capture.file = "-";
        capture.sha256.clear();
        capture.bytes.reset();
        if (capture.import.segment) capture.import.segment = 0;
    }
    return sha256(computingText(fieldsOf(std::as_const(plain)), alike));
}

void writePart(const std::filesystem::path &path, const Results &results)
{
    PartWriter body;
    std::string identity = identityOf(*results.document);
    Results &own = const_cast<Results &>(results); // which a writer does not change
    body(identity, own.counted, own);
    writeFileAtomically(path, std::string(heading) + sha256(body.bytes()) + "\n" + body.bytes());
}

namespace {

/// A part's file and what stands behind its heading.
struct OpenPart {
    std::shared_ptr<const MappedFile> file;
    std::string_view hash, body;
};

OpenPart openPart(const std::filesystem::path &path)
{
    OpenPart part;
    part.file = MappedFile::open(path);
    const std::string_view all(reinterpret_cast<const char *>(part.file->bytes().data()), part.file->bytes().size());
    if (!all.starts_with(heading))
        throw Error(path.string(), "is no part that this program wrote", "give files of --partial");
    if (all.size() < heading.size() + hashSize + 1) throw Error(path.string(), "ends too soon", "make the part anew");
    part.hash = all.substr(heading.size(), hashSize);
    part.body = all.substr(heading.size() + hashSize + 1);
    return part;
}

std::vector<CountedCapture> takeCaptures(PartReader &body, const std::string &where, const Document &document)
{
    std::string identity;
    std::vector<CountedCapture> counted;
    body(identity);
    if (identity != identityOf(document))
        throw Error(where, "was made of another project, or another state of this one",
                    "make all parts by one project");
    body(counted);
    body.need(!counted.empty(), "does not name its captures");
    return counted;
}

} // namespace

std::vector<CountedCapture> capturesOfPart(const std::filesystem::path &path, const Document &document)
{
    const OpenPart part = openPart(path);
    PartReader body(part.body, path.string());
    return takeCaptures(body, path.string(), document);
}

Results readPart(const std::filesystem::path &path, const Document &document)
{
    const OpenPart part = openPart(path);
    const std::string where = path.string();
    if (sha256(part.body) != part.hash) throw Error(where, "is damaged: its SHA-256 is another one", "make it anew");
    PartReader body(part.body, where);
    Results results;
    results.counted = takeCaptures(body, where, document);
    body(results);
    body.need(body.atEnd(), "goes on");
    body.need(areOf(results.channels, document.channels) && areOf(results.clocks, document.clocks) &&
                  areOf(results.rows, document.measurements) && areOf(results.eyes, document.eyes) &&
                  areOf(results.masks, document.masks) && areOf(results.spectra, document.spectra) &&
                  areOf(results.budgets, document.budgets) && areOf(results.phaseNoise, document.phaseNoise),
              "holds other entries than the project");
    body.need(std::ranges::all_of(results.varied,
                                  [&](const std::string &id) { return findEntry(document.captures, id) != nullptr; }),
              "names a capture that the project does not have");
    if (const std::string why = part.file->disturbance(); !why.empty()) throw Error(where, why, "read it again");
    results.document = std::make_shared<const Document>(document);
    return results;
}

/// Eyes add up cell by cell and symbol by symbol.
static void needAlike(const Results &part, const Results &other, const std::string &name, const std::string &its)
{
    for (std::size_t i = 0; i < part.eyes.size(); ++i) {
        const EyeFold *a = part.eyes[i].fold.get(), *b = other.eyes[i].fold.get();
        if (!a || !b) continue;
        const bool alike = a->picture.columns == b->picture.columns && a->picture.across == b->picture.across &&
                           a->sum.levels.size() == b->sum.levels.size();
        if (!alike) throw Error(name, "has an eye unlike that of " + its + ": " + part.eyes[i].id, "make it anew");
    }
}

/// Which of the parts count: those of more captures first, so that what another one holds as well is known by then.
static std::vector<std::filesystem::path> chosenOf(const std::vector<std::filesystem::path> &parts,
                                                   const Document &document, MergedParts &merged)
{
    using Held = std::pair<std::filesystem::path, std::vector<CountedCapture>>;
    std::vector<Held> held;
    for (const auto &part : parts) held.emplace_back(part, capturesOfPart(part, document));
    std::stable_sort(held.begin(), held.end(),
                     [](const Held &a, const Held &b) { return a.second.size() > b.second.size(); });
    std::map<std::string, std::filesystem::path> known; // by fingerprint
    std::vector<std::filesystem::path> chosen;
    for (const auto &[part, captures] : held) {
        const auto isKnown = [&](const CountedCapture &one) { return known.contains(one.fingerprint); };
        const auto both = std::find_if(captures.begin(), captures.end(), isKnown);
        if (both == captures.end()) {
            for (const CountedCapture &one : captures) known.emplace(one.fingerprint, part);
            chosen.push_back(part);
        } else if (std::all_of(captures.begin(), captures.end(), isKnown)) {
            merged.leftOut.push_back(part);
        } else {
            throw Error(part.string(),
                        "holds a capture that " + known[both->fingerprint].string() +
                            " holds as well, beside others: " + both->name,
                        "make one of the two anew without it");
        }
    }
    return chosen;
}

MergedParts mergedParts(const std::vector<std::filesystem::path> &parts, const Document &document, bool repeated)
{
    MergedParts merged;
    RunTally tally;
    std::optional<Results> first; // that the others have to fit
    std::string name;
    for (const auto &path : repeated ? parts : chosenOf(parts, document, merged)) {
        Results part = readPart(path, document);
        if (first)
            needAlike(part, *first, path.string(), name);
        else
            first = part, name = path.string();
        tally.add(std::move(part));
    }
    merged.results = tally.results();
    return merged;
}

} // namespace fulvex
