#include "report_page.h"

#include "axis_painter.h"
#include "described_fields.h"
#include "error.h"
#include "logo_choice.h"
#include "report_layouts.h"
#include "report_parts.h"
#include "run_members.h"

#include <QBoxLayout>
#include <QInputDialog>
#include <QKeyEvent>
#include <QMenu>
#include <QScrollArea>
#include <QShortcut>
#include <algorithm>

namespace fulvex {

namespace {

enum Data { wordRole = Qt::UserRole, idsRole };

QPushButton *small(const QString &words, const char *name)
{
    auto *button = new QPushButton(words);
    button->setObjectName(name);
    button->setProperty("small", true);
    return button;
}

QTreeWidgetItem *addChoice(QTreeWidgetItem *under, const QString &words, const QStringList &ids, bool chosen)
{
    auto *item = new QTreeWidgetItem(under, {words});
    item->setData(0, idsRole, ids);
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
    item->setCheckState(0, chosen ? Qt::Checked : Qt::Unchecked);
    return item;
}

/// What a part is made of, each of which may be left out.
void addChoices(QTreeWidgetItem *under, const std::string &part, const Workbench &bench)
{
    const Document &document = bench.document();
    const auto &without = document.report.without;
    const auto isIn = [&](const std::string &id) { return std::ranges::find(without, id) == without.end(); };
    if (part == "sheets")
        for (const SheetEntry &sheet : document.sheets)
            addChoice(under, sheet.title.empty() ? text(sheet.id) : text(sheet.title), {text(sheet.id)},
                      isIn(sheet.id));
    if (part == "plans")
        for (const PlanEntry &plan : document.plans) addChoice(under, text(plan.id), {text(plan.id)}, isIn(plan.id));
    if (part == "comparisons")
        for (const ComparisonEntry &one : document.comparisons)
            addChoice(under, text(one.file), {text(one.id)}, isIn(one.id));
    if (part != "measurements" || !bench.results()) return;
    for (const auto &[of, lines] : ledgerGroups(*bench.results())) {
        QStringList ids;
        for (const LedgerLine &line : lines) ids << text(line.id);
        addChoice(under, QObject::tr("of %1 (%2)").arg(text(of)).arg(ids.size()), ids,
                  std::ranges::any_of(ids, [&](const QString &id) { return isIn(id.toStdString()); }));
    }
}

} // namespace

ReportPage::ReportPage(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_form(new InspectorForm(bench)), m_parts(new QTreeWidget),
      m_area(new PageArea(bench.figures())), m_place(new QLabel), m_problem(new QLabel), m_progress(new QProgressBar),
      m_logo(small({}, "reportLogo"))
{
    setObjectName("reportPage");
    auto *back = small(tr("Back to the sheets (Esc)"), "reportBack");
    connect(back, &QPushButton::clicked, this, &ReportPage::left);
    auto *write = new QPushButton(tr("Write PDF and HTML…"));
    write->setObjectName("reportWrite");
    connect(write, &QPushButton::clicked, this, &ReportPage::writeWanted);

    m_form->heading(tr("First page"));
    addDescribedFields(*m_form, bench, {});
    m_form->widget(m_logo);
    connect(m_logo, &QPushButton::clicked, this, &ReportPage::chooseLogo);

    m_parts->setObjectName("reportParts");
    m_parts->setAccessibleName(tr("Parts of the report"));
    m_parts->setHeaderHidden(true);
    m_parts->setFrameShape(QFrame::NoFrame);
    m_parts->setDragDropMode(QAbstractItemView::InternalMove);
    m_parts->setToolTip(tr("What is in the report, in its order · drag, or Alt+↑ ↓: earlier or later"));
    // Afterwards: what is taken fills the list anew, and an item is still at work while it tells.
    m_taking.setSingleShot(true);
    m_taking.setInterval(0);
    connect(&m_taking, &QTimer::timeout, this, &ReportPage::takeParts);
    const auto changed = [this] {
        if (!m_filling) m_taking.start();
    };
    connect(m_parts, &QTreeWidget::itemChanged, this, changed);
    connect(m_parts->model(), &QAbstractItemModel::rowsInserted, this, changed); // dropped
    for (const int by : {-1, 1}) {
        auto *key = new QShortcut(QKeySequence(by < 0 ? "Alt+Up" : "Alt+Down"), m_parts);
        key->setContext(Qt::WidgetShortcut);
        connect(key, &QShortcut::activated, this, [this, by] {
            QTreeWidgetItem *item = m_parts->currentItem();
            const int at = item ? m_parts->indexOfTopLevelItem(item) : -1, to = at + by;
            if (at < 0 || to < 0 || to >= m_parts->topLevelItemCount()) return;
            m_filling = true;
            m_parts->insertTopLevelItem(to, m_parts->takeTopLevelItem(at));
            m_parts->setCurrentItem(item);
            m_filling = false;
            m_taking.start();
        });
    }
    auto *kept = small(tr("Lay out as…"), "reportKept"), *keep = small(tr("Keep this layout…"), "reportKeep");
    connect(kept, &QPushButton::clicked, this, &ReportPage::offerKept);
    connect(keep, &QPushButton::clicked, this, &ReportPage::keep);

    auto *aside = new QWidget;
    aside->setFixedWidth(300);
    auto *side = new QVBoxLayout(aside);
    side->addWidget(back);
    side->addWidget(m_form);
    auto *heading = new QLabel(tr("Parts"));
    heading->setObjectName("heading");
    side->addWidget(heading);
    side->addWidget(m_parts, 1);
    auto *layouts = new QHBoxLayout;
    layouts->addWidget(kept);
    layouts->addWidget(keep);
    side->addLayout(layouts);
    side->addWidget(write);

    m_problem->setObjectName("quiet");
    m_problem->setWordWrap(true);
    m_problem->hide();
    m_place->setObjectName("quiet");
    m_progress->setTextVisible(false);
    m_progress->setFixedWidth(110);
    auto *foot = new QHBoxLayout;
    foot->setContentsMargins(12, 2, 12, 2);
    foot->addWidget(m_place);
    foot->addWidget(m_problem, 1);
    foot->addStretch();
    foot->addWidget(m_progress);
    auto *right = new QVBoxLayout;
    right->setSpacing(0);
    right->addWidget(m_area, 1);
    right->addLayout(foot);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(aside);
    layout->addLayout(right, 1);

    m_soon.setSingleShot(true);
    m_soon.setInterval(150);
    connect(&m_soon, &QTimer::timeout, this, &ReportPage::relay);
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_area->show(nullptr); });
    for (const auto followed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::plansChanged,
                                &Workbench::comparisonsChanged}) {
        connect(&bench, followed, this, [this] {
            if (!m_open) return;
            refresh();
            m_soon.start();
        });
    }
    connect(&bench.pages(), &PageKeeper::told, this, &ReportPage::showPages);
    connect(&bench.pages(), &PageKeeper::busyChanged, this, &ReportPage::showPlace);
    connect(m_area, &PageArea::scrolled, this, &ReportPage::showPlace);
    auto *clock = new QTimer(this);
    clock->setInterval(80);
    connect(clock, &QTimer::timeout, this, [this] {
        if (m_open) m_progress->setValue(int(100 * m_bench.pages().fraction()));
    });
    clock->start();
}

