#include "accumulated_rows.h"

#include "accumulated_words.h"
#include "quantity_table.h"
#include "set_measured.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

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

} // namespace

std::shared_ptr<const JitterMakeUp> JitterOfAll::makeUp(const MeasurementEntry &entry)
{
    const std::string key = jitterKey(entry);
    Made &made = m_made[key];
    if (!made.found) {
        const auto its =
            std::find_if(m_jitter.begin(), m_jitter.end(), [&](const JitterResult &one) { return one.key == key; });
        if (its == m_jitter.end()) throw Unmeasurable{"the jitter of its captures was not kept: count them anew"};
        made.found = std::make_shared<const JitterMakeUp>(its->sums->makeUp());
    }
    if (!made.found->reason.empty()) throw Unmeasurable{made.found->reason};
    return made.found;
}

std::shared_ptr<const JitterTails> JitterOfAll::tails(const MeasurementEntry &entry)
{
    const auto found = makeUp(entry);
    Made &made = m_made[jitterKey(entry)];
    if (!made.tails) made.tails = std::make_shared<const JitterTails>(tailsOf(*found));
    return made.tails;
}

Row mergedRow(const std::vector<Results> &runs, std::size_t index, const Results &all, const std::string &together,
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
    sayTogether(row.provenance, together);
    return row;
}

} // namespace fulvex
