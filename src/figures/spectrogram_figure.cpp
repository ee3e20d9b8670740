#include "spectrogram_figure.h"

#include "number_text.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fulvex {

namespace {

constexpr double left = 72, right = 14, top = 8, bottom = 20; ///< pixels

double decibels(double density, double resolution)
{
    return 10 * std::log10(std::max(density * resolution, 1e-300));
}

/// The gram to draw from: the one there is, or one of what is shown alone, in columns as wide as pixels.
std::shared_ptr<const Spectrogram> fineEnough(const SpectrogramDrawing::From &from, bool &finer)
{
    const Spectrogram &gram = *from.gram;
    finer = false;
    if (!from.samples || gram.columns == 0) return from.gram;
    const TimeAxis &axis = from.samples->axis();
    const double shown = (from.toTime - from.fromTime) / axis.interval;
    const auto length = std::size_t(2 * (gram.lines - 1));
    const double columns = shown / gram.each, couldBe = 2 * shown / double(length);
    if (columns > 0.5 * from.size.width() || couldBe < 1.5 * columns) return from.gram;
    SampleRange range = samplesWithin(axis, from.fromTime, from.toTime);
    range.first = std::max(from.range.first, range.first - std::int64_t(length));
    range.last = std::min(from.range.last, range.last + std::int64_t(length));
    if (range.size() < std::int64_t(length)) return from.gram;
    SpectrogramRule rule;
    rule.window = gram.window;
    rule.length = length;
    rule.highest = gram.highest;
    rule.mostColumns = std::size_t(std::max(16, from.size.width()));
    rule.mostInAColumn = 4;
    // A moment's work, whatever is shown.
    constexpr double mostSamples = 1 << 23;
    const double segments = std::min(couldBe, double(rule.mostColumns) * double(rule.mostInAColumn));
    if (segments * double(length) > mostSamples) return from.gram;
    Progress progress;
    finer = true;
    return std::make_shared<const Spectrogram>(spectrogram(*from.samples, range, rule, progress));
}

} // namespace

SpectrogramDrawing SpectrogramDrawing::of(const From &from)
{
    SpectrogramDrawing drawing;
    drawing.from = from;
    const auto gram = fineEnough(from, drawing.finer);
    if (gram->columns == 0 || !from.samples || from.size.isEmpty()) return drawing;
    const TimeAxis &axis = from.samples->axis();
    const int wide = from.size.width(), high = from.size.height();
    // The first and the last one reach to the ends of what was transformed.
    const auto columnAt = [&](double time) {
        const double position = axis.positionOf(time), column = (position - gram->first) / gram->each;
        const bool inside = position >= double(from.range.first) && position <= double(from.range.last);
        return inside ? std::clamp(column, 0.0, double(gram->columns) - 1e-6) : column;
    };
    // For each pixel which columns and lines it shows: the highest of them.
    std::vector<std::pair<std::ptrdiff_t, std::ptrdiff_t>> columns(static_cast<std::size_t>(wide)),
        lines(static_cast<std::size_t>(high));
    for (int x = 0; x < wide; ++x) {
        const auto time = [&](double share) { return from.fromTime + share / wide * (from.toTime - from.fromTime); };
        const auto first = std::ptrdiff_t(std::floor(columnAt(time(x)))),
                   last = std::max(first + 1, std::ptrdiff_t(std::floor(columnAt(time(x + 1)))));
        columns[std::size_t(x)] = {std::max<std::ptrdiff_t>(0, first), std::min(last, std::ptrdiff_t(gram->columns))};
    }
    for (int y = 0; y < high; ++y) {
        const auto lineAt = [&](double pixel) {
            return std::floor(from.frequencies.valueAt(1 - pixel / high) / gram->step + 0.5);
        };
        const auto first = std::ptrdiff_t(lineAt(y + 1)), last = std::max(first + 1, std::ptrdiff_t(lineAt(y)));
        lines[std::size_t(y)] = {std::max<std::ptrdiff_t>(0, first), std::min(last, std::ptrdiff_t(gram->lines))};
    }
    std::vector<float> shown(std::size_t(wide) * std::size_t(high), NAN);
    std::vector<float> all;
    for (int x = 0; x < wide; ++x) {
        const auto [firstColumn, lastColumn] = columns[std::size_t(x)];
        for (int y = 0; y < high; ++y) {
            float highest = NAN;
            for (std::ptrdiff_t column = firstColumn; column < lastColumn; ++column) {
                const float *cells = &gram->densities[std::size_t(column) * gram->lines];
                for (std::ptrdiff_t line = lines[std::size_t(y)].first; line < lines[std::size_t(y)].second; ++line)
                    if (!(highest >= cells[line])) highest = cells[line];
            }
            if (std::isnan(highest)) continue;
            const auto level = float(decibels(double(highest), gram->resolution()));
            shown[std::size_t(y) * std::size_t(wide) + std::size_t(x)] = level;
            if ((x + y) % 7 == 0) all.push_back(level);
        }
    }
    if (all.empty()) return drawing;
    const auto rank = [&](double share) {
        const auto at = all.begin() + std::ptrdiff_t(share * double(all.size() - 1));
        std::nth_element(all.begin(), at, all.end());
        return double(*at);
    };
    drawing.high = *std::max_element(all.begin(), all.end());
    drawing.low = std::max(rank(0.2), drawing.high - 120); // the lowest fifth is paper
    if (!(drawing.high - drawing.low > 6)) drawing.low = drawing.high - 6;
    const Look &look = from.dark ? Look::darkLook() : Look::light();
    std::array<QRgb, 256> ramp{};
    for (std::size_t i = 0; i < ramp.size(); ++i) ramp[i] = look.density(double(i) / 255).rgb();
    drawing.picture = QImage(from.size, QImage::Format_RGB32);
    drawing.picture.fill(look.tile);
    for (int y = 0; y < high; ++y) {
        auto *row = reinterpret_cast<QRgb *>(drawing.picture.scanLine(y));
        for (int x = 0; x < wide; ++x) {
            const float level = shown[std::size_t(y) * std::size_t(wide) + std::size_t(x)];
            if (std::isnan(level)) continue;
            const double share = std::clamp((double(level) - drawing.low) / (drawing.high - drawing.low), 0.0, 1.0);
            row[x] = ramp[std::size_t(share * 255)];
        }
    }
    if (from.marked) {
        const auto line = std::size_t(std::clamp(std::round(*from.marked / gram->step), 0.0, double(gram->lines - 1)));
        for (int x = 0; x < wide; ++x) {
            const auto [first, last] = columns[std::size_t(x)];
            double highest = NAN;
            for (std::ptrdiff_t column = first; column < last; ++column)
                highest = std::fmax(highest, double(gram->at(std::size_t(column), line)));
            drawing.times.push_back(from.fromTime + (x + 0.5) / wide * (from.toTime - from.fromTime));
            drawing.levels.push_back(decibels(highest, gram->resolution()));
        }
    }
    if (from.at) {
        const auto column = std::size_t(std::clamp(std::floor(columnAt(*from.at)), 0.0, double(gram->columns - 1)));
        for (int y = high - 1; y >= 0; --y) {
            const auto [first, last] = lines[std::size_t(y)];
            double highest = NAN;
            for (std::ptrdiff_t line = first; line < last; ++line)
                highest = std::fmax(highest, double(gram->at(column, std::size_t(line))));
            drawing.lines.push_back(from.frequencies.valueAt(1 - (y + 0.5) / high));
            drawing.lineLevels.push_back(decibels(highest, gram->resolution()));
        }
    }
    return drawing;
}

