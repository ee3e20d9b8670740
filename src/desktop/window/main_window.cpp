#include "main_window.h"

#include "accessible_views.h"
#include "action_menus.h"
#include "axis_painter.h"
#include "chain_view.h"
#include "error.h"
#include "evidence_view.h"
#include "first_page.h"
#include "import_page.h"
#include "inspector_view.h"
#include "ledger_view.h"
#include "manual_index.h"
#include "manual_window.h"
#include "plan_editor.h"
#include "recent_projects.h"
#include "report_page.h"
#include "sheet_view.h"
#include "strip_view.h"
#include "style_sheet.h"
#include "terms.h"
#include "tour.h"
#include "user_settings.h"

#include <QMenuBar>
#include <QMimeData>
#include <QSplitter>

namespace fulvex {

static constexpr int workPage = 0, firstPage = 1; ///< in m_pages

MainWindow::MainWindow(std::shared_ptr<Engine> engine, QWidget *parent)
    : QMainWindow(parent), m_bench(std::move(engine)), m_above(new QWidget), m_topBar(new QWidget),
      m_menus(new QMenuBar),
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
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged,
                         &Workbench::sheetChanged, &Workbench::viewChanged, &Workbench::runChanged,
                         &Workbench::comparisonsChanged, &Workbench::plansChanged})
        connect(&m_bench, changed, m_ask, &AskBox::outdate);
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
    auto *inspector = new InspectorView(m_bench);
    inspector->setMinimumWidth(236); // what its fields need
    middle->addWidget(inspector);
    // Of a larger window most is the sheet's, and some everybody's: words take fewer lines then, tables show more.
    const auto share = [](QSplitter *splitter, const QList<int> &sizes, const QList<int> &stretches) {
        splitter->setSizes(sizes);
        for (int i = 0; i < stretches.size(); ++i) splitter->setStretchFactor(i, stretches[i]);
    };
    share(middle, {232, 800, 248}, {1, 10, 2});
    auto *bottom = new QSplitter(Qt::Horizontal);
    bottom->addWidget(m_ledger);
    m_evidence->setMinimumWidth(360);
    bottom->addWidget(m_evidence);
    share(bottom, {912, 368}, {2, 1});
    auto *whole = new QSplitter(Qt::Vertical);
    whole->addWidget(middle);
    whole->addWidget(bottom);
    share(whole, {540, 200}, {4, 1});
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
    // Of the application, so also for Ask's list and the dialogs; each widget is dressed anew, even if nothing changed.
    const Look &look = m_bench.look();
    if (const QFont font = look.font(12); qApp->font() != font) qApp->setFont(font);
    if (const QPalette palette = paletteOf(look); qApp->palette() != palette) qApp->setPalette(palette);
    if (const QString sheet = styleSheetOf(look); qApp->styleSheet() != sheet) qApp->setStyleSheet(sheet);
    if (m_manual) m_manual->setLook(look);
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

void MainWindow::showTitle()
{
    const QString name = m_bench.document().title.empty() ? tr("untitled") : text(m_bench.document().title);
    const bool saved = m_bench.undoStack().isClean();
    m_title->setText(name + (saved ? m_bench.path().isEmpty() ? QString() : tr(" · saved") : tr(" · not saved")));
    setWindowTitle(tr("%1[*] — Fulvex").arg(name));
    setWindowModified(!saved);
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

} // namespace fulvex
