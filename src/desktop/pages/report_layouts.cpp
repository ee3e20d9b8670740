#include "report_layouts.h"

#include "error.h"
#include "kept_files.h"

#include <algorithm>

namespace fulvex {

std::vector<ReportLayout> keptReportLayouts()
{
    std::vector<ReportLayout> layouts;
    for (const KeptFile &file : keptFiles("reports")) {
        try {
            layouts.push_back(parseReportLayout(file.text, file.name));
        } catch (const Error &) {
            continue;
        }
    }
    std::ranges::sort(layouts, {}, &ReportLayout::title);
    return layouts;
}

void keepReportLayout(const ReportLayout &layout)
{
    keepFile("reports", layout.title, reportLayoutText(layout));
}

void forgetReportLayout(const std::string &title)
{
    forgetFile("reports", title);
}

} // namespace fulvex
