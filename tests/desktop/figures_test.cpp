// Figures: what is drawn where, worked out from what is in them. The same painters serve tiles and reports.

#include "histogram_figure.h"
#include "signals.h"
#include "trace_figure.h"
#include "trace_shade.h"

#include <QImage>
#include <cmath>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

const QRectF area(0, 0, 800, 300);

QImage canvas()
{
    QImage image(800, 300, QImage::Format_RGB32);
    image.fill(Look::light().tile);
    return image;
}

Results resultsOf(const std::vector<double> &volts, double interval)
{
    auto document = std::make_shared<Document>();
    document->channels.push_back({.id = "a", .label = "Pod"});
    Results results;
    results.document = document;
    Progress progress;
    const SourcePtr source = makeMemorySource(volts, interval);
    results.channels.push_back(
        {"a", "V", "", false, source, std::make_shared<const Pyramid>(Pyramid::build(*source, progress))});
    return results;
}

TileEntry tileOf(std::vector<std::string> channels, bool lanes = false)
{
    TileEntry tile;
    tile.kind = "traces";
    tile.of = std::move(channels);
    tile.lanes = lanes;
    return tile;
}

TraceFigure drawnFigure(const Results &results, const Document &document, const TileEntry &tile, double from, double to)
{
    TraceFigure figure = traceFigure(results, document, tile, from, to);
    figure.draw(area, Look::light());
    return figure;
}

/// Rows of a column in which a colour near `ink` stands.
std::vector<int> rowsOf(const QImage &image, int x, QColor ink)
{
    std::vector<int> rows;
    for (int y = 0; y < image.height(); ++y) {
        const QColor found = image.pixelColor(x, y);
        if (std::abs(found.red() - ink.red()) + std::abs(found.green() - ink.green()) +
                std::abs(found.blue() - ink.blue()) <
            60)
            rows.push_back(y);
    }
    return rows;
}

} // namespace

TEST(TraceFigure, AConstantIsALineAtItsHeight)
{
    std::vector<double> volts(100000, 0.25);
    volts.front() = 0;
    volts.back() = 1;
    const Results results = resultsOf(volts, 1e-9);
    const TraceFigure figure = drawnFigure(results, *results.document, tileOf({"a"}), 1e-6, 99e-6);
    ASSERT_EQ(figure.lines.size(), 1u);
    EXPECT_EQ(figure.lines[0].drawing->columns.size(), 714u);
    QImage image = canvas();
    QPainter painter(&image);
    paintTraces(painter, area, figure, Look::light());
    painter.end();
    const auto &line = figure.lines[0];
    const QRectF lane = figure.laneRect(area, 0);
    const double expected = lane.bottom() - (0.25 - line.low) / (line.high - line.low) * lane.height();
    for (const int x : {150, 400, 600}) {
        const auto rows = rowsOf(image, x, Look::light().trace(0));
        ASSERT_FALSE(rows.empty()) << x;
        EXPECT_NEAR(rows.front(), expected, 2);
        EXPECT_LE(rows.back() - rows.front(), 3);
    }
}

TEST(TraceFigure, ASpikeOfOneSampleReachesItsHeightFromFarAway)
{
    std::vector<double> volts(3000000, 0.0);
    volts[1500000] = 1;
    const Results results = resultsOf(volts, 1e-9);
    const TraceFigure figure = drawnFigure(results, *results.document, tileOf({"a"}), 0, 3e-3);
    QImage image = canvas();
    QPainter painter(&image);
    paintTraces(painter, area, figure, Look::light());
    painter.end();
    const int x = int(figure.xOf(area, 1.5e-3));
    int tallest = 0;
    for (int i = x - 2; i <= x + 2; ++i)
        tallest = std::max(tallest, int(rowsOf(image, i, Look::light().trace(0)).size()));
    EXPECT_GT(tallest, 0.8 * figure.laneRect(area, 0).height());
}

