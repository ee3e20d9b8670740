#include "formula_edits.h"

#include "axis_painter.h"

#include <algorithm>

namespace fulvex {

std::string addFormula(Workbench &bench, const std::string &formula)
{
    return bench.make(QObject::tr("add channel"), Selection::Kind::channel, [&](Document &document) {
        const std::string id = freeId(document, "link");
        document.channels.push_back({.id = id, .formula = formula});
        const int sheet = bench.sheet();
        if (std::size_t(sheet) >= document.sheets.size()) return id;
        auto &tiles = document.sheets[std::size_t(sheet)].tiles;
        const auto traces = std::ranges::find(tiles, "traces", &TileEntry::kind);
        if (traces != tiles.end()) traces->of.push_back(id);
        return id;
    });
}

std::string addParameter(Workbench &bench, ParameterEntry parameter)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("add parameter"), [&](Document &document) {
        parameter.id = id = freeId(document, parameter.id);
        document.parameters.push_back(parameter);
    });
    return taken ? id : std::string();
}

std::string addFunction(Workbench &bench)
{
    std::string id;
    const bool taken = bench.change(QObject::tr("add function"), [&](Document &document) {
        id = freeId(document, "own");
        document.functions.push_back({id, {"a"}, "a", {}});
    });
    return taken ? id : std::string();
}

void setParameter(Workbench &bench, const std::string &id, double value)
{
    bench.change(
        QObject::tr("set %1").arg(text(id)),
        [&](Document &document) {
            ParameterEntry *entry = findEntry(document.parameters, id);
            if (!entry) return;
            entry->value = value;
            if (entry->min) entry->min = std::min(*entry->min, value);
            if (entry->max) entry->max = std::max(*entry->max, value);
        },
        "parameter " + text(id));
}

} // namespace fulvex
