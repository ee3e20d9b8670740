#include "error.h"
#include "evaluation.h"
#include "failure_text.h"
#include "keep_out.h"
#include "level_keys.h"
#include "node_key.h"
#include "number_text.h"
#include "quantity_table.h"
#include "set_measured.h"
#include "transition_finder.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

namespace fulvex {

namespace {

/// Serves one row from an Evaluation and notes what was used.
class RowInputs final : public QuantityInputs {
public:
    RowInputs(Evaluation &evaluation, const MeasurementEntry &entry, const Quantity &quantity, Row &row)
        : m_evaluation(evaluation), m_entry(entry), m_row(row)
    {
        m_source = entry.source;
        if (quantity.needs == Needs::clock && m_source.empty()) m_source = clockEntry().source;
        if (quantity.needs == Needs::eye) m_source = findEntry(evaluation.document().eyes, entry.eye)->source;
    }
    /// Of another channel of the row; what it rests on is noted with the channel's name.
    RowInputs(Evaluation &evaluation, const MeasurementEntry &entry, Row &row, const std::string &channel)
        : m_evaluation(evaluation), m_entry(entry), m_row(row), m_source(channel), m_suffix(" of " + channel)
    {
    }
    const std::string &source() const { return m_source; }
    const MeasurementEntry &entry() const override { return m_entry; }
    std::string unit() override { return m_evaluation.channel(m_source).unit; }
    TimeAxis axis() override { return m_evaluation.channel(m_source).source->axis(); }
    double resolution() override { return m_evaluation.channel(m_source).source->resolution(); }
    double noise() override { return *m_evaluation.noise(m_source, m_entry.region).value; }
    std::shared_ptr<const PowerSpectrum> spectrum() override
    {
        noteRegion();
        return m_evaluation.spectrum(m_source, m_entry.region).value;
    }
    std::shared_ptr<const AmplitudeSurvey> survey() override
    {
        noteRegion();
        return m_evaluation.survey(m_source, m_entry.region).value;
    }
    ReferenceLevels levels() override
    {
        noteRegion();
        const ReferenceLevels found = *m_evaluation.levels(m_source, m_entry.region, m_entry.levels, m_entry.at).value;
        levelsUsed().levels = found;
        const LevelsEntry rule = m_evaluation.document().levelsOf(m_entry.levels);
        const auto inUnit = [&](double v) { return quantityText(v, unit()); };
        const auto percent = [](double value) { return quantityText(value, "", {}, 3); };
        const std::string kind =
            rule.kind == "percent"
                ? percent(rule.low) + "/" + percent(m_entry.at.value_or(rule.mid)) + "/" + percent(rule.high) + " %"
                : rule.kind;
        note("levels", inUnit(found.low) + " / " + inUnit(found.mid) + " / " + inUnit(found.high) + " (" +
                           m_entry.levels + ", " + kind + ")");
        if (rule.kind == "percent" || m_entry.quantity == "high" || m_entry.quantity == "low")
            note("states", inUnit(found.states.low) + " and " + inUnit(found.states.high) + ", by " + rule.states);
        return found;
    }
    StateUncertainty stateUncertainty() override
    {
        return m_evaluation.stateUncertainty(m_source, m_entry.region, m_entry.levels);
    }
    bool percentLevels() override { return m_evaluation.document().levelsOf(m_entry.levels).kind == "percent"; }
    std::shared_ptr<const EdgeList> edges() override
    {
        const auto found =
            m_evaluation.edges(m_source, m_entry.region, m_entry.levels, m_entry.interpolate, m_entry.at).value;
        const ReferenceLevels at = levels();
        if (found->size() == 0) {
            const AmplitudeStats &stats = survey()->stats;
            const auto inUnit = [&](double v) { return quantityText(v, unit(), {}, 4); };
            if (at.mid < stats.minimum || at.mid > stats.maximum)
                throw Unmeasurable{"the level to be crossed, " + inUnit(at.mid) + ", lies outside of " + m_source +
                                   ", which goes from " + inUnit(stats.minimum) + " to " + inUnit(stats.maximum) +
                                   ": choose other levels, or percent of the amplitude"};
        }
        noteInstants(*found);
        levelsUsed().mid = true;
        return found;
    }
    std::shared_ptr<const Transitions> transitions(EdgeChoice choice) override
    {
        edges(); // and notes on what they rest
        levelsUsed().lowAndHigh = true;
        return m_evaluation.transitions(m_source, m_entry.region, m_entry.levels, choice, m_entry.interpolate).value;
    }
    std::shared_ptr<const Aberrations> aberrations(EdgeChoice choice) override
    {
        return m_evaluation.aberrations(m_source, m_entry.region, m_entry.levels, choice, m_entry.interpolate).value;
    }
    SourcePtr samples() override { return m_evaluation.channel(m_source).source; }
    SampleRange range() override { return m_evaluation.range(*samples(), m_entry.region); }
    QuantityInputs &to() override
    {
        if (!m_to) m_to.reset(new RowInputs(m_evaluation, m_entry, m_row, m_entry.to));
        return *m_to;
    }
    Surveys surveysInCommon() override
    {
        noteRegion();
        const TimeAxis own = axis(), other = to().axis();
        if (own == other) return {survey(), to().survey()};
        const double from = std::max(own.timeOf(0), other.timeOf(0)),
                     until = std::min(own.timeOf(double(own.count - 1)), other.timeOf(double(other.count - 1)));
        if (!(from < until))
            throw Unmeasurable{m_source + " and " + m_entry.to +
                               " do not overlap in time: check the captures' starts "
                               "and the channels' delays"};
        Evaluation both = m_evaluation.within(from, until);
        const auto of = [&](const std::string &id) { return both.survey(id, m_entry.region).value; };
        return {of(m_source), of(m_entry.to)};
    }
    std::shared_ptr<const Clock> clock() override
    {
        const auto node = m_evaluation.clock(m_entry.clock);
        noteClock(clockEntry(), *node.clock);
        noteInstants(node.clock->edges.edges());
        noteRegion();
        return node.clock;
    }
    std::shared_ptr<const SymbolErrors> symbolErrors(SampleRange unitIntervals) override
    {
        return m_evaluation.symbolErrors(clockEntry(), unitIntervals, m_entry.expected);
    }
    std::shared_ptr<const JitterMakeUp> jitter() override
    {
        clock(); // and notes on what it rests
        return m_evaluation.jitter(m_entry).value;
    }
    std::shared_ptr<const JitterTails> jitterTails() override { return m_evaluation.jitterTails(m_entry).value; }
    std::shared_ptr<const PhaseNoise> phaseNoise() override
    {
        noteCarrier();
        return m_evaluation.phaseNoise(m_entry).value;
    }
    std::shared_ptr<const JitterEdges> phaseEdges() override
    {
        noteCarrier();
        return m_evaluation.phaseEdges(m_entry).value;
    }
    std::shared_ptr<const ClockSymbols> symbols() override { return m_evaluation.symbols(clockEntry()).value; }
    Progress &progress() override { return m_evaluation.progress(); }
    double rateUncertainty() override { return m_evaluation.clock(m_entry.clock).rateUncertainty; }
    EyeQuantities eye(EyeLook look) override
    {
        const EyeEntry &entry = *findEntry(m_evaluation.document().eyes, m_entry.eye);
        if (!entry.atUnitIntervals())
            throw Unmeasurable{"\"" + entry.id + "\" is an overlay: this is measured on an eye of unit intervals"};
        m_eye = m_evaluation.eye(m_entry.eye);
        const std::size_t openings = m_eye.rule.thresholds.size();
        const auto opening = std::size_t(m_entry.opening.value_or(0));
        needOpening(m_entry.opening, openings);
        if (openings > 1) note("opening", std::to_string(opening) + " of 0 to " + std::to_string(openings - 1));
        if (look == EyeLook::crossings) m_crossings = m_evaluation.eyeCrossings(m_eye, opening);
        if (look == EyeLook::rises || look == EyeLook::falls) {
            const LevelRule rule = eyeLevelsRule(m_evaluation.document().levelsOf(m_entry.levels));
            m_crossings = m_evaluation.eyeTransitions(m_eye, opening, rule, look == EyeLook::rises);
            const auto number = [](double value) { return quantityText(value, "", {}, 3); };
            note("levels", rule.kind == LevelRule::Kind::percent
                               ? number(rule.low) + " to " + number(rule.high) + " % of the opening's two levels"
                               : quantityText(rule.low, unit()) + " to " + quantityText(rule.high, unit()));
        }

        noteClock(*findEntry(m_evaluation.document().clocks, entry.clock), *m_eye.clock);
        note("eye", std::to_string(m_eye.fold->unitIntervals) + " unit intervals, " +
                        std::to_string(m_eye.fold->samples) + " samples");
        if (m_eye.fold->interpolation > 1)
            note("interpolation", std::to_string(m_eye.fold->interpolation) + " points a sample, band-limited");
        return {*m_eye.fold, m_crossings.get(), m_eye.clock->map.period() * m_eye.clock->map.axis().interval,
                resolution(), opening};
    }
    Population eyeBox(const EyeBox &box, bool levels) override
    {
        eye(EyeLook::fold);
        const auto gather = levels ? levelsInBox : timesInBox;
        return gather(m_eye.source, m_eye.clock->map, m_eye.rule, box, progress());
    }
    bool inRegion(double position) override
    {
        if (!m_span) {
            const RegionEntry *region = findEntry(m_evaluation.document().regions, m_entry.region);
            const TimeAxis on = axis();
            constexpr double forever = std::numeric_limits<double>::infinity();
            m_span = region ? std::pair(on.positionOf(region->start), on.positionOf(region->stop))
                            : std::pair(-forever, forever);
        }
        return position >= m_span->first - 1e-6 && position <= m_span->second + 1e-6; // as Evaluation::range
    }