/// Two rails with the signal on each for 45 % of the time and passing for 10 %: the rails are dark, what is between
/// them is faint but there, beyond the extremes is nothing; an excursion of one sample stands out to its tip. From near
/// (all samples known) and from far (some).
TEST(TraceShade, IsDarkerTheLongerTheSignalIsThere)
{
    constexpr int columns = 400, rows = 200;
    for (const int perColumn : {200, 20000}) {
        std::vector<double> volts;
        test::Gaussian random(3);
        for (int i = 0; i < columns * perColumn; ++i) {
            const double at = double(i % 20) / 20; // of a unit interval that rises, rests, falls and rests
            const double level = at < 0.05 ? at / 0.05 : at < 0.5 ? 1 : at < 0.55 ? (0.55 - at) / 0.05 : 0;
            volts.push_back(level + 0.01 * random());
        }
        volts[std::size_t(columns / 2 * perColumn + perColumn / 3)] = 1.8;
        Progress progress;
        const SourcePtr source = makeMemorySource(volts, 1);
        const Pyramid pyramid = Pyramid::build(*source, progress);
        const TraceColumns seen = traceColumns(*source, pyramid, 0, double(volts.size()), columns);
        EXPECT_EQ(seen.inOrder, perColumn == 200);
        const QImage picture = TraceShade::picture(seen, -1, 2, rows, Qt::black);
        ASSERT_EQ(picture.size(), QSize(columns, rows));
        const auto rowOf = [&](double value) { return int((2 - value) / 3 * rows); };
        const auto meanOpacity = [&](double from, double to) {
            double sum = 0;
            int points = 0;
            for (int row = rowOf(to); row <= rowOf(from); ++row)
                for (int column = 0; column < columns; ++column, ++points) sum += qAlpha(picture.pixel(column, row));
            return sum / points;
        };
        EXPECT_GT(meanOpacity(0.995, 1.005), 230);
        EXPECT_GT(meanOpacity(-0.005, 0.005), 230);
        const double between = meanOpacity(0.2, 0.8);
        EXPECT_GE(between, TraceShade::least);
        EXPECT_LT(between, 110);
        for (int column = 0; column < columns; ++column) {
            for (int row = rowOf(0.9); row <= rowOf(0.1); ++row)
                ASSERT_GE(qAlpha(picture.pixel(column, row)), TraceShade::least) << column << " " << row;
            EXPECT_EQ(qAlpha(picture.pixel(column, rowOf(-0.5))), 0);
            EXPECT_EQ(qAlpha(picture.pixel(column, rowOf(1.5))) == 0, column != columns / 2) << column;
        }
        for (int row = rowOf(1.78); row < rowOf(1.1); ++row)
            ASSERT_GE(qAlpha(picture.pixel(columns / 2, row)), TraceShade::rare) << row;
    }
}

/// So close that a column holds a piece of an edge: the trace is a whole line.
TEST(TraceShade, AnEdgeSeenCloselyIsALineWithoutHoles)
{
    std::vector<double> volts;
    for (int i = 0; i < 4000; ++i) volts.push_back(std::sin(i * 2 * M_PI / 500));
    Progress progress;
    const SourcePtr source = makeMemorySource(volts, 1);
    const TraceColumns seen = traceColumns(*source, Pyramid::build(*source, progress), 0, 4000, 800);
    const QImage picture = TraceShade::picture(seen, -1.1, 1.1, 300, Qt::black);
    for (int column = 1; column < 800; ++column) {
        int darkest = 0;
        for (int row = 0; row < 300; ++row) darkest = std::max(darkest, qAlpha(picture.pixel(column, row)));
        ASSERT_GE(darkest, TraceShade::rare) << column;
    }
}

TEST(TraceFigure, AChannelIsDrawnInTheInkAndLineChosenForIt)
{
    const Results results = resultsOf(std::vector<double>(300, 0.25), 1e-9);
    const auto inked = [&](const char *ink, const char *line) {
        Document document = *results.document;
        document.channels[0].ink = ink;
        document.channels[0].line = line;
        const TraceFigure figure = drawnFigure(results, document, tileOf({"a"}), 10e-9, 290e-9);
        QImage image = canvas();
        QPainter painter(&image);
        paintTraces(painter, area, figure, Look::light());
        painter.end();
        const int row = int(figure.yOf(area, 0, 0.25)); // of the line, which may lie between two rows
        const QColor paper = Look::light().tile;
        int columns = 0;
        for (int x = 120; x < 700; ++x) {
            int darkest = 0;
            for (int y = row - 1; y <= row + 1; ++y) {
                const QColor found = image.pixelColor(x, y);
                darkest =
                    std::max(darkest, std::abs(found.red() - paper.red()) + std::abs(found.green() - paper.green()) +
                                          std::abs(found.blue() - paper.blue()));
            }
            columns += darkest > 150;
        }
        return std::pair(figure.lines[0].ink, columns);
    };
    const auto [ink, solid] = inked("", "");
    EXPECT_EQ(ink, 0);
    EXPECT_GT(solid, 560);
    EXPECT_EQ(inked("plum", "").first, 3);
    EXPECT_NEAR(inked("plum", "").second, solid, 10);
    EXPECT_NEAR(double(inked("plum", "dashed").second) / solid, 7 / 11.67, 0.2); // and what the pen reaches over
    EXPECT_NEAR(double(inked("plum", "dotted").second) / solid, 2 / 5.0, 0.3);
}

