#include "budget_result.h"
#include "engine.h"
#include "phase_noise_result.h"
#include "quantity_table.h"
#include "set_measured.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <set>
#include <sstream>

namespace fulvex {

namespace {

using Provenance = std::vector<std::pair<std::string, std::string>>;

/// What is said of all alike; where they differ, that they do.
Provenance sharedBy(const std::vector<const Provenance *> &some)
{
    constexpr const char *own = "of each capture its own";
    Provenance shared;
    std::map<std::string, std::size_t> times;
    for (const Provenance *one : some) {
        for (const auto &[what, how] : *one) {
            if (++times[what] == 1) {
                shared.emplace_back(what, how);
                continue;
            }
            auto &known = std::find_if(shared.begin(), shared.end(), [&](const auto &fact) {
                              return fact.first == what;
                          })->second;
            if (known != how) known = own;
        }
    }
    for (auto &[what, how] : shared)
        if (times[what] < some.size()) how = own;
    return shared;
}

/// How many captures a number is of, in place of what was said before.
void sayTogether(Provenance &provenance, std::size_t captures, const char *how)
{
    std::erase_if(provenance, [](const auto &fact) { return fact.first == "captures"; });
    provenance.emplace_back("captures", std::to_string(captures) + " " + how);
}

/// What captures give a channel or a row in: of unlike ones each unit, by alphabet, behind commas.
template <typename Entry>
std::string unitsOf(const std::vector<Results> &runs, std::vector<Entry> Results::*list, std::size_t index)
{
    std::set<std::string> units;
    for (const Results &run : runs) {
        std::istringstream words((run.*list)[index].unit);
        for (std::string unit; std::getline(words, unit, ',');) units.insert(unit);
    }
    std::string all;
    for (const std::string &unit : units) all += (all.empty() ? "" : ",") + unit;
    return all;
}

/// Why captures of those units are not of one thing; empty: there is one.
std::string unlike(const std::string &units)
{
    return units.find(',') == std::string::npos
               ? ""
               : "the captures give it in " + units + ": leave out those that are of something else";
}

/// What a part of an uncertainty comes from, as it is said of all.
const char *nameOfPart(const std::string &from)
{
    for (const char *name : {"scatter", "noise", "levels", "quantisation", "interpolation", "period"})
        if (from == name) return name;
    return "other";
}

/// An eye's quantity is that of the added-up eye.
bool isOfEye(const std::vector<Results> &runs, std::size_t index, const Quantity &quantity)
{
    return quantity.needs == Needs::eye && std::none_of(runs.begin(), runs.end(), [&](const Results &run) {
               const Measured &one = *run.rows[index].measured;
               return one.reason.empty() && !one.single;
           });
}

Measured measuredOf(const EyeResult &eye, const MeasurementEntry &entry, const Quantity &quantity)
{
    struct Merged final : QuantityInputs { // an eye quantity of the added-up eye
        const MeasurementEntry *of = nullptr;
        const EyeResult *from = nullptr;
        const MeasurementEntry &entry() const override { return *of; }
        Progress none;
        Progress &progress() override { return none; }
        EyeQuantities eye(EyeLook look) override
        {
            const auto opening = std::size_t(of->opening.value_or(0));
            needOpening(of->opening, from->rule.thresholds.size());
            const auto &some = look == EyeLook::rises   ? from->rises
                               : look == EyeLook::falls ? from->falls
                                                        : from->crossings;
            const bool another = look != EyeLook::crossings && look != EyeLook::fold && of->levels != "default";
            if (another)
                throw Unmeasurable{"of several captures added up, eyes have transition times from 20 to 80 % alone"};
            const EyeCrossings *its = opening < some.size() ? some[opening].get() : nullptr;
            return {*from->fold, its, from->unitInterval, from->resolution, opening};
        }
    } inputs;
    inputs.of = &entry;
    inputs.from = &eye;
    try {
        return eye.reason.empty() ? quantity.measure(inputs) : Measured::none(eye.reason);
    } catch (const Unmeasurable &why) {
        return Measured::none(why.reason);
    }
}

/// The values of all, one after the other.
Measured laidTogether(const std::vector<Results> &runs, std::size_t index)
{
    Measured merged;
    PopulationBuilder population;
    for (const Results &run : runs) {
        const Measured &measured = *run.rows[index].measured;
        if (!measured.reason.empty())
            merged.reason = measured.reason;
        else if (measured.single)
            population.add(0, 0, measured.value); // of no moment
        else
            population.append(measured.population);
    }
    merged.population = population.take();
    const Measured &first = *runs.front().rows[index].measured;
    merged.scatter = first.scatter;
    if (!first.single) merged.parts = first.parts;
    if (merged.population.size() > 0) merged.reason.clear(); // what some of the captures gave counts
    return merged;
}

/// What is told of the values of all, without them.
void addTotals(Row &row, const std::vector<Results> &runs, std::size_t index)
{
    std::vector<const PopulationTotal *> totals;
    for (const Results &run : runs) totals.push_back(run.rows[index].total.get());
    row.total = std::make_shared<const PopulationTotal>(PopulationTotal::merged(totals));
    row.statistics = row.total->statistics();
    row.histogram = row.total->histogram();
    double squares = 0;
    if (row.statistics.count > 0 && !row.total->single) {
        for (const auto &[from, value] : row.total->parts) row.statistics.parts.push_back({nameOfPart(from), value});
        for (const UncertaintyPart &part : row.statistics.parts) squares += part.value * part.value;
        if (!row.statistics.parts.empty()) row.statistics.uncertainty = std::sqrt(squares);
    }
    sayUncertainty(row);
    row.reason.clear();
    if (row.statistics.count > 0) return;
    for (const PopulationTotal::Record &record : row.total->records) // the first by alphabet, whatever the order
        if (!record.reason.empty() && (row.reason.empty() || record.reason < row.reason)) row.reason = record.reason;
}

/// Make-ups of jitter of all captures, made once for all entries that share one.
class JitterOfAll {
public:
    explicit JitterOfAll(const std::vector<JitterResult> &jitter) : m_jitter(jitter) {}
    /// Throws Unmeasurable where there is none.
    std::shared_ptr<const JitterMakeUp> makeUp(const MeasurementEntry &entry)
    {
        const std::string key = jitterKey(entry);
        auto &made = m_made[key];
        if (!made.found) {
            const auto its =
                std::find_if(m_jitter.begin(), m_jitter.end(), [&](const JitterResult &one) { return one.key == key; });
            if (its == m_jitter.end()) throw Unmeasurable{"the jitter of its captures was not kept: count them anew"};
            made.found = std::make_shared<const JitterMakeUp>(its->sums->makeUp());
        }
        if (!made.found->reason.empty()) throw Unmeasurable{made.found->reason};
        return made.found;
    }
    std::shared_ptr<const JitterTails> tails(const MeasurementEntry &entry)
    {
        const auto found = makeUp(entry);
        auto &made = m_made[jitterKey(entry)];
        if (!made.tails) made.tails = std::make_shared<const JitterTails>(tailsOf(*found));
        return made.tails;
    }

private:
    struct Made {
        std::shared_ptr<const JitterMakeUp> found;
        std::shared_ptr<const JitterTails> tails;
    };
    const std::vector<JitterResult> &m_jitter;
    std::map<std::string, Made> m_made;
};

Measured measuredOf(JitterOfAll &jitter, const MeasurementEntry &entry, const Quantity &quantity, Row &row)
{
    struct Together final : QuantityInputs { // of what all make-ups add up to
        const MeasurementEntry *of = nullptr;
        JitterOfAll *from = nullptr;
        Row *row = nullptr;
        Progress none;
        const MeasurementEntry &entry() const override { return *of; }
        Progress &progress() override { return none; }
        std::shared_ptr<const JitterMakeUp> jitter() override { return from->makeUp(*of); }
        std::shared_ptr<const JitterTails> jitterTails() override { return from->tails(*of); }
        void note(const std::string &what, const std::string &how) override
        {
            std::erase_if(row->provenance, [&](const auto &fact) { return fact.first == what; });
            row->provenance.emplace_back(what, how);
        }
    } inputs;
    inputs.of = &entry;
    inputs.from = &jitter;
    inputs.row = &row;
    try {
        return quantity.measure(inputs);
    } catch (const Unmeasurable &why) {
        return Measured::none(why.reason);
    }
}

Row mergedRow(const std::vector<Results> &runs, std::size_t index, const Results &all, std::size_t together,
              JitterOfAll &jitter, Told told)
{
    Row row = runs.front().rows[index];
    const MeasurementEntry &entry = all.document->measurements[index];
    const Quantity &quantity = *findQuantity(entry.quantity);
    row.keptOut.clear();
    row.keptOutCount = 0;
    for (const Results &run : runs) {
        const Row &one = run.rows[index];
        row.keptOutCount += one.keptOutCount;
        const std::size_t room = std::min(one.keptOut.size(), Row::mostKeptOut - row.keptOut.size());
        row.keptOut.insert(row.keptOut.end(), one.keptOut.begin(), one.keptOut.begin() + std::ptrdiff_t(room));
    }
    const bool totals =
        std::all_of(runs.begin(), runs.end(), [&](const Results &run) { return run.rows[index].total != nullptr; });
    const bool ofEye = isOfEye(runs, index, quantity);
    if (totals) {
        std::vector<const Provenance *> said;
        for (const Results &run : runs) said.push_back(&run.rows[index].provenance);
        row.provenance = sharedBy(said);
        addTotals(row, runs, index);
    }
    if (told == Told::later)
        ; // totals are all that goes on
    else if (ofEye)
        setMeasured(row, measuredOf(*findEntry(all.eyes, entry.eye), entry, quantity));
    else if (isOfJitter(quantity) && !all.jitter.empty())
        setMeasured(row, measuredOf(jitter, entry, quantity, row));
    else if (!totals)
        setMeasured(row, laidTogether(runs, index));
    row.unit = unitsOf(runs, &Results::rows, index);
    if (const std::string why = unlike(row.unit); !why.empty()) setMeasured(row, Measured::none(why));
    row.verdict = verdictOf(row, entry.limit);
    sayTogether(row.provenance, together, "accumulated");
    return row;
}

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

using Crossings = std::vector<std::shared_ptr<const EyeCrossings>>;

/// Of each opening, those of all captures.
Crossings mergedCrossings(const std::vector<Results> &runs, std::size_t index, Crossings EyeResult::*member)
{
    std::vector<std::vector<const EyeCrossings *>> some;
    for (const Results &run : runs) {
        const Crossings &own = run.eyes[index].*member;
        if (!run.eyes[index].reason.empty()) continue;
        some.resize(std::max(some.size(), own.size()));
        for (std::size_t opening = 0; opening < own.size(); ++opening)
            if (own[opening]) some[opening].push_back(own[opening].get());
    }
    Crossings merged;
    for (const auto &of : some) merged.push_back(std::make_shared<const EyeCrossings>(EyeCrossings::merged(of)));
    return merged;
}

EyeResult mergedEye(const std::vector<Results> &runs, std::size_t index)
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
    eye.fold = std::make_shared<const EyeFold>(EyeFold::merged(folds));
    for (auto member : {&EyeResult::crossings, &EyeResult::rises, &EyeResult::falls})
        eye.*member = mergedCrossings(runs, index, member);
    return eye;
}

SpectrumResult mergedSpectrum(const std::vector<Results> &runs, std::size_t index, std::size_t together)
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
    sayTogether(all.provenance, together, "added up");
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
        all += (all.empty() ? "" : ", ") + capture.file;
        if (!everywhere) own += (own.empty() ? "" : ", ") + capture.file;
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

/// By key, each what those of all captures add up to.
std::vector<JitterResult> mergedJitter(const std::vector<Results> &runs)
{
    std::map<std::string, JitterSums> sums;
    for (const Results &run : runs)
        for (const JitterResult &one : run.jitter) sums[one.key].merge(*one.sums);
    std::vector<JitterResult> all;
    for (auto &[key, its] : sums) all.push_back({key, std::make_shared<const JitterSums>(std::move(its))});
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

Results accumulated(const std::vector<Results> &runs, Told told)
{
    if (runs.size() == 1 && runs.front().counted.empty()) return runs.front();
    Results all = runs.front();
    all.counted.clear();
    for (const Results &run : runs) all.counted.insert(all.counted.end(), run.counted.begin(), run.counted.end());
    std::sort(all.counted.begin(), all.counted.end());
    const std::size_t together = all.counted.empty() ? runs.size() : all.counted.size();
    all.captures.clear();
    for (const Results &run : runs) { // every file that took part, once
        for (const CaptureResult &capture : run.captures) {
            const bool known = std::any_of(all.captures.begin(), all.captures.end(), [&](const CaptureResult &c) {
                return c.id == capture.id && c.file == capture.file && c.sha256 == capture.sha256;
            });
            if (!known) all.captures.push_back(capture);
        }
    }
    for (std::size_t i = 0; i < all.channels.size(); ++i) all.channels[i].unit = unitsOf(runs, &Results::channels, i);
    for (std::size_t i = 0; i < all.clocks.size(); ++i) all.clocks[i] = mergedClock(runs, i);
    for (std::size_t i = 0; i < all.eyes.size(); ++i) {
        all.eyes[i] = mergedEye(runs, i);
        const ChannelResult *channel = findEntry(all.channels, all.eyes[i].source);
        if (const std::string why = channel ? unlike(channel->unit) : ""; !why.empty()) all.eyes[i].reason = why;
    }
    for (std::size_t i = 0; i < all.masks.size(); ++i) all.masks[i] = mergedMask(runs, i);
    for (std::size_t i = 0; i < all.spectra.size(); ++i) {
        all.spectra[i] = mergedSpectrum(runs, i, together);
        all.spectra[i].unit = unitsOf(runs, &Results::spectra, i);
        if (const std::string why = unlike(all.spectra[i].unit); !why.empty()) {
            all.spectra[i].spectrum.reset();
            all.spectra[i].reason = why;
        }
    }
    all.jitter = mergedJitter(runs);
    JitterOfAll jitter(all.jitter);
    if (told == Told::now)
        for (std::size_t i = 0; i < all.budgets.size(); ++i) all.budgets[i] = mergedBudget(runs, i, jitter);
    for (std::size_t i = 0; i < all.phaseNoise.size(); ++i) all.phaseNoise[i] = mergedPhaseNoise(runs, i);
    for (std::size_t i = 0; i < all.rows.size(); ++i) all.rows[i] = mergedRow(runs, i, all, together, jitter, told);
    return all;
}

} // namespace fulvex