    void note(const std::string &what, const std::string &how) override
    {
        const std::string name = what + m_suffix;
        for (const auto &[known, text] : m_row.provenance) {
            if (known == name) return;
        }
        m_row.provenance.emplace_back(name, how);
    }

private:
    const ClockEntry &clockEntry() const { return *findEntry(m_evaluation.document().clocks, m_entry.clock); }
    Row::Levels &levelsUsed()
    {
        for (Row::Levels &known : m_row.levels) {
            if (known.channel == m_source) return known;
        }
        return m_row.levels.emplace_back(Row::Levels{m_source, {}, false, false});
    }
    void noteRegion()
    {
        const RegionEntry *region = findEntry(m_evaluation.document().regions, m_entry.region);
        if (!m_suffix.empty()) return; // the row's
        note("region",
             region ? region->id + ", " + quantityText(region->start, "s") + " to " + quantityText(region->stop, "s")
                    : "whole record");
    }
    void noteInstants(const EdgeList &edges)
    {
        const bool steep = edges.transitionSamples > 0 && edges.transitionSamples < fewestSamplesOfAnInstant;
        note("instants", !edges.interpolatedBySinc ? "straight line between samples"
                         : steep ? "windowed sinc, 24 taps (fewer than " + fixedText(fewestSamplesOfAnInstant, 1) +
                                       " samples a transition: they stray by up to 0.3 samples rms)"
                                 : "windowed sinc, 24 taps (few samples a transition)");
    }
    void noteCarrier()
    {
        noteRegion();
        if (m_entry.clock.empty())
            note("clock", "fixed, found from " + m_source);
        else
            clock(); // and notes on what it rests
    }
    void noteClock(const ClockEntry &entry, const Clock &clock)
    {
        std::string how = entry.id + ": " + quantityText(clock.map.rate(), "Bd", {}, 7);
        if (entry.method == "pll") {
            how += ", loop of order " + std::to_string(entry.order) + ", " + quantityText(entry.bandwidth, "Hz", {}, 3);
            note("settling", quantityText(clock.map.settleTime(), "s", {}, 3) + " at the start left out");
        } else if (entry.method == "forwarded") {
            how += ", " + std::string(entry.edges == "both" ? "" : entry.edges + " ") + "edges of " + entry.from;
            if (entry.multiply > 1) how += ", times " + std::to_string(entry.multiply);
            if (entry.divide > 1) how += ", every " + std::to_string(entry.divide) + ". of them";
            if (entry.delay != 0) how += ", " + quantityText(entry.delay, "s", {}, 4) + " later";
        } else {
            how += entry.rate ? ", fixed, given" : ", fixed, fitted";
        }
        note("clock", how);
    }

