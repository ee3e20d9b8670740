// Spectra of channels: added by words, lines chosen, bands asked about; by what is seen and done.

#include "desktop_support.h"
#include "transfer_figure.h"

#include <QApplication>
#include <QSlider>
#include <QTableView>
#include <QWheelEvent>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using test::Desk;

namespace {

class Spectra : public testing::Test {
protected:
    Spectra()
    {
        desk.openDemo();
        desk.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier); // a sheet of its own
    }
    QWidget *tile(const char *name)
    {
        QWidget *found = nullptr;
        (void)test::waitFor([&] { return (found = desk.find<QWidget>(name)) && found->isVisible(); });
        if (found) found->grab();
        EXPECT_TRUE(desk.drawn());
        return found;
    }
    const TileEntry &entry() { return desk.bench().document().sheets.back().tiles.back(); }
    const SpectrumResult &result() { return desk.bench().results()->spectra.back(); }
    /// Pixel of a frequency on a tile that shows all of them.
    int pixelOf(const QWidget *of, double frequency)
    {
        const double wide = of->width() - 72 - 6 - 2 * 4; // labels, and the tile's edges
        const PowerSpectrum &power = result().spectrum->power;
        return int(std::lround(4 + 72 + wide * frequency / (power.step * double(power.density.size() - 1))));
    }
    Desk desk;
};

QImage pictureOf(QWidget *widget)
{
    return widget->grab().toImage();
}

} // namespace

/// The hydrophone's tone: found, chosen by a click, and when it was strongest is told and gone to.
TEST_F(Spectra, ALineIsChosenAndSaysWhenItIsStrongest)
{
    desk.ask("add the spectrum of heard");
    ASSERT_TRUE(desk.settled());
    QWidget *spectrum = tile("channelSpectrumTile");
    ASSERT_NE(spectrum, nullptr);
    EXPECT_EQ(entry().kind, "channel_spectrum");
    ASSERT_TRUE(result().spectrum);
    ASSERT_FALSE(result().spectrum->lines.empty());
    const double tone = result().spectrum->lines.front().frequency;
    EXPECT_NEAR(tone, 38400, 1);
    const QImage before = pictureOf(spectrum);
    QTest::mouseClick(spectrum, Qt::LeftButton, {}, {pixelOf(spectrum, tone), spectrum->height() / 2});
    ASSERT_TRUE(entry().marked);
    EXPECT_NEAR(*entry().marked, tone, 1e-6);
    ASSERT_TRUE(desk.bench().question().frequencies);
    EXPECT_LT(desk.bench().question().frequencies->first, tone);
    EXPECT_GT(desk.bench().question().frequencies->second, tone);
    EXPECT_NE(pictureOf(spectrum), before);
    auto *evidence = desk.find<QTableView>("evidenceTable");
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() > 0; }));
    evidence->setCurrentIndex(evidence->model()->index(0, 0));
    ASSERT_TRUE(desk.bench().moment());
    EXPECT_EQ(desk.bench().moment()->channel, "heard");
    QTest::keyClick(spectrum, Qt::Key_Escape);
    EXPECT_FALSE(entry().marked);
    EXPECT_FALSE(desk.bench().question().frequencies);
}

