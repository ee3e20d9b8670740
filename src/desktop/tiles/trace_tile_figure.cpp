// What a tile of traces shows beside them: what the selected row measures and by which levels, marks, symbols, other
// captures of a run.

#include "number_text.h"
#include "quantity_table.h"
#include "trace_tile.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace fulvex {

std::string TraceTile::secondChannel() const
{
    const MeasurementEntry *entry = bench().selection().kind == Selection::Kind::measurement
                                        ? findEntry(bench().document().measurements, bench().selection().id)
                                        : nullptr;
    const Quantity *quantity = entry ? findQuantity(entry->quantity) : nullptr;
    return quantity && quantity->takes("to") ? entry->to : std::string();
}

void TraceTile::addMeasuredPoints(TraceFigure &figure) const
{
    const Results &results = *bench().results();
    if (bench().selection().kind != Selection::Kind::measurement) return;
    const Row *row = findEntry(results.rows, bench().selection().id);
    if (!row || !row->measurable() || row->measured->population.size() == 0) return;
    const auto line =
        std::find_if(figure.lines.begin(), figure.lines.end(), [&](const auto &l) { return l.id == row->source; });
    if (line == figure.lines.end()) return;
    const Population &all = row->measured->population;
    std::size_t at = all.position.firstNotBelow(all.axis.positionOf(figure.from));
    const std::size_t end = all.position.firstAbove(all.axis.positionOf(figure.to));
    if (end - at > 60) return; // too many to tell apart: come closer
    QColor wash = bench().look().accent;
    wash.setAlpha(34);
    const std::string second = secondChannel();
    for (; at < end; ++at) {
        // Between two channels the earlier instant is the source's, unless the value says that it comes later.
        const bool turned = !second.empty() && (all.value[at] < 0 || row->quantity == "hold_time");
        bool atSource = !turned;
        for (const double time : {all.time(at), all.end(at)}) {
            const std::string &on = atSource || second.empty() ? row->source : second;
            const int drawn = figure.lineOf(on);
            if (const auto value = valueAt(on, time); value && drawn >= 0)
                figure.points.push_back({time, *value, drawn});
            if (all.span[at] == 0) break;
            atSource = !atSource;
        }
        if (all.span[at] > 0)
            figure.marks.push_back({all.time(at), all.end(at), second.empty() ? line->lane : -1, wash});
    }
}

void TraceTile::addLevels(TraceFigure &figure, const Document &document) const
{
    if (bench().selection().kind != Selection::Kind::measurement) return;
    const Row *row = findEntry(bench().results()->rows, bench().selection().id);
    const MeasurementEntry *entry = findEntry(document.measurements, bench().selection().id);
    if (!row || !entry) return;
    for (const Row::Levels &at : row->levels) {
        const int line = figure.lineOf(at.channel);
        if (line < 0) continue;
        // Of the document, which is ahead of the results while a level is being dragged.
        const LevelsEntry rule = document.levelsOf(entry->levels);
        const double low = at.levels.states.low, high = at.levels.states.high;
        const Quantity *quantity = findQuantity(entry->quantity);
        const bool own = entry->at && quantity && quantity->takes("at"); // in place of the set's mid level
        const double given[] = {rule.low, own ? *entry->at : rule.mid, rule.high};
        const bool percent = rule.kind == "percent";
        for (const int which : {0, 1, 2}) {
            if (which == 1 ? !at.mid : !at.lowAndHigh) continue;
            const double value = percent ? low + given[which] / 100 * (high - low) : given[which];
            const std::string &unit = figure.lines[std::size_t(line)].unit.toStdString();
            const QString words =
                percent ? text(quantityText(given[which], "%", {}, 3)) + " · " + text(quantityText(value, unit, {}, 3))
                        : text(quantityText(value, unit, {}, 4));
            const std::string &of = own && which == 1 ? entry->id : entry->levels;
            figure.levels.push_back({line, value, which, of, text(of) + " · " + words, low, high});
        }
    }
}

void TraceTile::addMarks(TraceFigure &figure) const
{
    const Results &results = *bench().results();
    m_close = results.clocks.size() < bench().document().clocks.size(); // one to come may be shown
    if (const auto &moment = bench().moment()) {
        QColor wash = moment->failure ? bench().look().fail : bench().look().accent;
        wash.setAlpha(46);
        const int line = figure.lineOf(moment->channel);
        figure.marks.push_back({moment->from, moment->to, line < 0 ? -1 : figure.lines[std::size_t(line)].lane, wash});
        if (line >= 0 && !moment->instants.empty())
            figure.dimension =
                TraceFigure::Dimension{line, moment->instants, text(moment->words), !secondChannel().empty()};
    }
    if (const ClockResult *clock = shownClock(figure)) addSymbols(figure, *clock);
}

