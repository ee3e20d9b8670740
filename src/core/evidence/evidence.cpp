#include "evidence.h"

#include "band_moments.h"
#include "budget_evidence.h"
#include "evidence_support.h"
#include "eye_evidence.h"
#include "normal_distribution.h"
#include "number_text.h"
#include "occurrence_evidence.h"
#include "phase_noise_evidence.h"
#include "run_evidence.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

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
    const double far = normalQuantile(0.25 / double(worst.all)); // sigma: farther on either side lies half of one
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
