#include "trace_grips.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

using GripKind = Grip::Kind;

/// Those that move together: the lines that share an axis' scale, or the one line.
std::vector<int> linesOf(const TraceFigure &figure, const Grip &grip)
{
    if (grip.kind == GripKind::baseline) return {grip.index};
    std::vector<int> lines;
    const int axis = figure.axisLine(grip.index);
    if (axis < 0) return lines;
    const auto &shown = figure.lines[std::size_t(axis)];
    for (int i = 0; i < int(figure.lines.size()); ++i) {
        const auto &line = figure.lines[std::size_t(i)];
        if (line.lane == grip.index && line.low == shown.low && line.high == shown.high) lines.push_back(i);
    }
    return lines;
}

Grip noteAt(const TraceFigure &figure, const QRectF &area, QPointF at, const Look &look)
{
    for (int i = int(figure.notes.size()) - 1; i >= 0; --i) {
        const auto &note = figure.notes[std::size_t(i)];
        const QRectF box = figure.noteBox(area, note, look);
        if (QRectF(box.bottomRight() - QPointF(7, 7), QSizeF(10, 10)).contains(at)) return {GripKind::noteSize, i};
        if (box.contains(at)) return {GripKind::note, i};
        const QPointF pin(figure.xOf(area, note.time), figure.yOf(area, note.line, note.value));
        if (std::hypot(at.x() - pin.x(), at.y() - pin.y()) < 6) return {GripKind::pin, i};
    }
    return {};
}

Grip markerAt(const TraceFigure &figure, const QRectF &area, QPointF at)
{
    for (int i = int(figure.markers.size()) - 1; i >= 0; --i) {
        const auto &marker = figure.markers[std::size_t(i)];
        if (marker.time && std::abs(figure.xOf(area, *marker.time) - at.x()) < 4) return {GripKind::marker, i};
        if (marker.time || marker.line < 0) continue;
        const QRectF lane = figure.laneRect(area, figure.lines[std::size_t(marker.line)].lane);
        const double y = figure.yOf(area, marker.line, *marker.value);
        if (std::abs(y - at.y()) < 4 && lane.contains(lane.center().x(), at.y())) return {GripKind::marker, i};
    }
    return {};
}

Grip levelAt(const TraceFigure &figure, const QRectF &area, QPointF at)
{
    for (int i = 0; i < int(figure.levels.size()); ++i) {
        const auto &level = figure.levels[std::size_t(i)];
        const QRectF lane = figure.laneRect(area, figure.lines[std::size_t(level.line)].lane);
        if (lane.contains(lane.center().x(), at.y()) &&
            std::abs(figure.yOf(area, level.line, level.value) - at.y()) < 4)
            return {GripKind::level, i};
    }
    return {};
}

/// The level of its set, which all who use it share, laid at a value; it stays between its neighbours.
void moveLevel(Document &document, const TraceFigure::Level &level, double value)
{
    MeasurementEntry *row = findEntry(document.measurements, level.set);
    LevelsEntry *entry = findEntry(document.levels, row ? row->levels : level.set);
    if (row) { // its own, wherever it likes
        const bool percent = document.levelsOf(row->levels).kind == "percent";
        if (percent) value = std::round(1000 * (value - level.low) / (level.high - level.low)) / 10;
        if (std::isfinite(value)) row->at = value;
        return;
    }
    if (!entry) { // the default as it is without one
        entry = &document.levels.emplace_back(document.levelsOf(level.set));
        entry->id = level.set;
    }
    const bool percent = entry->kind == "percent";
    double *const all[] = {&entry->low, &entry->mid, &entry->high};
    double least = -INFINITY, most = INFINITY;
    const double step = percent ? 0.1 : std::pow(10, std::floor(std::log10(level.high - level.low)) - 3);
    if (level.which > 0) least = *all[level.which - 1] + step;
    if (level.which < 2) most = *all[level.which + 1] - step;
    if (percent) value = 100 * (value - level.low) / (level.high - level.low);
    if (std::isfinite(value)) *all[level.which] = std::clamp(std::round(value / step) * step, least, most);
}

Grip regionAt(const TraceFigure &figure, const QRectF &area, QPointF at, const Look &look)
{
    for (int i = int(figure.regions.size()) - 1; i >= 0; --i) {
        const auto &region = figure.regions[std::size_t(i)];
        if (std::abs(figure.xOf(area, region.from) - at.x()) < 4) return {GripKind::regionStart, i};
        if (std::abs(figure.xOf(area, region.to) - at.x()) < 4) return {GripKind::regionStop, i};
        const bool shown = region.to > figure.from && region.from < figure.to;
        if (shown && figure.regionFlag(area, region, look).contains(at)) return {GripKind::region, i};
    }
    return {};
}

void moveRegion(RegionEntry &region, GripKind kind, double by)
{
    const double least = 1e-6 * (region.stop - region.start);
    if (kind != GripKind::regionStop) region.start += by;
    if (kind != GripKind::regionStart) region.stop += by;
    if (region.stop - region.start >= least) return;
    if (kind == GripKind::regionStart) // dragged past the other end: that end stays
        region.start = region.stop - least;
    else
        region.stop = region.start + least;
}

} // namespace

