#include "core_loop.h"
#include "figure_worker.h"
#include "function_plot.h"
#include "trend_figure.h"
#include "wait_for.h"

#include <cmath>
#include <gtest/gtest.h>
#include <thread>

using namespace fulvex;

namespace {

const QRectF plotArea(0, 0, 486, 226); // the plot is 400 by 200
constexpr int left = 72, top = 6;

QImage painted(const FunctionPlot &plot)
{
    QImage image(plotArea.size().toSize(), QImage::Format_RGB32);
    image.fill(Look::light().tile);
    QPainter painter(&image);
    paintPlot(painter, plotArea, plot, Look::light());
    return image;
}

bool isNear(QColor one, QColor other, int by = 40)
{
    return std::abs(one.red() - other.red()) + std::abs(one.green() - other.green()) +
               std::abs(one.blue() - other.blue()) <
           by;
}

/// How many points around a place have a colour.
int inkAround(const QImage &image, double x, double y, QColor ink)
{
    int found = 0;
    for (int dx = -2; dx <= 2; ++dx)
        for (int dy = -2; dy <= 2; ++dy) found += isNear(image.pixelColor(int(x) + dx, int(y) + dy), ink, 90);
    return found;
}

FunctionPlot emptyPlot()
{
    FunctionPlot plot;
    plot.x = {1e3, 1e7, "Hz", true};
    plot.y = {-100, 0, "dB"};
    return plot;
}

Measured values(std::size_t count)
{
    Measured measured;
    TimeAxis axis;
    axis.interval = 1e-9;
    axis.count = std::int64_t(count) * 10;
    PopulationBuilder population(axis);
    for (std::size_t i = 0; i < count; ++i)
        population.add(double(i) * 10, 2, i == count / 2 ? 50 : std::sin(double(i) / 30));
    measured.population = population.take();
    return measured;
}

} // namespace

TEST(Ticks, OfALogarithmicScaleArePowersOfTenAsManyAsThereIsRoomFor)
{
    const AxisScale wide{1, 1e9, "Hz", true};
    const auto every = ticksOf(wide, 10);
    ASSERT_EQ(every.size(), 10u);
    EXPECT_EQ(every[3].label, "1 kHz");
    const auto third = ticksOf(wide, 4);
    ASSERT_EQ(third.size(), 4u);
    EXPECT_EQ(third[1].value, 1e3);
    const auto between = ticksOf({1e-3, 1e-1, "s", true}, 8);
    ASSERT_EQ(between.size(), 7u); // 1 2 5 10 20 50 100
    EXPECT_EQ(between[2].label, "5 ms");
    EXPECT_FALSE(ticksOf({3, 8, "", true}, 5).empty()); // less than a decade: as on a straight one
    for (const AxisScale &none : {AxisScale{0, 1, "", true}, AxisScale{-1, 1, "", true}, AxisScale{2, 1, "", true},
                                  AxisScale{1, INFINITY, "", true}, AxisScale{NAN, 1, "", true}})
        EXPECT_TRUE(ticksOf(none, 5).empty());
    EXPECT_NEAR(wide.shareOf(1e3), 1.0 / 3, 1e-12);
    EXPECT_NEAR(wide.valueAt(1.0 / 3), 1e3, 1e-9);
}

TEST(FunctionPlot, CurvesPassTheirPointsOnLogarithmicAxes)
{
    FunctionPlot plot = emptyPlot();
    FunctionPlot::Curve curve;
    curve.ink = 0;
    for (double x = 1e3; x < 1.001e7; x *= 1.1) { // -20 dB a decade
        curve.x.push_back(x);
        curve.y.push_back(-20 * std::log10(x / 1e3));
    }
    plot.curves.push_back(curve);
    const QImage image = painted(plot);
    for (const double x : {3e3, 1e4, 1e5, 3e6}) {
        const double share = plot.x.shareOf(x), y = -20 * std::log10(x / 1e3) / -100;
        EXPECT_GT(inkAround(image, left + 400 * share, top + 200 * y, Look::light().trace(0)), 2) << x;
        EXPECT_EQ(inkAround(image, left + 400 * share, top + 200 * y + 30, Look::light().trace(0)), 0) << x;
    }
}

TEST(FunctionPlot, AGapIsNotBridged)
{
    FunctionPlot plot = emptyPlot();
    plot.curves.push_back({{1e3, 1e4, 1e5, 1e6, 1e7}, {-50, -50, NAN, -50, -50}, 0});
    const QImage image = painted(plot);
    EXPECT_GT(inkAround(image, left + 50, top + 100, Look::light().trace(0)), 2);
    EXPECT_EQ(inkAround(image, left + 200, top + 100, Look::light().trace(0)), 0);
    EXPECT_GT(inkAround(image, left + 350, top + 100, Look::light().trace(0)), 2);
}

