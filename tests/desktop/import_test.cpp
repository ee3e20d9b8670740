// Files on their way in, as a user brings them: dropped, looked at, corrected, taken.

#include "desktop_support.h"
#include "document_json.h"
#include "temporary_folder.h"

#include <QCheckBox>
#include <QSettings>
#include <QStandardPaths>
#include <QToolButton>
#include <cmath>
#include <cstring>
#include <gmock/gmock.h>
#include <random>

using namespace fulvex;
using test::Desk;

namespace {

/// Legs of 200 mV with raised-cosine edges, the second late by `skew` rows; decimal commas, units in a row of their
/// own.
QString strangeTable(double skew)
{
    std::mt19937_64 bits(5), random(6);
    std::normal_distribution<double> noise(0, 1);
    std::vector<int> symbols;
    for (int i = 0; i < 400; ++i) symbols.push_back(bits() & 1 ? 1 : -1);
    const auto at = [&](double row) {
        const double ui = std::max(1.0, row / 20);
        const auto n = std::min<std::size_t>(399, std::size_t(ui + 0.5));
        const double share = std::clamp((ui - double(n)) * 20 / 10 + 0.5, 0.0, 1.0);
        return 200 * (symbols[n - 1] + (symbols[n] - symbols[n - 1]) * (1 - std::cos(M_PI * share)) / 2);
    };
    QString table = "Tide station Brackwater;bench 2\r\nSample rate: 500 MHz\r\nStart time: -1,0 us\r\n\r\nt;CAM P;CAM "
                    "N\r\nns;mV;mV\r\n";
    for (int k = 0; k < 8000; ++k)
        table += QString("%1;%2;%3\r\n")
                     .arg(-1000 + 2 * k)
                     .arg(at(k) + noise(random), 0, 'f', 2)
                     .arg(-at(k - skew) + noise(random), 0, 'f', 2)
                     .replace('.', ',');
    return table;
}

void forgetCorrections()
{
    QSettings().remove("corrections");
}

} // namespace

TEST(Import, AStrangeTableIsUnderstoodCorrectedTakenAndDeskewed)
{
    forgetCorrections();
    const test::TemporaryFolder folder;
    Desk desk;
    desk.drop({QString::fromStdString(folder.write("strange.txt", strangeTable(1.5).toStdString()))});
    ASSERT_TRUE(desk.importShown());
    EXPECT_EQ(desk.find<QLineEdit>("importInterval")->text(), "2 ns");
    EXPECT_EQ(desk.find<QLineEdit>("importStart")->text(), QString::fromUtf8("−1 µs"));
    EXPECT_EQ(desk.find<QLineEdit>("columnName0")->text(), "CAM P");
    EXPECT_EQ(desk.find<QLineEdit>("columnUnit1")->text(), "V");
    EXPECT_TRUE(desk.find<QCheckBox>("difference")->isChecked());
    test::typeInto(desk.find<QLineEdit>("columnName0"), "leg a");
    ASSERT_TRUE(desk.importShown());
    test::typeInto(desk.find<QLineEdit>("columnFactor0"), "10:1");
    ASSERT_TRUE(desk.importShown());
    test::typeInto(desk.find<QLineEdit>("columnFactor1"), "20 dB");
    ASSERT_TRUE(desk.importShown());
    desk.takeImport();
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.message(), "");
    const Document &document = desk.bench().document();
    ASSERT_EQ(document.channels.size(), 3u);
    EXPECT_EQ(document.channels[0].label, "leg a");
    EXPECT_EQ(document.channels[0].id, "leg_a");
    EXPECT_DOUBLE_EQ(document.channels[0].scale, 10);
    EXPECT_DOUBLE_EQ(document.channels[1].scale, 10);
    EXPECT_EQ(document.channels[2].formula, "leg_a - cam_n");
    EXPECT_EQ(document.sheets.back().tiles[0].of.size(), 3u);

    // The check has found the skew of 1.5 rows of 2 ns; one click takes it out, one key brings it back.
    desk.bench().select({Selection::Kind::capture, document.captures[0].id});
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QPushButton>("remedy") != nullptr; }));
    auto *remedy = desk.find<QPushButton>("remedy");
    EXPECT_TRUE(remedy->text().startsWith("Deskew cam_n by")) << remedy->text().toStdString();
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QTableView>("evidenceTable")->model()->rowCount() > 0; }));
    QTest::mouseClick(remedy, Qt::LeftButton);
    EXPECT_NEAR(document.channels[1].delay, -3e-9, 0.1e-9);
    ASSERT_TRUE(desk.settled());
    for (const Finding &finding : desk.bench().results()->captures[0].findings) EXPECT_NE(finding.check, "skew");
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(document.channels[1].delay, 0);
}

