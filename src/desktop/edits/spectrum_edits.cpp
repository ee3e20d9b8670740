#include "spectrum_edits.h"

#include "axis_painter.h"
#include "formula_edits.h"
#include "tile_edits.h"

#include <algorithm>

namespace fulvex {

static std::string addSpectral(Workbench &bench, SpectrumEntry entry)
{
    return bench.make(QObject::tr("add %1").arg(text(entry.kind)), Selection::Kind::spectrum, [&](Document &document) {
        entry.id = freeId(document, entry.kind);
        document.spectra.push_back(entry);
        addTile(document, bench.sheet(),
                {.kind = entry.kind == "spectrum" ? "channel_spectrum" : entry.kind, .of = {entry.id}});
        return entry.id;
    });
}

std::string addSpectrum(Workbench &bench, const std::string &kind, const std::string &channel, const std::string &to)
{
    return addSpectral(bench, {.kind = kind, .source = channel, .to = to});
}

std::string addTransferToRow(Workbench &bench, const std::string &channel, const std::string &row)
{
    const std::string formula = "trend(" + row + ")";
    const auto &channels = bench.document().channels;
    const auto known = std::find_if(channels.begin(), channels.end(),
                                    [&](const ChannelEntry &entry) { return entry.formula == formula; });
    const std::string trend = known == channels.end() ? addFormula(bench, formula) : known->id;
    return trend.empty() ? std::string() : addSpectrum(bench, "transfer", channel, trend);
}

std::string addSpectrumOfRow(Workbench &bench, const std::string &row)
{
    return addSpectral(bench, {.row = row});
}

} // namespace fulvex
