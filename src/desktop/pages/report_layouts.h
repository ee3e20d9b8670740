#pragma once

#include "report_layout.h"

#include <vector>

namespace fulvex {

/// Layouts of reports that the user kept, by title; a file that cannot be read is passed over.
std::vector<ReportLayout> keptReportLayouts();
/// Throws Error.
void keepReportLayout(const ReportLayout &layout);
void forgetReportLayout(const std::string &title);

} // namespace fulvex
