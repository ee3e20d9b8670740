#include "eye_picture.h"

#include "axis_painter.h"
#include "eye_density.h"
#include "eye_paths.h"
#include "lap_fold.h"

#include <QPainter>
#include <algorithm>
#include <bit>
#include <cmath>

namespace fulvex {

namespace {

/// A picture of cells: what an eye shows of one unit interval, over and over from its left to its right; an overlay's
/// lap once.
class Cells {
public:
    Cells(const EyePicture::From &from, const EyeDensity &density)
        : m_density(density), m_first(from.first), rows(from.last - from.first)
    {
        const int unit = from.fold->picture.columns;
        const bool once = from.rule.overlay();
        columns = once ? unit : int(std::lround((from.right - from.left) * unit));
        const int offset = once ? 0 : int(std::lround(from.left * unit));
        for (int column = -1; column <= columns; ++column) m_folded.push_back(((column + offset) % unit + unit) % unit);
    }
    /// Counted from the picture's left and bottom; a column to either side of it is that of the next unit interval.
    float at(int column, int row) const { return m_density.at(m_folded[std::size_t(column + 1)], m_first + row); }

private:
    const EyeDensity &m_density;
    int m_first;
    std::vector<int> m_folded;

public:
    int columns = 0, rows;
};

/// Colours by the logarithm of 1 + count, looked up by the upper bits of that number: its power of two and 256 steps.
class LogarithmicInk {
public:
    LogarithmicInk(float most, const Look &look)
    {
        QRgb ramp[256];
        for (int i = 0; i < 256; ++i) ramp[i] = look.density(0.10 + 0.90 * i / 255.0).rgb();
        const double scale = 255 / std::log1p(double(std::max(1.0f, most)));
        const std::uint32_t last = indexOf(std::max(1.0f, most));
        for (std::uint32_t i = 0; i <= last; ++i) {
            const double sum = std::ldexp(1 + (i % steps + 0.5) / steps, int(i / steps));
            m_inks.push_back(ramp[std::min(255, int(std::log(sum) * scale + 0.5))]);
        }
        m_inks[0] = look.tile.rgb(); // nothing at all
    }
    QRgb of(float count) const { return m_inks[count > 0 ? std::max(1u, indexOf(count)) : 0]; }

private:
    static constexpr std::uint32_t steps = 256;
    static std::uint32_t indexOf(float count)
    {
        return (std::bit_cast<std::uint32_t>(1 + count) - std::bit_cast<std::uint32_t>(1.0f)) >> 15;
    }
    std::vector<QRgb> m_inks;
};

QImage densityImage(const Cells &cells, float most, const Look &look)
{
    QImage image(cells.columns, cells.rows, QImage::Format_RGB32);
    const LogarithmicInk ink(most, look);
    for (int row = 0; row < cells.rows; ++row) {
        auto *line = reinterpret_cast<QRgb *>(image.scanLine(cells.rows - 1 - row));
        for (int column = 0; column < cells.columns; ++column) line[column] = ink.of(cells.at(column, row));
    }
    return image;
}

constexpr int fine = 2; ///< pixels a cell, each way, of what is drawn in lines

QImage paper(const Cells &cells, const Look &look)
{
    QImage image(fine * cells.columns, fine * cells.rows, QImage::Format_RGB32);
    image.fill(look.tile);
    return image;
}

/// Lines of equal height by marching squares (Lorensen and Cline, 1987, in the plane): of the ratio of traces that
/// pass, smoothed over neighbours, at whole decades.
QImage hitContours(const Cells &cells, double unitIntervals, const Look &look)
{
    QImage image = paper(cells, look);
    const auto columns = std::size_t(cells.columns), rows = std::size_t(cells.rows);
    const double floor = std::log10(0.3 / unitIntervals); // less than one trace
    std::vector<double> decades(columns * rows);
    for (std::size_t row = 0; row < rows; ++row) {
        for (std::size_t column = 0; column < columns; ++column) {
            double sum = 0, weight = 0;
            for (int up = -1; up <= 1; ++up) {
                for (int across = -1; across <= 1; ++across) {
                    const int r = std::clamp(int(row) + up, 0, cells.rows - 1);
                    const double w = (2 - std::abs(up)) * (2 - std::abs(across));
                    sum += w * double(cells.at(int(column) + across, r));
                    weight += w;
                }
            }
            decades[row * columns + column] =
                std::max(floor, std::log10(std::max(1e-30, sum / weight / unitIntervals)));
        }
    }
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    const int lowest = int(std::ceil(floor + 1e-9));
    for (int decade = lowest; decade <= -1; ++decade) {
        const double share = lowest < -1 ? double(decade - lowest) / double(-1 - lowest) : 1;
        painter.setPen(QPen(look.density(0.3 + 0.7 * share), 3));
        for (std::size_t row = 0; row + 1 < rows; ++row) {
            for (std::size_t column = 0; column + 1 < columns; ++column) {
                const double corner[] = {decades[row * columns + column], decades[row * columns + column + 1],
                                         decades[(row + 1) * columns + column + 1],
                                         decades[(row + 1) * columns + column]};
                constexpr int dx[] = {0, 1, 1, 0}, dy[] = {0, 0, 1, 1};
                QPointF cut[4];
                int cuts = 0;
                for (int side = 0; side < 4; ++side) {
                    const int next = (side + 1) % 4;
                    const double a = corner[side] - decade, b = corner[next] - decade;
                    if ((a >= 0) == (b >= 0)) continue;
                    const double part = a / (a - b);
                    cut[cuts++] = {fine * (double(column) + 0.5 + dx[side] + part * (dx[next] - dx[side])),
                                   fine * (double(rows) - 0.5 - double(row) - dy[side] - part * (dy[next] - dy[side]))};
                }
                for (int i = 0; i + 1 < cuts; i += 2) painter.drawLine(cut[i], cut[i + 1]);
            }
        }
    }
    return image;
}

/// Some hundred unit intervals, spread evenly, each as its curve.
QImage traceImage(const Cells &cells, const EyePicture::From &from, double low, double high)
{
    QImage image = paper(cells, *from.look);
    constexpr std::int64_t some = 300;
    EyePaths::From wanted{from.samples, from.by, {}, from.rule};
    const std::vector<std::int64_t> laps =
        from.rule.overlay() ? lapBegins(from.by->map, from.rule) : std::vector<std::int64_t>();
    const std::int64_t count = from.rule.overlay() ? std::int64_t(laps.size()) : from.rule.last - from.rule.first,
                       shown = std::min(some, count);
    for (std::int64_t i = 0; i < shown; ++i) {
        const std::int64_t which = i * count / shown;
        wanted.unitIntervals.push_back(laps.empty() ? from.rule.first + which : laps[std::size_t(which)]);
    }
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    QColor ink = from.look->density(0.8);
    ink.setAlpha(60);
    painter.setPen(QPen(ink, 2));
    for (const EyePaths::Path &path : EyePaths::of(wanted).paths) {
        QPolygonF line;
        for (const QPointF &point : path.curve)
            line << QPointF((point.x() - from.left) / (from.right - from.left) * image.width(),
                            (high - point.y()) / (high - low) * image.height());
        painter.drawPolyline(line);
    }
    return image;
}

} // namespace

EyePicture EyePicture::of(const From &from)
{
    const EyeCounts &counts = from.fold->picture;
    EyePicture picture;
    picture.low = (double(counts.rows.first) + from.first) * counts.rows.width();
    picture.high = (double(counts.rows.first) + from.last) * counts.rows.width();
    picture.left = from.left;
    picture.right = from.right;
    const EyeDensity density(*from.fold);
    const Cells cells(from, density);
    if (from.shown == "traces" && from.samples)
        picture.image = traceImage(cells, from, picture.low, picture.high);
    else if (from.shown == "hit_contours")
        picture.image = hitContours(cells, double(from.fold->unitIntervals), *from.look);
    else
        picture.image = densityImage(cells, density.most(), *from.look);
    if (from.rule.overlay()) picture.mean = meanOfLaps(counts);
    if (!from.errors) return picture;
    for (std::size_t opening = 0; opening + 1 < from.errors->symbols.size(); ++opening) {
        for (const double ratio : {1e-3, 1e-6, 1e-9, 1e-12}) {
            EyeErrorRatio::Contour contour = from.errors->contour(ratio, opening);
            if (!contour.points.empty()) picture.contours.push_back(std::move(contour));
        }
    }
    return picture;
}

} // namespace fulvex