    Evaluation &m_evaluation;
    const MeasurementEntry &m_entry;
    Row &m_row;
    std::string m_source, m_suffix;
    std::unique_ptr<RowInputs> m_to;
    Evaluation::EyeNode m_eye;
    std::shared_ptr<const EyeCrossings> m_crossings;
    std::optional<std::pair<double, double>> m_span; ///< of the region, in samples
};

std::string missingSetting(const Quantity &quantity, const MeasurementEntry &entry)
{
    if (quantity.needs == Needs::source && entry.source.empty() && entry.clock.empty()) return "a \"source\"";
    if (quantity.needs == Needs::clock && entry.clock.empty()) return "a \"clock\"";
    if (quantity.needs == Needs::eye && entry.eye.empty()) return "an \"eye\"";
    if (quantity.takes("to") && entry.to.empty()) return "a second channel, \"to\"";
    return {};
}

} // namespace

std::string Evaluation::unitOf(const std::string &id)
{
    try {
        return channel(id).unit;
    } catch (const Error &) { // told where the channel is
        const std::string &own = findEntry(m_document.channels, id)->unit;
        return own.empty() ? "V" : own;
    }
}

Row Evaluation::measured(const MeasurementEntry &entry, const Quantity &quantity, bool &lasts)
{
    Row row;
    row.quantity = entry.quantity;
    row.title = quantity.title;
    const LevelsEntry levelRule = m_document.levelsOf(entry.levels);
    const bool betweenLevels = entry.quantity == "rise_time" || entry.quantity == "fall_time";
    if (betweenLevels && levelRule.kind == "percent")
        row.title += ", " + fixedText(levelRule.low, 0) + "–" + fixedText(levelRule.high, 0) + " %";
    if (entry.opening && quantity.takes("opening")) row.title += ", opening " + std::to_string(*entry.opening);
    MeasurementEntry used = entry;
    if (quantity.needs == Needs::source && used.source.empty())
        used.source = findEntry(m_document.clocks, entry.clock)->source;
    if (!quantity.takes("at")) used.at.reset(); // what means nothing to it changes nothing
    if (!quantity.takes("interpolate")) used.interpolate = MeasurementEntry{}.interpolate;
    RowInputs inputs(*this, used, quantity, row);
    row.source = quantity.needs == Needs::eye ? entry.eye : inputs.source();
    row.unit = quantity.unit ? quantity.unit : unitOf(inputs.source()) + quantity.per;
    Measured measured;
    try {
        measured = quantity.measure(inputs);
    } catch (const Cancelled &) {
        throw;
    } catch (const Unmeasurable &none) {
        measured = Measured::none(none.reason);
    } catch (...) {
        measured = Measured::none(failureText());
        lasts = false; // the next time it may not fail
    }
    setMeasured(row, std::move(measured));
    const auto &mean = row.statistics.mean;
    if (mean && !std::isfinite(*mean))
        setMeasured(row, Measured::none("the values are too large to be numbers: check the channel's scale"));
    return row;
}

void Evaluation::checkUse(bool masks)
{
    for (std::size_t i = 0; i < m_document.measurements.size(); ++i) {
        const MeasurementEntry &entry = m_document.measurements[i];
        const std::string where = "measurements[" + std::to_string(i) + "]";
        const Quantity *quantity = findQuantity(entry.quantity);
        if (!quantity)
            throw Error(where + ".quantity", "\"" + entry.quantity + "\" is no quantity", "docs/methods.md lists them");
        const std::string missing = missingSetting(*quantity, entry);
        if (!missing.empty()) throw Error(where, std::string(quantity->title) + " needs " + missing, "add it");
    }
    for (const MaskEntry &entry : m_document.masks) {
        if (masks) definitionOf(entry);
    }
}

Row Evaluation::rowOfAll(const MeasurementEntry &entry)
{
    return kept<Row>(entry.id, [&](bool &lasts) { return measured(entry, *findQuantity(entry.quantity), lasts); });
}

Row Evaluation::row(const MeasurementEntry &entry)
{
    Row row = rowOfAll(entry);
    row.id = entry.id;
    std::vector<const KeptOutEntry *> out;
    std::string spans;
    for (const KeptOutEntry &span : m_document.keptOut) {
        if (std::find(span.of.begin(), span.of.end(), entry.id) == span.of.end()) continue;
        out.push_back(&span);
        spans += digestOf(span.id, span.start, span.stop, span.reason);
    }
    if (!out.empty()) {
        const std::string key = definition(entry.id);
        const auto filtered = [&] { return withoutKeptOut(row, out); };
        row = key.empty() ? filtered() : *m_cache.get<Row>(keyOf("kept out", key, entry.id, spans), filtered);
    }
    row.verdict = verdictOf(row, entry.limit);
    return row;
}

} // namespace fulvex
