#include "import_page.h"

#include "axis_painter.h"
#include "file_view.h"
#include "number_text.h"
#include "retire.h"
#include "stated_facts.h"

#include <QFileInfo>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QSplitter>
#include <QToolButton>

namespace fulvex {

namespace {

/// A column's first samples in small; gaps stay gaps.
class ColumnPicture final : public QWidget {
public:
    ColumnPicture(const std::vector<double> &samples, QColor ink, const Look &look)
        : m_samples(samples), m_ink(ink), m_look(look)
    {
        setFixedSize(230, 58);
        setToolTip(tr("its first %1 samples").arg(samples.size()));
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter painter(this);
        painter.fillRect(rect(), m_look.paper);
        painter.setRenderHint(QPainter::Antialiasing);
        double low = INFINITY, high = -INFINITY;
        for (const double v : m_samples) {
            if (v == v) low = std::min(low, v), high = std::max(high, v);
        }
        if (!(high >= low)) return;
        const double across = (width() - 8) / double(std::max<std::size_t>(1, m_samples.size() - 1));
        const double up = high > low ? (height() - 10) / (high - low) : 0;
        const auto at = [&](std::size_t i) {
            return QPointF(4 + double(i) * across, up > 0 ? height() - 5 - (m_samples[i] - low) * up : height() / 2.0);
        };
        painter.setPen(QPen(m_ink, 1.3));
        for (std::size_t i = 1; i < m_samples.size(); ++i) {
            if (m_samples[i - 1] == m_samples[i - 1] && m_samples[i] == m_samples[i])
                painter.drawLine(at(i - 1), at(i));
        }
    }

private:
    std::vector<double> m_samples;
    QColor m_ink;
    const Look &m_look;
};

const SampleType rawTypes[] = {SampleType::i8,  SampleType::u8,  SampleType::i16, SampleType::u16, SampleType::i24,
                               SampleType::i32, SampleType::u32, SampleType::f16, SampleType::f32, SampleType::f64};

/// Whether a file is read as an offer has it.
bool isReadAs(const ImportDraft &draft, const RawOffer &offer)
{
    const ImportOptions &now = draft.options, &then = offer.options;
    return now.sampleType == then.sampleType && now.bigEndian == then.bigEndian && now.interleave == then.interleave &&
           now.headerBytes == then.headerBytes;
}

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

/// A quantity without idle zeros behind: "2 ns".
QString shortText(double value, const std::string &unit)
{
    QString words = text(quantityText(value, unit, {}, 9));
    const qsizetype end = words.indexOf(' ') < 0 ? words.size() : words.indexOf(' ');
    QString digits = words.left(end);
    if (digits.contains('.')) {
        while (digits.endsWith('0')) digits.chop(1);
        if (digits.endsWith('.')) digits.chop(1);
    }
    return digits + words.mid(end);
}

QLabel *quiet(const QString &words)
{
    auto *label = new QLabel(words);
    label->setObjectName("quiet");
    return label;
}

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
    halves->setSizes({560, 720});
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
    auto *name = quiet(words);
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

void ImportPage::fillFacts(QGridLayout *grid)
{
    ImportDraft &one = draft();
    const Capture *capture = one.capture.get();
    grid->setColumnMinimumWidth(0, 110);
    grid->setColumnStretch(1, 1);
    const bool guessed =
        std::any_of(one.offers.begin(), one.offers.end(), [&](const RawOffer &offer) { return isReadAs(one, offer); });
    const bool raw = one.options.format == "raw" || (capture && capture->format == "raw");
    const QStringList formats{tr("as recognised"), tr("raw samples")};
    addFact(grid, tr("format"),
            choice("importFormat", formats, one.options.format == "raw" ? 1 : 0,
                   [this](int index) {
                       ImportOptions &options = draft().options;
                       options.format = index ? std::optional<std::string>("raw") : std::nullopt;
                       if (index && !options.sampleType) options.sampleType = SampleType::i16;
                       if (!index) options.sampleType.reset(), options.headerBytes.reset(), options.interleave.reset();
                   }),
            one.options.format.has_value() && !guessed);
    if (capture)
        addFact(grid, tr("holds"),
                new QLabel(tr("%1, %2 × %3 samples")
                               .arg(text(capture->format))
                               .arg(capture->columns.size())
                               .arg(QLocale::c().toString(qlonglong(capture->axis.count)))),
                false);
    if (!one.offers.empty()) addFact(grid, tr("looks like"), offerButtons(), false);
    if (raw) {
        QStringList types;
        int current = 0;
        for (const SampleType type : rawTypes) {
            if (one.options.sampleType.value_or(SampleType::i8) == type) current = int(types.size());
            types << text(std::string(sampleTypeName(type)));
        }
        addFact(
            grid, tr("type"),
            choice("importType", types, current, [this](int index) { draft().options.sampleType = rawTypes[index]; }),
            one.options.sampleType.has_value() && !guessed);
        addFact(grid, tr("byte order"),
                choice("importOrder", {tr("little-endian"), tr("big-endian")}, one.options.bigEndian.value_or(false),
                       [this](int index) { draft().options.bigEndian = index == 1; }),
                one.options.bigEndian.has_value() && !guessed);
        const auto whole = [](const QString &words, qlonglong least) {
            bool good = false;
            const qlonglong value = words.toLongLong(&good);
            return good && value >= least && value < (1ll << 31) ? std::optional(value) : std::nullopt;
        };
        addFact(grid, tr("header bytes"),
                edit("importHeader", QString::number(one.options.headerBytes.value_or(0)),
                     [this, whole](const QString &words) {
                         const auto value = whole(words, 0);
                         if (value) draft().options.headerBytes = *value;
                         return value.has_value();
                     }),
                one.options.headerBytes.has_value() && !guessed);
        addFact(grid, tr("channels in turn"),
                edit("importInterleave", QString::number(one.options.interleave.value_or(1)),
                     [this, whole](const QString &words) {
                         const auto value = whole(words, 1);
                         if (value) draft().options.interleave = int(*value);
                         return value.has_value();
                     }),
                one.options.interleave.has_value() && !guessed);
    }
    if (!capture && !raw) fillTableFacts(grid); // it may be these that keep it from being read
    if (!capture) return;
    const auto timed = [](const QString &words, const char *unit) { return parseQuantity(words.toStdString(), unit); };
    const QString interval = capture->intervalKnown ? shortText(capture->axis.interval, "s") : QString();
    QLineEdit *intervalEdit = edit("importInterval", interval, [this, timed](const QString &words) {
        const auto seconds = timed(words, "s"), rate = timed(words, "S/s");
        const bool isRate = words.endsWith("S/s") || words.endsWith("Hz");
        const auto hertz = words.endsWith("Hz") ? timed(words, "Hz") : rate;
        if (isRate ? !(hertz && *hertz > 0) : !(seconds && *seconds > 0)) return false;
        draft().options.sampleInterval = isRate ? 1 / *hertz : *seconds;
        return true;
    });
    intervalEdit->setPlaceholderText(tr("not stated: 125 ps or 8 GS/s"));
    const int timeFact = factNamed("sample interval");
    addFact(grid, tr("sample interval"), intervalEdit, one.options.sampleInterval.has_value(), timeFact);
    if (capture->intervalKnown)
        addFact(grid, tr("rate, length"),
                new QLabel(shortText(1 / capture->axis.interval, "S/s") + ",  " +
                           shortText(capture->axis.interval * double(capture->axis.count), "s")),
                false);
    addFact(grid, tr("starts at"),
            edit("importStart", shortText(capture->axis.start, "s"),
                 [this, timed](const QString &words) {
                     draft().options.start = timed(words, "s");
                     return draft().options.start.has_value();
                 }),
            one.options.start.has_value(), factNamed("start"));
    if (capture->format == "csv") fillTableFacts(grid);
    if (capture->format == "npz" || capture->format == "mat" || capture->format == "hdf5") {
        const auto &taken = one.options.datasets;
        auto *button = new QPushButton(
            taken.empty()
                ? tr("as found")
                : text(taken.front()) + (taken.size() > 1 ? tr(" and %1 more").arg(taken.size() - 1) : QString()));
        button->setObjectName("importDatasets");
        auto *menu = new QMenu(button);
        for (const std::string &name : capture->choices) {
            QAction *action = menu->addAction(text(name));
            action->setCheckable(true);
            action->setChecked(std::find(taken.begin(), taken.end(), name) != taken.end());
            connect(action, &QAction::triggered, this, [this, name](bool on) {
                auto &list = draft().options.datasets;
                std::erase(list, name);
                if (on) list.push_back(name);
                reread();
            });
        }
        button->setMenu(menu);
        addFact(grid, tr("arrays"), button, !taken.empty());
    }
}

QWidget *ImportPage::offerButtons()
{
    auto *buttons = new QWidget;
    auto *row = new QHBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    const auto &offers = draft().offers;
    for (std::size_t i = 0; i < offers.size(); ++i) {
        auto *button = new QToolButton;
        button->setObjectName("importOffer" + QString::number(i));
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        ColumnPicture picture(offers[i].first, m_bench.look().trace(int(i)), m_bench.look());
        button->setIcon(QIcon(picture.grab()));
        button->setIconSize({128, 34});
        button->setText(offers[i].words);
        button->setCheckable(true);
        button->setChecked(isReadAs(draft(), offers[i]));
        connect(button, &QToolButton::clicked, this, [this, options = offers[i].options] {
            const ImportOptions said = draft().options;
            draft().options = options;
            draft().options.sampleInterval = said.sampleInterval; // which the readings know nothing of
            draft().options.start = said.start;
            reread();
        });
        row->addWidget(button);
    }
    row->addStretch(1);
    return buttons;
}

void ImportPage::fillTableFacts(QGridLayout *grid)
{
    ImportOptions &options = draft().options;
    const auto addChoice = [&](const QString &words, const QString &name, std::optional<char> ImportOptions::*member,
                               const std::vector<std::pair<QString, char>> &signs, const std::string &fact) {
        QStringList shown{tr("as found")};
        int current = 0;
        for (const auto &[title, sign] : signs) {
            shown << title;
            if (options.*member == sign) current = int(shown.size()) - 1;
        }
        addFact(grid, words,
                choice(name, shown, current,
                       [this, member, signs](int index) {
                           draft().options.*member =
                               index ? std::optional(signs[std::size_t(index) - 1].second) : std::nullopt;
                       }),
                (options.*member).has_value(), factNamed(fact));
    };
    addChoice(tr("separator"), "importSeparator", &ImportOptions::separator,
              {{tr("comma"), ','}, {tr("semicolon"), ';'}, {tr("tab"), '\t'}, {tr("blanks"), ' '}}, "separator");
    addChoice(tr("decimal sign"), "importDecimal", &ImportOptions::decimal, {{tr("point"), '.'}, {tr("comma"), ','}},
              "decimal");
    if (!draft().capture) return;
    QStringList columns{tr("as found"), tr("none")};
    const auto &names = draft().capture->choices;
    for (std::size_t i = 0; i < std::min<std::size_t>(names.size(), 64); ++i)
        columns << tr("column %1").arg(i) + (names[i].empty() ? QString() : ": " + text(names[i]));
    int current = 0;
    if (options.timeColumn) {
        const auto &column = *options.timeColumn;
        const int *index = column ? std::get_if<int>(&*column) : nullptr;
        const auto named =
            column && !index ? std::find(names.begin(), names.end(), std::get<std::string>(*column)) : names.end();
        current = !column ? 1 : 2 + (index ? *index : named == names.end() ? -2 : int(named - names.begin()));
    }
    addFact(grid, tr("time column"),
            choice("importTime", columns, current,
                   [this](int index) {
                       auto &column = draft().options.timeColumn;
                       if (index == 0) column.reset();
                       if (index == 1) column = std::optional<ImportOptions::Column>();
                       if (index > 1) column = std::optional<ImportOptions::Column>(index - 2);
                   }),
            options.timeColumn.has_value(), factNamed("names"));
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
        auto *label = quiet(words + (mark(what) ? tr(" · yours") : QString()));
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
    QLineEdit *factor = edit("columnFactor" + suffix, "× " + shortText(column.factor, ""), [at](const QString &words) {
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
        auto *offer = new QPushButton(tr("× %1, as the file states of the probe").arg(shortText(*stated, "")));
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
          edit("columnOffset" + suffix, shortText(column.offset, column.unit.toStdString()),
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
    auto *list = quiet(values.join('\n'));
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
    if (count > shown) list->addWidget(quiet(tr("and %1 more columns, taken as they are").arg(count - shown)));
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
