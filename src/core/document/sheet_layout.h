#pragma once

#include "document.h"

#include <functional>

namespace fulvex {

/// The tiles of a sheet, kept for other projects: what each shows is found there by its kind and name.
struct SheetLayout {
    std::string title;
    std::vector<TileEntry> tiles;
    std::vector<std::string> kinds; ///< of what tiles show: "link channel", "eye eye"
    bool operator==(const SheetLayout &) const = default;
};

/// Without views and scales, which belong to one record.
SheetLayout sheetLayoutOf(const Document &document, const SheetEntry &sheet, const std::string &title);

/// The layout's tiles for a document. What has the same name and kind is shown; else the first entries of that kind,
/// those that `preferred` names first, as long as there are any. A tile without is left out: `missing` counts them.
struct LaidSheet {
    SheetEntry sheet;
    int missing = 0;
};
LaidSheet laidOut(const Document &document, const SheetLayout &layout,
                  const std::function<std::string(EntryKind)> &preferred);

/// As a file of ours. Throws Error.
std::string sheetLayoutText(const SheetLayout &layout);
SheetLayout parseSheetLayout(const std::string &text, const std::string &name);

} // namespace fulvex
