#include "symbol_row.h"

#include "clock_symbols.h"

namespace fulvex {

SymbolRow SymbolRow::of(const From &from)
{
    Progress unheard;
    return {from.unitIntervals, symbolsOf(*from.samples, from.by->map, from.unitIntervals, from.thresholds, unheard)};
}

} // namespace fulvex