SpectrogramFigure spectrogramFigure(const Results &results, const TileEntry &tile, double fromTime, double toTime)
{
    SpectrogramFigure figure;
    const SpectrumResult *result = nullptr;
    static_cast<SpectralFigure &>(figure) = spectralFigure(results, tile, result);
    figure.fromTime = fromTime;
    figure.toTime = toTime;
    if (!result || !result->spectrogram) return figure;
    figure.gram = result->spectrogram;
    figure.samples = result->samples;
    figure.range = result->range;
    addFact(figure.facts, QString("%1 resolution%2")
                              .arg(text(quantityText(figure.gram->resolution(), "Hz", {}, 3)),
                                   figure.gram->highest ? QString(", the highest of each") : QString()));
    return figure;
}

FrequencyView SpectrogramFigure::view() const
{
    if (!gram || gram->lines < 2) return {};
    return FrequencyView::of(tile, gram->step * double(gram->lines - 1), gram->step);
}

SpectrogramFigure::Places SpectrogramFigure::placesIn(const QRectF &area) const
{
    const double below = tile.marked ? std::min(110.0, 0.3 * area.height()) : 0,
                 beside = tile.at ? std::min(170.0, 0.25 * area.width()) : 0;
    Places places;
    places.picture = area.adjusted(left, top, -right - beside, -bottom - below);
    if (tile.marked)
        places.below = QRectF(places.picture.left(), places.picture.bottom() + 8, places.picture.width(), below - 8);
    if (tile.at)
        places.beside = QRectF(places.picture.right() + 12, places.picture.top(), beside - 12, places.picture.height());
    return places;
}

std::optional<SpectrogramDrawing::From> SpectrogramFigure::drawingFrom(const QRectF &area, const Look &look) const
{
    if (!gram || !(toTime > fromTime)) return {};
    const QSize size = placesIn(area).picture.size().toSize();
    if (size.width() < 8 || size.height() < 8) return {};
    return SpectrogramDrawing::From{gram,           samples, range,     fromTime,    toTime,
                                    view().scale(), size,    look.dark, tile.marked, tile.at};
}

void SpectrogramFigure::take(std::shared_ptr<const SpectrogramDrawing> made)
{
    if (made && gram) drawing = std::move(made);
}