TEST(FunctionPlot, BarsAreAsTallAsTheyShouldBeAndThoseAskedForStandOut)
{
    for (const bool logarithmic : {false, true}) {
        FunctionPlot plot;
        plot.x = {1, 1e4, "s", logarithmic};
        plot.y = {0, 10, ""};
        plot.bars = FunctionPlot::Bars{{2, 10, 5, 0}, 0};
        plot.asked = {plot.x.valueAt(0.5), plot.x.valueAt(0.75)}; // the third
        const QImage image = painted(plot);
        const auto tall = [&](int bar, QColor ink) {
            int rows = 0;
            for (int y = top; y < top + 200; ++y) rows += isNear(image.pixelColor(left + 50 + 100 * bar, y), ink);
            return rows;
        };
        EXPECT_NEAR(tall(0, Look::light().trace(0)), 40, 2) << logarithmic;
        EXPECT_NEAR(tall(1, Look::light().trace(0)), 200, 3) << logarithmic;
        EXPECT_EQ(tall(2, Look::light().trace(0)), 0) << logarithmic;
        EXPECT_NEAR(tall(2, Look::light().accent), 100, 2) << logarithmic;
        EXPECT_EQ(tall(3, Look::light().trace(0)), 0) << logarithmic;
    }
}

TEST(FunctionPlot, OnPaperItIsWhatItIsOnScreen)
{
    FunctionPlot plot = emptyPlot();
    plot.bars = FunctionPlot::Bars{{20, -40, -60, -80}, 1};
    plot.curves.push_back({{1e3, 1e7}, {-10, -90}, 0});
    plot.words = {"a word"};
    Progress progress;
    const QPicture picture = recordedPlot(plot, plotArea.size(), Look::light(), progress);
    const QImage direct = painted(plot);
    const auto playedOn = [&](int dotsPerInch) {
        QImage paper(plotArea.size().toSize(), QImage::Format_RGB32);
        paper.setDotsPerMeterX(int(dotsPerInch / 0.0254));
        paper.setDotsPerMeterY(int(dotsPerInch / 0.0254));
        paper.fill(Look::light().tile);
        QPainter painter(&paper);
        paintRecorded(painter, plotArea, picture, plotArea.size());
        return paper;
    };
    std::vector<QImage> atOnce(16); // as two reports are made
    onAllCores(std::int64_t(atOnce.size()), [&](std::int64_t i) { atOnce[std::size_t(i)] = playedOn(288); });
    for (const QImage &paper : atOnce) EXPECT_EQ(paper, playedOn(288));
    for (const int dotsPerInch : {72, 288, 1200}) {
        const QImage replayed = playedOn(dotsPerInch);
        int other = 0, inked = 0;
        for (int y = 0; y < direct.height(); ++y) {
            for (int x = 0; x < direct.width(); ++x) {
                other += !isNear(replayed.pixelColor(x, y), direct.pixelColor(x, y), 120);
                inked += !isNear(direct.pixelColor(x, y), Look::light().tile);
            }
        }
        EXPECT_GT(inked, 2000);
        EXPECT_LT(other, inked / 10) << dotsPerInch; // edges of lines and letters
    }
}

TEST(FunctionPlot, AnotherThreadHasItRecordedOnTheInterfacesOrGivesUp)
{
    FunctionPlot plot = emptyPlot();
    plot.curves.push_back({{1e3, 1e7}, {-10, -90}, 0});
    std::atomic<int> outcome = 0;
    Progress progress, cancelled;
    std::thread other([&] { outcome = recordedPlot(plot, plotArea.size(), Look::light(), progress).isNull() ? 1 : 2; });
    ASSERT_TRUE(test::waitFor([&] { return outcome != 0; }));
    other.join();
    EXPECT_EQ(outcome, 2);

    outcome = 0;
    std::thread given([&] {
        try {
            recordedPlot(plot, plotArea.size(), Look::light(), cancelled);
            outcome = 1;
        } catch (const Cancelled &) {
            outcome = 2;
        }
    });
    std::this_thread::sleep_for(std::chrono::milliseconds(50)); // nobody records it: this thread does not attend
    cancelled.cancel();
    given.join();
    EXPECT_EQ(outcome, 2);
    QTest::qWait(20); // what was asked for then is done for nobody
}

/// Of one row, not smoothed.
static TrendDrawing::Line lineOf(const TrendDrawing::From &from)
{
    return TrendDrawing::of(from).lines.front();
}

TEST(TrendDrawing, ShowsEachValueWhereThereIsRoomAndElseTheExtremes)
{
    const auto measured = std::make_shared<const Measured>(values(100000));
    const Population &all = measured->population;
    const TrendDrawing::Line close = lineOf({{measured}, all.time(1000), all.time(1010), 400, {}});
    EXPECT_TRUE(close.all);
    ASSERT_GE(close.x.size(), 11u); // and the next ones beyond the borders
    ASSERT_LE(close.x.size(), 13u);
    for (std::size_t i = 0; i < close.x.size(); ++i) {
        const auto index = std::size_t(std::lround(all.axis.positionOf(close.x[i]) / 10));
        EXPECT_EQ(close.y[i], all.value[index]);
    }
    const TrendDrawing::Line far = lineOf({{measured}, 0, all.axis.stop(), 400, {}});
    EXPECT_FALSE(far.all);
    EXPECT_EQ(far.x.size(), 800u);
    EXPECT_TRUE(std::is_sorted(far.x.begin(), far.x.end()));
    const auto peak = std::max_element(far.y.begin(), far.y.end());
    EXPECT_EQ(*peak, 50); // a single value of a hundred thousand
    EXPECT_NEAR(far.x[std::size_t(peak - far.y.begin())], all.axis.stop() / 2, all.axis.stop() / 400);
    const TrendDrawing::Line beyond = lineOf({{measured}, 2 * all.axis.stop(), 3 * all.axis.stop(), 400, {}});
    EXPECT_LE(beyond.x.size(), 1u); // the one before it
}
