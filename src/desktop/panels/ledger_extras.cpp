#include "ledger_extras.h"

#include "number_text.h"
#include "value_peaks.h"

namespace fulvex {

LedgerExtras LedgerExtras::of(const From &from)
{
    LedgerExtras extras;
    for (const Of &row : from.rows) {
        const Population &all = row.values->population;
        if (all.size() == 0) continue;
        const std::string unit = row.values->single ? row.values->momentsUnit : row.unit;
        if (from.medians) {
            const Statistics s = statisticsOf(all);
            extras.median[row.id] = quantityText(medianOf(all), unit, s.std && *s.std > 0 ? *s.std / 10 : 0);
        }
        if (!from.view) continue;
        const Statistics s = statisticsOf(within(all, from.view->first, from.view->second));
        extras.inView[row.id] =
            s.mean ? quantityWithUncertainty(*s.mean, unit, s.uncertainty) + " (" + std::to_string(s.count) + ")"
                   : "none";
    }
    return extras;
}

} // namespace fulvex
