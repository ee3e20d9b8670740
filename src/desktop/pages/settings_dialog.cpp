#include "settings_dialog.h"

#include "axis_painter.h"
#include "error.h"
#include "logo_choice.h"
#include "number_text.h"
#include "quiet_label.h"
#include "user_folders.h"

#include <QFileDialog>
#include <QPointer>
#include <QScrollArea>
#include <QVBoxLayout>

namespace fulvex {

/// Fields of all sections begin at the same place.
static void addRow(QFormLayout *form, const QString &words, QWidget *field)
{
    constexpr int wide = 170;
    auto *label = new QLabel(words);
    label->setFixedWidth(wide);
    label->setBuddy(field);
    if (!words.isEmpty()) field->setAccessibleName(words);
    form->addRow(label, field);
}

SettingsDialog::SettingsDialog(Workbench &bench, QWidget *parent)
    : QDialog(parent), m_bench(bench), m_settings(userSettings()), m_cached(new QLabel), m_said(new QLabel)
{
    setObjectName("settings");
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Settings"));
    auto *whole = new QVBoxLayout(this);
    auto *body = new QWidget;
    body->setLayout(new QVBoxLayout);
    body->layout()->setContentsMargins(18, 8, 18, 8);
    auto *area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    area->setWidget(body);
    whole->addWidget(area, 1);

    QFormLayout *looks = section(tr("On the screen"), {});
    choice(looks, tr("theme"), "settingsTheme", {{tr("light"), false}, {tr("dark"), true}}, m_settings.dark,
           [this](const QVariant &dark) { m_settings.dark = dark.toBool(); });
    choice(looks, tr("times along a record"), "settingsTimes",
           {{tr("in the unit that fits"), QVariant()}, {"s", 0}, {"ms", -3}, {"µs", -6}, {"ns", -9}, {"ps", -12}},
           m_settings.timeExponent ? QVariant(*m_settings.timeExponent) : QVariant(), [this](const QVariant &exponent) {
               m_settings.timeExponent = exponent.isValid() ? std::optional(exponent.toInt()) : std::nullopt;
           });

    connect(&bench, &Workbench::lookChanged, this, [this] { // by its key, while this is open
        m_settings.dark = m_bench.look().dark;
        auto *theme = findChild<QComboBox *>("settingsTheme");
        const QSignalBlocker quiet(theme);
        theme->setCurrentIndex(theme->findData(m_settings.dark));
    });

    QFormLayout *levels =
        section(tr("Reference levels of a new project"), tr("In percent of the way from the lower to the upper state; "
                                                            "IEEE Std 181 has 10, 50, 90."));
    number(levels, tr("low"), "settingsLow", "%", 0, 100, m_settings.levels.low);
    number(levels, tr("middle"), "settingsMid", "%", 0, 100, m_settings.levels.mid);
    number(levels, tr("high"), "settingsHigh", "%", 0, 100, m_settings.levels.high);
    choice(levels, tr("states from"), "settingsStates",
           {{tr("where the signal rests"), "histogram"}, {tr("its extremes"), "extremes"}},
           text(m_settings.levels.states),
           [this](const QVariant &states) { m_settings.levels.states = states.toString().toStdString(); });

    QFormLayout *loop = section(tr("A new loop"), tr("Clock recovery as it begins; what a standard defines stands in "
                                                     "the loop's Inspector."));
    choice(loop, tr("order"), "settingsOrder", {{"1", 1}, {"2", 2}}, m_settings.loopOrder,
           [this](const QVariant &order) { m_settings.loopOrder = order.toInt(); });
    number(loop, tr("symbol rate / bandwidth"), "settingsDivider", "", 10, 1e9, m_settings.loopDivider);
    number(loop, tr("damping"), "settingsDamping", "", 0.1, 10, m_settings.loopDamping);

    QFormLayout *report = section(tr("Reports of a new project"), {});
    choice(report, tr("paper"), "settingsPaper", {{"A4", "a4"}, {tr("letter"), "letter"}},
           text(m_settings.report.paper),
           [this](const QVariant &paper) { m_settings.report.paper = paper.toString().toStdString(); });
    words(report, tr("measured by"), "settingsAuthor", m_settings.report.author);
    words(report, tr("at"), "settingsPlace", m_settings.report.place);
    auto *logo = new QPushButton;
    logo->setObjectName("settingsLogo");
    const auto showLogo = [this, logo] {
        logo->setText(m_settings.report.logo.empty() ? tr("Put a picture on it…") : tr("Take the picture away"));
    };
    connect(logo, &QPushButton::clicked, this, [this, showLogo] {
        m_settings.report.logo = m_settings.report.logo.empty() ? chosenLogo(m_bench, this) : std::string();
        showLogo();
        changed();
    });
    showLogo();
    addRow(report, QString(), logo);

    addCache();
    static_cast<QVBoxLayout *>(body->layout())->addStretch(1);

    auto *below = new QHBoxLayout;
    below->setContentsMargins(18, 6, 18, 10);
    m_said->setObjectName("quiet");
    m_said->setWordWrap(true);
    m_said->setText(tr("Kept for you as you change them. Layouts of sheets and reports, and sets of rows, are kept "
                       "where they are made."));
    below->addWidget(m_said, 1);
    auto *close = new QPushButton(tr("Close"));
    close->setObjectName("settingsClose");
    close->setDefault(true);
    connect(close, &QPushButton::clicked, this, &QDialog::close);
    below->addWidget(close);
    whole->addLayout(below);
    resize(520, 680);
}

QFormLayout *SettingsDialog::section(const QString &title, const QString &explained)
{
    auto *body = static_cast<QVBoxLayout *>(findChild<QScrollArea *>()->widget()->layout());
    auto *heading = new QLabel(title);
    heading->setObjectName("heading");
    heading->setContentsMargins(0, 10, 0, 0);
    body->addWidget(heading);
    if (!explained.isEmpty()) {
        auto *label = quietLabel(explained);
        label->setWordWrap(true);
        body->addWidget(label);
    }
    auto *form = new QFormLayout;
    form->setLabelAlignment(Qt::AlignLeft);
    form->setHorizontalSpacing(24);
    body->addLayout(form);
    return form;
}

void SettingsDialog::choice(QFormLayout *form, const QString &label, const char *name,
                            const std::vector<std::pair<QString, QVariant>> &choices, const QVariant &now,
                            const std::function<void(const QVariant &)> &set)
{
    auto *box = new QComboBox;
    box->setObjectName(name);
    for (const auto &[words, value] : choices) {
        box->addItem(words, value);
        if (value == now) box->setCurrentIndex(box->count() - 1);
    }
    connect(box, &QComboBox::currentIndexChanged, this, [this, box, set] {
        set(box->currentData());
        changed();
    });
    addRow(form, label, box);
}

void SettingsDialog::number(QFormLayout *form, const QString &label, const char *name, const std::string &unit,
                            double least, double most, double &value)
{
    auto *edit = new QLineEdit(text(typedNumber(value)));
    edit->setObjectName(name);
    edit->setAlignment(Qt::AlignRight);
    edit->setToolTip(tr("%1 to %2 %3").arg(text(typedNumber(least)), text(typedNumber(most)), text(unit)));
    connect(edit, &QLineEdit::editingFinished, this, [=, this, &value] {
        const auto typed = parseQuantity(edit->text().toStdString(), unit);
        const double before = value;
        if (typed && *typed >= least && *typed <= most && *typed != value) {
            value = *typed;
            changed();
        } else if (!typed || *typed != value) {
            m_said->setText(
                tr("\"%1\" is none of the numbers from %2 to %3; it stays %4")
                    .arg(edit->text(), text(typedNumber(least)), text(typedNumber(most)), text(typedNumber(before))));
        }
        edit->setText(text(typedNumber(value)));
    });
    addRow(form, label, edit);
}

void SettingsDialog::words(QFormLayout *form, const QString &label, const char *name, std::string &value)
{
    auto *edit = new QLineEdit(text(value));
    edit->setObjectName(name);
    edit->setMaxLength(1000);
    connect(edit, &QLineEdit::editingFinished, this, [this, edit, &value] {
        if (std::exchange(value, edit->text().toStdString()) != value) changed();
    });
    addRow(form, label, edit);
}

void SettingsDialog::addCache()
{
    QFormLayout *form = section(tr("What can be made anew"),
                                tr("Overviews of long records and unpacked projects are kept so that they open at "
                                   "once; what was used longest ago goes first."));
    auto *place = new QPushButton;
    place->setObjectName("settingsCachePlace");
    const auto showPlace = [place] {
        try {
            place->setText(QString::fromStdString(cachePlace().string()));
        } catch (const Error &failure) {
            place->setText(text(failure.what()));
        }
    };
    showPlace();
    connect(place, &QPushButton::clicked, this, [this, showPlace] {
        const QString folder = QFileDialog::getExistingDirectory(this, tr("A folder for what can be made anew"));
        if (folder.isEmpty()) return;
        m_settings.cache = folder;
        changed();
        showPlace();
        showCache();
    });
    addRow(form, tr("in the folder"), place);
    number(form, tr("at most, GB"), "settingsCacheSize", "", 0.1, 1e5, m_settings.cacheGigabytes);
    m_cached->setObjectName("settingsCached");
    addRow(form, tr("now"), m_cached);
    auto *empty = new QPushButton(tr("Empty it"));
    empty->setObjectName("settingsCacheEmpty");
    connect(empty, &QPushButton::clicked, this, [this] {
        m_bench.errands().run([used = m_bench.base()](Progress &) { emptyCache(used); },
                              [that = QPointer(this)] {
                                  if (that) that->showCache();
                              });
    });
    addRow(form, QString(), empty);
    showCache();
}

void SettingsDialog::showCache()
{
    const auto bytes = std::make_shared<std::uintmax_t>(0);
    m_bench.errands().run([bytes](Progress &) { *bytes = cachedBytes(); },
                          [that = QPointer(this), bytes] {
                              if (that) that->m_cached->setText(text(quantityText(double(*bytes), "B", {}, 3)));
                          });
}

void SettingsDialog::changed()
{
    keepUserSettings(m_settings);
    applyUserSettings(m_settings);
    m_bench.setDark(m_settings.dark); // paints everything anew, so that numbers follow as well
}

} // namespace fulvex
