#pragma once

#include "results.h"
#include "results_json.h"

#include <string>

namespace fulvex {

/// A report that stands alone, as one HTML file: verdict, device, table, eyes with masks, distributions, how every
/// number was made, captures with fingerprints. Pictures are embedded. Needs a QGuiApplication (any platform).
std::string reportHtml(const Results &results, const ProjectFacts &facts);

/// The same as an A4 PDF. Throws Error; written whole or not at all.
void writeReportPdf(const Results &results, const ProjectFacts &facts, const std::string &path);

} // namespace fulvex
