#include "comparison_edits.h"

#include "axis_painter.h"
#include "sheet_maker.h"
#include "tile_edits.h"

#include <QFileInfo>
#include <algorithm>

namespace fulvex {

namespace {

/// Of what a spectrum is worth seeing: one that is there, phase noise, or how errors of a clock go.
std::string curveOf(const Document &document)
{
    if (!document.phaseNoise.empty()) return document.phaseNoise.front().id;
    for (const SpectrumEntry &entry : document.spectra)
        if (entry.kind == "spectrum") return entry.id;
    for (const MeasurementEntry &row : document.measurements)
        if (row.quantity == "time_interval_error") return row.id;
    return {};
}

} // namespace

void layBeside(Workbench &bench, const QString &file)
{
    const std::string comparison = bench.compareWith(file);
    if (comparison.empty()) return;
    const auto &sheets = bench.document().sheets;
    const auto own = std::ranges::find_if(sheets, [&](const SheetEntry &sheet) {
        return std::ranges::any_of(sheet.tiles, [&](const TileEntry &tile) {
            return tile.kind == "compared_settings" && !tile.of.empty() && tile.of.front() == comparison;
        });
    });
    if (own != sheets.end()) return bench.showSheet(int(own - sheets.begin()));
    const Document &document = bench.document();
    const std::string eye = document.eyes.empty() ? std::string() : document.eyes.front().id, curve = curveOf(document);
    SheetMaker maker(bench, "Beside " + QFileInfo(file).completeBaseName().toStdString());
    constexpr int settings = 7, numbers = 8, pictures = 6; // rows of the grid
    maker.add("compared_settings", comparison, 0, 0, 2).rowSpan = settings;
    maker.add("compared_numbers", comparison, settings, 0, 2).rowSpan = numbers;
    const auto addPicture = [&](const char *kind, const std::string &id, int column, int columns) {
        TileEntry &tile = maker.add(kind, comparison, settings + numbers, column, columns);
        tile.of.push_back(id);
        tile.rowSpan = pictures;
    };
    if (!eye.empty()) addPicture("compared_eyes", eye, 0, curve.empty() ? 2 : 1);
    if (!curve.empty()) addPicture("compared_curves", curve, eye.empty() ? 0 : 1, eye.empty() ? 2 : 1);
    int at = 0;
    const bool taken = bench.change(QObject::tr("sheet of a comparison"),
                                    [&](Document &edited) { at = maker.appendTo(edited, "beside"); });
    if (taken) bench.showSheet(at);
}

void addBeside(Workbench &bench, const std::string &kind, const std::string &id)
{
    if (bench.document().comparisons.empty()) return;
    addTileOf(bench, kind, {bench.document().comparisons.front().id, id});
}

} // namespace fulvex
