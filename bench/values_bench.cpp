// Ten million values of a row: milliseconds a frame of histogram, trend and scatter (their drawings made beside it, as
// in a window), of making these drawings, and until the worst moments of a range of bars are listed.
// fulvex-bench-values prints nine numbers: median frame, then drawing, of each; worst moments of the middle bars, of
// all, and outliers.

#include "evidence.h"
#include "histogram_figure.h"
#include "scatter_figure.h"
#include "trend_figure.h"

#include <QApplication>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <functional>

using namespace fulvex;

namespace {

double milliseconds(const std::function<void()> &work)
{
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
}

double median(int times, const std::function<void(int)> &work)
{
    std::vector<double> all;
    for (int i = 0; i < times; ++i) all.push_back(milliseconds([&] { work(i); }));
    std::nth_element(all.begin(), all.begin() + times / 2, all.end());
    return all[std::size_t(times / 2)];
}

Row rowOf(const char *id, std::uint64_t seed)
{
    constexpr std::size_t count = 10'000'000;
    RawVector<double> places(count), values(count);
    for (std::size_t i = 0; i < count; ++i) {
        double sum = -6;
        for (int k = 0; k < 12; ++k) {
            seed = seed * 6364136223846793005u + 1442695040888963407u;
            sum += double(seed >> 11) * 0x1p-53;
        }
        places[i] = 5 * double(i) + 0.3 * sum;
        values[i] = 1e-9 + 1e-11 * sum;
    }
    Measured measured;
    measured.population = {TimeAxis{0, 1e-9, 50'000'000}, Column(std::move(places)), Column::constant(2, count),
                           Column(std::move(values))};
    Row row;
    row.id = id;
    row.title = id;
    row.source = "a";
    row.unit = "s";
    auto described = measured.describe();
    row.statistics = described.statistics;
    row.histogram = std::move(described.histogram);
    row.measured = std::make_shared<const Measured>(std::move(measured));
    return row;
}

} // namespace

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    auto document = std::make_shared<Document>();
    document->channels.push_back({.id = "a"});
    Results results;
    results.document = document;
    results.rows = {rowOf("x", 1), rowOf("y", 2)};
    const Look &look = Look::light();
    const QRectF area(0, 0, 620, 260);
    QImage image(620, 260, QImage::Format_RGB32);
    const auto frame = [&](const std::function<void(QPainter &)> &paint) {
        image.fill(look.tile);
        QPainter painter(&image);
        paint(painter);
    };
    TileEntry tile;
    tile.kind = "histogram";
    tile.of = {"x"};
    tile.bins = 300;
    tile.sigmas = 3;
    tile.normalCurve = tile.peaks = true;
    HistogramFigure histogram = histogramFigure(results, tile, {0, 1});
    const double counting = median(5, [&](int) {
        histogram.take(std::make_shared<const HistogramDrawing>(HistogramDrawing::of(*histogram.drawingFrom())));
    });
    const double bars = median(60, [&](int i) {
        histogram.asked = {std::size_t(i), std::size_t(i + 20)};
        frame([&](QPainter &painter) { paintHistogram(painter, area, histogram, look); });
    });
    tile.kind = "trend";
    tile.smooth = 1000;
    TrendFigure trend = trendFigure(results, tile, 0, 0.05);
    const double lines = median(5, [&](int) {
        trend.drawing = std::make_shared<const TrendDrawing>(TrendDrawing::of(*trend.drawingFrom(area)));
    });
    const double along =
        median(60, [&](int) { frame([&](QPainter &painter) { paintTrend(painter, area, trend, look); }); });
    ScatterFigure scatter = scatterFigure(results, {"x", "y"});
    const double pairs = median(3, [&](int) {
        scatter.take(std::make_shared<const ScatterDrawing>(ScatterDrawing::of(*scatter.drawingFrom(area, look))));
    });
    const double points =
        median(60, [&](int) { frame([&](QPainter &painter) { paintScatter(painter, area, scatter, look); }); });
    Progress progress;
    const auto asked = [&](std::size_t first, std::size_t last) {
        Question question{.id = "x"};
        question.values = results.rows[0].histogram.valuesOf(first, last);
        return median(9, [&](int) { evidenceFor(results, question, 1000, progress); });
    };
    const double middle = asked(60, 70), all = asked(0, 127);
    const double outliers = median(9, [&](int) { outliersOf(results, "x", 1000, progress); });
    std::printf("%.1f %.0f %.1f %.0f %.1f %.0f %.0f %.0f %.0f\n", bars, counting, along, lines, points, pairs, middle,
                all, outliers);
    return 0;
}
