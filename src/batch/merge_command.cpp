#include "merge_command.h"

#include "part_file.h"
#include "plain_text.h"
#include "project_file.h"
#include "report_files.h"
#include "table_text.h"

#include <algorithm>
#include <cstdio>

namespace fulvex {

int merge(const MergeCommand &command)
{
    Progress progress;
    const OpenedProject project = openProject(command.project, progress);
    makeFolder(command.out, "--out");
    const MergedParts merged =
        mergedParts({command.parts.begin(), command.parts.end()}, project.document, command.repeated);
    for (const auto &part : merged.leftOut)
        std::fprintf(stderr, "left out: %s: all its captures are in another part\n", shownText(part.string()).c_str());
    const Results &results = merged.results;
    if (!command.part.empty()) writePart(command.part, results);
    if (!command.out.empty())
        writeReport(results, project, command.out, progress, [] {});
    else if (!command.quiet)
        std::fputs(terminalTable(results).c_str(), stdout);
    writeJunit(command.junit, results);
    const bool unread = std::any_of(results.captures.begin(), results.captures.end(),
                                    [](const CaptureResult &capture) { return !capture.error.empty(); });
    return results.anyFailed() || unread ? 1 : 0;
}

} // namespace fulvex
