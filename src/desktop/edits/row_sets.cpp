#include "row_sets.h"

#include "axis_painter.h"
#include "error.h"
#include "kept_files.h"
#include "measurement_edits.h"

#include <algorithm>

namespace fulvex {

std::vector<RowSet> keptRowSets()
{
    std::vector<RowSet> sets;
    for (const KeptFile &file : keptFiles("rows")) {
        try {
            sets.push_back(parseRowSet(file.text, file.name));
        } catch (const Error &) {
            continue;
        }
    }
    std::sort(sets.begin(), sets.end(), [](const RowSet &a, const RowSet &b) { return a.title < b.title; });
    return sets;
}

void keepRowSet(const RowSet &set)
{
    keepFile("rows", set.title, rowSetText(set));
}

void forgetRowSet(const std::string &title)
{
    forgetFile("rows", title);
}

void layOn(Workbench &bench, const RowSet &set, const std::string &channel)
{
    std::vector<std::string> added;
    const bool taken =
        bench.change(QObject::tr("lay %1 on %2").arg(text(set.title), text(channel)), [&](Document &document) {
            added = layRowSet(
                document, set, channel,
                {nearestClock(bench, channel), nearestEye(bench, channel), otherChannel(bench.document(), channel)});
        });
    if (!taken) return;
    if (!added.empty()) bench.select({Selection::Kind::measurement, added.front()});
    if (const std::size_t lacking = set.rows.size() - added.size())
        emit bench.failed(
            QObject::tr("%1 of the %2 rows of \"%3\" need a clock, an eye or a second channel that %4 does "
                        "not have: add it, then lay the set again")
                .arg(lacking)
                .arg(set.rows.size())
                .arg(text(set.title), text(channel)));
}

} // namespace fulvex
