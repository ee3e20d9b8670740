#include "result_file.h"

#include "compared_json.h"
#include "engine.h"
#include "error.h"
#include "fulvex_version.h"
#include "mapped_file.h"
#include "named_files.h"
#include "program_folders.h"
#include "project_file.h"
#include "report_seal.h"
#include "run_gathering.h"

namespace fulvex {

namespace fs = std::filesystem;

namespace {

/// The numbers of a project now; of a run of all its captures that are there and can be read.
std::shared_ptr<const Results> resultsOf(const Document &document, const fs::path &base, const std::string &name,
                                         std::vector<std::string> &unread, Progress &progress)
{
    if (!hasRun(document)) {
        Engine engine(shareFolder() / "masks", 0);
        Results results = engine.evaluate(document, base, {.fingerprints = true}, progress);
        if (const std::string error = results.firstError(); !error.empty()) throw Error("", error);
        return std::make_shared<const Results>(std::move(results));
    }
    std::optional<Results> all = gathered(document, base, shareFolder() / "masks", progress, unread);
    if (!all) throw Error(name, "has no capture that can be read", "see which files \"captures\" names");
    return std::make_shared<const Results>(std::move(*all));
}

} // namespace

ResultFile readResult(const fs::path &file, Progress &progress)
{
    ResultFile read;
    std::error_code failure;
    constexpr std::uintmax_t most = 256 << 20; // bytes of a results.json
    if (const auto size = fs::file_size(file, failure); !failure && size <= most && !isPackedProject(file)) {
        const auto mapped = MappedFile::open(file);
        const std::string text(reinterpret_cast<const char *>(mapped->bytes().data()), mapped->bytes().size());
        if (isReport(text)) { // as it says, not as it would be now
            read.numbers = comparedOfJson(resultsInReport(text, file.string()), file.string());
            return read;
        }
        if (isResultsJson(text)) {
            read.numbers = comparedOfJson(text, file.string());
            return read;
        }
    }
    const OpenedProject project = openProject(file, progress);
    return computed(project.document, project.base, file.string(), progress);
}

ResultFile readBeside(const fs::path &file, const Document &document, const fs::path &base, Progress &progress)
{
    if (isResultName(file)) return readResult(file, progress);
    if (document.captures.empty())
        throw Error(file.string(), "is a capture, and the project has none that it could be measured as",
                    "name a project or its results");
    Document other = document;
    CaptureEntry &its = other.captures.front();
    its.file = fs::absolute(file).string();
    its.run = {};
    its.live = {};
    its.sha256.clear();
    its.bytes.reset();
    other.keptOut.clear(); // moments of another record
    return computed(other, base, file.string(), progress);
}

ResultFile computed(const Document &document, const fs::path &base, const std::string &name, Progress &progress)
{
    ResultFile read;
    read.results = resultsOf(document, base, name, read.unread, progress);
    read.numbers = comparedOf(*read.results, name, fulvexVersion);
    return read;
}

std::shared_ptr<const Comparison> laidBeside(const ResultFile &other, const Results &own)
{
    return std::make_shared<const Comparison>(compared(other.numbers, comparedOf(own, "this project", fulvexVersion)));
}

} // namespace fulvex
