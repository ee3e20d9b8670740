// How long a frame of traces takes on records of 2 x 50 million samples: random pans and zooms, painted into a picture
// of 1000 x 400 as the traces tile does. fulvex-bench-draw FILE: prints median and 99th percentile in ms.

#include "capture_reader.h"
#include "link_record.h"
#include "trace_figure.h"

#include <QGuiApplication>
#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>

using namespace fulvex;

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication app(argc, argv);
    const std::string file = argc > 1 ? argv[1] : "link";
    bench::makeLinkRecord(file, 50000000);
    const SourcePtr link = bench::openLinkRecord(file);
    Progress progress;
    auto document = std::make_shared<Document>();
    Results results;
    TileEntry tile;
    const auto pyramid = std::make_shared<const Pyramid>(Pyramid::build(*link, progress));
    for (const char *id : {"a", "b"}) {
        document->channels.push_back({.id = id});
        ChannelResult &result = results.channels.emplace_back();
        result.id = id;
        result.unit = "V";
        result.source = link;
        result.pyramid = pyramid;
        tile.of.push_back(id);
    }
    results.document = document;
    QImage image(1000, 400, QImage::Format_RGB32);
    const double whole = link->axis().stop();
    std::vector<double> frames;
    std::uint64_t state = 12345;
    for (int frame = 0; frame < 600; ++frame) {
        state = state * 6364136223846793005u + 1442695040888963407u;
        const double zoom = std::pow(10, -7.0 * double(frame % 200) / 200), at = double(state >> 33) * 0x1p-31;
        const double width = whole * zoom, from = at * (whole - width);
        tile.lanes = frame % 2 == 0;
        const auto start = std::chrono::steady_clock::now();
        image.fill(Look::light().tile);
        QPainter painter(&image);
        const QRectF area(0, 0, 1000, 400);
        TraceFigure figure = traceFigure(results, *results.document, tile, from, from + width);
        figure.draw(area, Look::light());
        paintTraces(painter, area, figure, Look::light());
        painter.end();
        frames.push_back(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
    }
    std::sort(frames.begin(), frames.end());
    std::printf("%.2f %.2f\n", frames[frames.size() / 2], frames[frames.size() * 99 / 100]);
}