void ReportPage::setOpen(bool open)
{
    if (std::exchange(m_open, open) == open) return;
    if (!open) return m_bench.pages().ask(std::nullopt);
    refresh();
    relay();
    m_area->setFocus();
}

void ReportPage::keyPressEvent(QKeyEvent *event)
{
    if (event->key() != Qt::Key_Escape) return QWidget::keyPressEvent(event);
    emit left();
}

void ReportPage::refresh()
{
    m_form->refresh();
    m_logo->setText(m_bench.document().report.logo.empty() ? tr("Put a picture on it…") : tr("Take the picture away"));
    fillParts();
}

void ReportPage::fillParts()
{
    if (m_taking.isActive()) return; // what was just chosen is taken first
    const ReportEntry &report = m_bench.document().report;
    std::vector<std::string> order = partsOf(report);
    const std::size_t chosen = order.size();
    for (const Choice &part : reportParts())
        if (std::ranges::find(order, part.word) == order.end()) order.emplace_back(part.word);
    const QTreeWidgetItem *before = m_parts->currentItem();
    const QString current = before ? before->data(0, wordRole).toString() : QString();
    m_filling = true;
    m_parts->clear();
    for (std::size_t i = 0; i < order.size(); ++i) {
        const auto part = std::ranges::find(reportParts(), order[i], &Choice::word);
        auto *item = new QTreeWidgetItem(m_parts, {tr(part->words)});
        item->setData(0, wordRole, text(order[i]));
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable | Qt::ItemIsDragEnabled);
        item->setCheckState(0, i < chosen ? Qt::Checked : Qt::Unchecked);
        addChoices(item, order[i], m_bench);
        item->setExpanded(order[i] == "sheets");
        if (text(order[i]) == current) m_parts->setCurrentItem(item);
    }
    m_filling = false;
}

