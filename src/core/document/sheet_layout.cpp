#include "sheet_layout.h"

#include "entry_kinds.h"
#include "error.h"
#include "field_json.h"
#include "fields_check.h"

#include <algorithm>
#include <map>
#include <set>

namespace fulvex {

namespace {

std::vector<Field> fieldsOf(SheetLayout &layout)
{
    return {{.key = "title", .always = true, .value = &layout.title},
            {.key = "kinds", .letters = 1000, .value = &layout.kinds},
            {.key = "tiles", .value = EntryList(EntryKind::tile, "tile", 64, layout.tiles)}};
}

/// Ids of a kind in the document's order, those that are preferred first.
std::vector<std::string> allOf(const Document &document, EntryKind kind, const std::string &first)
{
    std::vector<std::string> ids;
    forEachEntry(document, [&](const EntryList &list, std::size_t index, const std::string &) {
        if (list.kind() == kind) ids.push_back(list.id(index));
    });
    std::ranges::stable_partition(ids, [&](const std::string &id) { return id == first; });
    return ids;
}

} // namespace

SheetLayout sheetLayoutOf(const Document &document, const SheetEntry &sheet, const std::string &title)
{
    SheetLayout layout{title, sheet.tiles, {}};
    const EntryIndex index(document);
    std::set<std::string> told;
    for (TileEntry &tile : layout.tiles) {
        tile.id.clear();
        tile.ranges.clear();
        tile.from.reset();
        tile.to.reset();
        tile.ownView = false;
        for (const std::string &of : tile.of)
            if (told.insert(of).second) layout.kinds.push_back(of + " " + kindWord(index.kindOf(of)));
    }
    return layout;
}

LaidSheet laidOut(const Document &document, const SheetLayout &layout,
                  const std::function<std::string(EntryKind)> &preferred)
{
    const EntryIndex index(document);
    std::map<std::string, std::string> known; // what stands for an id of the layout
    std::map<EntryKind, std::vector<std::string>> wanting;
    std::set<std::string> used;
    for (const std::string &named : layout.kinds) {
        const std::string id = named.substr(0, named.find(' '));
        const EntryKind kind = kindCalled(named.substr(std::min(named.size(), id.size() + 1)));
        if (kind == EntryKind::none) continue;
        if (index.kindOf(id) == kind) {
            known[id] = id;
            used.insert(id);
        } else {
            wanting[kind].push_back(id);
        }
    }
    for (const auto &[kind, ids] : wanting) {
        auto place = ids.begin();
        for (const std::string &free : allOf(document, kind, preferred(kind)))
            if (place != ids.end() && used.insert(free).second) known[*place++] = free;
    }
    LaidSheet made;
    made.sheet.title = layout.title;
    for (TileEntry tile : layout.tiles) {
        std::vector<std::string> of;
        for (const std::string &id : tile.of)
            if (const auto found = known.find(id); found != known.end()) of.push_back(found->second);
        // Traces show what there is of several channels; other tiles need all.
        const bool enough = tile.kind == "traces" ? !of.empty() : of.size() == tile.of.size();
        if (!enough && !tile.of.empty()) {
            ++made.missing;
            continue;
        }
        tile.of = std::move(of);
        made.sheet.tiles.push_back(std::move(tile));
    }
    return made;
}

std::string sheetLayoutText(const SheetLayout &layout)
{
    SheetLayout own = layout, standard;
    return fieldsText("fulvex_sheet", fieldsOf(own), fieldsOf(standard));
}

SheetLayout parseSheetLayout(const std::string &text, const std::string &name)
{
    SheetLayout layout;
    readFieldsText(text, name, "fulvex_sheet", "layouts of sheets", fieldsOf(layout));
    checkFields(fieldsOf(layout));
    return layout;
}

} // namespace fulvex
