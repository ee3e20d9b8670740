#include "evidence.h"

#include "band_moments.h"
#include "budget_evidence.h"
#include "eye_box.h"
#include "number_text.h"
#include "parallel.h"
#include "phase_noise_evidence.h"
#include "run_evidence.h"
#include "symbol_context.h"
#include "symbol_levels.h"
#include "symbol_middles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <numbers>
#include <tuple>

namespace fulvex {

namespace {

bool lies(const Question::Span &span, double value)
{
    return !span || (value >= span->first && value < span->second);
}

double intervalOf(const Results &results, const std::string &channel)
{
    const ChannelResult *result = findEntry(results.channels, channel);
    return result && result->source ? result->source->axis().interval : 0;
}

/// A tenth of the sample interval: moments a picosecond apart can be told apart.
double stepOf(const Results &results, const std::string &channel)
{
    return intervalOf(results, channel) / 10;
}

Evidence ofFindings(const Results &results, const CaptureResult &capture, std::size_t wanted)
{
    Evidence found;
    found.of = Evidence::Of::findings;
    found.title = "the check of " + capture.id;
    found.none = capture.error.empty() ? "Nothing to remark: no clipping, gaps, skew or hum, edges have samples enough."
                                       : capture.error;
    found.count = found.all = std::int64_t(capture.findings.size());
    for (const bool warning : {true, false}) {
        for (const Finding &finding : capture.findings) {
            if ((finding.level == "warning") != warning || found.items.size() >= wanted) continue;
            // What is of the whole channel leads to all of it.
            const auto whole =
                wholeSpan(results, finding.channel.empty() ? std::vector<std::string>() : std::vector{finding.channel});
            const auto [from, to] = whole.value_or(std::pair(0.0, 0.0));
            Evidence::Item item;
            item.place = {finding.from.value_or(from), finding.to.value_or(to), finding.channel, false};
            item.time = item.place.from;
            item.words = (finding.channel.empty() ? "" : finding.channel + ": ") + finding.text;
            item.warning = warning;
            found.items.push_back(std::move(item));
        }
    }
    return found;
}

/// The occurrences farthest from a mean, as many as are wanted: a heap of those kept so far, the nearest in front.
class Farthest {
public:
    void keep(std::size_t wanted) { m_wanted = wanted; }
    void offer(std::size_t index, double off)
    {
        if (m_kept.size() < m_wanted) {
            m_kept.emplace_back(-off, index);
            std::push_heap(m_kept.begin(), m_kept.end());
        } else if (m_wanted > 0 && std::pair(-off, index) < m_kept.front()) {
            std::pop_heap(m_kept.begin(), m_kept.end());
            m_kept.back() = {-off, index};
            std::push_heap(m_kept.begin(), m_kept.end());
        }
    }
    void merge(const Farthest &other)
    {
        for (const auto &[off, index] : other.m_kept) offer(index, -off);
    }
    std::vector<std::size_t> inOrder()
    {
        std::sort(m_kept.begin(), m_kept.end());
        std::vector<std::size_t> indices;
        for (const auto &[off, index] : m_kept) indices.push_back(index);
        return indices;
    }

private:
    std::size_t m_wanted = 0;
    std::vector<std::pair<double, std::size_t>> m_kept; ///< how far, less than 0; index
};

/// The last place, at or before that moment, from which on there are half as many as are wanted, of those that answer.
std::size_t halfBefore(const Population &all, std::size_t first, double moment, std::size_t wanted,
                       const std::function<bool(double)> &answers, Progress &progress)
{
    std::size_t at = std::max(first, all.position.firstNotBelow(all.axis.positionOf(moment) - 1e-3));
    for (std::size_t missing = wanted / 2; at > first && missing > 0;) {
        if (--at % 65536 == 0) progress.advance(0);
        if (answers(all.value[at])) --missing;
    }
    return at;
}

/// Those that answer, as many as are wanted; counts all of them.
std::vector<std::size_t> occurrences(const Population &all, const Question &question, Evidence &found,
                                     std::size_t wanted, Progress &progress)
{
    std::size_t first = 0, last = all.size();
    if (question.times) { // positions ascend
        first = all.position.firstNotBelow(all.axis.positionOf(question.times->first) - 1e-3);
        last = std::max(first, all.position.firstNotBelow(all.axis.positionOf(question.times->second) + 1e-3));
        while (first < last && all.time(first) < question.times->first) ++first;
        while (last > first && all.time(last - 1) >= question.times->second) --last;
    }
    constexpr double forever = std::numeric_limits<double>::infinity();
    const auto [low, high] = question.values.value_or(std::pair(-forever, forever));
    const auto answers = [low, high](double v) { return v >= low && v < high; };
    const std::size_t begin = question.byTime && question.around
                                  ? halfBefore(all, first, *question.around, wanted, answers, progress)
                                  : first;
    struct Part {
        std::int64_t count = 0;
        Farthest farthest;
        std::vector<std::size_t> inTime; ///< the first of them from where they begin
    };
    auto parts =
        inChunks<Part>({std::int64_t(first), std::int64_t(last)}, 1 << 18, progress, [&](SampleRange mine, Part &part) {
            part.farthest.keep(wanted);
            auto i = std::size_t(mine.first);
            all.value.each(i, std::size_t(mine.last), [&](double v) {
                const std::size_t index = i++;
                if (!answers(v)) return;
                ++part.count;
                if (!question.byTime)
                    part.farthest.offer(index, std::abs(v - found.mean));
                else if (index >= begin && part.inTime.size() < wanted)
                    part.inTime.push_back(index);
            });
        });
    found.count = 0;
    Farthest farthest;
    farthest.keep(wanted);
    std::vector<std::size_t> inTime;
    for (const Part &part : parts) {
        found.count += part.count;
        farthest.merge(part.farthest);
        const std::size_t room = std::min(part.inTime.size(), wanted - inTime.size());
        inTime.insert(inTime.end(), part.inTime.begin(), part.inTime.begin() + std::ptrdiff_t(room));
    }
    return question.byTime ? inTime : farthest.inOrder();
}

/// The occurrence nearest to each crest of the component of that frequency, in the order of time.
std::vector<std::size_t> crests(const Population &all, double frequency, const Question::Span &times,
                                std::size_t wanted, Progress &progress)
{
    std::vector<std::size_t> found;
    if (all.size() == 0 || !(frequency > 0)) return found;
    const double start = all.time(0), end = all.time(all.size() - 1), turn = 2 * std::numbers::pi * frequency;
    const double mean = statisticsOf(all).mean.value_or(0);
    double x = 0, y = 0;
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (i % 65536 == 0) progress.advance(0);
        const double angle = turn * (all.time(i) - start), v = all.value[i] - mean;
        x += v * std::cos(angle), y += v * std::sin(angle);
    }
    double crest = start + std::atan2(y, x) / turn;
    if (crest < start) crest += 1 / frequency;
    if (times) crest += std::ceil(std::max(0.0, times->first - crest) * frequency) / frequency;
    const double until = times ? std::min(end, times->second) : end;
    for (; crest <= until && found.size() < wanted; crest += 1 / frequency) {
        std::size_t at = std::min(all.size() - 1, all.position.firstNotBelow(all.axis.positionOf(crest)));
        if (at > 0 && std::abs(all.time(at - 1) - crest) < std::abs(all.time(at) - crest)) --at;
        if (found.empty() || found.back() != at) found.push_back(at);
    }
    return found;
}

Evidence ofOccurrences(const Results &results, const Row &row, const Question &question, std::size_t wanted,
                       Progress &progress)
{
    Evidence found;
    found.of = Evidence::Of::occurrences;
    found.title = row.title;
    found.unit = row.unit;
    found.step = stepOf(results, row.source);
    if (!row.measurable()) {
        found.none = row.reason;
        return found;
    }
    if (row.measured->single && row.measured->population.size() == 0) {
        found.none = "One number for the whole record: select a quantity with occurrences, or a mask, to step through "
                     "its moments.";
        return found;
    }
    const Population &all = row.measured->population;
    const Statistics told = row.measured->single ? statisticsOf(all) : row.statistics;
    if (row.measured->single) found.unit = row.measured->momentsUnit;
    found.mean = told.mean.value_or(0);
    found.std = told.std.value_or(0);
    found.all = std::int64_t(all.size());
    const double margin = 4 * intervalOf(results, row.source); // around an instant
    const auto digit = found.std > 0 ? std::optional(found.std / 20) : std::nullopt;
    const auto itemOf = [&](double from, double to, double value) {
        const double around = to > from ? 0 : margin;
        Evidence::Item item;
        item.time = from;
        item.place = {from - around, to + around, row.source, false, {from}, quantityText(value, found.unit, digit)};
        if (to > from) item.place.instants.push_back(to);
        item.value = value;
        return item;
    };
    for (const Row::KeptOut &out : row.keptOut) {
        if (found.items.size() >= wanted || !lies(question.values, out.value) || !lies(question.times, out.time))
            continue;
        Evidence::Item item = itemOf(out.time, out.time + out.lasts, out.value);
        item.words = out.reason;
        item.keptOutBy = out.by;
        found.items.push_back(std::move(item));
    }
    found.none = "No occurrence lies there.";
    found.order = question.frequency ? "at the crests of " + quantityText(*question.frequency, "Hz", {}, 4)
                  : question.byTime  ? "in time"
                                     : "farthest first";
    const auto order = question.frequency ? crests(all, *question.frequency, question.times, wanted, progress)
                                          : occurrences(all, question, found, wanted, progress);
    if (question.frequency) found.count = std::int64_t(order.size());
    for (const std::size_t i : order) found.items.push_back(itemOf(all.time(i), all.end(i), all.value[i]));
    return found;
}

RecordSpan aroundInterval(double time, double unitInterval, const std::string &channel, bool failure)
{
    return {time - unitInterval / 2, time + unitInterval / 2, channel, failure};
}

/// Says of each unit interval which symbols are about it, and of all what they share.
void addSymbols(Evidence &found, const EyeResult &eye)
{
    if (eye.rule.across.seconds) return; // no symbols lie about an edge
    std::vector<std::int64_t> places;
    for (const Evidence::Item &item : found.items) places.push_back(item.unitInterval);
    SymbolContext context = symbolsAbout(eye, places);
    for (std::size_t i = 0; i < context.each.size(); ++i) found.items[i].symbols = std::move(context.each[i]);
    found.pattern = context.common;
    if (std::int64_t(found.items.size()) == found.count)
        found.rhythm = rhythmOf(std::move(places), found.all, eye.unitInterval);
}

Evidence ofFailures(const Results &results, const MaskRun &mask, const Question &question, std::size_t wanted)
{
    Evidence found;
    found.of = Evidence::Of::failures;
    found.title = "what failed the mask";
    if (!mask.result) {
        found.none = mask.reason;
        return found;
    }
    found.count = mask.result->failedUnitIntervals;
    found.all = mask.result->unitIntervals;
    found.atEdges = mask.atEdges;
    found.none = mask.atEdges ? "Nothing failed: what lies about every edge stays clear of the mask."
                              : "Nothing failed: every unit interval stays clear of the mask.";
    found.step = mask.captures.empty() ? stepOf(results, mask.source) : finestInterval(results) / 10;
    std::vector<MaskFailure> failures = mask.result->worst;
    if (question.times) {
        // The deepest and the first are kept: of a span of time those that are among either.
        failures.insert(failures.end(), mask.result->failures.begin(), mask.result->failures.end());
        std::erase_if(failures, [&](const MaskFailure &f) { return !lies(question.times, f.worstTime); });
        std::sort(failures.begin(), failures.end(), [](const MaskFailure &a, const MaskFailure &b) {
            return std::tie(b.deepest, a.capture, a.unitInterval) < std::tie(a.deepest, b.capture, b.unitInterval);
        });
        const auto same = [](const MaskFailure &a, const MaskFailure &b) {
            return a.capture == b.capture && a.unitInterval == b.unitInterval;
        };
        failures.erase(std::unique(failures.begin(), failures.end(), same), failures.end());
        found.count = std::int64_t(failures.size());
        found.none = "No failure that is kept lies there: the deepest thousand are, and the first thousand.";
    }
    for (const MaskFailure &f : failures) {
        if (found.items.size() >= wanted) break;
        Evidence::Item item;
        item.time = f.worstTime;
        item.place = aroundInterval(f.worstTime, mask.lasts, mask.source, true);
        item.place.capture = f.capture;
        item.value = f.deepest;
        item.unitInterval = f.unitInterval;
        item.words = mask.definition.areas[std::size_t(f.area)].name;
        found.items.push_back(std::move(item));
    }
    const EyeResult *eye = findEntry(results.eyes, mask.eye);
    if (eye && mask.captures.empty()) addSymbols(found, *eye);
    return found;
}

/// How an eye was folded, but of what the question is about alone.
EyeRule ruleWithin(const EyeResult &eye, const Question &question)
{
    EyeRule rule = eye.rule;
    if (!question.times) return rule;
    const auto at = [&](double time) {
        const double ui = eye.by->map.unitIntervalAt(eye.by->map.axis().positionOf(time));
        return std::int64_t(std::clamp(std::ceil(ui), double(rule.first), double(rule.last)));
    };
    const std::int64_t last = at(question.times->second);
    rule.first = at(question.times->first);
    rule.last = std::max(rule.first, last);
    return rule;
}

/// Where symbols follow on each other, in time.
Evidence ofSymbols(const Results &results, const EyeResult &eye, const Question &question, std::size_t wanted,
                   Progress &progress)
{
    Evidence found;
    found.of = Evidence::Of::passes;
    found.title = "where " + question.symbols + " is sent";
    found.step = stepOf(results, eye.source);
    if (const ChannelResult *channel = findEntry(results.channels, eye.source)) found.unit = channel->unit;
    found.none = "Nowhere are these symbols sent.";
    if (!eye.by || !eye.samples) {
        found.none =
            eye.reason.empty() ? "Several captures are added up here: ask each of them by itself." : eye.reason;
        return found;
    }
    const EyeRule rule = ruleWithin(eye, question);
    const UnitIntervalMap &map = eye.by->map;
    const auto symbols = symbolsOf(*eye.samples, map, {rule.first, rule.last}, rule.thresholds, progress);
    const auto places = placesOf(question.symbols, symbols);
    found.count = std::int64_t(places.size());
    found.all = rule.last - rule.first;
    const auto length =
        double(std::count_if(question.symbols.begin(), question.symbols.end(), [](char word) { return word != ' '; }));
    for (const std::int64_t place : places) {
        if (found.items.size() == wanted) break;
        const std::int64_t n = rule.first + place;
        const auto timeOf = [&](double ui) { return map.axis().timeOf(map.positionOf(ui)); };
        Evidence::Item item;
        item.time = timeOf(double(n));
        item.place = {item.time, timeOf(double(n) + length), eye.source};
        std::array<double, 1> middle{};
        SymbolMiddles(*eye.samples, map).values(n, middle);
        item.value = middle[0];
        item.unitInterval = n;
        found.items.push_back(std::move(item));
    }
    addSymbols(found, eye);
    return found;
}

Evidence ofPasses(const Results &results, const EyeResult &eye, const Question &question, std::size_t wanted,
                  Progress &progress)
{
    Evidence found;
    found.of = Evidence::Of::passes;
    const bool atEdges = found.atEdges = eye.rule.across.seconds;
    const bool ofPattern = eye.rule.overlay() && !atEdges;
    found.title = atEdges     ? "edges about which the trace passes there"
                  : ofPattern ? "repeats of the pattern that pass there"
                              : "unit intervals that pass there";
    found.step = stepOf(results, eye.source);
    if (const ChannelResult *channel = findEntry(results.channels, eye.source)) found.unit = channel->unit;
    if (!eye.by || !eye.samples) {
        found.none =
            eye.reason.empty() ? "Several captures are added up here: ask each of them by itself." : eye.reason;
        return found;
    }
    EyeBox box{0, double(eye.rule.laps.lasts), eye.fold->picture.rows.low(), eye.fold->picture.rows.high()};
    if (question.phases) {
        box.fromPhase = eye.rule.across.unitIntervals(question.phases->first);
        box.toPhase = eye.rule.across.unitIntervals(question.phases->second);
    }
    if (question.values) std::tie(box.low, box.high) = *question.values;
    const EyeRule rule = ruleWithin(eye, question);
    const EyePasses passes = passesThrough(eye.samples, eye.by->map, rule, box, wanted, progress);
    found.count = passes.count;
    found.all = passes.unitIntervals;
    found.none = atEdges     ? "About no edge the trace passes there."
                 : ofPattern ? "No repeat of the pattern passes there."
                             : "No unit interval passes there.";
    for (const EyePass &pass : passes.first) {
        Evidence::Item item;
        item.time = pass.time;
        item.place = aroundInterval(pass.time, eye.unitInterval, eye.source, false);
        item.value = pass.value;
        item.unitInterval = pass.unitInterval;
        found.items.push_back(std::move(item));
    }
    addSymbols(found, eye);
    return found;
}

Evidence ofBand(const Results &results, const SpectrumResult &spectrum, const Question &question, std::size_t wanted,
                Progress &progress)
{
    Evidence found;
    found.of = Evidence::Of::strongest;
    found.unit = spectrum.unit;
    found.step = stepOf(results, spectrum.source);
    if (!spectrum.samples) {
        found.title = "when it is strongest";
        found.none = spectrum.reason.empty() ? "Several captures are added up here: ask each of them by itself."
                                             : spectrum.reason;
        return found;
    }
    const auto [low, high] = *question.frequencies;
    const TimeAxis &axis = spectrum.samples->axis();
    SampleRange range = spectrum.range;
    if (question.times) {
        const SampleRange within = samplesWithin(axis, question.times->first, question.times->second);
        range = {std::max(range.first, within.first), std::min(range.last, within.last)};
    }
    found.title = "when " + quantityText(low, "Hz", (high - low) / 20) + " … " +
                  quantityText(high, "Hz", (high - low) / 20) + " is strongest";
    const BandMoments moments = bandMoments(*spectrum.samples, range, low, high, wanted, progress);
    found.count = std::int64_t(moments.strongest.size());
    found.all = moments.count;
    found.mean = moments.mean;
    found.std = moments.std;
    found.none = "No stretch without gaps is long enough to tell such a band: take a wider one.";
    for (const BandMoment &moment : moments.strongest) {
        Evidence::Item item;
        item.place.from = axis.timeOf(double(moment.samples.first));
        item.place.to = axis.timeOf(double(moment.samples.last - 1));
        item.place.channel = spectrum.source;
        item.time = (item.place.from + item.place.to) / 2;
        item.value = moment.rms;
        found.items.push_back(std::move(item));
    }
    return found;
}

} // namespace