TEST(TraceFigure, AGapIsDrawnAsAGap)
{
    std::vector<double> volts(100, 0.5);
    volts[0] = 0;
    volts[99] = 1;
    for (int i = 40; i < 60; ++i) volts[std::size_t(i)] = NAN;
    const Results results = resultsOf(volts, 1e-9);
    const TraceFigure figure = drawnFigure(results, *results.document, tileOf({"a"}), 10e-9, 90e-9);
    EXPECT_FALSE(figure.lines[0].drawing->samples.empty());
    QImage image = canvas();
    QPainter painter(&image);
    paintTraces(painter, area, figure, Look::light());
    painter.end();
    EXPECT_TRUE(rowsOf(image, int(figure.xOf(area, 50e-9)), Look::light().trace(0)).empty());
    EXPECT_FALSE(rowsOf(image, int(figure.xOf(area, 25e-9)), Look::light().trace(0)).empty());
}

TEST(TraceFigure, LanesDoNotOverlapAndKnowTheirValues)
{
    const Results results = resultsOf({0, 1, 0, 1}, 1e-9);
    const TraceFigure figure = drawnFigure(results, *results.document, tileOf({"a", "a", "a"}, true), 0, 4e-9);
    EXPECT_EQ(figure.lanes, 3);
    for (int lane = 1; lane < 3; ++lane)
        EXPECT_GT(figure.laneRect(area, lane).top(), figure.laneRect(area, lane - 1).bottom());
    const QRectF middle = figure.laneRect(area, 1);
    EXPECT_EQ(figure.laneAt(area, middle.center().y()), 1);
    EXPECT_NEAR(figure.valueAt(area, 1, middle.center().y()), 0.5, 1e-6);
}

TEST(HistogramFigure, SaysWhyThereIsNothing)
{
    Results results = resultsOf({0, 1}, 1e-9);
    EXPECT_FALSE(histogramFigure(results, "none").empty.isEmpty());
    Row row;
    row.id = "m";
    row.title = "rms";
    row.source = "a";
    row.unit = "V";
    row.measured = std::make_shared<const Measured>(Measured::scattered(0.5, 0.001));
    row.statistics = row.measured->statistics();
    results.rows.push_back(row);
    EXPECT_EQ(histogramFigure(results, "m").empty, "One number has no histogram: 500 ± 1 mV");
    results.rows[0].reason = "no edges";
    EXPECT_EQ(histogramFigure(results, "m").empty, "no edges");
}

TEST(HistogramFigure, TheTallestBarIsTheFullestBin)
{
    Results results = resultsOf({0, 1}, 1e-9);
    Measured measured;
    PopulationBuilder population;
    for (int i = 0; i < 900; ++i) population.add(i, 0, i < 600 ? 0.2 : 0.8);
    measured.population = population.take();
    Row row;
    row.id = "m";
    row.source = "a";
    row.unit = "V";
    row.measured = std::make_shared<const Measured>(measured);
    row.statistics = measured.statistics();
    row.histogram = histogramOf(measured.population);
    results.rows.push_back(row);
    const HistogramFigure figure = histogramFigure(results, "m");
    QImage image = canvas();
    QPainter painter(&image);
    paintHistogram(painter, area, figure, Look::light());
    painter.end();
    const QRectF plot = figure.plotRect(area);
    const auto left = rowsOf(image, int(plot.left()) + 5, Look::light().trace(0)),
               right = rowsOf(image, int(plot.right()) - 5, Look::light().trace(0));
    EXPECT_GT(left.size(), 0.9 * plot.height());
    EXPECT_NEAR(double(right.size()) / double(left.size()), 0.5, 0.03);
}

namespace {

/// A sine of a third of the sample rate's half: far from what straight lines can follow.
std::vector<double> fastSine(std::size_t count, double perSample)
{
    std::vector<double> volts(count);
    for (std::size_t i = 0; i < count; ++i) volts[i] = std::sin(perSample * double(i));
    return volts;
}

} // namespace

TEST(TraceFigure, CloseUpTheCurveIsTheBandLimitedSignal)
{
    const double perSample = 2 * M_PI * 0.17;
    const Results results = resultsOf(fastSine(400, perSample), 1e-9);
    TileEntry tile = tileOf({"a"});
    const TraceFigure figure = drawnFigure(results, *results.document, tile, 190e-9, 220e-9);
    ASSERT_GT(figure.lines[0].drawing->curve.size(), 100u);
    for (const QPointF &point :
         figure.lines[0].drawing->curve) // the kernel's error is below 1e-4 up to 0.37 of the rate
        EXPECT_NEAR(point.y(), std::sin(perSample * point.x() * 1e9), 2e-4) << point.x();
    tile.straight = true;
    EXPECT_TRUE(drawnFigure(results, *results.document, tile, 190e-9, 220e-9).lines[0].drawing->curve.empty());
    // Farther away the samples stand closer than the eye tells apart.
    EXPECT_TRUE(drawnFigure(results, *results.document, tileOf({"a"}), 0, 300e-9).lines[0].drawing->curve.empty());
}