TEST(Import, CorrectionsAreRememberedForFilesOfTheSameShape)
{
    forgetCorrections();
    const test::TemporaryFolder folder;
    const std::string table = "CH1,CH2\n1,2\n2,1\n1,2\n2,1\n", other = "CH1,CH3\n1,2\n2,1\n1,2\n2,1\n";
    {
        Desk desk;
        desk.drop({QString::fromStdString(folder.write("one.csv", table))});
        ASSERT_TRUE(desk.importShown());
        test::typeInto(desk.find<QLineEdit>("importInterval"), "4 ns");
        ASSERT_TRUE(desk.importShown());
        test::typeInto(desk.find<QLineEdit>("columnUnit1"), "A");
        ASSERT_TRUE(desk.importShown());
        QTest::mouseClick(desk.find<QCheckBox>("columnUsed0"), Qt::LeftButton, {}, QPoint(8, 8));
        desk.takeImport();
        ASSERT_EQ(desk.bench().document().channels.size(), 1u);
        desk.bench().undoStack().clear();
    }
    Desk desk;
    desk.drop({QString::fromStdString(folder.write("two.csv", table))});
    ASSERT_TRUE(desk.importShown());
    EXPECT_THAT(desk.find<QLabel>("importHint")->text().toStdString(), testing::HasSubstr("of this shape"));
    desk.takeImport();
    ASSERT_EQ(desk.bench().document().channels.size(), 1u);
    EXPECT_EQ(desk.bench().document().channels[0].unit, "A");
    EXPECT_EQ(std::get<int>(desk.bench().document().channels[0].column), 1);
    EXPECT_DOUBLE_EQ(*desk.bench().document().captures[0].import.sampleInterval, 4e-9);
    desk.drop({QString::fromStdString(folder.write("three.csv", other))}); // another shape
    ASSERT_TRUE(desk.importShown());
    EXPECT_FALSE(desk.find<QPushButton>("importAdd")->isEnabled());
    QTest::mouseClick(desk.find<QPushButton>("importLeave"), Qt::LeftButton);
    EXPECT_FALSE(desk.find<QWidget>("importPage")->isVisible());
    EXPECT_EQ(desk.bench().document().captures.size(), 1u);
    desk.bench().undoStack().clear();
    forgetCorrections();
}

TEST(Import, RawSamplesAreReadAsTheUserSaysWhileTheySayIt)
{
    forgetCorrections();
    const test::TemporaryFolder folder;
    std::string bytes = "#3400";
    for (int i = 0; i < 200; ++i) {
        const auto count = std::int16_t(i % 2 ? -500 - i : 500 + i);
        bytes += char(count >> 8);
        bytes += char(count & 255);
    }
    Desk desk;
    desk.drop({QString::fromStdString(folder.write("block.bin", bytes))});
    ASSERT_TRUE(desk.importShown());
    const auto choose = [&](const char *name, const char *words) {
        auto *box = desk.find<QComboBox>(name);
        ASSERT_NE(box, nullptr) << name;
        box->setFocus();
        box->setCurrentIndex(box->findText(words));
        emit box->activated(box->currentIndex());
        ASSERT_TRUE(desk.importShown());
    };
    choose("importType", "i16");
    choose("importOrder", "big-endian");
    test::typeInto(desk.find<QLineEdit>("importInterleave"), "2");
    ASSERT_TRUE(desk.importShown());
    test::typeInto(desk.find<QLineEdit>("importInterval"), "1 us");
    desk.takeImport();
    ASSERT_TRUE(desk.settled());
    const Results &results = *desk.bench().results();
    ASSERT_EQ(results.captures[0].samples, 100);
    ASSERT_GE(results.channels.size(), 2u);
    double value = 0;
    results.channels[1].source->read(3, std::span(&value, 1));
    EXPECT_EQ(value, -507);
    desk.bench().undoStack().clear();
    forgetCorrections();
}

