// What the page of files on their way in says was understood of one, with what can be corrected.

#include "axis_painter.h"
#include "column_picture.h"
#include "file_view.h"
#include "import_page.h"
#include "number_text.h"

#include <QMenu>
#include <QToolButton>

namespace fulvex {

namespace {

const SampleType rawTypes[] = {SampleType::i8,  SampleType::u8,  SampleType::i16, SampleType::u16, SampleType::i24,
                               SampleType::i32, SampleType::u32, SampleType::f16, SampleType::f32, SampleType::f64};

/// Whether a file is read as an offer has it.
bool isReadAs(const ImportDraft &draft, const RawOffer &offer)
{
    const ImportOptions &now = draft.options, &then = offer.options;
    return now.sampleType == then.sampleType && now.bigEndian == then.bigEndian && now.interleave == then.interleave &&
           now.headerBytes == then.headerBytes;
}

} // namespace

void ImportPage::fillFacts(QGridLayout *grid)
{
    ImportDraft &one = draft();
    const Capture *capture = one.capture.get();
    grid->setColumnMinimumWidth(0, 110);
    grid->setColumnStretch(1, 1);
    const bool guessed =
        std::any_of(one.offers.begin(), one.offers.end(), [&](const RawOffer &offer) { return isReadAs(one, offer); });
    const bool raw = one.options.format == "raw" || (capture && capture->format == "raw");
    m_file->letBeginBeChosen(raw);
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
    const QString interval = capture->intervalKnown ? typedQuantity(capture->axis.interval, "s") : QString();
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
                new QLabel(typedQuantity(1 / capture->axis.interval, "S/s") + ",  " +
                           typedQuantity(capture->axis.interval * double(capture->axis.count), "s")),
                false);
    addFact(grid, tr("starts at"),
            edit("importStart", typedQuantity(capture->axis.start, "s"),
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

} // namespace fulvex
