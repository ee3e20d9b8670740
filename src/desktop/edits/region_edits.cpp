#include "region_edits.h"

#include <algorithm>

namespace fulvex {

std::string addRegion(Workbench &bench, double from, double to)
{
    std::string id;
    bench.change(QObject::tr("add region"), [&](Document &document) {
        id = freeId(document, "region");
        document.regions.push_back({id, from, to});
    });
    return id;
}

void windowEye(Workbench &bench, const std::string &id)
{
    const auto record = bench.record();
    const EyeEntry *eye = findEntry(bench.document().eyes, id);
    const ChannelResult *of = eye && bench.results() ? findEntry(bench.results()->channels, eye->source) : nullptr;
    if (!record || !of || !of->source) return;
    constexpr double soon = 1e6; // samples, which are folded as fast as a window is moved
    const TimeAxis &axis = of->source->axis();
    const double length = std::min((record->second - record->first) / 10, soon * axis.interval);
    bench.make(QObject::tr("fold a window"), Selection::Kind::region, [&](Document &document) {
        const double start =
            std::clamp(bench.viewFrom() - length / 2, record->first, std::max(record->first, record->second - length));
        const std::string made = freeId(document, "window");
        document.regions.push_back({made, start, start + length});
        findEntry(document.eyes, id)->region = made;
        return made;
    });
}

} // namespace fulvex