TEST(Import, TwoFilesOfOneLegEachAreOfferedAsAPair)
{
    forgetCorrections();
    const test::TemporaryFolder folder;
    QString p = "Time,P\n", n = "Time,N\n";
    for (int i = 0; i < 500; ++i) {
        const double v = std::sin(i * 0.1);
        p += QString("%1,%2\n").arg(i * 1e-9).arg(v);
        n += QString("%1,%2\n").arg(i * 1e-9).arg(-v);
    }
    Desk desk;
    desk.drop({QString::fromStdString(folder.write("leg-p.csv", p.toStdString())),
               QString::fromStdString(folder.write("leg-n.csv", n.toStdString()))});
    ASSERT_TRUE(desk.importShown());
    auto *difference = desk.find<QCheckBox>("difference");
    EXPECT_TRUE(difference->isVisible() && difference->isChecked());
    desk.takeImport();
    ASSERT_TRUE(desk.settled());
    const Document &document = desk.bench().document();
    ASSERT_EQ(document.captures.size(), 2u);
    ASSERT_EQ(document.channels.size(), 3u);
    EXPECT_EQ(document.channels[2].formula, "p - n");
    EXPECT_EQ(document.sheets.size(), 1u);
    desk.key(Qt::Key_Z, Qt::ControlModifier); // one step
    EXPECT_TRUE(document.captures.empty());
    desk.bench().undoStack().clear();
}

TEST(Import, FactorsAreReadAsEngineersWriteThem)
{
    EXPECT_DOUBLE_EQ(*parseFactor("10"), 10);
    EXPECT_DOUBLE_EQ(*parseFactor("10:1"), 10);
    EXPECT_DOUBLE_EQ(*parseFactor(QString::fromUtf8("× 2.5")), 2.5);
    EXPECT_DOUBLE_EQ(*parseFactor("100x"), 100);
    EXPECT_DOUBLE_EQ(*parseFactor("20 dB"), 10);
    EXPECT_DOUBLE_EQ(*parseFactor("1m"), 1e-3);
    for (const char *words : {"", "0", "ten", "dB", "1:10:1", "nan"}) EXPECT_FALSE(parseFactor(words)) << words;
}

TEST(Import, ArraysOfAFileAreChosen)
{
    forgetCorrections();
    Desk desk;
    desk.drop({FULVEX_FIXTURES "/two-arrays.npz"});
    ASSERT_TRUE(desk.importShown());
    EXPECT_TRUE(desk.find<QLineEdit>("columnName1"));
    auto *button = desk.find<QPushButton>("importDatasets");
    ASSERT_TRUE(button);
    QStringList names;
    for (QAction *action : button->menu()->actions()) names << action->text();
    ASSERT_TRUE(names.contains("p") && names.contains("n")) << names.join(" ").toStdString();
    button->menu()->actions()[int(names.indexOf("n"))]->trigger();
    ASSERT_TRUE(desk.importShown());
    EXPECT_FALSE(desk.find<QLineEdit>("columnName1"));
    EXPECT_EQ(desk.find<QLineEdit>("columnName0")->text(), "n");
    desk.takeImport();
    EXPECT_THAT(desk.bench().document().captures[0].import.datasets, testing::ElementsAre("n"));
    desk.bench().undoStack().clear();
    forgetCorrections();
}

TEST(Import, SeparatorDecimalSignAndTimeColumnAreCorrected)
{
    forgetCorrections();
    const test::TemporaryFolder folder;
    // Three columns of pairs with decimal commas, or six of whole numbers: only who saved it knows.
    QString table = "volts,amps,seconds,spare\n";
    for (int i = 0; i < 50; ++i) table += QString("%1,%2,%3,%4\n").arg(i % 7).arg(i % 5).arg(3 * i).arg(i % 3);
    Desk desk;
    desk.drop({QString::fromStdString(folder.write("pairs.csv", table.toStdString()))});
    ASSERT_TRUE(desk.importShown());
    const auto choose = [&](const char *name, const QString &words) {
        auto *box = desk.find<QComboBox>(name);
        const int index = box->findText(words, Qt::MatchStartsWith);
        ASSERT_GE(index, 0) << words.toStdString();
        box->setCurrentIndex(index);
        emit box->activated(index);
        ASSERT_TRUE(desk.importShown());
    };
    choose("importTime", "column 2: seconds");
    EXPECT_EQ(desk.find<QLineEdit>("importInterval")->text(), "3 s");
    EXPECT_EQ(desk.find<QLineEdit>("columnName1")->text(), "amps");
    choose("importSeparator", "semicolon"); // no table then: said, and mended by the same field
    EXPECT_THAT(desk.find<QLabel>("importHint")->text().toStdString(), testing::HasSubstr("▲"));
    EXPECT_FALSE(desk.find<QPushButton>("importAdd")->isEnabled());
    choose("importSeparator", "comma");
    desk.takeImport();
    const ImportOptions &import = desk.bench().document().captures[0].import;
    EXPECT_EQ(import.separator, ',');
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().results()->captures[0].channels, 3);
    desk.bench().undoStack().clear();
    forgetCorrections();
}