Grip gripAt(const TraceFigure &figure, const QRectF &area, QPointF at, const Look &look)
{
    if (figure.lines.empty()) return {};
    const QRectF plot = figure.plotRect(area);
    if (const Grip note = noteAt(figure, area, at, look); note.kind != GripKind::none) return note;
    for (int i = 0; i < int(figure.lines.size()); ++i) {
        if (figure.handleBox(area, i).adjusted(-2, -2, 2, 2).contains(at)) return {GripKind::baseline, i};
    }
    for (int lane = 0; lane + 1 < figure.lanes; ++lane) {
        if (std::abs(figure.laneRect(area, lane).bottom() + 3 - at.y()) < 5) return {GripKind::divider, lane};
    }
    if (at.x() < plot.left() - 2 && at.y() >= plot.top() && at.y() <= plot.bottom())
        return {GripKind::axis, figure.laneAt(area, at.y())};
    if (!plot.adjusted(-8, -4, 14, 4).contains(at)) return {};
    if (const Grip marker = markerAt(figure, area, at); marker.kind != GripKind::none) return marker;
    if (const Grip level = levelAt(figure, area, at); level.kind != GripKind::none) return level;
    return regionAt(figure, area, at, look);
}

Qt::CursorShape cursorOf(const Grip &grip)
{
    switch (grip.kind) {
    case GripKind::divider:
    case GripKind::axis:
    case GripKind::baseline:
    case GripKind::level:
        return Qt::SizeVerCursor;
    case GripKind::regionStart:
    case GripKind::regionStop:
        return Qt::SizeHorCursor;
    case GripKind::noteSize:
        return Qt::SizeFDiagCursor;
    case GripKind::marker:
    case GripKind::region:
    case GripKind::note:
    case GripKind::pin:
        return Qt::SizeAllCursor;
    case GripKind::none:
        break;
    }
    return Qt::CrossCursor;
}

void dragGrip(Document &document, TileEntry &tile, const TraceFigure &figure, const QRectF &area, const Look &look,
              const Grip &grip, QPointF from, QPointF to)
{
    const double seconds = figure.timeAt(area, to.x()) - figure.timeAt(area, from.x());
    switch (grip.kind) {
    case GripKind::divider: {
        constexpr double least = 28; // pixels
        tile.heights.clear();
        for (int lane = 0; lane < figure.lanes; ++lane)
            tile.heights.push_back(std::round(figure.laneRect(area, lane).height()));
        double &above = tile.heights[std::size_t(grip.index)], &below = tile.heights[std::size_t(grip.index) + 1];
        const double both = above + below;
        above = std::clamp(above + to.y() - from.y(), std::min(least, both / 2), std::max(both - least, both / 2));
        below = both - above;
        break;
    }
    case GripKind::axis:
    case GripKind::baseline:
        for (const int i : linesOf(figure, grip)) {
            const auto &line = figure.lines[std::size_t(i)];
            const double by = figure.valueAt(area, i, from.y()) - figure.valueAt(area, i, to.y());
            tile.ranges[line.id] = {line.low + by, line.high + by};
        }
        break;
    case GripKind::marker: {
        MarkerEntry *marker = findEntry(document.markers, figure.markers[std::size_t(grip.index)].id);
        const int line = figure.markers[std::size_t(grip.index)].line;
        if (marker && marker->time) *marker->time += seconds;
        if (marker && marker->level && line >= 0)
            marker->level = figure.rested(
                area, line, *marker->level + figure.valueAt(area, line, to.y()) - figure.valueAt(area, line, from.y()));
        break;
    }
    case GripKind::level: {
        const auto &level = figure.levels[std::size_t(grip.index)];
        moveLevel(document, level,
                  level.value + figure.valueAt(area, level.line, to.y()) - figure.valueAt(area, level.line, from.y()));
        break;
    }
    case GripKind::region:
    case GripKind::regionStart:
    case GripKind::regionStop:
        if (RegionEntry *region = findEntry(document.regions, figure.regions[std::size_t(grip.index)].id))
            moveRegion(*region, grip.kind, seconds);
        break;
    case GripKind::note:
    case GripKind::noteSize:
    case GripKind::pin: {
        const auto &pin = figure.notes[std::size_t(grip.index)];
        NoteEntry *note = findEntry(document.notes, pin.id);
        if (!note) break;
        if (grip.kind == GripKind::pin) {
            note->time += seconds;
            note->level += figure.valueAt(area, pin.line, to.y()) - figure.valueAt(area, pin.line, from.y());
            break;
        }
        const QRectF box = figure.noteBox(area, pin, look);
        const QRectF lane = figure.laneRect(area, figure.lines[std::size_t(pin.line)].lane);
        const QPointF foot(figure.xOf(area, pin.time),
                           std::clamp(figure.yOf(area, pin.line, pin.value), lane.top() + 4, lane.bottom() - 4));
        const QPointF by = grip.kind == GripKind::note ? to - from : QPointF();
        note->right = std::round(box.left() - foot.x() + by.x());
        note->down = std::round(box.top() - foot.y() + by.y());
        if (grip.kind == GripKind::noteSize) note->width = std::round(std::max(48.0, box.width() + to.x() - from.x()));
        break;
    }
    case GripKind::none:
        break;
    }
}

void scaleGrip(TileEntry &tile, const TraceFigure &figure, const QRectF &area, const Grip &grip, double factor,
               double y)
{
    for (const int i : linesOf(figure, grip)) {
        const auto &line = figure.lines[std::size_t(i)];
        const double about = grip.kind == GripKind::baseline ? 0 : figure.valueAt(area, i, y);
        const double low = about + (line.low - about) * factor, high = about + (line.high - about) * factor;
        if (high > low && std::isfinite(high - low)) tile.ranges[line.id] = {low, high};
    }
}

void freeRanges(TileEntry &tile, const TraceFigure &figure, const Grip &grip)
{
    for (const int i : linesOf(figure, grip)) tile.ranges.erase(figure.lines[std::size_t(i)].id);
}

} // namespace fulvex
