#pragma once

#include "progress.h"
#include "project_file.h"
#include "report_content.h"
#include "results.h"

#include <filesystem>
#include <functional>
#include <string>

namespace fulvex {

/// Makes a folder that an option names; nothing for no name. Throws Error.
void makeFolder(const std::string &folder, const char *option);

/// All files of a report, put in place together. What is named in results.json, which comes last, belongs to it.
/// `project`: as it was opened. `check` throws where the results are not to be believed any more.
void writeReport(const Results &results, const OpenedProject &project, const std::filesystem::path &out,
                 Progress &progress, const std::function<void()> &check);

/// A plan that was worked down: its report as HTML and PDF, and plan.json. `document`: a project that works it down so.
void writePlanReport(const ReportedPlan &plan, const Document &document, const std::filesystem::path &out,
                     Progress &progress);

/// The numbers alone, without pictures: quickly written again and again.
void writeNumbers(const Results &results, const OpenedProject &project, const std::filesystem::path &out);

/// The verdicts as JUnit XML; nothing for no file. Throws Error.
void writeJunit(const std::string &file, const Results &results);

} // namespace fulvex