/// Everything once: a strange table dropped, corrected, renamed, scaled, deskewed from the check, marked, noted, saved,
/// and after more work and a crash gone on with.
TEST(Import, FromADroppedFileThroughACrashToTheSameWork)
{
    forgetCorrections();
    const QDir unsaved(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/unsaved");
    QDir(unsaved).removeRecursively();
    const test::TemporaryFolder folder;
    const QString project = QString::fromStdString(folder / "bench.fulvex");
    Document before;
    {
        Desk desk;
        desk.drop({QString::fromStdString(folder.write("strange.txt", strangeTable(1.5).toStdString()))});
        ASSERT_TRUE(desk.importShown());
        test::typeInto(desk.find<QLineEdit>("columnFactor1"), "10:1");
        ASSERT_TRUE(desk.importShown());
        desk.takeImport();
        ASSERT_TRUE(desk.settled());
        desk.bench().select({Selection::Kind::channel, "cam_n"});
        test::typeInto(desk.find<QLineEdit>("label"), "Camera, leg n");
        test::typeInto(desk.find<QLineEdit>("scale"), "1");
        ASSERT_TRUE(desk.settled());
        desk.bench().select({Selection::Kind::capture, desk.bench().document().captures[0].id});
        ASSERT_TRUE(test::waitFor([&] { return desk.find<QPushButton>("remedy") != nullptr; }));
        QTest::mouseClick(desk.find<QPushButton>("remedy"), Qt::LeftButton);
        ASSERT_TRUE(desk.settled());
        auto *trace = desk.find<QWidget>("traceTile");
        QTest::mouseClick(trace, Qt::LeftButton, {}, QPoint(300, 120));
        QTest::mouseClick(trace, Qt::LeftButton, Qt::ShiftModifier, QPoint(420, 120));
        desk.answer("the first dent");
        QTest::mouseDClick(trace, Qt::LeftButton, {}, QPoint(360, 140));
        desk.answer(project);
        desk.key(Qt::Key_S, Qt::ControlModifier);
        desk.bench().errands().finish();
        ASSERT_TRUE(QFile::exists(project)) << desk.message().toStdString();
        EXPECT_FALSE(desk.window().isWindowModified());
        desk.bench().change("title", [](Document &document) { document.title = "after the tide"; });
        before = desk.bench().document();
        ASSERT_TRUE(test::waitFor([&] { return !unsaved.entryList(QDir::Files).isEmpty(); }));
        const QString copy = unsaved.filePath(unsaved.entryList(QDir::Files).first());
        ASSERT_TRUE(
            test::waitFor([&] { return QFile::copy(copy, unsaved.filePath("before-999999999-1-1")); })); // as if killed
        desk.bench().undoStack().clear();
    }
    Desk desk;
    desk.window().offerRecovery();
    QTest::mouseClick(desk.find<QPushButton>("recover"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    const Document &after = desk.bench().document();
    EXPECT_EQ(after.title, "after the tide");
    EXPECT_EQ(after.channels, before.channels);
    EXPECT_EQ(after.channels[1].label, "Camera, leg n");
    EXPECT_NEAR(after.channels[1].delay, -3e-9, 0.1e-9);
    EXPECT_EQ(after.markers, before.markers);
    EXPECT_EQ(after.markers.size(), 2u);
    ASSERT_EQ(after.notes.size(), 1u);
    EXPECT_EQ(after.notes[0].text, "the first dent");
    EXPECT_EQ(desk.bench().results()->firstError(), "");
    EXPECT_EQ(desk.bench().path(), project);
    EXPECT_TRUE(desk.window().isWindowModified());
    desk.key(Qt::Key_S, Qt::ControlModifier);
    desk.bench().errands().finish();
    EXPECT_EQ(loadDocument(project.toStdString()).title, "after the tide");
    forgetCorrections();
}

TEST(Import, AFileOfNoKnownFormatIsOfferedAsTheSmoothestRawSamples)
{
    test::TemporaryFolder folder;
    std::string bytes;
    for (int i = 0; i < 20000; ++i) {
        const auto sample = std::int16_t(20000 * std::sin(i * 2 * M_PI / 300));
        bytes += char(sample >> 8); // big-endian
        bytes += char(sample & 255);
    }
    Desk desk;
    desk.drop({QString::fromStdString(folder.write("scope.dat", bytes))});
    ASSERT_TRUE(desk.importShown());
    auto *first = desk.find<QToolButton>("importOffer0");
    ASSERT_TRUE(first && desk.find<QToolButton>("importOffer1") && desk.find<QToolButton>("importOffer2"));
    EXPECT_EQ(first->text(), "i16, big-endian");
    EXPECT_TRUE(first->isChecked());
    EXPECT_EQ(desk.find<QComboBox>("importType")->currentText(), "i16");
    EXPECT_FALSE(desk.find<QPushButton>("importAdd")->isEnabled()); // its interval is still to be said
    auto *interval = desk.find<QLineEdit>("importInterval");
    interval->setFocus();
    QTest::keyClicks(interval, "1 ns");
    QTest::keyClick(interval, Qt::Key_Return);
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QPushButton>("importAdd")->isEnabled(); }));
    const QString second = desk.find<QToolButton>("importOffer1")->text();
    QTest::mouseClick(desk.find<QToolButton>("importOffer1"), Qt::LeftButton);
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QToolButton>("importOffer1")->isChecked(); }));
    EXPECT_EQ(desk.find<QToolButton>("importOffer1")->text(), second);
    QTest::mouseClick(desk.find<QToolButton>("importOffer0"), Qt::LeftButton);
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QToolButton>("importOffer0")->isChecked(); }));
    ASSERT_TRUE(desk.find<QPushButton>("importAdd")->isEnabled()); // the interval stayed
    desk.takeImport();
    const ImportOptions &taken = desk.bench().document().captures[0].import;
    EXPECT_EQ(taken.sampleType, SampleType::i16);
    EXPECT_EQ(taken.bigEndian, true);
    EXPECT_EQ(taken.sampleInterval, 1e-9);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().results()->captures[0].samples, 20000);
    desk.bench().undoStack().clear();
}