TEST(TraceFigure, ValuesBetweenSamplesAreOnThatCurveAndNoneIsMadeUp)
{
    const double perSample = 2 * M_PI * 0.17;
    std::vector<double> volts = fastSine(400, perSample);
    volts[100] = NAN;
    const SourcePtr source = makeMemorySource(volts, 1e-9);
    for (const double at : {200.0, 200.25, 250.5, 333.9})
        EXPECT_NEAR(*traceValue(*source, at * 1e-9, false), std::sin(perSample * at), 2e-4) << at;
    EXPECT_NEAR(*traceValue(*source, 200.5e-9, true), (volts[200] + volts[201]) / 2, 1e-9);
    EXPECT_NEAR(*traceValue(*source, 98.5e-9, false), (volts[98] + volts[99]) / 2, 1e-9); // a gap is near: straight
    EXPECT_FALSE(traceValue(*source, 99.5e-9, false));
    EXPECT_FALSE(traceValue(*source, 100e-9, true));
    EXPECT_FALSE(traceValue(*source, -1e-9, false));
    EXPECT_FALSE(traceValue(*source, 399.5e-9, false));
    EXPECT_NEAR(*traceValue(*source, 399e-9, false), volts[399], 1e-9);
}

TEST(TraceFigure, LinesOfOneLaneMayHaveScalesOfTheirOwn)
{
    const Results results = resultsOf({0, 1, 0, 1, 0}, 1e-9);
    auto document = std::make_shared<Document>(*results.document);
    TileEntry tile = tileOf({"a"});
    tile.ranges["a"] = {-1, 3};
    const TraceFigure figure = drawnFigure(results, *document, tile, 0, 4e-9);
    EXPECT_EQ(figure.lines[0].low, -1);
    EXPECT_TRUE(figure.lines[0].ownRange);
    const QRectF lane = figure.laneRect(area, 0);
    EXPECT_NEAR(figure.yOf(area, 0, 1), lane.center().y(), 1e-9);
    EXPECT_NEAR(figure.valueAt(area, 0, lane.top()), 3, 1e-9);
}

TEST(TraceFigure, NotesStayWithinTheTileAndTakeTheirWidth)
{
    const Results results = resultsOf({0, 1, 0, 1, 0}, 1e-9);
    Document document = *results.document;
    NoteEntry note{"n", "a", "some words that need more than one line of eighty pixels", 2e-9, 0.5};
    document.notes = {note};
    const auto boxOf = [&] {
        const TraceFigure figure = drawnFigure(results, document, tileOf({"a"}), 0, 4e-9);
        return figure.noteBox(area, figure.notes[0], Look::light());
    };
    const QRectF line = boxOf();
    EXPECT_NEAR(line.height(), 20, 4);
    document.notes[0].width = 80;
    document.notes[0].right = 40;
    document.notes[0].down = -30;
    const QRectF box = boxOf();
    EXPECT_EQ(box.width(), 80);
    EXPECT_GT(box.height(), 50);
    document.notes[0].right = 5000; // put there on a larger screen
    document.notes[0].down = -5000;
    EXPECT_TRUE(area.contains(boxOf()));
}

TEST(TraceFigure, ASketchSaysThatItIsOne)
{
    Results results = resultsOf(std::vector<double>(100000, 0.5), 1e-9);
    results.channels[0].pyramid = std::make_shared<const Pyramid>(Pyramid::sketch(*results.channels[0].source));
    const auto drawn = [&](const TraceFigure &figure) {
        QImage image = canvas();
        QPainter painter(&image);
        paintTraces(painter, area, figure, Look::light());
        painter.end();
        const QRectF lane = figure.laneRect(area, 0);
        int ink = 0;
        for (int x = int(lane.left()) + 8; x < int(lane.left()) + 240; ++x)
            ink += rowsOf(image.copy(0, int(lane.bottom()) - 18, 800, 13), x, Look::light().ink).empty() ? 0 : 1;
        return ink;
    };
    const TraceFigure first = drawnFigure(results, *results.document, tileOf({"a"}), 0, 1e-4);
    EXPECT_TRUE(first.lines[0].drawing->sketch);
    EXPECT_GT(drawn(first), 20); // letters, most of them softened at their edges
    const Results whole = resultsOf(std::vector<double>(100000, 0.5), 1e-9);
    EXPECT_EQ(drawn(drawnFigure(whole, *whole.document, tileOf({"a"}), 0, 1e-4)), 0);
}