Evidence evidenceFor(const Results &results, const Question &question, std::size_t wanted, Progress &progress)
{
    if (const CaptureResult *capture = findEntry(results.captures, question.id))
        return ofFindings(results, *capture, wanted);
    if (const Row *row = findEntry(results.rows, question.id))
        return row->total ? ofManyCaptures(results, *row, question, wanted)
                          : ofOccurrences(results, *row, question, wanted, progress);
    if (const MaskRun *mask = findEntry(results.masks, question.id))
        return ofFailures(results, *mask, question, wanted);
    const EyeResult *eye = findEntry(results.eyes, question.id);
    if (eye && !question.symbols.empty()) return ofSymbols(results, *eye, question, wanted, progress);
    if (eye && (question.phases || question.values)) return ofPasses(results, *eye, question, wanted, progress);
    if (const MaskRun *mask = eye ? maskOn(results, eye->id) : nullptr)
        return ofFailures(results, *mask, question, wanted);
    if (const BudgetResult *budget = findEntry(results.budgets, question.id))
        return ofBudget(*budget, question, wanted);
    if (const PhaseNoiseResult *noise = findEntry(results.phaseNoise, question.id))
        return ofPhaseNoise(*noise, question, wanted, progress);
    Evidence nothing;
    if (const SpectrumResult *spectrum = findEntry(results.spectra, question.id)) {
        if (question.frequencies && (spectrum->spectrum || spectrum->spectrogram))
            return ofBand(results, *spectrum, question, wanted, progress);
        nothing.title = "the " + spectrum->kind + " of " + spectrum->source;
        nothing.none = !spectrum->reason.empty() ? spectrum->reason
                       : spectrum->spectrum || spectrum->spectrogram
                           ? "Click a line, or drag over a band: when it is strongest appears here."
                           : "";
    }
    if (eye) {
        const bool overlay = eye->rule.overlay();
        nothing.title = (overlay ? "the overlay of " : "the eye of ") + eye->source;
        nothing.none = !eye->reason.empty() ? eye->reason
                       : overlay ? "Drag a box over the overlay: where its traces pass through it appears here. "
                                   "With a template, what fails it does."
                                 : "Drag a box over the eye: the unit intervals that pass through it appear "
                                   "here. With a mask, what fails it does.";
    }
    return nothing;
}

