#include "evidence_text.h"

#include "number_text.h"
#include "word_list.h"

#include <algorithm>

namespace fulvex {

std::string headingOf(const Evidence &evidence)
{
    const std::string count = std::to_string(evidence.count), all = std::to_string(evidence.all);
    switch (evidence.of) {
    case Evidence::Of::nothing:
    case Evidence::Of::findings:
        return evidence.title;
    case Evidence::Of::occurrences:
        if (evidence.all == 0) return evidence.title;
        return evidence.title + ": " + (evidence.count < evidence.all ? count + " of " : "") + all + ", " +
               evidence.order;
    case Evidence::Of::strongest:
        return evidence.title + (evidence.all == 0 ? "" : ": of " + all + " spans");
    case Evidence::Of::failures:
    case Evidence::Of::passes:
        return evidence.title + (evidence.all == 0 ? "" : ": " + count + " of " + all) +
               (evidence.pattern.empty() ? "" : " · in " + evidence.pattern) +
               (evidence.rhythm.empty() ? "" : " · " + evidence.rhythm);
    }
    return {};
}

namespace {

/// Of files, one behind the other, their own names.
std::string withoutFolders(const std::string &files)
{
    std::string names;
    for (std::size_t at = 0; at <= files.size();) {
        const std::size_t end = std::min(files.find(", ", at), files.size());
        const std::string one = files.substr(at, end - at);
        enlist(names, std::string_view(one).substr(one.rfind('/') + 1));
        at = end + 2;
    }
    return names;
}

bool namesCaptures(const Evidence &evidence)
{
    return std::any_of(evidence.items.begin(), evidence.items.end(),
                       [](const Evidence::Item &item) { return !item.place.capture.empty(); });
}

std::vector<std::string> columnsOfOne(const Evidence &evidence)
{
    switch (evidence.of) {
    case Evidence::Of::nothing:
        return {};
    case Evidence::Of::findings:
        return {"finding"};
    case Evidence::Of::occurrences:
        return {"moment", "value", "off the mean", "sigma"};
    case Evidence::Of::failures:
        if (evidence.atEdges || namesCaptures(evidence)) return {"moment", "area", "deepest"};
        return {"moment", "unit interval", "symbols", "area", "deepest"};
    case Evidence::Of::passes:
        if (evidence.atEdges) return {"moment", "value"};
        return {"moment", "unit interval", "symbols", "value"};
    case Evidence::Of::strongest:
        return {"moment", "lasts", "rms", "sigma"};
    }
    return {};
}

std::vector<std::string> cellsOfOne(const Evidence &evidence, const Evidence::Item &item)
{
    const bool whole = !item.place.capture.empty() && !(item.place.to > item.place.from); // a number of all of it
    const std::string moment = whole ? "—" : quantityText(item.time, "s", evidence.step);
    const std::string unitInterval = std::to_string(item.unitInterval);
    switch (evidence.of) {
    case Evidence::Of::nothing:
        return {};
    case Evidence::Of::findings:
        return {(item.warning ? "▲ " : "· ") + item.words};
    case Evidence::Of::occurrences: {
        const std::optional<double> digit = evidence.std > 0 ? std::optional(evidence.std / 20) : std::nullopt;
        const double off = item.value - evidence.mean;
        if (!item.keptOutBy.empty())
            return {moment, quantityText(item.value, evidence.unit, digit), "kept out: " + item.words, ""};
        return {moment, quantityText(item.value, evidence.unit, digit), quantityText(off, evidence.unit, digit),
                evidence.std > 0 ? fixedText(off / evidence.std, 1) : "—"};
    }
    case Evidence::Of::failures:
        if (evidence.atEdges || namesCaptures(evidence))
            return {moment, item.words, fixedText(item.value, 2) + " of area"};
        return {moment, unitInterval, item.symbols, item.words, fixedText(item.value, 2) + " of area"};
    case Evidence::Of::passes:
        if (evidence.atEdges) return {moment, quantityText(item.value, evidence.unit)};
        return {moment, unitInterval, item.symbols, quantityText(item.value, evidence.unit)};
    case Evidence::Of::strongest:
        return {moment, quantityText(item.place.to - item.place.from, "s", {}, 3),
                quantityText(item.value, evidence.unit),
                evidence.std > 0 ? fixedText((item.value - evidence.mean) / evidence.std, 1) : "—"};
    }
    return {};
}

} // namespace

std::vector<std::string> columnsOf(const Evidence &evidence)
{
    std::vector<std::string> columns = columnsOfOne(evidence);
    if (namesCaptures(evidence)) columns.insert(columns.begin() + 1, "capture");
    return columns;
}

std::vector<std::string> cellsOf(const Evidence &evidence, const Evidence::Item &item)
{
    std::vector<std::string> cells = cellsOfOne(evidence, item);
    if (namesCaptures(evidence)) cells.insert(cells.begin() + 1, withoutFolders(item.place.capture));
    return cells;
}

} // namespace fulvex
