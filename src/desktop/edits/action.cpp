#include "action.h"

#include "axis_painter.h"
#include "quantity_table.h"
#include "translated.h"

#include <algorithm>

namespace fulvex {

using Kind = Selection::Kind;

std::vector<std::string> idsOf(const Document &document, Kind kind)
{
    std::vector<std::string> ids;
    const auto add = [&](const auto &entries) {
        for (const auto &entry : entries) ids.push_back(entry.id);
    };
    switch (kind) {
    case Kind::nothing:
        break;
    case Kind::capture:
        add(document.captures);
        break;
    case Kind::channel:
        add(document.channels);
        break;
    case Kind::clock:
        add(document.clocks);
        break;
    case Kind::eye:
        add(document.eyes);
        break;
    case Kind::mask:
        add(document.masks);
        break;
    case Kind::measurement:
        add(document.measurements);
        break;
    case Kind::note:
        add(document.notes);
        break;
    case Kind::region:
        add(document.regions);
        break;
    case Kind::marker:
        add(document.markers);
        break;
    case Kind::sheet:
        add(document.sheets);
        break;
    case Kind::tile:
        for (const SheetEntry &sheet : document.sheets) add(sheet.tiles);
        break;
    case Kind::parameter:
        add(document.parameters);
        break;
    case Kind::spectrum:
        add(document.spectra);
        break;
    case Kind::budget:
        add(document.budgets);
        break;
    case Kind::phaseNoise:
        add(document.phaseNoise);
        break;
    case Kind::program:
        add(document.programs);
        break;
    case Kind::function:
        add(document.functions);
        break;
    case Kind::comparison:
        add(document.comparisons);
        break;
    case Kind::plan:
        add(document.plans);
        break;
    }
    return ids;
}

std::vector<std::string> foundationsOf(const Document &document, const std::string &id)
{
    std::vector<std::string> on;
    const auto add = [&](const std::string &foundation) {
        if (foundation.empty()) return;
        on.push_back(foundation);
        for (const std::string &below : foundationsOf(document, foundation)) on.push_back(below);
    };
    if (const ClockEntry *clock = findEntry(document.clocks, id)) add(clock->source);
    if (const EyeEntry *eye = findEntry(document.eyes, id)) {
        add(eye->clock);
        if (std::find(on.begin(), on.end(), eye->source) == on.end()) add(eye->source);
    }
    if (const SpectrumEntry *spectrum = findEntry(document.spectra, id))
        add(spectrum->row.empty() ? spectrum->source : spectrum->row);
    if (const BudgetEntry *budget = findEntry(document.budgets, id)) add(budget->clock);
    if (const PhaseNoiseEntry *noise = findEntry(document.phaseNoise, id))
        add(noise->clock.empty() ? noise->source : noise->clock);
    if (const MaskEntry *mask = findEntry(document.masks, id)) add(mask->eye.empty() ? mask->source : mask->eye);
    if (const MeasurementEntry *row = findEntry(document.measurements, id))
        add(!row->eye.empty() ? row->eye : !row->clock.empty() ? row->clock : row->source);
    return on;
}

/// What it measures, and of what; its id besides where another row measures the same.
static QString rowName(const Document &document, const MeasurementEntry &row)
{
    const Quantity *quantity = findQuantity(row.quantity);
    QStringList of;
    for (const std::string &id : {row.eye, row.source, row.clock})
        if (!id.empty()) of << text(id);
    const QString what = quantity ? text(quantity->title) : text(row.quantity);
    const QString words = of.empty() ? what : tr("%1 of %2").arg(what, of.join(" · "));
    const auto measured = [](const MeasurementEntry &one) {
        return std::tie(one.quantity, one.eye, one.source, one.clock);
    };
    const auto alike = std::ranges::count(document.measurements, measured(row), measured);
    return alike < 2 ? words : words + " (" + text(row.id) + ")";
}

QString nameOf(const Document &document, Kind kind, const std::string &id)
{
    if (kind == Kind::measurement) {
        if (const MeasurementEntry *row = findEntry(document.measurements, id)) return rowName(document, *row);
    }
    if (kind == Kind::sheet) {
        const SheetEntry *sheet = findEntry(document.sheets, id);
        return sheet ? text(sheet->title) : QString();
    }
    if (kind == Kind::tile) {
        for (const SheetEntry &sheet : document.sheets) {
            if (const TileEntry *tile = findEntry(sheet.tiles, id))
                return tr("the %1 of %2").arg(text(tile->kind), tile->of.empty() ? tr("nothing") : text(tile->of[0]));
        }
    }
    return text(id);
}

QString kindWords(Kind kind)
{
    static const char *const words[] = {"nothing",       "capture",     "channel",   "clock",      "eye",
                                        "mask",          "measurement", "note",      "region",     "marker",
                                        "sheet",         "tile",        "parameter", "function",   "spectrum",
                                        "jitter budget", "phase noise", "program",   "comparison", "plan"};
    return tr(words[std::size_t(kind)]);
}

NamedEntry namedEntry(const Document &document, Kind kind, const std::string &id)
{
    return {nameOf(document, kind, id), foundationsOf(document, id)};
}

QString wordsOn(const Action &action, const NamedEntry &entry)
{
    return QString(action.words)
        .replace("%1", entry.name)
        .replace("%2", entry.on.empty() ? QString() : text(entry.on.front()));
}

std::vector<EyeEntry> wholeEyesLast(std::vector<EyeEntry> eyes)
{
    const auto rank = [](const EyeEntry &eye) { return !eye.atUnitIntervals() ? 0 : !eye.region.empty() ? 1 : 2; };
    std::stable_sort(eyes.begin(), eyes.end(), [&](const EyeEntry &a, const EyeEntry &b) { return rank(a) < rank(b); });
    return eyes;
}

std::string chosenEntry(const Workbench &bench, Kind kind)
{
    const Document &document = bench.document();
    std::vector<std::string> ids;
    if (kind == Kind::eye)
        for (const EyeEntry &eye : wholeEyesLast(document.eyes)) ids.push_back(eye.id);
    else
        ids = idsOf(document, kind);
    if (ids.empty()) return {};
    if (kind == Kind::sheet) return ids[std::min(std::size_t(bench.sheet()), ids.size() - 1)];
    const auto known = [&](const std::string &id) { return std::find(ids.begin(), ids.end(), id) != ids.end(); };
    if (known(bench.selection().id)) return bench.selection().id;
    for (const std::string &id : foundationsOf(document, bench.selection().id))
        if (known(id)) return id;
    for (auto id = ids.rbegin(); id != ids.rend(); ++id) { // what stands on it, made last first
        const auto on = foundationsOf(document, *id);
        if (std::find(on.begin(), on.end(), bench.selection().id) != on.end()) return *id;
    }
    if (kind != Kind::channel) return ids.back();
    for (auto channel = document.channels.rbegin(); channel != document.channels.rend(); ++channel)
        if (!channel->formula.empty()) return channel->id;
    return ids.front();
}

} // namespace fulvex
