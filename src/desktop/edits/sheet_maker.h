#pragma once

#include "workbench.h"

#include <string>

namespace fulvex {

/// A new sheet that an action fills tile by tile and shows.
class SheetMaker {
public:
    /// Of the whole record, as far as it is known.
    SheetMaker(const Workbench &bench, const std::string &title);
    TileEntry &add(const std::string &kind, const std::string &of, int row, int column, int columns = 1);
    /// Appends it to the document, with ids that are free there; gives its place.
    int appendTo(Document &document, const std::string &wish);

private:
    SheetEntry m_sheet;
};

} // namespace fulvex
