#include "run_entries.h"

#include "references.h"

#include <algorithm>

namespace fulvex {

std::vector<std::string> variedCaptures(const Document &document)
{
    std::vector<std::string> varied;
    for (const CaptureEntry &capture : document.captures)
        if (capture.isRun()) varied.push_back(capture.id);
    return varied;
}

std::set<std::string> sameEachTime(const Document &document, const std::vector<std::string> &varied)
{
    std::set<std::string> same;
    const auto isVaried = [&](const std::string &id) { return std::ranges::find(varied, id) != varied.end(); };
    if (varied.empty() || std::ranges::all_of(document.captures, isVaried, &CaptureEntry::id)) return same;
    const EntryIndex entries(document);
    const auto look = [&](const auto &list) {
        for (const auto &entry : list)
            if (std::ranges::none_of(allBehind(entries, entry.id), isVaried)) same.insert(entry.id);
    };
    look(document.channels);
    look(document.clocks);
    look(document.eyes);
    look(document.masks);
    look(document.measurements);
    look(document.spectra);
    look(document.budgets);
    look(document.phaseNoise);
    return same;
}

} // namespace fulvex