std::vector<double> outliersOf(const Results &results, const std::string &row, std::size_t wanted, Progress &progress)
{
    std::vector<double> times;
    if (!findEntry(results.rows, row)) return times;
    const Evidence worst = evidenceFor(results, {.id = row}, wanted, progress);
    if (!(worst.std > 0)) return times;
    double far = 0, beyond = 40; // sigma
    for (int halvings = 0; halvings < 60; ++halvings) {
        const double middle = (far + beyond) / 2;
        (double(worst.all) * std::erfc(middle / std::numbers::sqrt2) > 0.5 ? far : beyond) = middle;
    }
    for (const Evidence::Item &item : worst.items) {
        if (item.keptOutBy.empty() && std::abs(item.value - worst.mean) > far * worst.std) times.push_back(item.time);
    }
    return times;
}

bool isPending(const Results &results, const Question &question)
{
    const auto pends = [&](const auto &list) {
        const auto *result = findEntry(list, question.id);
        return result && result->pending;
    };
    if (pends(results.captures) || pends(results.rows) || pends(results.masks) || pends(results.spectra) ||
        pends(results.budgets) || pends(results.phaseNoise))
        return true;
    if (!findEntry(results.eyes, question.id)) return false;
    if (question.phases || question.values || !question.symbols.empty()) return pends(results.eyes);
    const MaskRun *mask = maskOn(results, question.id);
    return mask && mask->pending;
}

} // namespace fulvex
