#include "import_page.h"

#include "axis_painter.h"
#include "column_picture.h"
#include "file_view.h"
#include "number_text.h"
#include "quiet_label.h"
#include "retire.h"
#include "stated_facts.h"

#include <QFileInfo>
#include <QKeyEvent>
#include <QScrollBar>
#include <QSplitter>

namespace fulvex {

namespace {

bool isEnter(const QKeyEvent &event)
{
    return event.key() == Qt::Key_Return || event.key() == Qt::Key_Enter;
}

/// Enter takes what was typed; only the next one goes on to the page.
class FactEdit final : public QLineEdit {
public:
    using QLineEdit::QLineEdit;

protected:
    void keyPressEvent(QKeyEvent *event) override
    {
        const bool typed = isModified();
        QLineEdit::keyPressEvent(event);
        if (isEnter(*event)) event->setAccepted(typed);
    }
};

} // namespace

ImportPage::ImportPage(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_tabs(new QTabBar), m_file(new FileView), m_understood(new QScrollArea),
      m_hint(new QLabel), m_difference(new QCheckBox), m_add(new QPushButton)
{
    setObjectName("importPage");
    setFocusPolicy(Qt::StrongFocus);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto *head = new QHBoxLayout;
    head->setContentsMargins(18, 10, 18, 8);
    auto *title = new QLabel(tr("Bring in"));
    title->setObjectName("heading");
    head->addWidget(title);
    head->addSpacing(18);
    m_tabs->setObjectName("importTabs");
    m_tabs->setDrawBase(false);
    head->addWidget(m_tabs);
    head->addStretch(1);
    layout->addLayout(head);
    auto *halves = new QSplitter(Qt::Horizontal);
    halves->addWidget(m_file);
    m_understood->setObjectName("understood");
    m_understood->setWidgetResizable(true);
    m_understood->setFrameShape(QFrame::NoFrame);
    halves->addWidget(m_understood);
    halves->setSizes({600, 680});
    halves->setHandleWidth(1);
    halves->setChildrenCollapsible(false);
    layout->addWidget(halves, 1);
    auto *foot = new QHBoxLayout;
    foot->setContentsMargins(18, 8, 18, 10);
    m_hint->setObjectName("importHint");
    m_hint->setWordWrap(true);
    foot->addWidget(m_hint, 1);
    m_difference->setObjectName("difference");
    foot->addWidget(m_difference);
    auto *leave = new QPushButton(tr("Leave it"));
    leave->setObjectName("importLeave");
    foot->addWidget(leave);
    m_add->setObjectName("importAdd");
    foot->addWidget(m_add);
    layout->addLayout(foot);
    connect(m_tabs, &QTabBar::currentChanged, this, [this](int index) {
        if (index >= 0) rebuild();
    });
    connect(m_difference, &QCheckBox::clicked, this, [this](bool on) { draft().difference = on; });
    connect(m_file, &FileView::beginChosen, this, [this](qsizetype offset) {
        draft().options.headerBytes = offset;
        reread();
    });
    connect(leave, &QPushButton::clicked, this, [this] { emit finished(false); });
    connect(m_add, &QPushButton::clicked, this, &ImportPage::add);
}

void ImportPage::show(std::vector<ImportDraft> drafts)
{
    m_drafts = std::move(drafts);
    ++m_shown;
    {
        const QSignalBlocker quietly(m_tabs);
        while (m_tabs->count()) m_tabs->removeTab(0);
        for (const ImportDraft &one : m_drafts) m_tabs->addTab(QFileInfo(one.file).fileName());
    }
    setFocus(); // not in a field of what was shown before
    rebuild();
}

int ImportPage::factNamed(const std::string &what) const
{
    const auto &capture = m_drafts[std::size_t(m_tabs->currentIndex())].capture;
    if (!capture) return -1;
    for (std::size_t i = 0; i < capture->facts.size(); ++i) {
        if (capture->facts[i].what == what) return int(i);
    }
    return -1;
}

void ImportPage::addFact(QGridLayout *grid, const QString &words, QWidget *value, bool yours, int fact)
{
    const int row = grid->rowCount();
    auto *name = quietLabel(words);
    grid->addWidget(name, row, 0, Qt::AlignLeft | Qt::AlignVCenter);
    grid->addWidget(value, row, 1);
    auto *place = new QPushButton(yours ? tr("yours") : fact >= 0 ? FileView::badge(fact) : QString());
    place->setFlat(true);
    place->setObjectName(yours ? "placeYours" : "place");
    place->setFocusPolicy(Qt::NoFocus);
    place->setToolTip(yours ? tr("You said so; it is kept in the project.") : tr("Show where the file says so"));
    place->setVisible(yours || fact >= 0);
    connect(place, &QPushButton::clicked, this, [this, fact] { m_file->point(fact); });
    grid->addWidget(place, row, 2, Qt::AlignLeft | Qt::AlignVCenter);
}

QLineEdit *ImportPage::edit(const QString &name, const QString &words, const std::function<bool(const QString &)> &take)
{
    auto *line = new FactEdit(words);
    line->setObjectName(name);
    line->setCursorPosition(0);
    connect(line, &QLineEdit::editingFinished, this, [this, line, words, take] {
        if (line->text() == words) return;
        if (take(line->text())) return reread();
        m_hint->setText(tr("▲ \"%1\" cannot be used here; it stays as it was.").arg(line->text()));
        const QSignalBlocker quietly(line);
        line->setText(words);
    });
    return line;
}

QComboBox *ImportPage::choice(const QString &name, const QStringList &words, int current,
                              const std::function<void(int)> &take)
{
    auto *box = new QComboBox;
    box->setObjectName(name);
    box->addItems(words);
    box->setCurrentIndex(current);
    connect(box, &QComboBox::activated, this, [this, take](int index) {
        take(index);
        reread();
    });
    return box;
}

QWidget *ImportPage::columnCard(std::size_t index)
{
    ImportDraft &one = draft();
    ColumnDraft &column = one.columns[index];
    const Look &look = m_bench.look();
    auto *card = new QFrame;
    card->setObjectName("columnCard");
    auto *row = new QHBoxLayout(card);
    row->setContentsMargins(10, 8, 10, 8);
    row->setSpacing(14);
    row->addWidget(new ColumnPicture(column.first, look.trace(int(index)), look));
    auto *grid = new QGridLayout;
    grid->setVerticalSpacing(2);
    grid->setHorizontalSpacing(8);
    const auto mark = [&column](const char *what) { return column.yours.contains(what); };
    const QString suffix = QString::number(index);
    const auto field = [&](int at, const QString &words, QWidget *value, const char *what) {
        auto *label = quietLabel(words + (mark(what) ? tr(" · yours") : QString()));
        grid->addWidget(label, at / 2 * 2, at % 2);
        grid->addWidget(value, at / 2 * 2 + 1, at % 2);
    };
    const auto at = [this, index]() -> ColumnDraft & { return draft().columns[index]; };
    QLineEdit *name = edit("columnName" + suffix, column.label, [at](const QString &words) {
        at().label = words;
        at().yours.insert("label");
        return true;
    });
    name->setPlaceholderText(tr("column %1").arg(index));
    field(0, tr("name"), name, "label");
    QLineEdit *unit = edit("columnUnit" + suffix, column.unit, [at](const QString &words) {
        at().unit = words.trimmed();
        at().yours.insert("unit");
        return true;
    });
    unit->setPlaceholderText(tr("V, since none is stated"));
    field(1, tr("unit"), unit, "unit");
    QLineEdit *factor =
        edit("columnFactor" + suffix, "× " + typedQuantity(column.factor, ""), [at](const QString &words) {
            const auto value = parseFactor(words);
            if (!value) return false;
            at().factor = *value;
            at().yours.insert("factor");
            return true;
        });
    factor->setToolTip(tr("A factor, a probe's ratio (10:1) or an attenuator's loss (20 dB)"));
    field(2, tr("scale"), factor, "factor");
    for (const StatedFact &fact : one.capture ? one.capture->stated : std::vector<StatedFact>()) {
        const auto stated = statedProbeFactor(fact);
        if (!stated || *stated == 1 || *stated == column.factor) continue;
        auto *offer = new QPushButton(tr("× %1, as the file states of the probe").arg(typedQuantity(*stated, "")));
        offer->setObjectName("probeFactor" + suffix);
        connect(offer, &QPushButton::clicked, this, [this, at, stated] {
            at().factor = *stated;
            at().yours.insert("factor");
            rebuild();
        });
        grid->addWidget(offer, 4, 0, 1, 2);
        break;
    }
    field(3, tr("offset"),
          edit("columnOffset" + suffix, typedQuantity(column.offset, column.unit.toStdString()),
               [at](const QString &words) {
                   const auto value = parseQuantity(words.toStdString(), at().unit.toStdString());
                   if (!value) return false;
                   at().offset = *value;
                   at().yours.insert("offset");
                   return true;
               }),
          "offset");
    row->addLayout(grid, 1);
    auto *first = new QVBoxLayout;
    QStringList values;
    for (std::size_t i = 0; i < std::min<std::size_t>(4, column.first.size()); ++i)
        values << text(quantityText(column.first[i] * column.factor + column.offset, column.unit.toStdString(), {}, 5));
    auto *list = quietLabel(values.join('\n'));
    list->setAlignment(Qt::AlignRight | Qt::AlignTop);
    list->setMinimumWidth(90);
    first->addWidget(list);
    row->addLayout(first);
    auto *used = new QCheckBox(tr("take"));
    used->setObjectName("columnUsed" + suffix);
    used->setChecked(column.used);
    connect(used, &QCheckBox::clicked, this, [this, at](bool on) {
        at().used = on;
        at().yours.insert("used");
        fillHints();
    });
    row->addWidget(used);
    return card;
}

void ImportPage::fillColumns(QVBoxLayout *list)
{
    constexpr std::size_t shown = 32;
    const std::size_t count = draft().columns.size();
    for (std::size_t i = 0; i < std::min(count, shown); ++i) list->addWidget(columnCard(i));
    if (count > shown) list->addWidget(quietLabel(tr("and %1 more columns, taken as they are").arg(count - shown)));
}

void ImportPage::fillHints()
{
    const ImportDraft &one = draft();
    const auto ready =
        std::count_if(m_drafts.begin(), m_drafts.end(), [](const ImportDraft &d) { return d.complete(); });
    const auto all = std::ptrdiff_t(m_drafts.size());
    m_add->setEnabled(ready > 0);
    m_add->setText(all == 1       ? tr("Add  ⏎")
                   : ready == all ? tr("Add %1 files  ⏎").arg(all)
                                  : tr("Add %1 of %2 files  ⏎").arg(ready).arg(all));
    QStringList words;
    QStringList left; // others than the one that is shown, which tells of itself
    for (const ImportDraft &other : m_drafts)
        if (!other.complete() && &other != &one) left << QFileInfo(other.file).fileName();
    if (!left.isEmpty()) words << tr("▲ not complete, and left out as it is: %1").arg(left.join(", "));
    if (!one.offers.empty() && one.problem.isEmpty())
        words << tr(
            "Of no format that says so itself: read as raw samples, as smoothly as can be. Another picture above "
            "may be right.");
    if (!one.problem.isEmpty()) words << "▲ " + one.problem;
    if (one.capture && !one.capture->intervalKnown)
        words << tr("▲ The file does not state its sample interval: give one.");
    if (one.recalled) words << tr("Corrections are those of the last file of this shape.");
    if (one.capture && one.problem.isEmpty())
        for (const auto *list : {&one.capture->doubts, &one.capture->remarks})
            for (const std::string &remark : *list) words << text(remark);
    m_hint->setText(words.join("  ·  "));
    const int index = m_tabs->currentIndex();
    const bool pairOfFiles = index + 1 < int(m_drafts.size()) && arePair(one, m_drafts[std::size_t(index) + 1]);
    const auto used = std::count_if(one.columns.begin(), one.columns.end(), [](const auto &c) { return c.used; });
    m_difference->setVisible(one.complete() && (used == 2 || pairOfFiles));
    m_difference->setChecked(one.difference);
    m_difference->setText(pairOfFiles ? tr("legs of one thing: add this file less the next")
                                      : tr("legs of one thing: add their difference"));
}

void ImportPage::rebuild()
{
    if (m_drafts.empty()) return;
    const ImportDraft &one = draft();
    m_file->show(one.head, one.capture ? one.capture->facts : std::vector<ReadFact>(), m_bench.look());
    auto *body = new QWidget;
    body->setObjectName("understoodBody");
    auto *layout = new QVBoxLayout(body);
    layout->setContentsMargins(20, 12, 20, 12);
    layout->setSpacing(8);
    auto *grid = new QGridLayout;
    grid->setVerticalSpacing(5);
    grid->setHorizontalSpacing(12);
    fillFacts(grid);
    layout->addLayout(grid);
    layout->addSpacing(6);
    fillColumns(layout);
    layout->addStretch(1);
    const QWidget *focused = m_understood->widget() ? m_understood->widget()->focusWidget() : nullptr;
    const QString field =
        focused && focused->hasFocus() ? focused->objectName() : QString(); // typed on in the new form
    const int scrolled = m_understood->verticalScrollBar()->value();
    retire(m_understood->takeWidget());
    m_understood->setWidget(body);
    m_understood->verticalScrollBar()->setValue(scrolled);
    const bool missing = one.capture && !one.capture->intervalKnown; // which is to be typed
    const QString wanted = !field.isEmpty() ? field : missing ? "importInterval" : QString();
    QWidget *next = wanted.isEmpty() ? nullptr : body->findChild<QWidget *>(wanted);
    (next ? next : this)->setFocus();
    fillHints();
}

void ImportPage::reread()
{
    const int index = m_tabs->currentIndex();
    const auto again = std::make_shared<ImportDraft>(draft());
    m_bench.errands().run([again](Progress &progress) { readDraft(*again, progress); },
                          [this, again, index, shown = m_shown] {
                              // Not where other files were brought in since, nor where more was corrected, which is
                              // being read already.
                              if (shown != m_shown || !takeReading(m_drafts[std::size_t(index)], *again)) return;
                              if (index == m_tabs->currentIndex()) rebuild();
                          });
}

void ImportPage::add()
{
    if (!m_add->isEnabled()) return;
    m_bench.errands().finish(); // a correction that is being read
    if (m_add->isEnabled() && m_bench.takeImports(m_drafts)) emit finished(true);
}

void ImportPage::keyPressEvent(QKeyEvent *event)
{
    if (isEnter(*event))
        add();
    else if (event->key() == Qt::Key_Escape)
        emit finished(false);
    else
        QWidget::keyPressEvent(event);
}

} // namespace fulvex
