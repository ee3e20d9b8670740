#include "main_window.h"

#include "accessible_views.h"
#include "action_menus.h"
#include "atomic_file.h"
#include "axis_painter.h"
#include "chain_view.h"
#include "crash_dialog.h"
#include "crash_note.h"
#include "document_edits.h"
#include "document_json.h"
#include "error.h"
#include "evidence_view.h"
#include "fingerprint.h"
#include "first_page.h"
#include "import_page.h"
#include "inspector_view.h"
#include "ledger_view.h"
#include "manual_index.h"
#include "manual_window.h"
#include "mask_edits.h"
#include "moved_captures.h"
#include "number_text.h"
#include "plan_editor.h"
#include "plan_edits.h"
#include "project_file.h"
#include "recent_projects.h"
#include "report.h"
#include "report_page.h"
#include "sheet_view.h"
#include "strip_view.h"
#include "style_sheet.h"
#include "table_text.h"
#include "terms.h"
#include "tour.h"
#include "user_settings.h"

#include <QDir>
#include <QFileDialog>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QSplitter>

namespace fulvex {

static constexpr int workPage = 0, firstPage = 1; ///< in m_pages

MainWindow::MainWindow(QWidget *parent)
    : QMainWindow(parent), m_above(new QWidget), m_topBar(new QWidget), m_menus(new QMenuBar),
      m_ask(new AskBox([this] { return offers(); }, [this](const QString &typed) { return answers(typed); })),
      m_title(new QLabel), m_message(new MessageBar), m_chain(new ChainView(m_bench)), m_sheet(new SheetView(m_bench)),
      m_ledger(new LedgerView(m_bench)), m_evidence(new EvidenceView(m_bench)), m_pages(new QStackedWidget),
      m_import(new ImportPage(m_bench)), m_report(new ReportPage(m_bench)), m_planEditor(new PlanEditor(m_bench)),
      m_first(new FirstPage(m_bench)), m_busyBox(new QWidget), m_progress(new QProgressBar)
{
    installAccessibleViews();
    setAcceptDrops(true);
    resize(1280, 800);
    const UserSettings settings = userSettings();
    applyUserSettings(settings);
    m_bench.setDark(settings.dark);
    m_bench.newProject();
    buildLayout();
    buildMenus();
    applyLook();
    connect(&m_bench, &Workbench::failed, this, [this](const QString &message) { m_message->show(message); });
    connect(&m_recovery, &Recovery::failed, this, [this](const QString &message) { m_message->show(message); });
    connect(&m_bench, &Workbench::told, this, [this](const QString &message) { m_message->show(message); });
    connect(&m_bench, &Workbench::capturesMissing, this, &MainWindow::offerFound);
    connect(&m_bench, &Workbench::resultsChanged, this, &MainWindow::offerPrograms);
    connect(&m_bench, &Workbench::sessionBegun, this, [this] { m_offeredPrograms.clear(); });
    connect(&m_bench, &Workbench::importsRead, this, &MainWindow::showImports);
    connect(&m_bench, &Workbench::projectReady, this, &MainWindow::offerReady);
    connect(&m_bench, &Workbench::consentNeeded, this, &MainWindow::askConsent);
    connect(m_planEditor, &PlanEditor::left, this, [this] {
        m_pages->setCurrentIndex(workPage);
        choosePage();
    });
    connect(m_planEditor, &PlanEditor::saved, this, &MainWindow::planSaved);
    connect(m_report, &ReportPage::left, this, [this] { layOutReport(false); });
    connect(m_report, &ReportPage::writeWanted, this, &MainWindow::writeReport);
    connect(&m_bench, &Workbench::sessionBegun, this, [this] { layOutReport(false); });
    connect(&m_bench, &Workbench::waitingChanged, this, &MainWindow::showBusy);
    connect(&m_bench, &Workbench::captureDisturbed, this, [this](const QString &what) {
        m_message->show(tr("%1: what is shown may be of neither state.").arg(what),
                        {{"readAgain", tr("Read it again"), [this] { m_bench.evaluateAnew(); }}});
    });
    connect(&m_bench, &Workbench::sessionBegun, m_message, &QWidget::hide);
    connect(m_import, &ImportPage::finished, this, [this] {
        m_pages->setCurrentIndex(workPage);
        choosePage();
    });
    connect(m_first, &FirstPage::openRequested, this, &MainWindow::openDialog);
    connect(m_first, &FirstPage::tourRequested, this, &MainWindow::startTour);
    connect(m_first, &FirstPage::manualRequested, this, [this] { openManual("guide.md#the-first-hour"); });
    connect(m_first, &FirstPage::projectRequested, this, [this](const QString &path) { openFiles({path}); });
    connect(&m_bench, &Workbench::documentChanged, this, &MainWindow::choosePage);
    connect(&m_bench, &Workbench::resultsChanged, this, &MainWindow::takePicture);
    connect(&m_bench, &Workbench::documentChanged, this, &MainWindow::showTitle);
    connect(&m_bench, &Workbench::lookChanged, this, &MainWindow::applyLook);
    connect(&m_bench.undoStack(), &QUndoStack::cleanChanged, this, &MainWindow::showTitle);
    connect(&m_bench.evaluator(), &Evaluator::busyChanged, this, &MainWindow::showBusy);
    connect(&m_bench.errands(), &Errands::busyChanged, this, &MainWindow::showBusy);
    m_progressTimer.setInterval(80);
    connect(&m_progressTimer, &QTimer::timeout, this, [this] {
        const auto &errands = m_bench.errands();
        m_progress->setValue(int(100 * (errands.busy() ? errands.fraction() : m_bench.evaluator().fraction())));
    });
    const std::pair<QWidget *, const char *> chapters[] = {{m_first, "the-first-hour"},
                                                           {m_import, "bringing-captures-in"},
                                                           {m_report, "reports"},
                                                           {m_planEditor, "test-plans"},
                                                           {m_ledger, "measuring"},
                                                           {m_evidence, "evidence"},
                                                           {m_ask, "ask"}};
    for (const auto &[widget, chapter] : chapters) widget->setProperty(manualProperty, QString("guide.md#") + chapter);
    showTitle();
    choosePage();
    m_chain->rails()->setFocus();
}

MainWindow::~MainWindow()
{
    // The views read the workbench up to their last focus event; they go before it.
    for (QObject *heard : {static_cast<QObject *>(&m_bench), static_cast<QObject *>(&m_bench.undoStack()),
                           static_cast<QObject *>(&m_bench.evaluator()), static_cast<QObject *>(&m_bench.errands())})
        heard->disconnect(this);
    delete takeCentralWidget();
    delete m_above;
}

void MainWindow::buildLayout()
{
    m_topBar->setObjectName("topBar");
    auto *top = new QHBoxLayout(m_topBar);
    top->setContentsMargins(8, 3, 14, 3);
    top->addWidget(m_menus);
    top->addStretch(1);
    m_ask->setFixedWidth(340);
    top->addWidget(m_ask);
    top->addStretch(1);
    auto *busy = new QHBoxLayout(m_busyBox);
    busy->setContentsMargins(0, 0, 0, 0);
    m_progress->setFixedWidth(110);
    m_progress->setTextVisible(false);
    auto *cancel = new QPushButton(tr("Cancel"));
    cancel->setObjectName("cancel");
    cancel->setToolTip(tr("Stop computing, reading and writing; what is shown stays (Ctrl+.)"));
    connect(cancel, &QPushButton::clicked, this, [this] { m_actions->perform("stop"); });
    busy->addWidget(m_progress);
    busy->addWidget(cancel);
    m_busyBox->hide();
    m_topBar->setFixedHeight(34); // whether busy or not
    top->addWidget(m_busyBox);
    m_title->setObjectName("quiet");
    top->addWidget(m_title);

    auto *above = new QVBoxLayout(m_above); // of whatever page is shown
    above->setContentsMargins(0, 0, 0, 0);
    above->setSpacing(0);
    above->addWidget(m_topBar);
    above->addWidget(m_message);
    setMenuWidget(m_above);

    auto *middle = new QSplitter(Qt::Horizontal);
    middle->addWidget(m_chain);
    middle->addWidget(m_sheet);
    middle->addWidget(new InspectorView(m_bench));
    middle->setSizes({232, 800, 248});
    middle->setStretchFactor(1, 1);
    auto *bottom = new QSplitter(Qt::Horizontal);
    bottom->addWidget(m_ledger);
    bottom->addWidget(m_evidence);
    bottom->setSizes({912, 368});
    bottom->setStretchFactor(0, 1);
    auto *whole = new QSplitter(Qt::Vertical);
    whole->addWidget(middle);
    whole->addWidget(bottom);
    whole->setSizes({540, 200});
    whole->setStretchFactor(0, 1);
    for (QSplitter *splitter : {middle, bottom, whole}) {
        splitter->setHandleWidth(1);
        splitter->setChildrenCollapsible(false);
    }
    auto *centre = new QWidget;
    auto *layout = new QVBoxLayout(centre);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto *strip = new StripView(m_bench);
    connect(m_evidence, &EvidenceView::outliersFound, strip, &StripView::showOutliers);
    layout->addWidget(strip);
    layout->addWidget(whole, 1);
    m_pages->addWidget(centre);
    m_pages->addWidget(m_first);
    m_pages->addWidget(m_import);
    m_pages->addWidget(m_report);
    m_pages->addWidget(m_planEditor);
    setCentralWidget(m_pages);
}

void MainWindow::applyLook()
{
    qApp->setFont(m_bench.look().font(12));
    qApp->setPalette(paletteOf(m_bench.look()));
    qApp->setStyleSheet(styleSheetOf(m_bench.look())); // also for Ask's list and the dialogs
    if (m_manual) m_manual->setLook(m_bench.look());
}

void MainWindow::openManual(const QString &place)
{
    if (!m_manual) {
        m_manual = new ManualWindow(this);
        m_manual->setLook(m_bench.look());
    }
    m_manual->open(place);
}

QString MainWindow::manualPlace() const
{
    using Kind = Selection::Kind;
    const auto placeOf = [](const QWidget *widget) { return widget->property(manualProperty).toString(); };
    if (const QWidget *under = QApplication::widgetAt(QCursor::pos()); under && under->window() == this)
        if (const QString place = placeOf(under); place.startsWith("terms.md")) return place;
    for (const QWidget *widget = QApplication::focusWidget(); widget; widget = widget->parentWidget())
        if (const QString place = placeOf(widget); !place.isEmpty()) return place;
    static const std::map<Kind, const char *> chapters{{Kind::capture, "bringing-captures-in"},
                                                       {Kind::channel, "deriving-channels"},
                                                       {Kind::parameter, "deriving-channels"},
                                                       {Kind::function, "deriving-channels"},
                                                       {Kind::program, "deriving-channels"},
                                                       {Kind::clock, "clocks-and-eyes"},
                                                       {Kind::eye, "clocks-and-eyes"},
                                                       {Kind::mask, "masks"},
                                                       {Kind::measurement, "measuring"},
                                                       {Kind::note, "looking-at-traces"},
                                                       {Kind::region, "looking-at-traces"},
                                                       {Kind::marker, "looking-at-traces"},
                                                       {Kind::spectrum, "spectra"},
                                                       {Kind::budget, "jitter"},
                                                       {Kind::phaseNoise, "phase-noise"},
                                                       {Kind::comparison, "comparing"},
                                                       {Kind::plan, "test-plans"}};
    const auto chapter = chapters.find(m_bench.selection().kind);
    return QString("guide.md#") + (chapter == chapters.end() ? "the-first-hour" : chapter->second);
}

void MainWindow::startTour()
{
    const QString demo = demoProject();
    if (demo.isEmpty()) return m_message->show(tr("The demo is not installed here: build it with ./dev demo."));
    if (m_bench.path() != demo || m_pages->currentIndex() != workPage) openFiles({demo});
    if (m_bench.path() != demo || m_pages->currentIndex() != workPage) return; // work that is not saved stays open
    delete m_tour;
    m_tour = new Tour(this, m_bench);
}

std::vector<AskBox::Offer> MainWindow::answers(const QString &typed)
{
    std::vector<AskBox::Offer> offers;
    for (const ManualSection *section : sectionsAbout(typed))
        offers.push_back(
            {tr("Manual: %1").arg(section->title), {}, [this, place = section->place()] { openManual(place); }});
    return offers;
}

void MainWindow::guarded(const std::function<void()> &act)
{
    try {
        act();
    } catch (const Error &error) {
        m_message->show(text(error.what()));
    }
}

void MainWindow::offerRecovery()
{
    const auto all = Recovery::left();
    const std::vector<CrashNote> notes = crashNotes();
    const MessageBar::Action look{"crashNote", tr("Look at the note"), [this] { showCrashNotes(this); }};
    if (all.empty()) {
        if (notes.empty()) return;
        return m_message->show(
            tr("The program ended by itself the last time. There is a note about it, with nothing of "
               "your data in it; it is sent to nobody."),
            {look, {"crashNoteAway", tr("Throw it away"), discardCrashNotes}});
    }
    const Recovery::Left &left = all.front();
    const QString name = left.document.title.empty() ? tr("A project") : text("\"" + left.document.title + "\"");
    const QString project = left.project.isEmpty() ? QString() : " (" + QFileInfo(left.project).fileName() + ")";
    std::vector<MessageBar::Action> ways{
        {"recover", left.tried ? tr("Open it without computing") : tr("Go on with it"),
         [this, left] {
             if (!mayDiscard()) return;
             m_recovery.goOnWith(left, left.tried);
             if (left.tried)
                 m_message->show(tr("Nothing is computed yet: remove or change what may be wrong, and save."),
                                 {{"computeNow", tr("Compute (F9)"), [this] { m_bench.evaluate(); }}});
         }},
        {"discard", tr("Throw it away"), [this, left] {
             Recovery::discard(left);
             offerRecovery(); // there may be more
         }}};
    if (!notes.empty()) ways.push_back(look);
    m_message->show(
        left.tried
            ? tr("%1 was not saved%2, and the program ended once already while going on with it.").arg(name, project)
            : tr("%1 was not saved when the program ended%2.").arg(name, project),
        std::move(ways));
}

void MainWindow::offerFound(const std::vector<MissingCapture> &missing)
{
    const MissingCapture one = missing.front();
    const std::vector<MissingCapture> others(missing.begin() + 1, missing.end());
    const auto use = [this, one, others](const std::filesystem::path &file) {
        m_bench.change(tr("find capture %1").arg(text(one.id)), [&](Document &document) {
            if (CaptureEntry *entry = findEntry(document.captures, one.id))
                entry->file = keptPath(file, m_bench.base());
        });
        if (!others.empty()) offerFound(others);
    };
    QString words = tr("Capture %1 is not at %2. ").arg(text(one.id), text(one.wanted.string()));
    std::vector<MessageBar::Action> actions;
    if (!one.found.empty()) {
        words += (one.same ? tr("The same samples lie in %1.") : tr("A file of that name, with other contents, is %1."))
                     .arg(text(keptPath(one.found, m_bench.base())));
        actions.push_back({"useFound", tr("Use it"), [use, one] { use(one.found); }});
    }
    actions.push_back({"findCapture", tr("Find it…"), [this, use, one] {
                           const QString file = QFileDialog::getOpenFileName(
                               this, tr("Find capture %1").arg(text(one.id)), text(m_bench.base().string()));
                           if (!file.isEmpty()) use(file.toStdString());
                       }});
    m_message->show(words, std::move(actions));
}

void MainWindow::offerPrograms()
{
    if (!m_bench.results()) return;
    for (const ProgramStatus &program : m_bench.results()->programs) {
        const bool waits =
            program.state == ProgramStatus::State::unseen || program.state == ProgramStatus::State::another;
        if (!waits || m_bench.selection().id == program.id ||
            !m_offeredPrograms.insert(program.id + program.sha256).second)
            continue;
        m_message->show(program.state == ProgramStatus::State::another
                            ? tr("%1 is not the program that this project was saved with: it does not run.")
                                  .arg(QFileInfo(text(program.path)).fileName())
                            : tr("This project calls %1, a program that was not allowed here yet: it does not run.")
                                  .arg(QFileInfo(text(program.path)).fileName()),
                        {{"lookAtProgram", tr("Look at it"),
                          [this, id = program.id] {
                              m_bench.select({Selection::Kind::program, id});
                          }}},
                        true);
        return;
    }
}

void MainWindow::showTitle()
{
    const QString name = m_bench.document().title.empty() ? tr("untitled") : text(m_bench.document().title);
    const bool saved = m_bench.undoStack().isClean();
    m_title->setText(name + (saved ? m_bench.path().isEmpty() ? QString() : tr(" · saved") : tr(" · not saved")));
    setWindowTitle(tr("%1[*] — Fulvex").arg(name));
    setWindowModified(!saved);
}

void MainWindow::offerReady(const QString &path, const OpenedProject &opened)
{
    m_message->show(
        tr("%1 is unpacked; the project that is open was changed meanwhile.").arg(QFileInfo(path).fileName()),
        {{"openReady", tr("Open it now"), [this, path, opened] {
              if (mayDiscard()) m_bench.takeProject(path, opened);
          }}});
}

void MainWindow::askConsent(const QString &path, const QString &why, PackConsent wanted)
{
    m_message->show(why + ".",
                    {{"consent", tr("Open it all the same"),
                      [this, path, wanted] { guarded([&] { m_bench.openProject(path, wanted); }); }}},
                    true);
}

bool MainWindow::busy()
{
    return m_bench.evaluator().busy() || m_bench.errands().busy() || m_bench.waiting();
}

void MainWindow::showBusy()
{
    if (busy()) {
        m_progressTimer.start();
        QTimer::singleShot(500, this, [this] { // what is over at once needs no bar
            if (busy()) m_busyBox->show();
        });
    } else {
        m_progressTimer.stop();
        m_busyBox->hide();
    }
}

void MainWindow::openFiles(const QStringList &files)
{
    QStringList captures;
    for (const QString &file : files) {
        if (file.endsWith(planEnding)) {
            if (!mayDiscard()) return;
            guarded([&] {
                openPlan(m_bench, file);
                m_message->hide();
            });
            continue;
        }
        if (file.endsWith(maskEnding)) {
            layMask(file);
            continue;
        }
        const bool report = file.endsWith(".pdf") || file.endsWith(".html");
        if (!file.endsWith(".fulvex") && !file.endsWith(packedEnding) && !report) {
            captures << file;
            continue;
        }
        if (!mayDiscard()) return;
        guarded([&] {
            m_bench.openProject(file);
            if (!report) rememberProject(file);
            m_message->hide();
        });
    }
    if (!captures.isEmpty()) m_bench.readForImport(captures);
}

void MainWindow::layMask(const QString &file)
{
    const std::string eye = chosenEntry(m_bench, Selection::Kind::eye);
    if (eye.empty())
        return m_message->show(
            tr("%1 is a mask, which is laid on an eye: open a project that has one, then drop it there.")
                .arg(QFileInfo(file).fileName()));
    guarded([&] { addMask(m_bench, eye, keptPath(file.toStdString(), m_bench.base())); });
}

void MainWindow::showImports(const std::vector<ImportDraft> &drafts)
{
    // A file that cannot be read as anything is told; raw samples are anything, but only the user knows which.
    const auto readable =
        std::any_of(drafts.begin(), drafts.end(), [](const ImportDraft &d) { return d.capture != nullptr; });
    if (!readable) return m_message->show(drafts.front().problem);
    m_message->hide();
    m_pages->setCurrentWidget(m_import);
    m_import->show(drafts);
}

void MainWindow::openDialog()
{
    openFiles(QFileDialog::getOpenFileNames(this, tr("Open project or captures"), {},
                                            tr("Projects, plans, masks and captures (*.fulvex *.fulvexpack "
                                               "*.fulvexplan *.mask.json *.pdf *.html *.csv *.txt *.tsv *.dat "
                                               "*.npy *.npz *.wav *.w64 *.flac *.mat *.h5 "
                                               "*.hdf5 *.sigmf-meta *.raw *.bin);;All files (*)")));
}

bool MainWindow::save(bool ask)
{
    QString path = m_bench.path();
    QString title = tr("Save project");
    // One that is installed, or somebody else's, is saved elsewhere: a new file takes its place, so the folder counts.
    const QFileInfo there(path), folder(there.absolutePath());
    if (!path.isEmpty() && ((there.exists() && !there.isWritable()) || (folder.exists() && !folder.isWritable()))) {
        title = tr("Save elsewhere: %1 cannot be written to").arg(there.isWritable() ? folder.filePath() : path);
        path = QDir::home().filePath(there.fileName());
        ask = true;
    }
    if (ask || path.isEmpty())
        path = QFileDialog::getSaveFileName(
            this, title, path.isEmpty() ? "project.fulvex" : path,
            tr("Projects (*.fulvex);;Packed projects, with their captures (*%1)").arg(packedEnding));
    if (path.isEmpty()) return false;
    m_bench.save(path, [this, path] {
        rememberProject(path);
        m_pictured = 0; // as it is now
        takePicture();
        showTitle();
    });
    return true;
}

bool MainWindow::mayDiscard()
{
    if (m_bench.undoStack().isClean()) return true;
    const auto answer = QMessageBox::question(this, tr("Unsaved changes"), tr("Save the changes to this project?"),
                                              QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
    if (answer != QMessageBox::Save) return answer == QMessageBox::Discard;
    if (!save(false)) return false;
    m_bench.errands().finish();
    return m_bench.undoStack().isClean(); // not where it could not be written
}

void MainWindow::closeEvent(QCloseEvent *event)
{
    if (m_pages->currentWidget() == m_planEditor && !m_planEditor->mayLeave()) return event->ignore();
    if (!mayDiscard()) return event->ignore();
    constexpr int patience = 700; // ms, for an export that is nearly done; it is written whole or not at all
    m_bench.errands().finish(patience);
    event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent *event)
{
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent *event)
{
    QStringList files;
    for (const QUrl &url : event->mimeData()->urls()) {
        if (url.isLocalFile()) files << url.toLocalFile();
    }
    event->acceptProposedAction();
    openFiles(files);
}

void MainWindow::takePicture()
{
    if (!m_bench.upToDate() || m_bench.path().isEmpty() || m_pages->currentIndex() != workPage) return;
    if (std::exchange(m_pictured, m_bench.session()) == m_bench.session()) return;
    constexpr int width = 416;
    const QImage sheet = m_sheet->page()->grab().toImage();
    rememberPicture(m_bench.path(), text(m_bench.document().title),
                    sheet.scaledToWidth(width, Qt::SmoothTransformation));
}

void MainWindow::choosePage()
{
    const Document &document = m_bench.document();
    const bool nothing = document.captures.empty() && document.channels.empty() && document.sheets.empty();
    if (m_pages->currentWidget() == m_import || m_pages->currentWidget() == m_planEditor) return; // until done with
    if (m_report->isOpen() && !nothing) return;
    m_report->setOpen(false);
    if (nothing && m_pages->currentIndex() != firstPage) m_first->refresh();
    m_pages->setCurrentIndex(nothing ? firstPage : workPage);
}

void MainWindow::layOutReport(bool open)
{
    if (open && m_pages->currentIndex() != workPage) return;
    m_report->setOpen(open);
    if (open)
        m_pages->setCurrentWidget(m_report);
    else if (m_pages->currentWidget() == m_report)
        m_pages->setCurrentIndex(workPage);
}

void MainWindow::editPlan(const Plan &plan, const QString &file)
{
    if (m_pages->currentWidget() == m_planEditor && !m_planEditor->mayLeave()) return;
    m_report->setOpen(false);
    m_message->hide();
    m_planEditor->edit(plan, file);
    m_pages->setCurrentWidget(m_planEditor);
}

void MainWindow::planSaved(const QString &file)
{
    const auto &plans = m_bench.document().plans;
    const bool own = std::ranges::any_of(plans, [&](const PlanEntry &plan) {
        return (m_bench.base() / plan.file).lexically_normal() == std::filesystem::path(file.toStdString());
    });
    if (own) return m_bench.readPlansAnew();
    m_message->show(tr("%1 is saved.").arg(QFileInfo(file).fileName()), {{"workDown", tr("Work it down"), [this, file] {
                                                                              m_planEditor->edit(m_planEditor->plan(),
                                                                                                 file);
                                                                              m_pages->setCurrentIndex(workPage);
                                                                              openFiles({file});
                                                                          }}});
}

void MainWindow::exportReport(const QString &path)
{
    m_bench.exportReports({path});
}

void MainWindow::writeReport()
{
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Write the report"), "report.pdf", tr("PDF, and HTML beside it (*.pdf)"));
    if (path.isEmpty()) return;
    const QString name = path.endsWith(".pdf") ? path.chopped(4) : path;
    m_bench.exportReports({name + ".pdf", name + ".html"}, m_bench.run() && m_bench.run()->all);
}

void MainWindow::exportReportOfAll(const QString &path)
{
    if (m_bench.run() && m_bench.run()->all) m_bench.exportReports({path}, true);
}

void MainWindow::exportTable(const QString &path)
{
    m_bench.exportFile(
        path, [](const Results &results, const std::string &, Progress &) { return measurementsCsv(results); });
}

void MainWindow::exportPicture(TileFrame *tile, const QString &path)
{
    tile->takePicture([this, path](const QImage &picture) {
        m_bench.errands().run([path, picture](Progress &) {
            if (!picture.save(path))
                throw Error(path.toStdString(), "the picture cannot be written",
                            "check the folder and the ending (.png)");
        });
    });
}

} // namespace fulvex
