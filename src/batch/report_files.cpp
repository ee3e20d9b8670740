#include "report_files.h"

#include "atomic_file.h"
#include "core_loop.h"
#include "error.h"
#include "fingerprint.h"
#include "junit_xml.h"
#include "report.h"
#include "results_json.h"
#include "spectrum_file.h"
#include "table_text.h"

namespace fulvex {

namespace fs = std::filesystem;

void makeFolder(const std::string &folder, const char *option)
{
    if (folder.empty()) return;
    std::error_code failure;
    fs::create_directories(folder, failure);
    if (failure) throw Error(folder, "cannot be made: " + failure.message(), std::string("give another ") + option);
}

void writeReport(const Results &results, const std::string &fingerprint, const fs::path &out, Progress &progress,
                 const std::function<void()> &check)
{
    ProjectFacts facts{fingerprint, utcNow()};
    FileSet set;
    const auto add = [&](const std::string &name, const std::string &content) {
        set.add(out / name).write(content);
        facts.files[name] = sha256(content);
    };
    add("measurements.csv", measurementsCsv(results));
    for (const SpectrumResult &spectrum : results.spectra) {
        if (const std::string csv = spectrumCsv(spectrum); !csv.empty()) add(spectrum.id + ".spectrum.csv", csv);
    }
    const ReportContent report = reportContent(results, facts, progress);
    std::string html, pdf;
    onAllCores(2, [&](std::int64_t which) {
        if (which == 0)
            html = reportHtml(report, progress);
        else
            pdf = reportPdf(report, progress);
    });
    add("report.html", html);
    add("report.pdf", pdf);
    set.add(out / "results.json").write(resultsJson(results, facts));
    check();
    set.commit();
}

void writeJunit(const std::string &file, const Results &results)
{
    if (!file.empty()) writeFileAtomically(file, junitXml(results));
}

} // namespace fulvex
