#pragma once

#include "report_entry.h"

#include <string>

namespace fulvex {

/// How reports are laid out, kept for other projects: paper, who and where, picture, parts; not what one project does
/// without.
struct ReportLayout {
    std::string title;
    ReportEntry entry;
    bool operator==(const ReportLayout &) const = default;
};

std::string reportLayoutText(const ReportLayout &layout);
/// Throws Error: `name`, the JSON path, what is wrong, what would mend it.
ReportLayout parseReportLayout(const std::string &text, const std::string &name);

/// Lays a report out as kept; what it does without stays.
void layOut(ReportEntry &entry, const ReportLayout &layout);

} // namespace fulvex