/// A course in a plot of its own: along time, or up frequency with its levels across.
static void paintCourse(QPainter &painter, const QRectF &plot, const std::vector<double> &along,
                        const std::vector<double> &levels, const AxisScale &scale, const AxisScale &level, bool upwards,
                        const QColor &ink)
{
    QPolygonF line;
    const auto flush = [&] {
        if (line.size() > 1) painter.drawPolyline(line);
        line.clear();
    };
    painter.setPen(QPen(ink, 1));
    for (std::size_t i = 0; i < along.size(); ++i) {
        if (std::isnan(levels[i])) {
            flush();
            continue;
        }
        const double share = scale.shareOf(along[i]), height = std::clamp(level.shareOf(levels[i]), 0.0, 1.0);
        line << (upwards ? QPointF(plot.left() + height * plot.width(), plot.bottom() - share * plot.height())
                         : QPointF(plot.left() + share * plot.width(), plot.bottom() - height * plot.height()));
    }
    flush();
}

void paintSpectrogram(QPainter &painter, const QRectF &area, const SpectrogramFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty()) return paintEmpty(painter, area, figure.empty, look);
    if (!figure.drawing) return paintEmpty(painter, area, "Transforming…", look);
    const SpectrogramDrawing &drawing = *figure.drawing;
    const SpectrogramFigure::Places places = figure.placesIn(area);
    const QRectF &plot = places.picture;
    const AxisScale times = timeAxis(figure.fromTime, figure.toTime), frequencies = figure.view().scale();
    painter.save();
    if (!drawing.picture.isNull()) {
        // At the place that it is of, until the next comes.
        const auto x = [&](double time) { return plot.left() + times.shareOf(time) * plot.width(); };
        const auto y = [&](double frequency) { return plot.bottom() - frequencies.shareOf(frequency) * plot.height(); };
        painter.setClipRect(plot);
        painter.drawImage(QRectF(QPointF(x(drawing.from.fromTime), y(drawing.from.frequencies.high)),
                                 QPointF(x(drawing.from.toTime), y(drawing.from.frequencies.low))),
                          drawing.picture);
        painter.setClipping(false);
    }
    paintAxes(painter, plot, times, frequencies, look, !figure.tile.marked);
    const auto cross = [&](double share, bool across) {
        if (!(share >= 0 && share <= 1)) return;
        painter.setPen(QPen(look.accent, 1, Qt::DashLine));
        if (across)
            painter.drawLine(QPointF(plot.left(), plot.bottom() - share * plot.height()),
                             QPointF(plot.right(), plot.bottom() - share * plot.height()));
        else
            painter.drawLine(QPointF(plot.left() + share * plot.width(), plot.top()),
                             QPointF(plot.left() + share * plot.width(), plot.bottom()));
    };
    if (figure.tile.marked) cross(frequencies.shareOf(*figure.tile.marked), true);
    if (figure.tile.at) cross(times.shareOf(*figure.tile.at), false);
    if (figure.asked) {
        const auto &box = *figure.asked;
        const QRectF place(QPointF(plot.left() + times.shareOf(box.from) * plot.width(),
                                   plot.bottom() - frequencies.shareOf(box.high) * plot.height()),
                           QPointF(plot.left() + times.shareOf(box.to) * plot.width(),
                                   plot.bottom() - frequencies.shareOf(box.low) * plot.height()));
        painter.setPen(QPen(look.accent, 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(place.intersected(plot));
    }
    const std::string unit = decibelUnit(figure.unit);
    const double pad = 0.06 * (drawing.high - drawing.low);
    const AxisScale level{drawing.low - pad, drawing.high + pad, unit};
    const QColor ink = look.trace(figure.ink);
    if (figure.tile.marked && places.below.height() > 20) {
        paintAxes(painter, places.below, times, level, look);
        paintCourse(painter, places.below, drawing.times, drawing.levels, times, level, false, ink);
    }
    if (figure.tile.at && places.beside.width() > 20) {
        painter.setPen(QPen(look.hairline, 0.8));
        painter.drawRect(places.beside);
        paintLabelsBelow(painter, places.beside, level, look, places.beside.left(), area.right());
        paintCourse(painter, places.beside, drawing.lines, drawing.lineLevels, frequencies, level, true, ink);
    }
    painter.setFont(look.font(10));
    painter.setPen(look.ink);
    const QString words = text((drawing.finer ? "up to 4 segments a column · " : "") + fixedText(drawing.low, 0) +
                               " … " + fixedText(drawing.high, 0) + " " + unit);
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(words) + 8;
    const QRectF tag(plot.right() - wide - 2, plot.top() + 3, wide, 15);
    QColor back = look.tile;
    back.setAlpha(215);
    painter.fillRect(tag, back);
    painter.drawText(tag, Qt::AlignCenter, words);
    painter.restore();
}

} // namespace fulvex
