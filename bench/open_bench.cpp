// Looking at a billion samples: fulvex-bench-open FILE makes FILE (16-bit integers, 2 GB, NPY) where it is missing,
// then opens it as the desktop does and prints: seconds to the first picture, peak memory in MB at that time, seconds
// to the whole pyramid, seconds to open it again (the pyramid is kept), peak memory in MB at the end.

#include "engine.h"
#include "npy_header.h"
#include "peak_memory.h"
#include "record_document.h"
#include "trace_figure.h"

#include <QGuiApplication>
#include <chrono>
#include <cstdio>
#include <filesystem>
#include <fstream>

using namespace fulvex;

namespace {

constexpr std::int64_t samples = 1000000000;

void makeRecord(const std::string &file)
{
    if (std::filesystem::exists(file)) return;
    std::ofstream out(file + ".part", std::ios::binary);
    out << npyHeader("<i2", samples, 1);
    std::vector<std::int16_t> piece(1 << 20);
    std::uint64_t state = 1;
    for (std::int64_t done = 0; done < samples; done += std::int64_t(piece.size())) {
        for (std::int16_t &v : piece) {
            state = state * 6364136223846793005u + 1442695040888963407u;
            v = std::int16_t((state >> 52) + std::uint64_t(done / 400000));
        }
        const auto count = std::min<std::int64_t>(std::int64_t(piece.size()), samples - done);
        out.write(reinterpret_cast<const char *>(piece.data()), count * 2);
    }
    out.close();
    std::filesystem::rename(file + ".part", file);
}

/// Seconds until the whole record is painted.
double secondsToPicture(const std::string &file, bool sketch)
{
    const auto start = std::chrono::steady_clock::now();
    const Document document = documentOf(file, "p");
    TileEntry tile;
    tile.of = {"p"};
    Progress progress;
    Engine engine(".");
    const Results results = engine.evaluate(document, "/", {.pyramids = true, .sketches = sketch}, progress);
    QImage image(1000, 400, QImage::Format_RGB32);
    QPainter painter(&image);
    const QRectF area(0, 0, 1000, 400);
    TraceFigure figure = traceFigure(results, document, tile, 0, 1);
    figure.draw(area, Look::light());
    paintTraces(painter, area, figure, Look::light());
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

} // namespace

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    const std::filesystem::path cache = std::filesystem::temp_directory_path() / "fulvex-bench-cache";
    std::filesystem::remove_all(cache);
    qputenv("XDG_CACHE_HOME", cache.c_str());
    QGuiApplication app(argc, argv);
    const std::string file = std::filesystem::absolute(argc > 1 ? argv[1] : "billion.npy").string();
    makeRecord(file);
    const double first = secondsToPicture(file, true), memory = bench::peakMemory(),
                 whole = secondsToPicture(file, false), again = secondsToPicture(file, true);
    std::printf("%.3f %.0f %.3f %.3f %.0f\n", first, memory, whole, again, bench::peakMemory());
    std::filesystem::remove_all(cache);
}