TEST_F(Spectra, ABandIsAskedAboutAndTheWheelComesCloser)
{
    desk.ask("add the spectrum of link");
    ASSERT_TRUE(desk.settled());
    QWidget *spectrum = tile("channelSpectrumTile");
    ASSERT_NE(spectrum, nullptr);
    const int middle = spectrum->height() / 2;
    test::dragAcross(spectrum, {pixelOf(spectrum, 1e9), middle}, {pixelOf(spectrum, 2e9), middle});
    ASSERT_TRUE(desk.bench().question().frequencies);
    EXPECT_NEAR(desk.bench().question().frequencies->first, 1e9, 3e7); // two pixels
    EXPECT_NEAR(desk.bench().question().frequencies->second, 2e9, 3e7);
    EXPECT_FALSE(entry().marked);
    const int steps = desk.bench().undoStack().index();
    for (int turn = 0; turn < 3; ++turn) {
        QWheelEvent wheel(QPointF(pixelOf(spectrum, 1e9), middle), spectrum->mapToGlobal(QPointF(0, 0)), {}, {0, 120},
                          Qt::NoButton, {}, Qt::NoScrollPhase, false);
        QApplication::sendEvent(spectrum, &wheel);
    }
    ASSERT_TRUE(entry().span);
    EXPECT_NEAR(*entry().span, 4e9 / std::pow(1.25, 3), 1e6);
    EXPECT_LE(desk.bench().undoStack().index(), steps + 1); // one step back
    QTest::keyClick(spectrum, Qt::Key_F);
    EXPECT_FALSE(entry().span);
}

/// A filter's corner is dragged: the spectrum of what comes out follows.
TEST_F(Spectra, FollowAParameter)
{
    desk.bench().change("", [](Document &document) {
        document.parameters.push_back({"corner", 1e9, 1e7, 1e10, "Hz"});
        document.channels.push_back({});
        document.channels.back().id = "limited";
        document.channels.back().formula = "lowpass(link, corner, 2)";
    });
    desk.ask("add the spectrum of limited");
    desk.bench().select({Selection::Kind::channel, "link"});
    desk.ask("transfer function from link to limited");
    ASSERT_TRUE(desk.settled());
    QWidget *transfer = tile("transferTile");
    QWidget *spectrum = tile("channelSpectrumTile");
    ASSERT_TRUE(transfer && spectrum);
    const auto densityAt = [&](double frequency) {
        const auto &of = desk.bench().results()->spectra.front().spectrum->power;
        return of.density[std::size_t(std::lround(frequency / of.step))];
    };
    const auto magnitudeAt = [&](double frequency) {
        const TransferFunction &of = *result().transfer;
        return std::abs(of.response(std::size_t(std::lround(frequency / of.step))));
    };
    const double before = densityAt(1e9);
    EXPECT_NEAR(magnitudeAt(1e9), std::sqrt(0.5), 0.01);
    const QImage seen = pictureOf(spectrum), between = pictureOf(transfer);
    auto *slider = desk.find<QSlider>("slider_corner");
    ASSERT_TRUE(slider);
    slider->setValue(500); // 316 MHz
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.drawn());
    const double corner = desk.bench().document().parameters[0].value;
    const double expected = 1 / std::sqrt(1 + std::pow(std::tan(M_PI * 1e9 / 8e9) / std::tan(M_PI * corner / 8e9), 4));
    EXPECT_NEAR(magnitudeAt(1e9), expected, 0.02 * expected);
    EXPECT_NEAR(std::sqrt(densityAt(1e9) / before), expected / std::sqrt(0.5), 0.02 * expected);
    EXPECT_NE(pictureOf(spectrum), seen);
    EXPECT_NE(pictureOf(transfer), between);
}

/// A magnitude in decibels says of what, where the channels have unlike units.
TEST_F(Spectra, BetweenUnlikeUnitsSayWhatZeroIs)
{
    desk.bench().change("", [](Document &document) { findEntry(document.channels, "heard")->unit = "A"; });
    const auto decibels = [&] {
        const TileEntry shown = entry();
        return transferFigure(*desk.bench().results(), shown).decibels;
    };
    desk.bench().select({Selection::Kind::channel, "sea"});
    desk.ask("transfer function from sea to heard");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(decibels(), "dB re 1 S");
    desk.bench().change("", [](Document &document) { findEntry(document.channels, "heard")->unit = "V"; });
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(decibels(), "dB");
}

