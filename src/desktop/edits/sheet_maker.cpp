#include "sheet_maker.h"

#include <tuple>

namespace fulvex {

SheetMaker::SheetMaker(const Workbench &bench, const std::string &title)
{
    m_sheet.title = title;
    if (const auto whole = bench.record()) std::tie(m_sheet.from, m_sheet.to) = *whole;
}

TileEntry &SheetMaker::add(const std::string &kind, const std::string &of, int row, int column, int columns)
{
    m_sheet.tiles.push_back({.kind = kind, .of = {of}, .row = row, .column = column, .columnSpan = columns});
    return m_sheet.tiles.back();
}

int SheetMaker::appendTo(Document &document, const std::string &wish)
{
    m_sheet.id = freeId(document, wish);
    document.sheets.push_back(m_sheet);
    nameTiles(document);
    return int(document.sheets.size()) - 1;
}

} // namespace fulvex