void ReportPage::takeParts()
{
    ReportEntry made = m_bench.document().report;
    made.parts.clear();
    made.without.clear();
    for (int i = 0; i < m_parts->topLevelItemCount(); ++i) {
        const QTreeWidgetItem *item = m_parts->topLevelItem(i);
        if (item->checkState(0) == Qt::Checked) made.parts.push_back(item->data(0, wordRole).toString().toStdString());
        for (int k = 0; k < item->childCount(); ++k) {
            if (item->child(k)->checkState(0) == Qt::Checked) continue;
            for (const QString &id : item->child(k)->data(0, idsRole).toStringList())
                made.without.push_back(id.toStdString());
        }
    }
    if (made.parts.empty()) {
        emit m_bench.failed(tr("A report has at least one part: choose another one first."));
        return fillParts();
    }
    if (made.parts == partsOf(ReportEntry{})) made.parts.clear();
    if (made == m_bench.document().report) return;
    m_bench.change(tr("choose the parts of the report"), [&](Document &document) { document.report = made; });
}

void ReportPage::relay()
{
    if (!m_open) return;
    m_bench.wantBeside();
    const bool run = hasRun(m_bench.document());
    auto sources = m_bench.reportSources(run);
    if (!sources) { // it follows once the numbers are there
        m_place->setText(tr("Waits for the numbers"));
        return;
    }
    m_bench.pages().ask(std::move(sources));
}

void ReportPage::showPages(std::shared_ptr<const MadePages> made)
{
    if (!m_open || made->session != m_bench.session()) return;
    m_problem->setVisible(!made->error.empty());
    m_problem->setText(text(made->error));
    if (made->pages) m_area->show(made->pages);
    showPlace();
}

void ReportPage::showPlace()
{
    m_progress->setVisible(m_bench.pages().busy());
    if (m_area->pageCount() > 0)
        m_place->setText(tr("page %1 of %2").arg(m_area->currentPage() + 1).arg(m_area->pageCount()));
}

void ReportPage::chooseLogo()
{
    std::string logo;
    if (m_bench.document().report.logo.empty() && (logo = chosenLogo(m_bench, this)).empty()) return;
    m_bench.change(logo.empty() ? tr("take the picture away") : tr("put a picture on the report"),
                   [&](Document &document) { document.report.logo = logo; });
}

void ReportPage::offerKept()
{
    QMenu menu(this);
    menu.setObjectName("reportLayouts");
    const auto lay = [this](const ReportLayout &layout) {
        m_bench.change(tr("lay the report out as %1").arg(text(layout.title)),
                       [&](Document &document) { layOut(document.report, layout); });
    };
    menu.addAction(tr("as at first"), this, [lay] { lay({"at first", {}}); });
    for (const ReportLayout &layout : keptReportLayouts())
        menu.addAction(text(layout.title), this, [lay, layout] { lay(layout); });
    if (const auto kept = keptReportLayouts(); !kept.empty()) {
        menu.addSeparator();
        QMenu *forget = menu.addMenu(tr("Forget"));
        for (const ReportLayout &layout : kept)
            forget->addAction(text(layout.title), this, [title = layout.title] { forgetReportLayout(title); });
    }
    menu.exec(QCursor::pos());
}

void ReportPage::keep()
{
    bool given = false;
    const QString title = QInputDialog::getText(this, tr("Keep this layout"),
                                                tr("Paper, who and where, picture and parts, for other projects. "
                                                   "Its name:"),
                                                QLineEdit::Normal, {}, &given)
                              .trimmed();
    if (!given || title.isEmpty()) return;
    try {
        keepReportLayout({title.toStdString(), m_bench.document().report});
        emit m_bench.told(tr("Kept as \"%1\": it stands under \"Lay out as…\" in every project").arg(title));
    } catch (const Error &error) {
        emit m_bench.failed(QString::fromStdString(error.what()));
    }
}

} // namespace fulvex
