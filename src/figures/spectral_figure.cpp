#include "spectral_figure.h"

#include "number_text.h"
#include "references.h"
#include "trace_figure.h"

namespace fulvex {

SpectralFigure spectralFigure(const Results &results, const TileEntry &tile, const SpectrumResult *&result)
{
    SpectralFigure figure;
    figure.tile = tile;
    figure.id = tile.of.empty() ? std::string() : tile.of.front();
    const SpectrumEntry *entry = findEntry(results.document->spectra, figure.id);
    result = findEntry(results.spectra, figure.id);
    if (!entry) {
        figure.empty = "Nothing here yet: choose a channel and add its spectrum with Ctrl+Space.";
        return figure;
    }
    figure.source = channelOf(*results.document, figure.id);
    figure.ink = inkOf(*results.document, figure.source);
    const Row *row = findEntry(results.rows, entry->row);
    figure.title = text((row ? row->title + " of " : std::string()) + figure.source +
                        (entry->to.empty() ? "" : " → " + entry->to));
    if (!result || (!result->made() && result->reason.empty())) {
        figure.empty = "Transforming…";
        result = nullptr;
        return figure;
    }
    figure.unit = result->unit;
    if (!result->made()) {
        figure.empty = text(result->reason);
        result = nullptr;
        return figure;
    }
    if (result->share < 1 && result->pending)
        figure.facts = QString("%1 of it so far, in parts").arg(text(quantityText(100 * result->share, "%", {}, 2)));
    else if (result->pending)
        figure.facts = "being made anew";
    if (!entry->region.empty()) figure.facts += (figure.facts.isEmpty() ? "" : " · ") + text(entry->region);
    return figure;
}

std::string decibelUnit(const std::string &unit)
{
    return unit == "V" ? "dBV" : unit.empty() ? "dB" : "dB re 1 " + unit;
}

void addFact(QString &facts, const QString &more)
{
    facts += (facts.isEmpty() ? "" : " · ") + more;
}

} // namespace fulvex
