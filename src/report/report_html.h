#pragma once

#include "progress.h"
#include "results.h"
#include "results_json.h"

#include <set>
#include <string>

namespace fulvex {

/// A report that stands alone, as one HTML file: verdict, device, table, eyes with masks, distributions, how every
/// number was made, captures with fingerprints. Pictures are embedded. Needs a QGuiApplication (any platform).
/// Advances `progress` by each figure. From any thread.
std::string reportHtml(const Results &results, const ProjectFacts &facts, Progress &progress);

/// The same as an A4 PDF: the bytes of the file.
std::string reportPdf(const Results &results, const ProjectFacts &facts, Progress &progress);

/// Ids of the channels whose traces a report shows, which pyramids are needed of (Engine::Options::traces).
std::set<std::string> tracesInReport(const Document &document);

} // namespace fulvex
