#include "row_figure.h"

#include "number_text.h"
#include "trace_figure.h"

#include <algorithm>

namespace fulvex {

RowFigure rowFigure(const Results &results, const std::string &measurementId, const QString &what, const QString &ofOne)
{
    RowFigure figure;
    figure.measurement = measurementId;
    const Row *row = findEntry(results.rows, measurementId);
    const MeasurementEntry *entry = findEntry(results.document->measurements, measurementId);
    if (!row && entry) {
        figure.empty = "Measuring…";
        return figure;
    }
    if (!row) {
        figure.title = what;
        figure.empty = "No quantity here yet: add one with Ctrl+Space.";
        return figure;
    }
    figure.title = text(row->title);
    figure.unit = row->unit;
    figure.facts = text(row->source + (entry && !entry->clock.empty() ? " · " + entry->clock : ""));
    figure.ink = inkOf(*results.document, row->source);
    if (row->pending)
        figure.facts +=
            row->share < 1
                ? QString(" · %1 of it so far, in parts").arg(text(quantityText(100 * row->share, "%", {}, 2)))
                : QString(" · being measured anew");
    if (!row->measurable()) {
        figure.empty = text(row->reason);
        return figure;
    }
    if (row->measured->single) {
        figure.empty =
            ofOne + ": " + text(quantityWithUncertainty(row->measured->value, row->unit, row->statistics.uncertainty));
        return figure;
    }
    const Statistics &s = row->statistics;
    figure.facts += QString(" · %1 values").arg(s.count);
    const std::optional<double> step = s.std && *s.std > 0 ? std::optional(*s.std / 20) : std::nullopt;
    figure.statistics << "mean " + text(quantityWithUncertainty(*s.mean, row->unit, s.uncertainty))
                      << "pp " + text(quantityText(*s.max - *s.min, row->unit, step));
    if (s.std) figure.statistics << "spread " + text(quantityText(*s.std, row->unit, *s.std / 100));
    return figure;
}

RowFigure rowsFigure(const Results &results, const std::vector<std::string> &measurementIds, const QString &what,
                     const QString &ofOne)
{
    RowFigure figure = rowFigure(results, measurementIds.empty() ? std::string() : measurementIds.front(), what, ofOne);
    std::vector<int> taken{figure.ink};
    for (std::size_t i = 1; i < measurementIds.size(); ++i) {
        const Row *row = findEntry(results.rows, measurementIds[i]);
        if (!row) continue;
        const QString name = text(row->title + " of " + row->source);
        if (!row->measurable() || row->measured->single) {
            figure.leftOut << name + (row->measurable() ? QString(": one number") : QString(": unmeasurable"));
        } else if (row->unit != figure.unit) {
            figure.leftOut << name + ": in " + text(row->unit);
        } else {
            int ink = inkOf(*results.document, row->source);
            while (std::find(taken.begin(), taken.end(), ink) != taken.end() && taken.size() < 8) ink = (ink + 1) % 8;
            taken.push_back(ink);
            figure.also.push_back({name, ink, row->measured});
        }
    }
    return figure;
}

} // namespace fulvex
