// What a user sets once for all projects: kept, applied, and begun with in the next one. Numbers in their locale.

#include "axis_painter.h"
#include "crash_note.h"
#include "desktop_support.h"
#include "number_text.h"
#include "temporary_folder.h"
#include "user_folders.h"
#include "user_settings.h"

#include <QClipboard>
#include <QPlainTextEdit>
#include <QSettings>
#include <fstream>
#include <gmock/gmock.h>
#include <sstream>

using namespace fulvex;
using test::Desk;
using testing::HasSubstr;

namespace {

std::string contentOf(const std::string &file)
{
    std::ostringstream all;
    all << std::ifstream(file, std::ios::binary).rdbuf();
    return all.str();
}

/// The dialog, as Ctrl+, shows it.
struct SettingsDesk : Desk {
    SettingsDesk()
    {
        key(Qt::Key_Comma, Qt::ControlModifier);
        EXPECT_TRUE(find<QDialog>("settings"));
    }
    void choose(const char *name, const QString &words) { find<QComboBox>(name)->setCurrentText(words); }
    void type(const char *name, const QString &words)
    {
        auto *edit = find<QLineEdit>(name);
        edit->selectAll();
        QTest::keyClicks(edit, words);
        QTest::keyClick(edit, Qt::Key_Tab);
        emit edit->editingFinished(); // off screen focus does not leave
    }
};

/// A user who writes one half as 0,5.
struct CommaLocale {
    CommaLocale() { QLocale::setDefault(QLocale(QLocale::German, QLocale::Germany)); }
    ~CommaLocale()
    {
        QLocale::setDefault(QLocale::c());
        setNumberManner({});
    }
};

/// Settings of a test that makes its windows itself.
struct Settings : testing::Test {
    Settings() { QSettings().remove("settings"); }
    ~Settings() override { QSettings().remove("settings"); }
};

} // namespace

TEST_F(Settings, AreKeptAndBegunWithInTheNextProject)
{
    {
        SettingsDesk desk;
        desk.choose("settingsTheme", "dark");
        EXPECT_TRUE(desk.bench().look().dark) << "at once";
        for (int press = 0; press < 2; ++press) desk.ask("dark theme"); // meanwhile, elsewhere
        desk.ask("settings");
        EXPECT_EQ(desk.window().findChildren<QDialog *>("settings").size(), 1);
        desk.type("settingsLow", "20");
        desk.type("settingsHigh", "80");
        desk.type("settingsDivider", "2500");
        desk.type("settingsAuthor", "the night shift");
        desk.choose("settingsPaper", "letter");
        desk.choose("settingsTimes", "ns");
    }
    const UserSettings kept = userSettings();
    EXPECT_TRUE(kept.dark);
    EXPECT_EQ(kept.timeExponent, -9);
    EXPECT_EQ(kept.loopDivider, 2500);
    MainWindow next;
    EXPECT_TRUE(next.bench().look().dark);
    const Document &document = next.bench().document();
    EXPECT_EQ(document.levelsOf("default").low, 20);
    EXPECT_EQ(document.levelsOf("default").high, 80);
    EXPECT_EQ(document.report.author, "the night shift");
    EXPECT_EQ(document.report.paper, "letter");
    EXPECT_TRUE(next.bench().undoStack().isClean());
}

TEST_F(Settings, ALoopBeginsAtTheBandwidthThatIsSet)
{
    UserSettings settings;
    settings.loopDivider = 4000;
    settings.loopOrder = 1;
    Desk desk; // forgets what is set
    keepUserSettings(settings);
    desk.openDemo();
    desk.ask("loop link");
    ASSERT_TRUE(desk.settled());
    const ClockEntry &clock = desk.bench().document().clocks.back();
    EXPECT_EQ(clock.order, 1);
    EXPECT_NEAR(clock.bandwidth, desk.bench().results()->clocks.front().rate / 4000, 1);
    EXPECT_GT(clock.bandwidth, 0);
}

TEST_F(Settings, NonsenseIsSaidAndChangesNothing)
{
    SettingsDesk desk;
    for (const char *nonsense : {"-5", "101", "many", ""}) {
        desk.type("settingsLow", nonsense);
        EXPECT_EQ(userSettings().levels.low, 10) << nonsense;
        EXPECT_EQ(desk.find<QLineEdit>("settingsLow")->text(), "10") << nonsense;
    }
    // What somebody else wrote into the file, as a whole or in one place, is as shipped.
    QSettings().setValue("settings/levels/low", 95);
    EXPECT_EQ(userSettings().levels.low, 10) << "low above high";
    QSettings().setValue("settings/levels/low", "x");
    QSettings().setValue("settings/report/paper", "papyrus");
    EXPECT_EQ(userSettings(), UserSettings());
}

