#include "report_files.h"

#include "atomic_file.h"
#include "core_loop.h"
#include "document_json.h"
#include "engine.h"
#include "error.h"
#include "fingerprint.h"
#include "junit_xml.h"
#include "plan_course.h"
#include "plan_json.h"
#include "program_folders.h"
#include "report.h"
#include "result_file.h"
#include "results_json.h"
#include "spectrum_file.h"
#include "table_text.h"

#include <algorithm>

namespace fulvex {

namespace fs = std::filesystem;

void makeFolder(const std::string &folder, const char *option)
{
    if (folder.empty()) return;
    std::error_code failure;
    fs::create_directories(folder, failure);
    if (failure) throw Error(folder, "cannot be made: " + failure.message(), std::string("give another ") + option);
}

namespace {

/// Files that come into being together. What is named in results.json, which comes last, belongs to it.
class ReportFiles {
public:
    ReportFiles(const Results &results, const OpenedProject &project, const fs::path &out)
        : m_results(results), m_out(out), m_facts{project.sha256, utcNow(), {}, project.document.captures}
    {
    }
    void add(const std::string &name, const std::string &content)
    {
        m_set.add(m_out / name).write(content);
        m_facts.files[name] = sha256(content);
    }
    void addPlans(const ReportMatter &matter) { m_facts.plans = planRecordsOf(matter); }
    void addNumbers()
    {
        add("measurements.csv", measurementsCsv(m_results));
        for (const SpectrumResult &spectrum : m_results.spectra) {
            if (const std::string csv = spectrumCsv(spectrum); !csv.empty()) add(spectrum.id + ".spectrum.csv", csv);
        }
    }
    const ProjectFacts &facts() const { return m_facts; }
    void commit(const std::function<void()> &check)
    {
        m_set.add(m_out / "results.json").write(resultsJson(m_results, m_facts));
        check();
        m_set.commit();
    }

private:
    const Results &m_results;
    fs::path m_out;
    ProjectFacts m_facts;
    FileSet m_set;
};

/// The plans and comparisons of a project, done and read now: what cannot be is told in its place.
void addSides(ReportMatter &matter, const OpenedProject &project, Progress &progress)
{
    const Document &document = project.document;
    const auto &parts = partsOf(document.report);
    const auto wanted = [&](const char *part, const std::string &id) {
        return std::ranges::count(parts, part) > 0 && std::ranges::count(document.report.without, id) == 0;
    };
    for (const PlanEntry &entry : document.plans) {
        if (!wanted("plans", entry.id)) continue;
        matter.plans.push_back({entry.id, nullptr, {}, {}, {}, {}});
        try {
            Engine engine(shareFolder() / "masks", 0);
            const fs::path file = (project.base / entry.file).lexically_normal();
            const std::string text = readTextFile(file);
            ReportedPlan &its = matter.plans.back();
            its.sha256 = sha256(text);
            its.folder = file.parent_path();
            its.plan = std::make_shared<const Plan>(parsePlan(text, file.string()));
            its.steps = workedDown(*its.plan, file.parent_path(), document, entry, project.base, engine, progress);
        } catch (const Error &error) {
            matter.plans.back().error = error.what();
        }
    }
    for (const ComparisonEntry &entry : document.comparisons) {
        if (!wanted("comparisons", entry.id)) continue;
        ReportedComparison one{entry.id, nullptr, nullptr, nullptr, {}};
        try {
            const ResultFile other =
                readBeside((project.base / entry.file).lexically_normal(), document, project.base, progress);
            const auto own = std::make_shared<const Results>(matter.results);
            one.found = laidBeside(other, *own);
            one.other = other.results;
            one.own = own;
        } catch (const Error &error) {
            one.error = error.what();
        }
        matter.comparisons.push_back(std::move(one));
    }
}

} // namespace

void writeReport(const Results &results, const OpenedProject &project, const fs::path &out, Progress &progress,
                 const std::function<void()> &check)
{
    ReportFiles files(results, project, out);
    files.addNumbers();
    ReportMatter matter{results, files.facts(), {}, {}};
    addSides(matter, project, progress);
    const ReportContent report = reportContent(matter, progress);
    files.addPlans(matter);
    std::string html, pdf;
    onAllCores(2, [&](std::int64_t which) {
        if (which == 0)
            html = reportHtml(report, progress);
        else
            pdf = reportPdf(report, progress);
    });
    files.add("report.html", html);
    files.add("report.pdf", pdf);
    files.commit(check);
}

void writePlanReport(const ReportedPlan &plan, const Document &document, const fs::path &out, Progress &progress)
{
    Results results; // of a document that has captures in its plan's steps alone
    results.document = std::make_shared<const Document>(document);
    const std::string made = utcNow();
    const ReportMatter matter{results, {sha256(documentText(document)), made, {}, {}, {}}, {plan}, {}};
    const ReportContent report = reportContent(matter, progress);
    FileSet files;
    files.add(out / "report.html").write(reportHtml(report, progress));
    files.add(out / "report.pdf").write(reportPdf(report, progress));
    files.add(out / "plan.json").write(planJson(*plan.plan, plan.steps, {plan.sha256, made}));
    files.commit();
}

void writeNumbers(const Results &results, const OpenedProject &project, const fs::path &out)
{
    ReportFiles files(results, project, out);
    files.addNumbers();
    files.commit([] {});
}

void writeJunit(const std::string &file, const Results &results)
{
    if (!file.empty()) writeFileAtomically(file, junitXml(results));
}

} // namespace fulvex
