#include "results_json.h"

#include "document_json.h"
#include "finding_json.h"
#include "fulvex_version.h"
#include "json_text.h"
#include "report_seal.h"
#include "suspects.h"

#include <algorithm>
#include <cmath>
#include <ctime>
#include <nlohmann/json.hpp>

namespace fulvex {

using Json = nlohmann::ordered_json;

namespace {

Json captureJson(const CaptureResult &capture)
{
    Json findings = Json::array();
    if (!capture.error.empty()) findings.push_back({{"check", "reading"}, {"level", "error"}, {"text", capture.error}});
    for (const Finding &finding : capture.findings) findings.push_back(findingJson(finding));
    Json stated = Json::array();
    for (const StatedFact &fact : capture.stated) stated.push_back({{"what", fact.what}, {"value", fact.value}});
    return {{"id", capture.id},
            {"file", capture.file},
            {"stated", stated},
            {"sha256", capture.sha256},
            {"channels", capture.channels},
            {"samples", capture.samples},
            {"sample_interval", capture.sampleInterval > 0 ? Json(capture.sampleInterval) : Json()},
            {"findings", findings}};
}

Json clockJson(const ClockResult &clock)
{
    Json json{{"id", clock.id},
              {"rate", clock.reason.empty() ? Json(clock.rate) : Json()},
              {"unit_intervals", clock.reason.empty() ? Json(clock.unitIntervals) : Json()}};
    json["rate_uncertainty"] = clock.reason.empty() ? Json(clock.rateUncertainty) : Json();
    if (!clock.levels.empty()) {
        json["levels"] = clock.levels;
        json["transitions"] = Json::array(); // row by row: from each level to each
        for (std::size_t from = 0; from < clock.levels.size(); ++from) {
            const auto row = clock.transitions.begin() + std::ptrdiff_t(from * clock.levels.size());
            json["transitions"].push_back(std::vector(row, row + std::ptrdiff_t(clock.levels.size())));
        }
    }
    if (clock.pattern)
        json["pattern"] = {{"kind", wordsOf(*clock.pattern)},
                           {"length", clock.pattern->length > 0 ? Json(clock.pattern->length) : Json()}};
    if (!clock.findings.empty()) {
        json["findings"] = Json::array();
        for (const Finding &finding : clock.findings) json["findings"].push_back(findingJson(finding));
    }
    if (!clock.reason.empty()) json["reason"] = clock.reason;
    return json;
}

Json madeBy(const std::vector<std::pair<std::string, std::string>> &provenance)
{
    Json made = Json::object();
    for (const auto &[what, how] : provenance) made[what] = how;
    return made;
}

Json rowJson(const Row &row)
{
    const Statistics &s = row.statistics;
    Json parts = Json::object(), out = Json::array();
    for (const UncertaintyPart &part : s.parts) parts[part.from] = numberOrNull(part.value);
    for (const Row::KeptOut &one : row.keptOut)
        out.push_back({{"time", one.time}, {"value", one.value}, {"reason", one.reason}});
    return {{"id", row.id},
            {"quantity", row.quantity},
            {"source", row.source},
            {"unit", row.unit},
            {"status", row.measurable() ? "ok" : "unmeasurable"},
            {"reason", row.reason},
            {"count", s.count},
            {"mean", numberOrNull(s.mean)},
            {"std", numberOrNull(s.std)},
            {"min", numberOrNull(s.min)},
            {"max", numberOrNull(s.max)},
            {"last", numberOrNull(s.last)},
            {"uncertainty", numberOrNull(s.uncertainty)},
            {"uncertainty_parts", parts},
            {"kept_out", out},
            {"kept_out_count", row.keptOutCount},
            {"verdict", verdictName(row.verdict)},
            {"made_by", madeBy(row.provenance)}};
}

Json eyeJson(const EyeResult &eye)
{
    Json json{{"id", eye.id},
              {"unit_intervals", eye.fold ? Json(eye.fold->unitIntervals) : Json()},
              {"samples", eye.fold ? Json(eye.fold->samples) : Json()}};
    if (!eye.reason.empty()) json["reason"] = eye.reason;
    return json;
}

Json maskJson(const MaskRun &mask)
{
    Json json{{"id", mask.id}};
    if (!mask.result) {
        for (const char *key : {"unit_intervals", "hits", "failed_unit_intervals"}) json[key] = Json();
        json["areas"] = Json::array();
        json["margin"] = Json();
        json["first_failures"] = Json::array();
    } else {
        const MaskResult &result = *mask.result;
        json["unit_intervals"] = result.unitIntervals;
        json["hits"] = result.hits;
        json["failed_unit_intervals"] = result.failedUnitIntervals;
        if (result.stopped) json["stopped"] = true; // what comes behind was not looked at
        json["areas"] = Json::array();
        for (std::size_t i = 0; i < mask.definition.areas.size(); ++i)
            json["areas"].push_back({{"name", mask.definition.areas[i].name}, {"hits", result.areaHits[i]}});
        json["margin"] = numberOrNull(result.margin);
        json["first_failures"] = Json::array();
        for (std::size_t i = 0; i < std::min<std::size_t>(result.failures.size(), 1000); ++i)
            json["first_failures"].push_back(
                {{"time", result.failures[i].time}, {"unit_interval", result.failures[i].unitInterval}});
    }
    for (const MaskRun::OfCapture &capture : mask.captures) {
        Json one{{"files", capture.files},        {"unit_intervals", capture.unitIntervals},
                 {"hits", capture.hits},          {"failed_unit_intervals", capture.failedUnitIntervals},
                 {"area_hits", capture.areaHits}, {"margin", numberOrNull(capture.margin)}};
        if (!capture.reason.empty()) one["reason"] = capture.reason;
        json["captures"].push_back(std::move(one));
    }
    if (!mask.reason.empty()) json["reason"] = mask.reason;
    json["verdict"] = verdictName(mask.verdict);
    return json;
}

const char *wordOf(JitterBudget::Part::Kind kind)
{
    using Kind = JitterBudget::Part::Kind;
    switch (kind) {
    case Kind::dutyCycle:
        return "duty_cycle";
    case Kind::pattern:
        return "data";
    case Kind::line:
        return "line";
    case Kind::bounded:
        return "bounded";
    case Kind::random:
        break;
    }
    return "random";
}

Json budgetJson(const BudgetResult &result)
{
    Json json{{"id", result.id}, {"source", result.source}};
    if (!result.reason.empty()) json["reason"] = result.reason;
    if (!result.found) return json;
    const JitterBudget &budget = result.budget;
    const JitterMakeUp &found = *result.found;
    json["unit_interval"] = budget.unitInterval;
    json["error_ratio"] = budget.ratio;
    json["edges"] = found.count;
    if (found.records > 1) json["captures"] = found.records;
    json["pattern"] = found.data.pattern > 0 ? Json(found.data.pattern) : Json();
    json["total"] = budget.total;
    json["uncertainty"] = budget.uncertainty;
    json["random"] = budget.random;
    json["random_uncertainty"] = budget.randomUncertainty();
    json["parts"] = Json::array();
    for (const JitterBudget::Part &part : budget.parts) {
        Json one{{"kind", wordOf(part.kind)}, {"size", part.size}, {"uncertainty", part.uncertainty}};
        if (part.kind == JitterBudget::Part::Kind::line) one["frequency"] = found.lines[part.line].frequency;
        if (part.leftOut) one["left_out"] = true;
        json["parts"].push_back(std::move(one));
    }
    json["lines"] = Json::array();
    for (const PeriodicLine &line : found.lines)
        json["lines"].push_back({{"frequency", line.frequency},
                                 {"peak_to_peak", line.peakToPeak()},
                                 {"phase", line.phase},
                                 {"uncertainty", 2 * line.uncertainty},
                                 {"harmonic", line.harmonic}});
    json["remarks"] = result.remarks;
    json["verdict"] = verdictName(result.verdict);
    return json;
}

Json phaseNoiseJson(const PhaseNoiseResult &result)
{
    Json json{{"id", result.id}, {"source", result.source}};
    if (!result.reason.empty()) json["reason"] = result.reason;
    if (!result.found) return json;
    const PhaseNoise &found = *result.found;
    json["carrier"] = found.carrier;
    json["edges"] = found.edges;
    json["captures"] = found.records;
    json["lowest"] = found.lowest;
    json["highest"] = found.highest;
    json["from"] = result.span.from;
    json["to"] = result.span.to;
    json["jitter"] = result.jitter.value;
    json["uncertainty"] = result.jitter.uncertainty;
    if (result.floor) json["floor"] = *result.floor;
    json["curve"] = Json::array(); // offset in Hz, level in dBc/Hz
    constexpr int aDecade = 20;
    const int points = std::max(1, int(aDecade * std::log10(found.highest / found.lowest)));
    for (const PhaseNoise::Point &point : found.curve(found.lowest, found.highest, points))
        json["curve"].push_back({point.offset, point.value});
    json["lines"] = Json::array();
    for (const PhaseNoise::Line &line : found.lines)
        json["lines"].push_back(
            {{"offset", line.offset}, {"level", line.level}, {"counts", result.span.counts(line.offset)}});
    if (result.stability) {
        json["accumulated"] = Json::array();
        for (const ClockStability::Accumulated &one : result.stability->accumulated)
            json["accumulated"].push_back(
                {{"periods", one.periods}, {"rms", one.rms}, {"peak_to_peak", one.peakToPeak}});
        json["deviations"] = Json::array();
        for (const ClockStability::Deviation &one : result.stability->deviations)
            json["deviations"].push_back(
                {{"time", one.time}, {"time_deviation", one.timeDeviation}, {"allan", one.allan}});
    }
    if (result.worst) json["worst"] = {{"offset", result.worst->offset}, {"below", result.worst->value}};
    json["remarks"] = result.remarks;
    json["verdict"] = verdictName(result.verdict);
    return json;
}

Json suspectJson(const Suspect &suspect)
{
    Json json{{"frequency", suspect.frequency}, {"seen", Json::array()}};
    for (const SeenLine &line : suspect.seen)
        json["seen"].push_back({{"in", line.in}, {"source", line.source}, {"level", line.level}});
    return json;
}

Json spectrumJson(const SpectrumResult &result)
{
    Json json{{"id", result.id}, {"kind", result.kind}, {"source", result.source}};
    if (!result.row.empty()) json["row"] = result.row;
    if (!result.to.empty()) json["to"] = result.to;
    json["unit"] = result.unit;
    json["status"] = result.made() ? "ok" : "unmeasurable";
    json["reason"] = result.reason;
    if (result.spectrum) {
        const PowerSpectrum &power = result.spectrum->power;
        json["resolution"] = power.resolution();
        json["segments"] = power.segments;
        json["noise_floor"] =
            numberOrNull(std::sqrt(NoiseFloor::between(power, 0, power.step * double(power.density.size()))));
        json["lines"] = Json::array();
        for (const SpectralLine &line : result.spectrum->lines)
            json["lines"].push_back(
                {{"frequency", line.frequency}, {"rms", line.rms()}, {"floor", std::sqrt(line.floor)}});
    }
    if (result.spectrogram) {
        json["resolution"] = result.spectrogram->resolution();
        json["columns"] = result.spectrogram->columns;
    }
    if (result.transfer) {
        json["resolution"] = result.transfer->noiseBandwidth * result.transfer->step;
        json["segments"] = result.transfer->segments;
        const TransferFunction::Delay delay = result.transfer->delay();
        json["delay"] = numberOrNull(delay.seconds);
        json["delay_uncertainty"] = numberOrNull(delay.uncertainty);
    }
    if (result.autocorrelation) {
        json["mean"] = numberOrNull(result.autocorrelation->mean);
        json["variance"] = numberOrNull(result.autocorrelation->variance);
        json["peaks"] = Json::array();
        for (const Autocorrelation::Peak &peak : result.autocorrelation->peaks(20))
            json["peaks"].push_back({{"lag", peak.lag}, {"coefficient", peak.coefficient}});
    }
    json["made_by"] = madeBy(result.provenance);
    return json;
}

template <typename Entry, typename Make>
Json list(const std::vector<Entry> &entries, Make &&make)
{
    Json json = Json::array();
    for (const Entry &entry : entries) json.push_back(make(entry));
    return json;
}

} // namespace

std::string utcNow()
{
    const std::time_t now = std::time(nullptr);
    std::tm parts{};
    gmtime_r(&now, &parts);
    char text[32];
    std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%SZ", &parts);
    return text;
}

std::string resultsJson(const Results &results, const ProjectFacts &facts)
{
    Json json{{"fulvex", fulvexVersion},
              {"project", {{"title", results.document->title}, {"sha256", facts.sha256}}},
              {"made", facts.made}};
    if (!facts.files.empty()) json["files"] = facts.files;
    json["captures"] = list(results.captures, captureJson);
    json["clocks"] = list(results.clocks, clockJson);
    json["measurements"] = list(results.rows, rowJson);
    json["eyes"] = list(results.eyes, eyeJson);
    json["masks"] = list(results.masks, maskJson);
    json["spectra"] = list(results.spectra, spectrumJson);
    json["budgets"] = list(results.budgets, budgetJson);
    json["phase_noise"] = list(results.phaseNoise, phaseNoiseJson);
    json["suspects"] = list(suspects(results), suspectJson);
    for (const std::string &plan : facts.plans) json["plans"].push_back(Json::parse(plan));
    Document document = *results.document; // what it was made by
    if (facts.captures) document.captures = *facts.captures;
    json["document"] = Json::parse(documentText(document));
    json["seal"] = sealRoom();
    return sealed(jsonText(json) + "\n");
}

} // namespace fulvex