TEST_F(Settings, TheCacheLiesWhereTheyWantItAndIsEmptied)
{
    const test::TemporaryFolder folder;
    SettingsDesk desk;
    const auto shows = [&](const char *bytes) {
        return test::waitFor([&] { return desk.find<QLabel>("settingsCached")->text() == bytes; });
    };
    folder.write("fulvex/pyramids/old", std::string(3'000'000, 'x'));
    desk.answer(QString::fromStdString(folder.path().string()));
    QTest::mouseClick(desk.find<QPushButton>("settingsCachePlace"), Qt::LeftButton);
    EXPECT_EQ(cacheFolder("pyramids"), folder.path() / "fulvex/pyramids");
    EXPECT_TRUE(shows("3.00 MB")) << desk.find<QLabel>("settingsCached")->text().toStdString();
    QTest::mouseClick(desk.find<QPushButton>("settingsCacheEmpty"), Qt::LeftButton);
    EXPECT_TRUE(shows("0 B")) << desk.find<QLabel>("settingsCached")->text().toStdString();
    EXPECT_FALSE(std::filesystem::exists(folder.path() / "fulvex/pyramids/old"));
    desk.type("settingsCacheSize", "2");
    EXPECT_EQ(cacheShare(1), 2'000'000'000U);
    setCache({}, std::uintmax_t(20) << 30);
}

TEST_F(Settings, TimesAlongARecordAreInTheUnitOfTheirChoice)
{
    setNumberManner({'.', -9});
    showNumbersHere();
    const auto fixed = ticksOf(timeAxis(0, 125e-6), 3);
    setNumberManner({});
    const auto fitting = ticksOf(timeAxis(0, 125e-6), 3);
    ASSERT_EQ(fixed.size(), fitting.size());
    EXPECT_EQ(fitting.back().label, "100 µs");
    EXPECT_EQ(fixed.back().label, "100000 ns");
}

TEST_F(Settings, NumbersHaveTheUsersMarkOnTheScreenAndAPointInFiles)
{
    const test::TemporaryFolder folder;
    const auto written = [&](const std::string &name, bool comma) {
        std::optional<CommaLocale> locale;
        if (comma) locale.emplace();
        Desk desk;
        desk.openDemo();
        const int row = desk.ledgerRow("rise time, 20–80 %", "link");
        EXPECT_EQ(desk.ledgerCell(row, "mean"), comma ? "354,23 ± 0,04 ps" : "354.23 ± 0.04 ps");
        EXPECT_THAT(desk.ledgerCell(row, "limit").toStdString(), HasSubstr("450 ps"));
        // A field takes what it shows, and a point as well.
        desk.bench().select({Selection::Kind::clock, "loop"});
        EXPECT_TRUE(desk.drawn());
        auto *bandwidth = desk.find<QLineEdit>("bandwidth");
        EXPECT_EQ(bandwidth->text(), comma ? "1,5 MHz" : "1.5 MHz");
        for (const char *typed : {comma ? "1,25M" : "1.25M", "1.25M"}) {
            bandwidth->setText(typed);
            QTest::keyClick(bandwidth, Qt::Key_Return);
            EXPECT_EQ(findEntry(desk.bench().document().clocks, "loop")->bandwidth, 1.25e6) << typed;
        }
        desk.bench().undoStack().undo();
        EXPECT_TRUE(desk.settled());
        desk.ask("copy the table as csv");
        EXPECT_TRUE(desk.settled());
        const std::string copied = QApplication::clipboard()->text().toStdString();
        EXPECT_THAT(copied, HasSubstr("354.23 ± 0.04 ps"));
        for (const char *file : {".html", ".csv"}) {
            const QString path = QString::fromStdString(folder / (name + file));
            std::string(file) == ".csv" ? desk.window().exportTable(path) : desk.window().exportReport(path);
            EXPECT_TRUE(test::waitFor([&] { return QFileInfo(path).size() > 0 && !desk.bench().errands().busy(); }));
        }
        return copied;
    };
    const std::string plain = written("plain", false), comma = written("comma", true);
    EXPECT_EQ(plain, comma);
    EXPECT_EQ(contentOf(folder / "plain.csv"), contentOf(folder / "comma.csv"));
    // But for when it was made, and the seals, the report is the same.
    const auto words = [](std::string html) {
        html = html.substr(0, html.find("<script"));
        for (const char *changes : {"Made ", "made"})
            if (const auto at = html.find(changes); at != std::string::npos)
                html.replace(at, std::min<std::size_t>(40, html.size() - at), "");
        return html;
    };
    EXPECT_EQ(words(contentOf(folder / "plain.html")), words(contentOf(folder / "comma.html")));
}

TEST_F(Settings, ANoteAboutACrashIsOfferedToBeLookedAtAndSaved)
{
    const test::TemporaryFolder state;
    setenv("XDG_STATE_HOME", state.path().c_str(), 1);
    std::filesystem::create_directories(state.path() / "fulvex/crashes");
    state.write("fulvex/crashes/1000-1.txt", "fulvex 0.1.0\nended by SIGSEGV\n");
    for (const Recovery::Left &left : Recovery::left()) Recovery::discard(left); // of tests before
    Desk desk;
    desk.window().offerRecovery();
    EXPECT_THAT(desk.message().toStdString(), HasSubstr("sent to nobody"));
    QTest::mouseClick(desk.find<QPushButton>("crashNote"), Qt::LeftButton);
    ASSERT_TRUE(desk.find<QPlainTextEdit>("crashText"));
    EXPECT_THAT(desk.find<QPlainTextEdit>("crashText")->toPlainText().toStdString(), HasSubstr("ended by SIGSEGV"));
    desk.answer(QString::fromStdString(state / "saved.txt"));
    QTest::mouseClick(desk.find<QPushButton>("crashSave"), Qt::LeftButton);
    EXPECT_THAT(contentOf(state / "saved.txt"), HasSubstr("fulvex 0.1.0"));
    QTest::mouseClick(desk.find<QPushButton>("crashAway"), Qt::LeftButton);
    EXPECT_TRUE(crashNotes().empty());
    desk.window().offerRecovery(); // and is offered no more
    unsetenv("XDG_STATE_HOME");
}
