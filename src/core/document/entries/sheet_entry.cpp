#include "sheet_entry.h"

#include "entry_words.h"
#include "error.h"

#include <set>

namespace fulvex {

namespace {

/// A sheet is a grid that has to be looked at.
constexpr int mostPlaces = 100;

constexpr Choice scales[] = {{"decibels", "in decibels"}, {"rms", "rms"}, {"density", "rms per √Hz"}};

constexpr Choice ofRuns[] = {{"one", "the capture shown"}, {"all", "all of them"}};
constexpr Choice fadingOfRuns[] = {
    {"one", "the capture shown"}, {"all", "all of them"}, {"recent", "the last, fading with age"}};

void checkPlace(int first, int span, const std::string &place, const std::string &width)
{
    if (first < 0 || first >= mostPlaces)
        throw Error(place, "is " + std::to_string(first), "count from 0, up to " + std::to_string(mostPlaces - 1));
    if (span < 1 || first + span > mostPlaces)
        throw Error(width, "is " + std::to_string(span),
                    "give 1 or more, within " + std::to_string(mostPlaces) + " in all");
}

} // namespace

bool TileEntry::addsUp() const
{
    static const std::set<std::string> kinds{"eye",           "histogram", "channel_spectrum", "phase_noise",
                                             "budget",        "bathtub",   "jitter_histogram", "jitter_tails",
                                             "jitter_pattern"};
    return kinds.contains(kind);
}

std::vector<Field> fieldsOf(TileEntry &entry)
{
    const bool histogram = entry.kind == "histogram", trend = entry.kind == "trend",
               spectrum = entry.kind == "spectrum", channel = entry.kind == "channel_spectrum",
               transfer = entry.kind == "transfer", gram = entry.kind == "spectrogram",
               lags = entry.kind == "autocorrelation", frequency = spectrum || channel || transfer || gram;
    Field from = momentField("from", "", &entry.from), to = momentField("to", "", &entry.to);
    Field at = momentField("at", "at time", &entry.at);
    at.belongs = gram;
    at.none = "none";
    return {
        {.key = "id", .value = &entry.id},
        {.key = "kind", .always = true, .value = &entry.kind},
        {.key = "of", .always = true, .letters = 1000, .refers = EntryKind::any, .value = &entry.of},
        {.key = "words", .letters = 10000, .value = &entry.words},
        {.key = "lanes", .value = &entry.lanes},
        {.key = "row", .always = true, .value = &entry.row},
        {.key = "column", .always = true, .value = &entry.column},
        {.key = "row_span", .value = &entry.rowSpan},
        {.key = "column_span", .value = &entry.columnSpan},
        {.key = "heights", .unit = "(relative)", .least = 0, .above = true, .letters = 1000, .value = &entry.heights},
        {.key = "ranges", .letters = 1000, .refers = EntryKind::any, .value = &entry.ranges},
        {.key = "own_view", .value = &entry.ownView},
        from,
        to,
        {.key = "straight", .value = &entry.straight},
        {.key = "captures",
         .words = "of a run",
         .belongs = entry.addsUp(),
         .choices = entry.fades() ? std::span<const Choice>(fadingOfRuns) : std::span<const Choice>(ofRuns),
         .value = &entry.captures},
        {.key = "bins",
         .words = "bars",
         .belongs = histogram,
         .least = 2,
         .most = 4096,
         .none = "as many as fit",
         .value = &entry.bins},
        {.key = "log_counts", .words = "log counts", .belongs = histogram, .value = &entry.logCounts},
        {.key = "sigmas",
         .words = "mean ± sigma",
         .belongs = histogram,
         .least = 0,
         .most = 20,
         .none = "no lines",
         .value = &entry.sigmas},
        {.key = "normal_curve", .words = "normal curve", .belongs = histogram, .value = &entry.normalCurve},
        {.key = "peaks", .words = "list its peaks", .belongs = histogram, .value = &entry.peaks},
        {.key = "in_view", .words = "only in view", .belongs = histogram, .value = &entry.inView},
        {.key = "smooth",
         .words = "mean of",
         .belongs = trend,
         .least = 2,
         .most = 1e8,
         .none = "not smoothed",
         .value = &entry.smooth},
        {.key = "smoothed_alone",
         .words = "mean alone",
         .belongs = trend && entry.smooth.has_value(),
         .value = &entry.smoothedAlone},
        {.key = "window",
         .words = "window",
         .belongs = spectrum,
         .choices = windowWords,
         .none = "Hann",
         .value = &entry.window},
        {.key = "linear", .words = "linear", .belongs = spectrum || channel, .value = &entry.linear},
        {.key = "centre",
         .words = "centre",
         .unit = lags ? "s" : "Hz",
         .belongs = frequency || lags,
         .least = 0,
         .none = "all of it",
         .value = &entry.centre},
        {.key = "span",
         .words = "span",
         .unit = lags ? "s" : "Hz",
         .belongs = frequency || lags,
         .least = 0,
         .above = true,
         .none = "all of it",
         .value = &entry.span},
        {.key = "scale",
         .words = "amplitudes",
         .belongs = channel,
         .choices = scales,
         .none = "in decibels",
         .value = &entry.scale},
        {.key = "log_frequency",
         .words = "log frequency",
         .belongs = channel || transfer,
         .value = &entry.logFrequency},
        {.key = "marked",
         .words = channel ? "chosen line" : "at frequency",
         .unit = "Hz",
         .belongs = channel || gram,
         .least = 0,
         .none = "none",
         .value = &entry.marked},
        at,
        {.key = "difference", .belongs = entry.kind == "compared_eyes", .value = &entry.difference},
        {.key = "without_delay", .words = "delay taken out", .belongs = transfer, .value = &entry.withoutDelay},
    };
}

void checkEntry(const TileEntry &entry, const std::string &where)
{
    checkPlace(entry.row, entry.rowSpan, where + ".row", where + ".row_span");
    checkPlace(entry.column, entry.columnSpan, where + ".column", where + ".column_span");
}

std::vector<Field> fieldsOf(SheetEntry &entry)
{
    return {
        idField(entry.id),
        {.key = "title", .words = "title", .always = true, .letters = 1000, .value = &entry.title},
        momentField("from", "", &entry.from),
        momentField("to", "", &entry.to),
        {.key = "tiles", .value = EntryList(EntryKind::tile, "tile", 64, entry.tiles)},
    };
}

} // namespace fulvex