TEST(Import, OneThatCannotBeReadLeavesTheOthers)
{
    test::TemporaryFolder folder;
    const auto table = [&](const char *name, const char *rows) {
        return QString::fromStdString(folder.write(name, std::string("t,v\n") + rows));
    };
    Desk desk;
    desk.drop({table("a.csv", "0,0\n1e-9,1\n2e-9,0\n"), table("broken.csv", "nothing\nof numbers\n"),
               table("c.csv", "0,3\n1e-9,1\n2e-9,7\n")});
    ASSERT_TRUE(desk.importShown());
    EXPECT_EQ(desk.find<QPushButton>("importAdd")->text(), "Add 2 of 3 files  ⏎");
    bool told = false;
    for (QLabel *label : desk.window().findChildren<QLabel *>()) told |= label->text().contains("broken.csv");
    EXPECT_TRUE(told);
    desk.takeImport();
    ASSERT_EQ(desk.bench().document().captures.size(), 2u);
    EXPECT_EQ(desk.bench().document().channels.size(), 2u);
    desk.bench().undoStack().clear();
}

TEST(Import, AStatedProbeFactorIsSaidAndOfferedAndWhatTheFileSaysIsKept)
{
    test::TemporaryFolder folder;
    Desk desk;
    desk.drop({QString::fromStdString(
        folder.write("a.csv", "Instrument,Pod 3\nProbe Attenuation,10\nt,v\n0,0.1\n1e-9,0.2\n2e-9,0.1\n3e-9,0.2\n"))});
    ASSERT_TRUE(desk.importShown());
    auto *offer = desk.find<QPushButton>("probeFactor0");
    ASSERT_TRUE(offer);
    EXPECT_EQ(offer->text(), "× 10, as the file states of the probe");
    QTest::mouseClick(offer, Qt::LeftButton);
    EXPECT_EQ(desk.find<QPushButton>("probeFactor0"), nullptr);
    EXPECT_EQ(desk.find<QLineEdit>("columnFactor0")->text(), "× 10");
    desk.takeImport();
    EXPECT_EQ(desk.bench().document().channels[0].scale, 10);
    ASSERT_TRUE(desk.settled());
    desk.bench().select({Selection::Kind::capture, desk.bench().document().captures[0].id});
    QStringList shown;
    for (QLabel *label : desk.find<QWidget>("inspectorForm")->findChildren<QLabel *>()) shown << label->text();
    EXPECT_TRUE(shown.contains("Instrument") && shown.contains("Pod 3"));
    desk.bench().undoStack().clear();
}
