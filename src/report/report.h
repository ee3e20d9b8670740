#pragma once

#include "report_content.h"

#include <string>

namespace fulvex {

/// A report that stands alone, as one HTML file: verdict, device, table, eyes with masks, distributions, how every
/// number was made, captures with fingerprints. Pictures are embedded. Needs a QGuiApplication (any platform).
/// Advances `progress` by each figure; throws Cancelled. From any thread.
std::string reportHtml(const ReportContent &content, Progress &progress);

/// The same as an A4 PDF: the bytes of the file.
std::string reportPdf(const ReportContent &content, Progress &progress);

} // namespace fulvex
