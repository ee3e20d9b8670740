// Menus, shortcuts, and what Ask offers: the same actions by another way.

#include "ask_offers.h"
#include "axis_painter.h"
#include "capture_writer.h"
#include "chain_view.h"
#include "document_edits.h"
#include "evidence_view.h"
#include "ledger_view.h"
#include "main_window.h"
#include "sheet_view.h"

namespace fulvex {

QAction *MainWindow::addAction(QMenu *menu, const QString &words, const QKeySequence &key, std::function<void()> act)
{
    QAction *action = menu->addAction(words);
    action->setShortcut(key);
    action->setShortcutContext(Qt::WindowShortcut);
    QMainWindow::addAction(action);
    connect(action, &QAction::triggered, this, [act = std::move(act)] { act(); });
    m_actions.emplace_back(words, action);
    return action;
}

void MainWindow::buildMenus()
{
    const auto saveName = [this](const QString &title, const QString &name, const QString &filter) {
        return QFileDialog::getSaveFileName(this, title, name, filter);
    };
    QMenu *file = m_menus->addMenu(tr("File"));
    addAction(file, tr("New project"), QKeySequence::New, [this] {
        if (mayDiscard()) m_bench.newProject();
    });
    addAction(file, tr("Open…"), QKeySequence::Open, [this] { openDialog(); });
    m_recent = file->addMenu(tr("Recent"));
    connect(m_recent, &QMenu::aboutToShow, this, &MainWindow::fillRecent);
    addAction(file, tr("Save"), QKeySequence::Save, [this] { save(false); });
    addAction(file, tr("Save as…"), QKeySequence("Ctrl+Shift+S"), [this] { save(true); });
    file->addSeparator();
    addAction(file, tr("Export report…"), QKeySequence("Ctrl+R"), [=, this] {
        const QString path = saveName(tr("Export report"), "report.pdf", tr("PDF (*.pdf);;One HTML file (*.html)"));
        if (!path.isEmpty()) exportReport(path);
    });
    addAction(file, tr("Export table…"), QKeySequence("Ctrl+T"), [=, this] {
        const QString path = saveName(tr("Export table"), "measurements.csv", tr("CSV (*.csv)"));
        if (!path.isEmpty()) exportTable(path);
    });
    file->addSeparator();
    addAction(file, tr("Quit"), QKeySequence::Quit, [this] { close(); });

    QMenu *edit = m_menus->addMenu(tr("Edit"));
    addAction(edit, tr("Undo"), QKeySequence::Undo, [this] { m_bench.undoStack().undo(); });
    addAction(edit, tr("Redo"), QKeySequence("Ctrl+Shift+Z"), [this] { m_bench.undoStack().redo(); });
    addAction(edit, tr("Copy table"), QKeySequence("Ctrl+Shift+C"), [this] { m_ledger->copy(); });
    addAction(edit, tr("Compute again"), QKeySequence("F9"), [this] { m_bench.evaluateAnew(); });
    addAction(edit, tr("Ask"), QKeySequence("Ctrl+Space"), [this] { m_ask->begin(); });

    QMenu *view = m_menus->addMenu(tr("View"));
    addAction(view, tr("Whole record"), QKeySequence("Ctrl+0"), [this] { m_bench.fitView(); });
    addAction(view, tr("Closer"), QKeySequence::ZoomIn,
              [this] { m_bench.zoom(0.5, (m_bench.viewFrom() + m_bench.viewTo()) / 2); });
    addAction(view, tr("Farther"), QKeySequence::ZoomOut,
              [this] { m_bench.zoom(2, (m_bench.viewFrom() + m_bench.viewTo()) / 2); });
    addAction(view, tr("View before"), QKeySequence("Alt+Left"), [this] { m_bench.goBack(); });
    addAction(view, tr("View after"), QKeySequence("Alt+Right"), [this] { m_bench.goForward(); });
    addAction(view, tr("Remove markers"), QKeySequence(), [this] { m_bench.clearMarkers(); });
    QAction *dark =
        addAction(view, tr("Dark theme"), QKeySequence("Ctrl+D"), [this] { m_bench.setDark(!m_bench.look().dark); });
    dark->setCheckable(true);
    addAction(view, tr("Go to the Chain"), QKeySequence("Alt+1"), [this] { m_chain->rails()->setFocus(); });
    addAction(view, tr("Go to the Ledger"), QKeySequence("Alt+2"), [this] { m_ledger->table()->setFocus(); });
    addAction(view, tr("Go to the Evidence"), QKeySequence("Alt+3"), [this] { m_evidence->table()->setFocus(); });

    QMenu *capture = m_menus->addMenu(tr("Capture"));
    addAction(capture, tr("Add capture…"), QKeySequence("Ctrl+I"), [this] { openDialog(); });

    QMenu *channel = m_menus->addMenu(tr("Channel"));
    const auto writeChannel = [=, this](bool shownOnly) {
        QStringList filters;
        for (const CaptureWriter &writer : captureWriters()) filters << tr("%1 (*%2)").arg(writer.title, writer.ending);
        const std::string id = chosenChannel();
        const QString path = saveName(tr("Write channel %1").arg(text(id)), text(id + ".csv"), filters.join(";;"));
        if (path.isEmpty()) return;
        using Span = std::optional<std::pair<double, double>>;
        Span span;
        if (shownOnly) span = {m_bench.viewFrom(), m_bench.viewTo()};
        if (const RegionEntry *region = findEntry(m_bench.document().regions, m_bench.selection().id);
            region && shownOnly)
            span = {region->start, region->stop};
        m_bench.exportChannel(path, id, span);
    };
    addAction(channel, tr("Write channel to a file…"), QKeySequence("Ctrl+Shift+W"), [=] { writeChannel(false); });
    addAction(channel, tr("Write the chosen region or what is shown of it…"), QKeySequence(),
              [=] { writeChannel(true); });
    channel->addSeparator();
    addAction(channel, tr("Keep a copy of the trace"), QKeySequence("Ctrl+K"),
              [this] { m_bench.keepCopy(chosenChannel()); });
    QMenu *align = channel->addMenu(tr("Align it to"));
    connect(align, &QMenu::aboutToShow, this, [this, align] {
        align->clear();
        const auto all = alignOffers(m_bench, chosenChannel());
        for (const auto &offer : all)
            connect(align->addAction(offer.words), &QAction::triggered, this, [act = offer.act] { act(); });
        if (all.empty()) align->addAction(tr("nothing: it is computed, or alone"))->setEnabled(false);
    });
    channel->addSeparator();
    addAction(channel, tr("Add channel by formula…"), QKeySequence("Ctrl+F"), [this] { addFormulaDialog(); });
    addAction(channel, tr("Add loop clock"), QKeySequence("Ctrl+L"), [this] { addHere("pll"); });
    addAction(channel, tr("Add fixed clock"), QKeySequence("Ctrl+Shift+L"), [this] { addHere("fixed"); });
    addAction(channel, tr("Add eye"), QKeySequence("Ctrl+E"), [this] { addHere("eye"); });
    QMenu *masks = channel->addMenu(tr("Test the eye against a mask"));
    for (const auto &[mask, title] : maskChoices()) {
        QAction *action = masks->addAction(title);
        connect(action, &QAction::triggered, this, [this, mask = mask] {
            if (const std::string eye = chosenEye(); !eye.empty())
                addMask(m_bench, eye, mask);
            else
                m_message->show(tr("There is no eye to test: add one first (Ctrl+E)."));
        });
    }
    addAction(channel, tr("Edit selected"), QKeySequence(), [this] { m_chain->rails()->edit(); });
    addAction(channel, tr("Remove selected"), QKeySequence(), [this] { m_chain->rails()->removeSelected(); });
    m_chain->setAddMenu([&] {
        auto *menu = new QMenu(this);
        for (const char *name :
             {"Add capture…", "Add channel by formula…", "Add loop clock", "Add fixed clock", "Add eye"}) {
            for (const auto &[words, action] : m_actions)
                if (words == tr(name)) menu->addAction(action);
        }
        menu->addMenu(masks);
        return menu;
    }());

    m_measure = m_menus->addMenu(tr("Measure"));
    connect(m_measure, &QMenu::aboutToShow, this, [this] {
        m_measure->clear();
        const auto all = measurementOffers(m_bench);
        std::map<QString, QMenu *> groups;
        for (const auto &offer : all) {
            const QString of = offer.words.section(" of ", -1);
            QMenu *&group = groups[of];
            if (!group) group = m_measure->addMenu(of);
            connect(group->addAction(offer.words.section(" of ", 0, -2).mid(8)), &QAction::triggered, this,
                    [act = offer.act] { act(); });
        }
    });

    QMenu *sheet = m_menus->addMenu(tr("Sheet"));
    addAction(sheet, tr("Add sheet"), QKeySequence("Ctrl+Shift+N"), [this] {
        m_bench.change(tr("add sheet"), [](Document &document) {
            SheetEntry fresh;
            fresh.id = freeId(document, "sheet");
            fresh.title = "Sheet " + std::to_string(document.sheets.size() + 1);
            document.sheets.push_back(fresh);
        });
        m_bench.showSheet(int(m_bench.document().sheets.size()) - 1);
    });
    addAction(sheet, tr("Rename sheet…"), QKeySequence(), [this] {
        if (m_bench.document().sheets.empty()) return;
        bool given = false;
        const int index = m_bench.sheet();
        const QString words = QInputDialog::getText(this, tr("Rename sheet"), tr("Title:"), QLineEdit::Normal,
                                                    text(m_bench.document().sheets[std::size_t(index)].title), &given);
        if (given && !words.isEmpty())
            m_bench.change(tr("rename sheet"), [&](Document &document) {
                document.sheets[std::size_t(index)].title = words.toStdString();
            });
    });
    addAction(sheet, tr("Duplicate sheet"), QKeySequence(), [this] {
        if (m_bench.document().sheets.empty()) return;
        int copy = 0;
        m_bench.change(tr("duplicate sheet"),
                       [&](Document &document) { copy = duplicateSheet(document, m_bench.sheet()); });
        m_bench.showSheet(copy);
    });
    addAction(sheet, tr("Remove sheet"), QKeySequence(), [this] {
        const int index = m_bench.sheet();
        if (m_bench.document().sheets.empty()) return;
        m_bench.change(tr("remove sheet"),
                       [&](Document &document) { document.sheets.erase(document.sheets.begin() + index); });
    });
    addAction(sheet, tr("Add traces tile"), QKeySequence(), [this] {
        m_bench.change(tr("add tile"), [&](Document &document) {
            TileEntry tile;
            tile.kind = "traces";
            if (!document.channels.empty()) tile.of = {chosenChannel()};
            addTile(document, m_bench.sheet(), tile);
        });
    });
    addAction(sheet, tr("Next sheet"), QKeySequence("Ctrl+PgDown"), [this] { m_bench.showSheet(m_bench.sheet() + 1); });
    addAction(sheet, tr("Previous sheet"), QKeySequence("Ctrl+PgUp"),
              [this] { m_bench.showSheet(m_bench.sheet() - 1); });

    QMenu *help = m_menus->addMenu(tr("Help"));
    addAction(help, tr("Keys"), QKeySequence::HelpContents, [this] {
        QStringList lines;
        for (const auto &[words, action] : m_actions)
            if (!action->shortcut().isEmpty())
                lines << words + "\t" + action->shortcut().toString(QKeySequence::NativeText);
        lines << tr(
            "On traces: drag to zoom, wheel or pinch, Shift+drag to pan; click, Shift+click, Ctrl+click for "
            "markers; Ctrl+drag for a region; double click for a note; on the value axis or a trace's zero: drag "
            "to move, wheel to scale, double click to fit");
        lines << tr(
            "On a tile's head: drag onto another tile to exchange them, onto a sheet's tab to send it there; double "
            "click or Alt+Return: large, and again as it was. Its lower right corner: its size. Ctrl+Alt+arrows "
            "exchange it, with Shift set its size. Drag a sheet's tab to order the sheets");
        QMessageBox::information(this, tr("Keys"), lines.join('\n'));
    });
}

void MainWindow::fillRecent()
{
    m_recent->clear();
    for (const QString &path : QSettings().value("recent").toStringList())
        connect(m_recent->addAction(path), &QAction::triggered, this, [this, path] { openFiles({path}); });
    if (m_recent->isEmpty()) m_recent->addAction(tr("nothing yet"))->setEnabled(false);
}

std::string MainWindow::chosenChannel() const
{
    const Document &document = m_bench.document();
    const Selection &selection = m_bench.selection();
    if (findEntry(document.channels, selection.id)) return selection.id;
    if (const ClockEntry *clock = findEntry(document.clocks, selection.id)) return clock->source;
    for (auto channel = document.channels.rbegin(); channel != document.channels.rend(); ++channel) {
        if (!channel->formula.empty()) return channel->id;
    }
    return document.channels.empty() ? std::string() : document.channels.front().id;
}

std::string MainWindow::chosenClock() const
{
    const Document &document = m_bench.document();
    if (findEntry(document.clocks, m_bench.selection().id)) return m_bench.selection().id;
    return document.clocks.empty() ? std::string() : document.clocks.back().id;
}

std::string MainWindow::chosenEye() const
{
    const Document &document = m_bench.document();
    if (findEntry(document.eyes, m_bench.selection().id)) return m_bench.selection().id;
    if (const MaskEntry *mask = findEntry(document.masks, m_bench.selection().id)) return mask->eye;
    return document.eyes.empty() ? std::string() : document.eyes.back().id;
}

void MainWindow::addHere(const char *what)
{
    const bool eye = QString(what) == "eye";
    const std::string on = eye ? chosenClock() : chosenChannel();
    if (on.empty())
        return m_message->show(eye ? tr("An eye needs a clock: add one first (Ctrl+L).")
                                   : tr("A clock needs a channel: open a capture first (Ctrl+O)."));
    if (eye)
        addEye(m_bench, on);
    else
        addClock(m_bench, on, what);
}

void MainWindow::addFormulaDialog()
{
    QStringList raw;
    for (const ChannelEntry &channel : m_bench.document().channels)
        if (channel.formula.empty()) raw << text(channel.id);
    bool given = false;
    const QString words = QInputDialog::getText(
        this, tr("Channel by formula"), tr("Channels: %1\nFormula, for example p - n:").arg(raw.join(", ")),
        QLineEdit::Normal, raw.size() >= 2 ? raw[raw.size() - 2] + " - " + raw.last() : QString(), &given);
    if (given && !words.trimmed().isEmpty()) addFormula(m_bench, words.trimmed().toStdString());
}

std::vector<AskBox::Offer> MainWindow::offers()
{
    std::vector<AskBox::Offer> all;
    for (const auto &[words, action] : m_actions) {
        if (words != tr("Ask"))
            all.push_back({words, action->shortcut().toString(QKeySequence::NativeText),
                           [action = action] { action->trigger(); }});
    }
    for (AskBox::Offer &offer : projectOffers(m_bench)) all.push_back(std::move(offer));
    return all;
}

} // namespace fulvex
