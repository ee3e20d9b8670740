#include "row_set.h"

#include "field_json.h"

#include <algorithm>
#include <map>

namespace fulvex {

namespace {

std::vector<Field> fieldsOf(RowSet &set)
{
    return {{.key = "title", .always = true, .value = &set.title},
            {.key = "levels", .value = EntryList(EntryKind::levels, "levels", 1000, set.levels)},
            {.key = "measurements", .value = EntryList(EntryKind::measurement, "measurement", 5000, set.rows)}};
}

} // namespace

RowSet rowSetOf(const Document &document, const std::string &title, const std::vector<std::string> &ids)
{
    RowSet set{title, {}, {}};
    for (const MeasurementEntry &row : document.measurements) { // in their order
        if (std::find(ids.begin(), ids.end(), row.id) == ids.end()) continue;
        set.rows.push_back(row);
        set.rows.back().region.clear();
        const LevelsEntry *levels = findEntry(document.levels, row.levels);
        if (levels && !findEntry(set.levels, row.levels)) set.levels.push_back(*levels);
    }
    return set;
}

std::vector<std::string> layRowSet(Document &document, const RowSet &set, const std::string &channel,
                                   const Beside &beside)
{
    std::map<std::string, std::string> levels;
    for (const LevelsEntry &one : set.levels) {
        const LevelsEntry *known = findEntry(document.levels, one.id);
        levels[one.id] = one.id;
        if (known && *known == one) continue;
        LevelsEntry fresh = one;
        if (known) levels[one.id] = fresh.id = freeId(document, one.id);
        document.levels.push_back(fresh);
    }
    std::vector<std::string> added;
    for (const MeasurementEntry &one : set.rows) {
        MeasurementEntry row = one;
        if (!row.clock.empty() && (row.clock = beside.clock).empty()) continue;
        if (!row.eye.empty() && (row.eye = beside.eye).empty()) continue;
        if (!row.to.empty() && (row.to = beside.to).empty()) continue;
        if (!row.source.empty()) row.source = channel;
        if (const auto known = levels.find(row.levels); known != levels.end())
            row.levels = known->second;
        else if (row.levels != "default" && !findEntry(document.levels, row.levels))
            row.levels = "default";
        row.id = freeId(document, row.quantity);
        document.measurements.push_back(row);
        added.push_back(row.id);
    }
    return added;
}

std::string rowSetText(const RowSet &set)
{
    RowSet own = set, standard;
    return fieldsText("fulvex_rows", fieldsOf(own), fieldsOf(standard));
}

RowSet parseRowSet(const std::string &text, const std::string &name)
{
    RowSet set;
    readFieldsText(text, name, "fulvex_rows", "sets of rows", fieldsOf(set));
    return set;
}

} // namespace fulvex