/// That the view is about: the selected one, else a loop, else any of a channel that is shown.
const ClockResult *TraceTile::shownClock(const TraceFigure &figure) const
{
    const ClockResult *best = nullptr;
    int most = 0;
    for (const ClockResult &clock : bench().results()->clocks) {
        const ClockEntry *entry = findEntry(bench().document().clocks, clock.id);
        if (!entry || !clock.clock || figure.lineOf(entry->source) < 0) continue;
        const bool selected = bench().selection().kind == Selection::Kind::clock && bench().selection().id == clock.id;
        const int rank = selected ? 3 : entry->method == "pll" ? 2 : 1;
        if (rank > most) most = rank, best = &clock;
    }
    return best;
}

/// Its boundaries and symbols, where they are few enough to be seen.
void TraceTile::addSymbols(TraceFigure &figure, const ClockResult &clock) const
{
    const UnitIntervalMap &map = clock.clock->map;
    const TimeAxis &axis = map.axis();
    const double first = map.unitIntervalAt(axis.positionOf(figure.from)),
                 last = map.unitIntervalAt(axis.positionOf(figure.to));
    constexpr double most = 400; // that a screen tells apart
    if (!(last - first <= most)) return;
    m_close = true;
    const auto timeOf = [&](std::int64_t n) { return axis.timeOf(map.positionOf(double(n))); };
    constexpr double mostLines = 120;
    if (last - first <= mostLines) {
        for (int i = 0; i <= int(last - first); ++i) // whole numbers: far from 0 a double would not count on
            figure.clockInstants.push_back(axis.timeOf(map.positionOf(std::ceil(first) + i)));
    }
    if (!clock.samples) return;
    const SampleRange shown{std::max<std::int64_t>(0, std::int64_t(std::floor(first))),
                            std::min(map.unitIntervals(), std::int64_t(std::ceil(last)))};
    if (shown.first >= shown.last) return;
    m_symbols.want({clock.samples, clock.clock, clock.thresholds, shown});
    const auto &row = m_symbols.newest();
    if (!row) return;
    std::set<std::int64_t> wrong; // that a row of this clock counts
    for (const MeasurementEntry &entry : bench().document().measurements) {
        if (entry.clock != clock.id || entry.quantity != "bit_errors") continue;
        const Row *errors = findEntry(bench().results()->rows, entry.id);
        if (!errors || !errors->measured) continue;
        const Population some = within(errors->measured->population, figure.from, figure.to);
        for (std::size_t i = 0; i < some.size(); ++i)
            wrong.insert(std::llround(map.unitIntervalAt(axis.positionOf(some.time(i)))));
    }
    const ClockEntry *entry = findEntry(bench().document().clocks, clock.id);
    figure.symbolLane = figure.lines[std::size_t(figure.lineOf(entry->source))].lane;
    for (std::size_t i = 0; i < row->symbols.size(); ++i) {
        const std::int64_t n = row->unitIntervals.first + std::int64_t(i);
        if (n < shown.first || n >= shown.last) continue;
        const std::uint8_t symbol = row->symbols[i];
        figure.symbols.push_back({timeOf(n), timeOf(n + 1),
                                  symbol == unknownSymbol ? '?' : "0123456789abcdef"[symbol % 16], wrong.contains(n)});
    }
}

/// Those of a run's other captures, behind the one that is shown.
void TraceTile::addOthers(TraceFigure &figure) const
{
    const bool fading = entry().captures == "recent";
    if (entry().captures == "one" || !bench().run()) return;
    const std::string shown = bench().shownMember();
    std::vector<const RunTrace *> others;
    constexpr std::size_t mostFading = 8;
    for (const RunTrace &trace : bench().run()->traces) {
        if (fading && others.size() == mostFading) break;
        if (trace.capture != shown) others.push_back(&trace);
    }
    for (TraceFigure::Line &line : figure.lines) {
        for (std::size_t age = others.size(); age-- > 0;) {
            const ChannelResult *channel = findEntry(others[age]->channels, line.id);
            if (!channel) continue;
            constexpr double newest = 0.55, older = 0.72, even = 0.35;
            line.behind.push_back(
                {channel->source, channel->pyramid, fading ? newest * std::pow(older, double(age)) : even});
        }
    }
}

TraceFigure TraceTile::figureOf(const QRectF &area)
{
    if (!bench().results()) return {};
    const Document &document = shownDocument();
    TraceFigure figure = traceFigure(*bench().results(), document, shownEntry(), view().from, view().to);
    figure.handles = true;
    addOthers(figure);
    if (bench().selection().kind == Selection::Kind::channel) figure.chosen = bench().selection().id;
    addMarks(figure);
    addMeasuredPoints(figure);
    addLevels(figure, document);
    m_drawn.lay(figure, area, bench().look());
    return figure;
}

} // namespace fulvex
