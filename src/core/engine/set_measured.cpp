#include "set_measured.h"

#include "number_text.h"
#include "word_list.h"

namespace fulvex {

void setMeasured(Row &row, Measured measured)
{
    row.reason = measured.reason;
    Described described = measured.describe();
    row.statistics = std::move(described.statistics);
    row.histogram = std::move(described.histogram);
    row.measured = std::make_shared<const Measured>(std::move(measured));
    sayUncertainty(row);
}

void sayUncertainty(Row &row)
{
    std::erase_if(row.provenance, [](const auto &fact) { return fact.first == "uncertainty"; });
    std::string parts;
    for (const UncertaintyPart &part : row.statistics.parts) {
        if (part.value > 0) enlist(parts, std::string(part.from) + " " + quantityText(part.value, row.unit, {}, 2));
    }
    if (!parts.empty()) row.provenance.emplace_back("uncertainty", "of the mean, by " + parts);
}

} // namespace fulvex
