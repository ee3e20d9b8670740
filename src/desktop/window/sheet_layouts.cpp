#include "sheet_layouts.h"

#include "axis_painter.h"
#include "error.h"
#include "kept_files.h"
#include "sheet_layout.h"
#include "translated.h"

#include <QInputDialog>
#include <algorithm>

namespace fulvex {

namespace {

using Kind = Selection::Kind;

std::vector<SheetLayout> keptLayouts()
{
    std::vector<SheetLayout> layouts;
    for (const KeptFile &file : keptFiles("sheets")) {
        try {
            layouts.push_back(parseSheetLayout(file.text, file.name));
        } catch (const Error &) { // one that cannot be read is passed over
        }
    }
    std::ranges::sort(layouts, {}, &SheetLayout::title);
    return layouts;
}

void keep(Workbench &bench, QWidget *window, const std::string &id)
{
    const SheetEntry *sheet = findEntry(bench.document().sheets, id);
    if (!sheet) return;
    bool given = false;
    const QString title =
        QInputDialog::getText(window, tr("Keep the layout of the sheet"),
                              tr("Its tiles, for other projects: each shows there what has the same name, or the "
                                 "first of its kind. Its name:"),
                              QLineEdit::Normal, text(sheet->title), &given)
            .trimmed();
    sheet = findEntry(bench.document().sheets, id); // there may be another by now
    if (!given || title.isEmpty() || !sheet) return;
    try {
        const SheetLayout layout = sheetLayoutOf(bench.document(), *sheet, title.toStdString());
        keepFile("sheets", layout.title, sheetLayoutText(layout));
        emit bench.told(tr("Kept as \"%1\": Sheet > Lay a sheet out as, in every project").arg(title));
    } catch (const Error &error) {
        emit bench.failed(text(error.what()));
    }
}

void lay(Workbench &bench, const SheetLayout &layout)
{
    const auto preferred = [&](EntryKind kind) {
        switch (kind) {
        case EntryKind::channel:
            return chosenEntry(bench, Kind::channel);
        case EntryKind::eye:
            return chosenEntry(bench, Kind::eye);
        case EntryKind::measurement:
            return chosenEntry(bench, Kind::measurement);
        default:
            return std::string();
        }
    };
    LaidSheet made = laidOut(bench.document(), layout, preferred);
    if (made.sheet.tiles.empty())
        return emit bench.failed(
            tr("Nothing of \"%1\" can be shown here: add a channel, clock and eye first").arg(text(layout.title)));
    const bool taken = bench.change(tr("lay a sheet out"), [&](Document &document) {
        made.sheet.id = freeId(document, "sheet");
        document.sheets.push_back(made.sheet);
    });
    if (!taken) return;
    bench.showSheet(int(bench.document().sheets.size()) - 1);
    if (made.missing > 0)
        emit bench.told(tr("%1 of the layout's tiles have nothing to show here, and were left out").arg(made.missing));
}

} // namespace

void addSheetLayouts(Workbench &bench, QWidget *window, std::vector<Action> &actions)
{
    actions.push_back({.id = "keep_sheet",
                       .words = tr("Keep the layout of %1…"),
                       .menu = "Sheet",
                       .also = tr("template tiles next project"),
                       .on = Kind::sheet,
                       .act = [&bench, window](const Action::Of &of) { keep(bench, window, of); },
                       .apart = true});
    for (const SheetLayout &layout : keptLayouts()) {
        actions.push_back({.id = "lay_sheet " + text(layout.title),
                           .words = tr("Lay a sheet out as %3").replace("%3", text(layout.title)),
                           .menu = "Sheet/" + tr("Lay a sheet out as"),
                           .brief = text(layout.title),
                           .act = [&bench, layout](const Action::Of &) { lay(bench, layout); }});
        actions.push_back({.id = "forget_sheet " + text(layout.title),
                           .words = tr("Forget the sheet layout %3").replace("%3", text(layout.title)),
                           .menu = "Sheet/" + tr("Forget the layout"),
                           .brief = text(layout.title),
                           .act = [title = layout.title](const Action::Of &) { forgetFile("sheets", title); }});
    }
}

} // namespace fulvex
