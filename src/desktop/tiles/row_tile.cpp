#include "row_tile.h"

#include "axis_painter.h"
#include "number_text.h"

namespace fulvex {

RecordSpan occurrenceOf(const Row &row, std::size_t index)
{
    const Population &all = row.measured->population;
    RecordSpan place{all.time(index), all.end(index), row.source};
    place.instants = {place.from};
    if (place.to > place.from) place.instants.push_back(place.to);
    const auto digit = row.statistics.std ? std::optional(*row.statistics.std / 20) : std::nullopt;
    place.words = quantityText(all.value[index], row.unit, digit);
    return place;
}

void RowTile::goToOccurrence(std::size_t index)
{
    const Row *row = bench().results() ? findEntry(bench().results()->rows, entryId()) : nullptr;
    if (row && index < row->measured->population.size()) bench().goTo(occurrenceOf(*row, index));
}

} // namespace fulvex
