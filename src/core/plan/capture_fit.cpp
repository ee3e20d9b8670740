#include "capture_fit.h"

#include "count_text.h"
#include "error.h"
#include "number_text.h"
#include "references.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

std::string atLeast(double value, const char *unit)
{
    return quantityText(value, unit, {}, 3) + " or more";
}

/// What the file says of itself.
std::vector<CaptureFit> plainFits(const CaptureWants &wants, const CaptureResult &capture)
{
    std::vector<CaptureFit> checks;
    const auto least = [&](const char *what, const std::optional<double> &wanted, double found, const char *unit) {
        constexpr double rounding = 1e-9; // a rate is told through an interval
        if (wanted)
            checks.push_back(
                {what, atLeast(*wanted, unit), quantityText(found, unit, {}, 4), found >= *wanted * (1 - rounding)});
    };
    if (wants.channels)
        checks.push_back({"channels", std::to_string(*wants.channels) + " or more", std::to_string(capture.channels),
                          capture.channels >= *wants.channels});
    least("sample rate", wants.sampleRate, 1 / capture.sampleInterval, "Sa/s");
    least("length", wants.length, double(capture.samples) * capture.sampleInterval, "s");
    if (wants.samples)
        checks.push_back({"samples", countText(*wants.samples) + " or more", countText(double(capture.samples)),
                          double(capture.samples) >= *wants.samples});
    return checks;
}

/// The document of what is asked about, so that only that is computed.
Document trimmed(Document document, const CaptureWants &wants, const std::string &capture)
{
    std::vector<std::string> asked{capture};
    if (wants.symbolRate) asked.push_back(wants.rateOf);
    if (wants.patternLength) asked.push_back(wants.patternOf);
    if (wants.levelLeast || wants.levelMost) {
        asked.push_back(freeId(document, "asked_level"));
        document.measurements = {{.id = asked.back(), .quantity = "amplitude", .source = wants.levelOf}};
    }
    return onlyBehind(std::move(document), asked);
}

CaptureFit rateFit(const CaptureWants &wants, const Results &results)
{
    CaptureFit check{"symbol rate",
                     quantityText(*wants.symbolRate, "Bd", {}, 6) + " ± " + quantityText(*wants.ppm, "", {}, 3) +
                         " ppm",
                     {},
                     false};
    const ClockResult *clock = findEntry(results.clocks, wants.rateOf);
    if (!clock || !(clock->rate > 0)) {
        check.found = clock && !clock->reason.empty() ? clock->reason : "none is found";
        return check;
    }
    check.found = quantityText(clock->rate, "Bd",
                               clock->rateUncertainty > 0 ? std::optional(clock->rateUncertainty) : std::nullopt);
    check.holds = std::abs(clock->rate / *wants.symbolRate - 1) <= 1e-6 * *wants.ppm;
    return check;
}

CaptureFit patternFit(const CaptureWants &wants, const Results &results)
{
    CaptureFit check{"pattern", std::to_string(*wants.patternLength) + " symbols", "none repeats", false};
    const ClockResult *clock = findEntry(results.clocks, wants.patternOf);
    if (!clock || !clock->pattern) return check;
    if (clock->pattern->length > 0)
        check.found = std::to_string(clock->pattern->length) + " symbols" +
                      (clock->pattern->kind == SymbolPattern::Kind::prbs ? ", " + wordsOf(*clock->pattern) : "");
    check.holds = clock->pattern->length == *wants.patternLength;
    return check;
}

CaptureFit levelFit(const CaptureWants &wants, const Results &results)
{
    const Row &row = results.rows.front();
    std::string wanted;
    if (wants.levelLeast) wanted = quantityText(*wants.levelLeast, row.unit, {}, 3);
    if (wants.levelMost)
        wanted = (wanted.empty() ? "up to " : wanted + " to ") + quantityText(*wants.levelMost, row.unit, {}, 3);
    else
        wanted += " or more";
    CaptureFit check{"amplitude of " + wants.levelOf, wanted, row.reason, false};
    if (!row.measurable() || !row.statistics.mean) return check;
    const double level = *row.statistics.mean;
    check.found = quantityText(level, row.unit, {}, 4);
    check.holds = level >= wants.levelLeast.value_or(-INFINITY) && level <= wants.levelMost.value_or(INFINITY);
    return check;
}

} // namespace

bool fits(const std::vector<CaptureFit> &checks)
{
    return std::ranges::all_of(checks, &CaptureFit::holds);
}

std::vector<CaptureFit> fitOf(const PlanSlot &slot, const Document &document, const std::filesystem::path &base,
                              Engine &engine, Progress &progress)
{
    const CaptureWants &wants = slot.wants;
    Document bare; // the file alone
    bare.captures.push_back(*findEntry(document.captures, slot.capture()));
    const Results read = engine.evaluate(bare, base, {.check = !wants.clipping}, progress);
    const CaptureResult &capture = read.captures.front();
    if (!capture.error.empty()) return {{"file", "one that can be read", capture.error, false}};
    std::vector<CaptureFit> checks = plainFits(wants, capture);
    if (!wants.clipping) {
        const auto clipped = std::ranges::find(capture.findings, "clipping", &Finding::check);
        if (clipped != capture.findings.end()) checks.push_back({"range", "not clipped", clipped->text, false});
    }
    const bool more = wants.symbolRate || wants.patternLength || wants.levelLeast || wants.levelMost;
    if (!more || !fits(checks)) return checks;
    const Document asked = trimmed(document, wants, slot.capture());
    const Results results = engine.evaluate(asked, base, {.traces = std::set<std::string>()}, progress);
    if (wants.levelLeast || wants.levelMost) checks.push_back(levelFit(wants, results));
    if (wants.symbolRate) checks.push_back(rateFit(wants, results));
    if (wants.patternLength) checks.push_back(patternFit(wants, results));
    return checks;
}

} // namespace fulvex
