// What needs the window to be done: files, dialogs, the places to go to. All other actions are in project_actions.

#include "action_menus.h"
#include "axis_painter.h"
#include "budget_edits.h"
#include "capture_writer.h"
#include "chain_view.h"
#include "choose_several.h"
#include "comparison_edits.h"
#include "crash_note.h"
#include "error.h"
#include "evidence_view.h"
#include "eye_edits.h"
#include "formula_edits.h"
#include "keys_dialog.h"
#include "ledger_view.h"
#include "main_window.h"
#include "mask_edits.h"
#include "plan_edits.h"
#include "plan_making.h"
#include "project_actions.h"
#include "recent_projects.h"
#include "row_sets.h"
#include "run_actions.h"
#include "settings_dialog.h"
#include "sheet_actions.h"
#include "sheet_layouts.h"
#include "sheet_view.h"

#include <QClipboard>
#include <QFileDialog>
#include <QInputDialog>

namespace fulvex {

using Kind = Selection::Kind;
using Of = Action::Of;

std::vector<Action> MainWindow::fileActions()
{
    std::vector<Action> actions{
        {.id = "new",
         .words = tr("New project"),
         .menu = "File",
         .key = QKeySequence::New,
         .act =
             [this](const Of &) {
                 if (mayDiscard()) m_bench.newProject();
             }},
        {.id = "open",
         .words = tr("Open…"),
         .menu = "File",
         .key = QKeySequence::Open,
         .act = [this](const Of &) { openDialog(); }},
        {.id = "save",
         .words = tr("Save"),
         .menu = "File",
         .key = QKeySequence::Save,
         .act = [this](const Of &) { save(false); }},
        {.id = "save_as",
         .words = tr("Save as…"),
         .menu = "File",
         .key = QKeySequence("Ctrl+Shift+S"),
         .act = [this](const Of &) { save(true); }},
        {.id = "report",
         .words = tr("Export report…"),
         .menu = "File",
         .key = QKeySequence("Ctrl+R"),
         .act =
             [=, this](const Of &) {
                 const QString path =
                     askWhere(tr("Export report"), reportName(), tr("PDF (*.pdf);;One HTML file (*.html)"));
                 if (!path.isEmpty()) exportReport(path);
             },
         .apart = true},
        {.id = "report_layout",
         .words = tr("Lay out the report"),
         .menu = "File",
         .also = tr("print pages title page logo parts paper"),
         .key = QKeySequence("Ctrl+Shift+P"),
         .act = [this](const Of &) { layOutReport(true); },
         .enabled =
             [this](const Of &) { return !m_bench.document().channels.empty() || !m_bench.document().plans.empty(); }},
        {.id = "report_all",
         .words = tr("Export report of all captures…"),
         .menu = "File",
         .key = QKeySequence("Ctrl+Shift+R"),
         .act =
             [=, this](const Of &) {
                 const QString path = askWhere(tr("Export report of all captures"), reportName(),
                                               tr("PDF (*.pdf);;One HTML file (*.html)"));
                 if (!path.isEmpty()) exportReportOfAll(path);
             },
         .enabled = [this](const Of &) { return m_bench.run() && m_bench.run()->all; }},
        {.id = "table",
         .words = tr("Export table…"),
         .menu = "File",
         .key = QKeySequence("Ctrl+T"),
         .act =
             [=, this](const Of &) {
                 const QString path = askWhere(tr("Export table"), "measurements.csv", tr("CSV (*.csv)"));
                 if (!path.isEmpty()) exportTable(path);
             }},
    };
    actions.push_back({.id = "plan_results",
                       .words = tr("Export the results of plan %1…"),
                       .menu = "File",
                       .on = Kind::plan,
                       .act = [=, this](const Of &of) {
                           const QString path = askWhere(tr("Export plan results"), "plan.json", tr("JSON (*.json)"));
                           if (!path.isEmpty()) exportPlan(m_bench, of, path);
                       }});
    actions.push_back({.id = "plan_edit",
                       .words = tr("Edit the plan %1"),
                       .menu = "File",
                       .also = tr("steps tests limits write acceptance"),
                       .on = Kind::plan,
                       .act = [this](const Of &of) {
                           guarded([&] {
                               const PlanEntry *entry = findEntry(m_bench.document().plans, of);
                               const auto file = (m_bench.base() / entry->file).lexically_normal();
                               editPlan(loadPlan(file), text(file.string()));
                           });
                       }});
    actions.push_back({.id = "plan_new",
                       .words = tr("Make a test plan of this project"),
                       .menu = "File",
                       .also = tr("acceptance steps new plan"),
                       .act = [this](const Of &) { editPlan(planOf(m_bench.document()), {}); },
                       .enabled = [this](const Of &) { return !m_bench.document().captures.empty(); }});
    for (const QString &path : recentPaths())
        actions.push_back({.id = "recent " + path,
                           .words = tr("Open %3 again").replace("%3", QFileInfo(path).fileName()),
                           .menu = "File/" + tr("Recent"),
                           .brief = path,
                           .act = [this, path](const Of &) { openFiles({path}); },
                           .isPlace = true});
    actions.push_back({.id = "quit",
                       .words = tr("Quit"),
                       .menu = "File",
                       .key = QKeySequence::Quit,
                       .act = [this](const Of &) { close(); },
                       .apart = true});
    return actions;
}

/// Which channels: to begin with, those that have a clock.
void MainWindow::chooseJitters()
{
    const Document &document = m_bench.document();
    std::vector<std::string> timed;
    for (const ClockEntry &clock : document.clocks) timed.push_back(clock.source);
    ChooseSeveral dialog(tr("Of which channels?"), idsOf(document, Kind::channel), timed, tr("Take apart"), this);
    if (dialog.exec() == QDialog::Accepted) takeJittersApart(m_bench, dialog.chosen());
}

std::vector<Action> MainWindow::channelActions()
{
    const auto write = [this](const std::string &id, bool shownOnly) {
        QStringList filters;
        for (const CaptureWriter &writer : captureWriters()) filters << tr("%1 (*%2)").arg(writer.title, writer.ending);
        const QString path = askWhere(tr("Write channel %1").arg(text(id)), text(id + ".csv"), filters.join(";;"));
        if (path.isEmpty()) return;
        using Span = std::optional<std::pair<double, double>>;
        Span span;
        if (shownOnly) span = {m_bench.viewFrom(), m_bench.viewTo()};
        if (const RegionEntry *region = findEntry(m_bench.document().regions, m_bench.selection().id);
            region && shownOnly)
            span = {region->start, region->stop};
        m_bench.exportChannel(path, id, span);
    };
    return {{.id = "write",
             .words = tr("Write %1 to a file…"),
             .menu = "Channel",
             .key = QKeySequence("Ctrl+Shift+W"),
             .on = Kind::channel,
             .act = [=](const Of &of) { write(of, false); }},
            {.id = "write_shown",
             .words = tr("Write the chosen region or what is shown of %1…"),
             .menu = "Channel",
             .on = Kind::channel,
             .act = [=](const Of &of) { write(of, true); }},
            {.id = "add_formula",
             .words = tr("Add a channel by formula…"),
             .menu = "Channel",
             .key = QKeySequence("Ctrl+F"),
             .act = [this](const Of &) { m_chain->rails()->addFormula(); },
             .apart = true},
            {.id = "add_program",
             .words = tr("Add a program as a function…"),
             .menu = "Channel",
             .also = tr("own code python external"),
             .act =
                 [this](const Of &) {
                     const QString path = QFileDialog::getOpenFileName(this, tr("Add a program as a function"));
                     if (!path.isEmpty()) m_bench.addProgram(path);
                 }},
            {.id = "take_jitters_apart",
             .words = tr("Take the jitter of several channels apart…"),
             .menu = "Channel",
             .also = tr("jitter budgets side by side compare bathtub"),
             .act = [this](const Of &) { chooseJitters(); },
             .enabled = [this](const Of &) { return m_bench.document().channels.size() > 1; }},
            {.id = "edit_channel",
             .words = tr("Edit %1 in place"),
             .menu = "Channel",
             .on = Kind::channel,
             .act =
                 [this](const Of &of) {
                     m_bench.select({Kind::channel, of});
                     m_chain->rails()->edit();
                 },
             .byHand = tr("F2")}};
}

std::vector<Action> MainWindow::windowActions()
{
    std::vector<Action> actions{
        {.id = "copy_table",
         .words = tr("Copy the table"),
         .menu = "Edit",
         .key = QKeySequence("Ctrl+Shift+C"),
         .act = [this](const Of &) { m_ledger->copy(); }},
        {.id = "copy_table_csv",
         .words = tr("Copy the table as CSV"),
         .menu = "Edit",
         .act = [this](const Of &) { m_ledger->copy(CopyAs::csv); }},
        {.id = "copy_table_markdown",
         .words = tr("Copy the table as Markdown"),
         .menu = "Edit",
         .act = [this](const Of &) { m_ledger->copy(CopyAs::markdown); }},
        {.id = "keep_rows",
         .words = tr("Keep the chosen rows as a set…"),
         .menu = "Measure",
         .act =
             [this](const Of &) {
                 std::vector<std::string> rows = m_bench.selectedWith();
                 rows.push_back(m_bench.selection().id);
                 if (rows.size() == 1) { // one row is no choice: all of them
                     rows.clear();
                     for (const MeasurementEntry &entry : m_bench.document().measurements) rows.push_back(entry.id);
                 }
                 bool given = false;
                 const QString title =
                     QInputDialog::getText(this, tr("Keep %1 rows as a set").arg(rows.size()),
                                           tr("It is offered with the quantities (Ctrl+M), to be laid "
                                              "on any channel. Its name:"),
                                           QLineEdit::Normal, {}, &given)
                         .trimmed();
                 if (!given || title.isEmpty()) return;
                 try {
                     keepRowSet(rowSetOf(m_bench.document(), title.toStdString(), rows));
                     emit m_bench.told(tr("Kept as \"%1\": it stands above the quantities (Ctrl+M)").arg(title));
                 } catch (const Error &error) {
                     emit m_bench.failed(QString::fromStdString(error.what()));
                 }
             },
         .enabled = [this](const Of &) { return !m_bench.document().measurements.empty(); }},
        {.id = "write_population",
         .words = tr("Write the population of %1…"),
         .menu = "Measure",
         .on = Kind::measurement,
         .act =
             [this](const Of &of) {
                 const QString path = askWhere(tr("Write the population of %1").arg(text(of)), text(of + ".csv"),
                                               tr("CSV (*.csv);;NPY (*.npy)"));
                 if (!path.isEmpty()) m_bench.exportPopulation(path, of);
             }},
        {.id = "write_histogram",
         .words = tr("Write the histogram of %1…"),
         .menu = "Measure",
         .on = Kind::measurement,
         .act =
             [this](const Of &of) {
                 const QString path = askWhere(tr("Write the histogram of %1").arg(text(of)),
                                               text(of + "-histogram.csv"), tr("CSV (*.csv);;NPY (*.npy)"));
                 if (!path.isEmpty()) m_bench.exportHistogram(path, of);
             },
         .enabled =
             [this](const Of &of) {
                 const Row *row = m_bench.results() ? findEntry(m_bench.results()->rows, of) : nullptr;
                 return row && !row->histogram.counts.empty();
             }},
        {.id = "find_symbols",
         .words = tr("Find symbols in %1…"),
         .menu = "Channel",
         .also = tr("bits search pattern word"),
         .on = Kind::eye,
         .act =
             [this](const Of &of) {
                 bool given = false;
                 const QString words = QInputDialog::getText(this, tr("Find symbols in %1").arg(text(of)),
                                                             tr("Symbols, ? for any:"), QLineEdit::Normal, {}, &given);
                 if (given && !words.isEmpty()) findSymbols(m_bench, of, words.toStdString());
             }},
        {.id = "save_mask",
         .words = tr("Save %1 as a file…"),
         .menu = "Channel",
         .also = tr("mask write"),
         .on = Kind::mask,
         .act =
             [this](const Of &of) {
                 const QString path = askWhere(tr("Save the mask"), text(of + maskEnding), tr("Masks (*.mask.json)"));
                 if (!path.isEmpty()) saveMask(m_bench, of, path);
             }},
        {.id = "add_quantities",
         .words = tr("Add quantities of %1…"),
         .menu = "Measure",
         .key = QKeySequence("Ctrl+M"),
         .on = Kind::channel,
         .act = [this](const Of &of) { m_ledger->pickQuantities(of); }},
        {.id = "ask",
         .words = tr("Ask"),
         .menu = "Edit",
         .key = QKeySequence("Ctrl+Space"),
         .act = [this](const Of &) { m_ask->begin(); }},
        {.id = "to_chain",
         .words = tr("Go to the Chain"),
         .menu = "View",
         .key = QKeySequence("Alt+1"),
         .act = [this](const Of &) { m_chain->rails()->setFocus(); },
         .apart = true},
        {.id = "to_ledger",
         .words = tr("Go to the Ledger"),
         .menu = "View",
         .key = QKeySequence("Alt+2"),
         .act = [this](const Of &) { m_ledger->table()->setFocus(); }},
        {.id = "to_evidence",
         .words = tr("Go to the Evidence"),
         .menu = "View",
         .key = QKeySequence("Alt+3"),
         .act = [this](const Of &) { m_evidence->table()->setFocus(); }},
        {.id = "add_capture",
         .words = tr("Add a capture…"),
         .menu = "Capture",
         .key = QKeySequence("Ctrl+I"),
         .act = [this](const Of &) { openDialog(); }},
        {.id = "lay_beside",
         .words = tr("Lay this project beside another result…"),
         .menu = "Sheet",
         .key = QKeySequence("Ctrl+B"),
         .act =
             [this](const Of &) {
                 const QString path = QFileDialog::getOpenFileName(
                     this, tr("Another result"), {},
                     tr("Results and projects (*.fulvex *.fulvexpack *.json *.html *.pdf);;Captures (*)"));
                 if (!path.isEmpty()) layBeside(m_bench, path);
             }},
        {.id = "rename_sheet",
         .words = tr("Rename the sheet %1…"),
         .menu = "Sheet",
         .on = Kind::sheet,
         .act = [this](const Of &of) { renameSheet(of); }},
        {.id = "tile_enlarge",
         .words = tr("Make the tile large, or as it was"),
         .on = Kind::tile,
         .act =
             [this](const Of &of) {
                 if (TileFrame *tile = m_sheet->tile(of)) m_sheet->enlarge(tile);
             },
         .byHand = tr("Alt+Return")},
        {.id = "tile_picture",
         .words = tr("Export picture of %1…"),
         .on = Kind::tile,
         .act =
             [this](const Of &of) {
                 if (!m_sheet->tile(of)) return;
                 const QString path = askWhere(tr("Export picture"), "tile.png", tr("Pictures (*.png)"));
                 TileFrame *tile = m_sheet->tile(of); // there may be another by now
                 if (tile && !path.isEmpty()) exportPicture(tile, path);
             },
         .enabled = [this](const Of &of) { return m_sheet->tile(of) != nullptr; },
         .apart = true},
        {.id = "tile_copy",
         .words = tr("Copy picture of %1"),
         .on = Kind::tile,
         .act =
             [this](const Of &of) {
                 if (TileFrame *tile = m_sheet->tile(of))
                     tile->takePicture([](const QImage &picture) { QApplication::clipboard()->setImage(picture); });
             },
         .enabled = [this](const Of &of) { return m_sheet->tile(of) != nullptr; }},
        {.id = "settings",
         .words = tr("Settings…"),
         .menu = "Edit",
         .also = tr("preferences options theme cache units default levels loop"),
         .key = QKeySequence("Ctrl+,"),
         .act =
             [this](const Of &) { // one at a time: two would keep each other's settings as they were
                 auto *dialog = findChild<SettingsDialog *>();
                 if (!dialog) dialog = new SettingsDialog(m_bench, this);
                 dialog->show();
                 dialog->activateWindow();
             },
         .apart = true},
        {.id = "manual",
         .words = tr("Manual"),
         .menu = "Help",
         .also = tr("help guide how do i"),
         .key = QKeySequence::HelpContents,
         .act = [this](const Of &) { openManual(manualPlace()); }},
        {.id = "tour",
         .words = tr("Tour of the demo"),
         .menu = "Help",
         .also = tr("learn introduction tutorial first steps"),
         .act = [this](const Of &) { startTour(); }},
        {.id = "terms",
         .words = tr("Terms of the trade"),
         .menu = "Help",
         .also = tr("glossary explain what is"),
         .act = [this](const Of &) { openManual("terms.md"); }},
        {.id = "keys",
         .words = tr("Keys"),
         .menu = "Help",
         .key = QKeySequence("Shift+F1"),
         .act = [this](const Of &) { showKeys(m_actions->lines(), this); }},
    };
    return actions;
}

void MainWindow::buildMenus()
{
    const auto all = [this] {
        std::vector<Action> actions = fileActions();
        for (auto more : {projectActions(m_bench), runActions(m_bench, this), channelActions(), windowActions(),
                          tileActions(m_bench)})
            std::move(more.begin(), more.end(), std::back_inserter(actions));
        addSheetLayouts(m_bench, this, actions);
        for (Action &action : actions)
            action.act = [name = action.id.section(' ', 0, 0).toStdString(), act = action.act](const Of &of) {
                rememberAction(name.c_str());
                act(of);
            };
        return actions;
    };
    m_actions = new ActionMenus(
        m_bench, all,
        [this](Kind kind) {
            if (kind == Kind::tile) return m_sheet->chosenTile();
            return chosenEntry(m_bench, kind);
        },
        this);
    for (const char *title : {"File", "Edit", "View", "Capture", "Channel", "Measure", "Sheet", "Help"})
        m_actions->addMenu(m_menus, tr(title));
    m_chain->setAddMenu(m_actions->menuOf({"add_capture", "add_formula", "add_loop", "add_fixed", "add_eye", "mask "}));
    connect(m_actions, &ActionMenus::refused, m_message, [this](const QString &why) { m_message->show(why); });
    connect(m_chain->rails(), &ChainRails::contextRequested, m_actions, &ActionMenus::showContext);
    connect(m_ledger, &LedgerView::contextRequested, m_actions, &ActionMenus::showContext);
    connect(m_sheet, &SheetView::contextRequested, m_actions, &ActionMenus::showContext);
}

std::vector<AskBox::Offer> MainWindow::offers() const
{
    std::vector<AskBox::Offer> all = m_actions->offers();
    std::erase_if(all, [](const AskBox::Offer &offer) { return offer.words == tr("Ask"); });
    return all;
}

void MainWindow::renameSheet(const std::string &id)
{
    const SheetEntry *sheet = findEntry(m_bench.document().sheets, id);
    if (!sheet) return;
    bool given = false;
    const QString words =
        QInputDialog::getText(this, tr("Rename sheet"), tr("Title:"), QLineEdit::Normal, text(sheet->title), &given);
    if (!given || words.isEmpty()) return;
    m_bench.change(tr("rename sheet"), [&](Document &document) {
        if (SheetEntry *renamed = findEntry(document.sheets, id)) renamed->title = words.toStdString();
    });
}

} // namespace fulvex
