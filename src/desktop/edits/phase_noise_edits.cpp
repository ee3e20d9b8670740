#include "phase_noise_edits.h"

#include "axis_painter.h"
#include "line_strength.h"
#include "measurement_edits.h"
#include "number_text.h"
#include "sheet_maker.h"
#include "tile_edits.h"

#include <QRegularExpression>
#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

const PhaseNoiseResult *resultOf(const Workbench &bench, const std::string &id)
{
    const PhaseNoiseResult *result = bench.results() ? findEntry(bench.results()->phaseNoise, id) : nullptr;
    return result && result->found ? result : nullptr;
}

/// A row of what an entry is of, at an offset.
MeasurementEntry &appendSpot(Document &document, const PhaseNoiseEntry &entry, double offset)
{
    appendRow(document, "phase_noise_at", entry.clock.empty() ? entry.source : entry.clock);
    MeasurementEntry &row = document.measurements.back();
    row.offset = offset;
    row.region = entry.region;
    if (entry.clock.empty()) row.levels = entry.levels;
    return row;
}

/// The first tile of phase noise on a sheet that does not show an entry; empty: there is none.
std::string tileBeneath(const Document &document, int sheet, const std::string &id)
{
    if (sheet < 0 || std::size_t(sheet) >= document.sheets.size()) return {};
    for (const TileEntry &tile : document.sheets[std::size_t(sheet)].tiles)
        if (tile.kind == "phase_noise" && std::find(tile.of.begin(), tile.of.end(), id) == tile.of.end())
            return tile.id;
    return {};
}

} // namespace

std::string addPhaseNoise(Workbench &bench, const std::string &of)
{
    const bool byClock = findEntry(bench.document().clocks, of) != nullptr;
    std::string id;
    int sheetAt = 0;
    const bool taken = bench.change(QObject::tr("add phase noise of %1").arg(text(of)), [&](Document &document) {
        PhaseNoiseEntry entry;
        entry.id = id = freeId(document, of + "_phase_noise");
        (byClock ? entry.clock : entry.source) = of;
        document.phaseNoise.push_back(entry);
        appendRow(document, "integrated_jitter", of);
        const std::string period = appendRow(document, "period_jitter", of);
        appendRow(document, "cycle_to_cycle_jitter", of);
        SheetMaker sheet(bench, "Phase noise of " + of);
        sheet.add("phase_noise", id, 0, 0, 3);
        sheet.add("accumulated_jitter", id, 1, 0);
        sheet.add("time_deviation", id, 1, 1);
        sheet.add("histogram", period, 1, 2);
        sheetAt = sheet.appendTo(document, "phase_noise_sheet");
    });
    if (!taken) return {};
    bench.showSheet(sheetAt);
    bench.select({Selection::Kind::phaseNoise, id});
    return id;
}

void setIntegral(Workbench &bench, const std::string &id, const PhaseNoiseSpan &span, int drag)
{
    const PhaseNoiseResult *result = resultOf(bench, id);
    if (!result) return;
    constexpr double near = 1e-3;
    const double lowest = result->found->lowest * (1 + near), highest = result->found->highest * (1 - near);
    bench.change(
        QObject::tr("choose what is integrated"),
        [&](Document &document) {
            PhaseNoiseEntry *entry = findEntry(document.phaseNoise, id);
            if (!entry) return;
            // Three digits: what a hand can mean.
            const auto rounded = [](double offset) {
                const double step = std::pow(10, std::floor(std::log10(offset)) - 2);
                return std::round(offset / step) * step;
            };
            entry->from = span.from <= lowest ? std::nullopt : std::optional(rounded(span.from));
            entry->to = span.to >= highest ? std::nullopt : std::optional(rounded(span.to));
        },
        QString("integral of %1, %2").arg(text(id)).arg(drag));
}

bool countLine(Workbench &bench, const std::string &id, std::size_t line)
{
    const PhaseNoiseResult *result = resultOf(bench, id);
    if (!result || line >= result->found->lines.size()) return false;
    const double offset = result->found->lines[line].offset;
    const bool counted = result->span.counts(offset);
    return bench.change(
        counted ? QObject::tr("leave a line out") : QObject::tr("count a line"), [&](Document &document) {
            PhaseNoiseEntry *entry = findEntry(document.phaseNoise, id);
            if (!entry) return;
            const auto taken = std::erase_if(entry->except, [&](double one) { return meansLine(one, offset); });
            if (taken == 0) entry->except.push_back(offset);
        });
}

void addDecadeRows(Workbench &bench, const std::string &id)
{
    const PhaseNoiseResult *result = resultOf(bench, id);
    if (!result) return;
    const double lowest = result->found->lowest, highest = result->found->highest;
    bench.change(QObject::tr("measure at each decade"), [&](Document &document) {
        const PhaseNoiseEntry entry = *findEntry(document.phaseNoise, id);
        for (double decade = std::pow(10, std::ceil(std::log10(lowest))); decade <= highest; decade *= 10)
            appendSpot(document, entry, decade);
    });
}

void addLimitRows(Workbench &bench, const std::string &id)
{
    bench.change(QObject::tr("measure at the limit's offsets"), [&](Document &document) {
        const PhaseNoiseEntry entry = *findEntry(document.phaseNoise, id);
        for (std::size_t i = 0; i < entry.limitOffsets.size(); ++i)
            appendSpot(document, entry, entry.limitOffsets[i]).limit.max = entry.limitLevels[i];
    });
}

bool canLayOver(const Workbench &bench, const std::string &id)
{
    return !tileBeneath(bench.document(), bench.sheet(), id).empty();
}

void layOver(Workbench &bench, const std::string &id)
{
    bench.change(QObject::tr("lay phase noise over another"), [&](Document &document) {
        if (TileEntry *tile = tileIn(document, tileBeneath(document, bench.sheet(), id))) tile->of.push_back(id);
    });
}

std::optional<std::pair<std::vector<double>, std::vector<double>>> limitFrom(const QString &typed)
{
    // A comma within a number belongs to it, where decimals have commas.
    static const QRegularExpression apart("[\\s,;:]+"), apartOfCommas("([\\s;:]|,(?!\\d))+");
    const bool commas = numberManner().decimalMark == ',';
    const QStringList words = typed.split(commas ? apartOfCommas : apart, Qt::SkipEmptyParts);
    if (words.size() % 2 != 0) return {};
    std::vector<std::pair<double, double>> points;
    for (qsizetype i = 0; i < words.size(); i += 2) {
        const auto offset = parseQuantity(words[i].toStdString(), "Hz"),
                   level = parseQuantity(words[i + 1].toStdString(), "dBc/Hz");
        if (!offset || !level || !(*offset > 0)) return {};
        points.emplace_back(*offset, *level);
    }
    std::sort(points.begin(), points.end());
    std::pair<std::vector<double>, std::vector<double>> limit;
    for (const auto &[offset, level] : points) {
        if (!limit.first.empty() && limit.first.back() == offset) return {};
        limit.first.push_back(offset);
        limit.second.push_back(level);
    }
    return limit;
}

QString limitText(const PhaseNoiseEntry &entry)
{
    QStringList points;
    for (std::size_t i = 0; i < entry.limitOffsets.size(); ++i) {
        QString offset = text(quantityText(entry.limitOffsets[i], "Hz", {}, 4));
        points << offset.remove("Hz").remove(' ') + " " + text(fixedText(entry.limitLevels[i], 1));
    }
    return points.join(", ");
}

} // namespace fulvex
