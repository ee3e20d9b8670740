#include "measurement_edits.h"

#include "action.h"
#include "axis_painter.h"
#include "tile_edits.h"

#include <algorithm>

namespace fulvex {

std::string otherChannel(const Document &document, const std::string &of)
{
    const auto &channels = document.channels;
    const auto at = std::find_if(channels.begin(), channels.end(), [&](const auto &entry) { return entry.id == of; });
    if (at == channels.end() || channels.size() < 2) return {};
    return at + 1 == channels.end() ? channels.front().id : (at + 1)->id;
}

std::string appendRow(Document &document, const std::string &quantity, const std::string &of, const std::string &wish)
{
    MeasurementEntry entry;
    entry.id = freeId(document, wish.empty() ? quantity : wish);
    entry.quantity = quantity;
    if (findEntry(document.channels, of)) entry.source = of;
    const Quantity *made = findQuantity(quantity);
    if (made && made->takes("to")) entry.to = otherChannel(document, of);
    if (findEntry(document.clocks, of)) entry.clock = of;
    if (findEntry(document.eyes, of)) entry.eye = of;
    document.measurements.push_back(entry);
    return entry.id;
}

std::string addMeasurement(Workbench &bench, const std::string &quantity, const std::string &of)
{
    return bench.make(QObject::tr("measure %1").arg(text(quantity)), Selection::Kind::measurement,
                      [&](Document &document) { return appendRow(document, quantity, of); });
}

/// The clock or eye on a channel that is selected, or that the selection stands on; else the last; empty: there is
/// none.
template <typename Entry>
static std::string nearestOn(const Workbench &bench, const std::vector<Entry> &entries, const std::string &channel)
{
    std::vector<std::string> near = foundationsOf(bench.document(), bench.selection().id);
    near.push_back(bench.selection().id);
    std::string found;
    for (const Entry &entry : entries) {
        if (entry.source != channel) continue;
        found = entry.id;
        if (std::find(near.begin(), near.end(), entry.id) != near.end()) break;
    }
    return found;
}

std::string nearestClock(const Workbench &bench, const std::string &channel)
{
    return nearestOn(bench, bench.document().clocks, channel);
}

std::string nearestEye(const Workbench &bench, const std::string &channel)
{
    std::vector<EyeEntry> eyes = wholeEyesLast(bench.document().eyes);
    std::erase_if(eyes, [](const EyeEntry &eye) { return !eye.atUnitIntervals(); }); // no eye's quantities are theirs
    return nearestOn(bench, eyes, channel);
}

std::string subjectOf(const Workbench &bench, const Quantity &quantity, const std::string &channel)
{
    const Document &document = bench.document();
    if (quantity.needs == Needs::clock) return nearestClock(bench, channel);
    if (quantity.needs == Needs::eye) return nearestEye(bench, channel);
    return quantity.takes("to") && otherChannel(document, channel).empty() ? std::string() : channel;
}

bool canMeasureAgain(const Workbench &bench, const std::string &row, const std::string &channel)
{
    const Document &document = bench.document();
    const MeasurementEntry *entry = findEntry(document.measurements, row);
    const Quantity *quantity = entry ? findQuantity(entry->quantity) : nullptr;
    if (!quantity) return false;
    const std::vector<std::string> on = foundationsOf(document, row);
    return std::find(on.begin(), on.end(), channel) == on.end() && !subjectOf(bench, *quantity, channel).empty();
}

/// A row like another one, with an id of its own.
static void appendCopy(Workbench &bench, MeasurementEntry entry, const QString &what)
{
    bench.make(what, Selection::Kind::measurement, [&](Document &document) {
        entry.id = freeId(document, entry.quantity);
        document.measurements.push_back(entry);
        return entry.id;
    });
}

void measureAgain(Workbench &bench, const std::string &row, const std::string &channel)
{
    if (!canMeasureAgain(bench, row, channel)) return;
    MeasurementEntry entry = *findEntry(bench.document().measurements, row);
    const Quantity &quantity = *findQuantity(entry.quantity);
    if (quantity.needs == Needs::source || !entry.source.empty()) entry.source = channel;
    // A clock beside a channel is the other channel's as well.
    if (!entry.clock.empty()) entry.clock = nearestClock(bench, channel);
    if (!entry.eye.empty()) entry.eye = subjectOf(bench, quantity, channel);
    if (entry.to == channel) entry.to = otherChannel(bench.document(), channel);
    appendCopy(bench, entry, QObject::tr("measure %1 of %2").arg(text(entry.quantity), text(channel)));
}

void measureByClock(Workbench &bench, const std::string &row, const std::string &clock)
{
    const MeasurementEntry *from = findEntry(bench.document().measurements, row);
    const ClockEntry *by = findEntry(bench.document().clocks, clock);
    if (!from || !by) return;
    MeasurementEntry entry = *from;
    entry.clock = clock;
    if (!entry.source.empty()) entry.source = by->source;
    appendCopy(bench, entry, QObject::tr("measure %1 by %2").arg(text(entry.quantity), text(clock)));
}

void measureInRegion(Workbench &bench, const std::string &row, const std::string &region)
{
    const MeasurementEntry *from = findEntry(bench.document().measurements, row);
    if (!from) return;
    MeasurementEntry entry = *from;
    entry.region = region;
    appendCopy(bench, entry, QObject::tr("measure %1 in %2").arg(text(entry.quantity), text(region)));
}

void addMeasurements(Workbench &bench, const std::vector<std::string> &quantities, const std::string &channel)
{
    std::string last;
    bench.change(QObject::tr("measure %n quantities", nullptr, int(quantities.size()))
                     .replace("%n", QString::number(quantities.size())),
                 [&](Document &document) {
                     for (const std::string &quantity : quantities) {
                         const std::string of = subjectOf(bench, *findQuantity(quantity), channel);
                         if (!of.empty()) last = appendRow(document, quantity, of);
                     }
                 });
    if (!last.empty()) bench.select({Selection::Kind::measurement, last});
}

void addSuggested(Workbench &bench, const std::vector<Suggestion::Row> &rows, const std::string &channel,
                  const std::string &to)
{
    bench.make(QObject::tr("measure what fits %1").arg(text(channel)), Selection::Kind::measurement,
               [&](Document &document) {
                   std::string last;
                   for (const Suggestion::Row &row : rows) {
                       const std::string &on = row.turned ? to : channel;
                       const std::string of = subjectOf(bench, *findQuantity(row.quantity), on);
                       if (of.empty()) continue;
                       last = appendRow(document, row.quantity, of);
                       MeasurementEntry &entry = document.measurements.back();
                       entry.edge = row.edge;
                       entry.toEdge = row.toEdge;
                       if (!to.empty() && !entry.to.empty()) entry.to = row.turned ? channel : to;
                   }
                   return last;
               });
}

/// A row that is measured in a box, with its histogram on the sheet, as one step; selects it. `set` says which box.
static void addBoxRow(Workbench &bench, const QString &what, const std::string &quantity, const std::string &of,
                      std::pair<double, double> values, const std::function<void(Document &, MeasurementEntry &)> &set)
{
    bench.make(what, Selection::Kind::measurement, [&](Document &document) {
        const std::string id = appendRow(document, quantity, of);
        MeasurementEntry &row = document.measurements.back();
        row.above = std::min(values.first, values.second);
        row.below = std::max(values.first, values.second);
        set(document, row);
        addTile(document, bench.sheet(), {.kind = "histogram", .of = {id}});
        return id;
    });
}

void measureBox(Workbench &bench, const std::string &quantity, const std::string &channel,
                std::pair<double, double> times, std::pair<double, double> values)
{
    addBoxRow(bench, QObject::tr("measure in a box on %1").arg(text(channel)), quantity, channel, values,
              [&](Document &document, MeasurementEntry &row) {
                  row.region = freeId(document, "box");
                  document.regions.push_back(
                      {row.region, std::min(times.first, times.second), std::max(times.first, times.second)});
              });
}

void measureEyeBox(Workbench &bench, const std::string &quantity, const std::string &eye,
                   std::pair<double, double> phases, std::pair<double, double> values)
{
    addBoxRow(bench, QObject::tr("measure in a box of %1").arg(text(eye)), quantity, eye, values,
              [&](Document &, MeasurementEntry &row) {
                  row.fromPhase = phases.first;
                  row.toPhase = phases.second;
              });
}

} // namespace fulvex
