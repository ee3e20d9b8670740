// What pictures are made of: ticks, inks, densities, curves.

#include "axis_painter.h"
#include "difference_scale.h"
#include "eye_fold.h"
#include "eye_picture.h"
#include "signals.h"

#include <QImage>
#include <QSet>
#include <cmath>
#include <gtest/gtest.h>

using namespace fulvex;

TEST(DifferenceScale, TellsNoSignOfWhatItsDigitsDoNotShow)
{
    Comparison::Pair pair;
    pair.first.unit = "s";
    pair.uncertainty = 22e-12;
    const auto told = [&](double difference) {
        pair.difference = difference;
        return differenceText(pair);
    };
    EXPECT_EQ(told(-1e-15), "0 ps");
    EXPECT_EQ(told(1e-15), "0 ps");
    EXPECT_EQ(told(-263e-12), "−263 ps");
    EXPECT_EQ(told(263e-12), "+263 ps");
    pair.difference.reset();
    EXPECT_EQ(differenceText(pair), "—");
}

TEST(Ticks, AreRoundAndTellNeighboursApart)
{
    const auto ticks = ticksOf({-0.43, 0.43, "V"}, 5);
    ASSERT_EQ(ticks.size(), 5u);
    EXPECT_EQ(ticks[0].label, "\u2212400 mV");
    EXPECT_EQ(ticks[2].label, "0");
    const auto late = ticksOf({107.05e-6, 107.07e-6, "s"}, 5); // deep in a record the digits must be there
    QStringList labels;
    for (const Tick &tick : late) labels << tick.label;
    EXPECT_EQ(labels.size(), QSet<QString>(labels.begin(), labels.end()).size());
    EXPECT_TRUE(labels.contains("107.060 µs"));
    EXPECT_TRUE(ticksOf({1, 1, "V"}, 5).empty());
    EXPECT_TRUE(ticksOf({NAN, 1, "V"}, 5).empty());
}

TEST(EyeFigure, ThePictureRepeatsTheUnitIntervalAndEmptyCellsArePaper)
{
    auto fold = std::make_shared<EyeFold>();
    EyeCounts &counts = fold->picture;
    counts.columns = 8;
    counts.rows.count = 4;
    counts.counts.assign(32, 0);
    counts.counts[std::size_t(1 * 8 + 2)] = 100; // row 1, at phase 2/8
    counts.counts[std::size_t(3 * 8 + 7)] = 1;
    const Look &look = Look::light();
    const QImage image = EyePicture::of({fold, 0, 4, &look}).image;
    ASSERT_EQ(image.size(), QSize(16, 4));
    // -0.5 … 1.5 UI: phase 2/8 stands at 0.25 and, since the fold repeats, at 1.25 UI: columns 6 and 14.
    EXPECT_EQ(image.pixelColor(6, 2), look.density(1));
    EXPECT_EQ(image.pixelColor(14, 2), look.density(1));
    EXPECT_EQ(image.pixelColor(3, 0), image.pixelColor(11, 0));
    EXPECT_NE(image.pixelColor(3, 0), look.tile); // a single hit is seen
    EXPECT_EQ(image.pixelColor(0, 0), look.tile);
}

TEST(Look, DensityFallsEvenlyInLightness)
{
    for (const Look *look : {&Look::light(), &Look::darkLook()}) {
        int before = qGray(look->density(0).rgb());
        const bool darker = qGray(look->density(1).rgb()) < before;
        for (double share = 0.05; share <= 1.0; share += 0.05) {
            const int now = qGray(look->density(share).rgb());
            EXPECT_TRUE(darker ? now <= before : now >= before) << share;
            before = now;
        }
    }
}

TEST(Look, TextIsLegibleOnItsGround)
{
    const auto luminance = [](QColor c) { // WCAG 2.1, relative luminance
        const auto linear = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
        return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
    };
    const auto contrast = [&](QColor a, QColor b) {
        const double x = luminance(a), y = luminance(b);
        return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
    };
    for (const Look *look : {&Look::light(), &Look::darkLook()}) {
        EXPECT_GT(contrast(look->ink, look->panel), 7);
        EXPECT_GT(contrast(look->quiet, look->panel), 4.5);
        EXPECT_GT(contrast(look->fail, look->panel), 4.5);
        EXPECT_GT(contrast(look->pass, look->panel), 4.5);
        for (int ink = 0; ink < 8; ++ink) EXPECT_GT(contrast(look->trace(ink), look->tile), 3) << ink;
    }
}

/// At four samples a unit interval that come at the same phases again and again, the picture is one of curves: no
/// column between them is empty, and the rare hits of unit intervals that were not drawn do not stand in a comb either.
TEST(Figures, AnEyeLockedToItsSamplesShowsNoComb)
{
    for (const std::int64_t drawn : {std::int64_t(1) << 20, std::int64_t(256)}) {
        const test::Data data = test::makeBandLimitedData(4, 6000, 9);
        std::vector<double> noisy = data.volts;
        test::Gaussian random(4);
        for (double &value : noisy) value += 0.01 * random();
        const SourcePtr source = makeMemorySource(noisy, 1e-10);
        EyeRule rule;
        rule.least = *std::min_element(noisy.begin(), noisy.end());
        rule.most = *std::max_element(noisy.begin(), noisy.end());
        rule.first = 10;
        rule.last = 5990;
        rule.interpolation = automaticInterpolation(4);
        rule.curves = drawn;
        Progress progress;
        const auto fold =
            std::make_shared<const EyeFold>(foldEye(source, UnitIntervalMap(source->axis(), 2.71, 4), rule, progress));
        const EyePicture picture = EyePicture::of({fold, 0, fold->picture.rows.count, &Look::light()});
        const QRgb paper = Look::light().tile.rgb();
        std::vector<int> inked;
        for (int x = 0; x < picture.image.width(); ++x) {
            int count = 0;
            for (int y = 0; y < picture.image.height(); ++y) count += picture.image.pixel(x, y) != paper;
            inked.push_back(count);
        }
        // From one column to the next as much is drawn, to a few rows that chance adds.
        for (std::size_t x = 1; x < inked.size(); ++x) {
            EXPECT_GT(inked[x], 20);
            EXPECT_LT(std::abs(inked[x] - inked[x - 1]), 0.35 * inked[x] + 6) << x << " of " << drawn;
        }
    }
}
