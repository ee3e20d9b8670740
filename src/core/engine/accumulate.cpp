#include "accumulated_rows.h"
#include "accumulated_words.h"
#include "phase_noise_result.h"
#include "quantity_table.h"
#include "run_entries.h"
#include "word_list.h"

#include <algorithm>
#include <functional>
#include <map>
#include <set>

namespace fulvex {

namespace {

bool isOfUnlike(const Finding &finding)
{
    return finding.check == unlikeCaptures;
}

/// Whether rates of a clock, or of sums of them, differ so much that captures may be of different things; or do so in
/// one of the sums.
bool areUnlike(const std::vector<Results> &runs, std::size_t index, double rate)
{
    constexpr double most = 0.02;
    return std::any_of(runs.begin(), runs.end(), [&](const Results &run) {
        const ClockResult &one = run.clocks[index];
        return one.reason.empty() && (std::abs(one.rate / rate - 1) > most ||
                                      std::any_of(one.findings.begin(), one.findings.end(), isOfUnlike));
    });
}

/// By the first that has one; of all the unit intervals, and their rate.
ClockResult mergedClock(const std::vector<Results> &runs, std::size_t index)
{
    const ClockResult *first = nullptr;
    double rates = 0, squares = 0;
    std::int64_t unitIntervals = 0;
    std::vector<std::int64_t> transitions;
    bool samePattern = true;
    for (const Results &run : runs) {
        const ClockResult &one = run.clocks[index];
        if (!one.reason.empty()) continue;
        const auto own = double(one.unitIntervals);
        if (first && transitions.size() == one.transitions.size())
            std::transform(transitions.begin(), transitions.end(), one.transitions.begin(), transitions.begin(),
                           std::plus());
        if (!first) first = &one, transitions = one.transitions;
        samePattern = samePattern && one.pattern == first->pattern;
        unitIntervals += one.unitIntervals;
        rates += one.rate * own;
        squares += one.rateUncertainty * one.rateUncertainty * own * own;
    }
    if (!first) return runs.front().clocks[index];
    ClockResult all = *first;
    if (areUnlike(runs, index, first->rate)) {
        std::erase_if(all.findings, isOfUnlike);
        all.findings.push_back({unlikeCaptures,
                                "warning",
                                "the captures' symbol rates differ by more than 2 %: are they of one thing? Their eyes "
                                "add up by unit intervals; leave out those that are not",
                                {},
                                {},
                                {},
                                {}});
    }
    all.unitIntervals = unitIntervals;
    all.transitions = std::move(transitions);
    if (!samePattern) all.pattern.reset();
    if (unitIntervals > 0) {
        all.rate = rates / double(unitIntervals);
        all.rateUncertainty = std::sqrt(squares) / double(unitIntervals);
    }
    return all;
}

using CrossingLists = std::vector<std::shared_ptr<const EyeCrossings>>;

/// Of each opening, those of all captures.
CrossingLists mergedCrossings(const std::vector<Results> &runs, std::size_t index, CrossingLists EyeResult::*member)
{
    std::vector<std::vector<const EyeCrossings *>> some;
    for (const Results &run : runs) {
        const CrossingLists &own = run.eyes[index].*member;
        if (!run.eyes[index].reason.empty()) continue;
        some.resize(std::max(some.size(), own.size()));
        for (std::size_t opening = 0; opening < own.size(); ++opening)
            if (own[opening]) some[opening].push_back(own[opening].get());
    }
    CrossingLists merged;
    for (const auto &of : some) merged.push_back(std::make_shared<const EyeCrossings>(EyeCrossings::merged(of)));
    return merged;
}

EyeResult mergedEye(const std::vector<Results> &runs, std::size_t index, Told told)
{
    EyeResult eye = runs.front().eyes[index];
    std::vector<const EyeFold *> folds;
    for (const Results &run : runs) {
        const EyeResult &one = run.eyes[index];
        if (!one.reason.empty()) continue;
        if (!folds.empty() && (one.rule.across != eye.rule.across || one.rule.laps != eye.rule.laps))
            eye.reason = "the captures' overlays are not as long as each other: give \"before\" and \"after\", or the "
                         "pattern's length";
        if (folds.empty()) eye.rule = one.rule, eye.triggers = 0, eye.reason.clear();
        eye.triggers += one.triggers;
        // The usual unit interval is that of all; of unlike ones the shortest, whatever the order.
        eye.unitInterval = folds.empty() ? one.unitInterval : std::min(eye.unitInterval, one.unitInterval);
        folds.push_back(one.fold.get());
    }
    if (!eye.reason.empty()) return eye;
    eye.samples.reset(); // there is not one record to walk
    eye.by.reset();
    eye.errors.reset();
    eye.rule.room = told == Told::now ? Room::laid : Room::none;
    eye.fold = std::make_shared<const EyeFold>(EyeFold::merged(folds, eye.rule.room));
    for (auto member : {&EyeResult::crossings, &EyeResult::rises, &EyeResult::falls})
        eye.*member = mergedCrossings(runs, index, member);
    return eye;
}

SpectrumResult mergedSpectrum(const std::vector<Results> &runs, std::size_t index, const std::string &together)
{
    SpectrumResult all = runs.front().spectra[index];
    std::vector<const PowerSpectrum *> records;
    for (const Results &run : runs) {
        if (run.spectra[index].spectrum) records.push_back(&run.spectra[index].spectrum->power);
    }
    const std::string reason = std::exchange(all.reason, {});
    std::vector<const Provenance *> said;
    for (const Results &run : runs) said.push_back(&run.spectra[index].provenance);
    all.provenance = sharedBy(said);
    all.samples.reset();
    all.spectrum.reset();
    all.spectrogram.reset();
    all.transfer.reset();
    all.autocorrelation.reset();
    if (all.kind != "spectrum") {
        all.reason = "a " + all.kind + " is of one capture: ask each by itself";
        return all;
    }
    PowerSpectrum sum = PowerSpectrum::merged(records);
    if (sum.segments > 0)
        all.spectrum = std::make_shared<const Spectrum>(Spectrum::of(std::move(sum)));
    else
        all.reason = records.empty() ? reason
                                     : "the captures' lines do not lie at the same frequencies: give a resolution, or "
                                       "captures of one sample rate and length";
    sayTogether(all.provenance, together);
    return all;
}

/// The captures of a run that others do not have as well, by name.
std::string filesOf(const Results &run, const std::vector<Results> &runs)
{
    std::string own, all;
    for (const CaptureResult &capture : run.captures) {
        const bool everywhere = std::all_of(runs.begin(), runs.end(), [&](const Results &other) {
            const CaptureResult *same = findEntry(other.captures, capture.id);
            return same && same->file == capture.file;
        });
        enlist(all, capture.file);
        if (!everywhere) enlist(own, capture.file);
    }
    return own.empty() ? all : own;
}

MaskRun mergedMask(const std::vector<Results> &runs, std::size_t index)
{
    MaskRun mask;
    std::optional<MaskResult> all;
    std::string reason; // the first by alphabet of those that could not be tested, whatever the order
    std::vector<MaskRun::OfCapture> captures;
    for (const Results &run : runs) {
        const MaskRun &one = run.masks[index];
        if (one.captures.empty())
            captures.push_back(one.counts(filesOf(run, runs)));
        else
            captures.insert(captures.end(), one.captures.begin(), one.captures.end());
        if (mask.id.empty() || (one.result && !all)) mask = one; // with its areas
        if (!one.reason.empty() && (reason.empty() || one.reason < reason)) reason = one.reason;
        if (!one.result) continue;
        if (!all) all.emplace();
        all->merge(*one.result);
    }
    std::sort(captures.begin(), captures.end());
    mask.captures = std::move(captures);
    mask.reason = reason;
    if (!all) return mask;
    mask.result = std::make_shared<const MaskResult>(std::move(*all));
    mask.verdict = mask.reason.empty() && mask.result->failedUnitIntervals == 0 ? Verdict::pass : Verdict::fail;
    return mask;
}

PhaseNoiseResult mergedPhaseNoise(const std::vector<Results> &runs, std::size_t index)
{
    const PhaseNoiseEntry &entry = runs.front().document->phaseNoise[index];
    PhaseNoiseResult all = runs.front().phaseNoise[index];
    std::vector<const PhaseNoise *> records;
    for (const Results &run : runs) {
        const PhaseNoiseResult &one = run.phaseNoise[index];
        if (one.found) records.push_back(one.found.get());
        if (all.reason.empty()) all.reason = one.reason;
        if (one.floor) all.floor = std::max(all.floor.value_or(*one.floor), *one.floor);
    }
    all.edges.reset();
    all.stability.reset();
    all.by.reset();
    all.found.reset();
    all.remarks.clear();
    all.verdict = Verdict::none;
    all.worst.reset();
    if (records.empty()) return all;
    PhaseNoise merged = PhaseNoise::merged(records);
    all.reason = merged.reason;
    if (!merged.reason.empty()) return all;
    all.found = std::make_shared<const PhaseNoise>(std::move(merged));
    integrate(all, entry);
    judge(all, entry);
    return all;
}

/// The results of several runs, by entry: of what each has alike those of one of them.
class Runs {
public:
    explicit Runs(const std::vector<Results> &all) : m_all(all)
    {
        const auto byName = [](const Results &a, const Results &b) { return a.counted < b.counted; };
        const Results &first = *std::min_element(all.begin(), all.end(), byName); // whatever the order
        std::set<std::string> varied;
        bool any = true;
        for (const Results &run : all) {
            varied.insert(run.varied.begin(), run.varied.end());
            any = any && !run.varied.empty();
        }
        if (any) m_varied.assign(varied.begin(), varied.end());
        m_same = sameEachTime(*first.document, m_varied);
        if (!m_same.empty()) m_first.push_back(first);
    }
    const std::vector<std::string> &varied() const { return m_varied; }
    const std::vector<Results> &of(const std::string &id) const { return isSame(id) ? m_first : m_all; }
    bool isSame(const std::string &id) const { return m_same.contains(id); }
    /// By key, each what those of all captures add up to.
    std::vector<JitterResult> jitter() const;

private:
    const std::vector<Results> &m_all;
    std::vector<Results> m_first; ///< one, where any are alike
    std::vector<std::string> m_varied;
    std::set<std::string> m_same;
};

std::vector<JitterResult> Runs::jitter() const
{
    std::set<std::string> same; // keys
    if (!m_same.empty()) {
        for (const MeasurementEntry &entry : m_all.front().document->measurements)
            if (isSame(entry.clock)) same.insert(jitterKey(entry));
        for (const BudgetEntry &entry : m_all.front().document->budgets)
            if (isSame(entry.clock)) same.insert(jitterKey(rowOf(entry)));
    }
    std::map<std::string, JitterSums> sums;
    for (const Results &run : m_all)
        for (const JitterResult &one : run.jitter)
            if (!same.contains(one.key)) sums[one.key].merge(*one.sums);
    std::vector<JitterResult> all;
    for (auto &[key, its] : sums) all.push_back({key, std::make_shared<const JitterSums>(std::move(its))});
    if (same.empty()) return all;
    for (const JitterResult &one : m_first.front().jitter)
        if (same.contains(one.key)) all.push_back(one);
    std::ranges::sort(all, {}, &JitterResult::key);
    return all;
}

BudgetResult mergedBudget(const std::vector<Results> &runs, std::size_t index, JitterOfAll &jitter)
{
    const BudgetEntry &entry = runs.front().document->budgets[index];
    BudgetResult all;
    all.id = entry.id;
    all.source = runs.front().budgets[index].source;
    all.ofData = entry.data.value_or(
        std::any_of(runs.begin(), runs.end(), [&](const Results &run) { return run.budgets[index].ofData; }));
    const MeasurementEntry as = rowOf(entry);
    try {
        all.found = jitter.makeUp(as);
        setBudget(all, entry, jitter.tails(as));
    } catch (const Unmeasurable &why) {
        all.found.reset();
        all.tails.reset();
        all.reason = why.reason;
    }
    judge(all, entry);
    return all;
}

} // namespace

Results accumulated(const std::vector<Results> &all, Told told)
{
    if (all.size() == 1 && all.front().counted.empty()) return all.front();
    const Runs runs(all);
    Results sum = all.front();
    sum.varied = runs.varied();
    sum.counted.clear();
    for (const Results &run : all) sum.counted.insert(sum.counted.end(), run.counted.begin(), run.counted.end());
    std::sort(sum.counted.begin(), sum.counted.end());
    const std::string captures = std::to_string(sum.counted.empty() ? all.size() : sum.counted.size());
    const auto together = [&](const std::string &id, const char *how) {
        return runs.isSame(id) ? "one, the same beside each of " + captures : captures + " " + how;
    };
    sum.captures.clear();
    for (const Results &run : all) { // every file that took part, once
        for (const CaptureResult &capture : run.captures) {
            const bool known = std::any_of(sum.captures.begin(), sum.captures.end(), [&](const CaptureResult &c) {
                return c.id == capture.id && c.file == capture.file && c.sha256 == capture.sha256;
            });
            if (!known) sum.captures.push_back(capture);
        }
    }
    for (std::size_t i = 0; i < sum.channels.size(); ++i) sum.channels[i].unit = unitsOf(all, &Results::channels, i);
    for (std::size_t i = 0; i < sum.clocks.size(); ++i) sum.clocks[i] = mergedClock(runs.of(sum.clocks[i].id), i);
    for (std::size_t i = 0; i < sum.eyes.size(); ++i) {
        sum.eyes[i] = mergedEye(runs.of(sum.eyes[i].id), i, told);
        const ChannelResult *channel = findEntry(sum.channels, sum.eyes[i].source);
        if (const std::string why = channel ? unlike(channel->unit) : ""; !why.empty()) sum.eyes[i].reason = why;
    }
    for (std::size_t i = 0; i < sum.masks.size(); ++i) sum.masks[i] = mergedMask(runs.of(sum.masks[i].id), i);
    for (std::size_t i = 0; i < sum.spectra.size(); ++i) {
        const std::string id = sum.spectra[i].id;
        sum.spectra[i] = mergedSpectrum(runs.of(id), i, together(id, "added up"));
        sum.spectra[i].unit = unitsOf(all, &Results::spectra, i);
        if (const std::string why = unlike(sum.spectra[i].unit); !why.empty()) {
            sum.spectra[i].spectrum.reset();
            sum.spectra[i].reason = why;
        }
    }
    sum.jitter = runs.jitter();
    JitterOfAll jitter(sum.jitter);
    if (told == Told::now)
        for (std::size_t i = 0; i < sum.budgets.size(); ++i)
            sum.budgets[i] = mergedBudget(runs.of(sum.budgets[i].id), i, jitter);
    for (std::size_t i = 0; i < sum.phaseNoise.size(); ++i)
        sum.phaseNoise[i] = mergedPhaseNoise(runs.of(sum.phaseNoise[i].id), i);
    for (std::size_t i = 0; i < sum.rows.size(); ++i) {
        const std::string id = sum.rows[i].id;
        sum.rows[i] = mergedRow(runs.of(id), i, sum, together(id, "accumulated"), jitter, told);
    }
    return sum;
}

} // namespace fulvex