TEST_F(Spectra, ASpectrogramShowsAPlacesCoursesAndAsksOfABox)
{
    desk.ask("add the spectrogram of heard");
    ASSERT_TRUE(desk.settled());
    desk.bench().fitView();
    QWidget *gram = tile("spectrogramTile");
    ASSERT_NE(gram, nullptr);
    const QImage before = pictureOf(gram);
    const QPoint middle = gram->rect().center();
    QTest::mouseClick(gram, Qt::LeftButton, {}, middle);
    ASSERT_TRUE(entry().marked && entry().at);
    EXPECT_GT(*entry().marked, 1e6);
    EXPECT_LT(*entry().marked, 1.5e6);
    ASSERT_TRUE(desk.drawn());
    EXPECT_NE(pictureOf(gram), before);
    test::dragAcross(gram, {200, 60}, {300, 120});
    const Question &question = desk.bench().question();
    ASSERT_TRUE(question.frequencies && question.times);
    EXPECT_LT(question.times->first, question.times->second);
    auto *evidence = desk.find<QTableView>("evidenceTable");
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() > 0; }));
    QTest::keyClick(gram, Qt::Key_Escape);
    EXPECT_FALSE(entry().marked || entry().at);
}

/// What the clock's error is made of, and when: moments of the record, on the channel that the row is of.
TEST_F(Spectra, OfARowAskAboutItsMoments)
{
    for (const MeasurementEntry &row : desk.bench().document().measurements)
        if (row.quantity == "time_interval_error" && row.clock == "loop")
            desk.bench().select({Selection::Kind::measurement, row.id});
    desk.ask("add the averaged spectrum of");
    ASSERT_TRUE(desk.settled());
    QWidget *spectrum = tile("channelSpectrumTile");
    ASSERT_NE(spectrum, nullptr);
    ASSERT_TRUE(result().spectrum) << result().reason;
    EXPECT_EQ(result().source, "link");
    EXPECT_EQ(result().unit, "s");
    const int middle = spectrum->height() / 2;
    test::dragAcross(spectrum, {pixelOf(spectrum, 1e6), middle}, {pixelOf(spectrum, 60e6), middle});
    auto *evidence = desk.find<QTableView>("evidenceTable");
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() > 0; }));
    evidence->setCurrentIndex(evidence->model()->index(0, 0));
    ASSERT_TRUE(desk.bench().moment());
    EXPECT_EQ(desk.bench().moment()->channel, "link");
    EXPECT_GT(desk.bench().moment()->to, desk.bench().moment()->from);
    EXPECT_LT(desk.bench().moment()->to, 126e-6);
}

/// The link's pattern comes again after 511 bits.
TEST_F(Spectra, AnAutocorrelationFindsThePattern)
{
    desk.ask("add the autocorrelation of link");
    ASSERT_TRUE(desk.settled());
    ASSERT_NE(tile("autocorrelationTile"), nullptr);
    const auto peaks = result().autocorrelation->peaks(1);
    ASSERT_EQ(peaks.size(), 1u);
    EXPECT_NEAR(peaks[0].lag, 511 / 640e6, 0.05e-9);
}

/// What cannot be made says why and what would help; removing the channel removes what is of it.
TEST_F(Spectra, WhatCannotBeMadeSaysSo)
{
    desk.ask("add the spectrum of link");
    desk.bench().change("", [](Document &document) { document.spectra.back().resolution = 1; });
    ASSERT_TRUE(desk.settled());
    EXPECT_FALSE(result().made());
    EXPECT_THAT(result().reason, testing::HasSubstr("so fine a resolution"));
    ASSERT_NE(tile("channelSpectrumTile"), nullptr);
    desk.bench().change("", [](Document &document) { document.spectra.back().resolution = 1e3; });
    ASSERT_TRUE(desk.settled());
    EXPECT_THAT(result().reason, testing::HasSubstr("are there: ask for a coarser one"));
    desk.bench().change("", [](Document &document) { document.spectra.back().resolution = 1e6; });
    ASSERT_TRUE(desk.settled());
    EXPECT_TRUE(result().made());
    EXPECT_LE(result().spectrum->power.resolution(), 1e6);
}
