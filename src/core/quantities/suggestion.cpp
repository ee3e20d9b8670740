#include "suggestion.h"

#include "edge_finder.h"
#include "number_text.h"
#include "pair_populations.h"
#include "pulse_populations.h"
#include "symbol_timing.h"
#include "transition_finder.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace fulvex {

namespace {

constexpr std::int64_t looked = 4'000'000;

/// What is told of one channel.
struct Seen {
    AmplitudeSurvey survey;
    ReferenceLevels levels;
    std::shared_ptr<const EdgeList> edges;
    Statistics periods;    ///< s
    double transition = 0; ///< samples, median
    enum class Kind { none, step, sine, clock, data, pulses } kind = Kind::none;
    std::string reason;
};

std::string seconds(double time)
{
    return quantityText(time, "s", {}, 3);
}

std::string percent(double share)
{
    return quantityText(100 * share, "%", {}, 2);
}

/// Edges on multiples of one time, several of which occur.
bool isData(const SampleSource &source, Seen &seen, Progress &progress)
{
    const SymbolTiming timing = findSymbolTiming(*seen.edges, {}, progress);
    if (!timing.found()) return false;
    std::map<std::int64_t, std::size_t> runs;
    double squares = 0;
    for (std::size_t i = 1; i < seen.edges->size(); ++i) {
        const std::int64_t length = timing.numbers[i] - timing.numbers[i - 1];
        ++runs[length];
        const double off = // from edge to edge, so that wander is no scatter
            (seen.edges->positions[i] - seen.edges->positions[i - 1]) / timing.period - double(length);
        squares += off * off;
    }
    const double off = std::sqrt(squares / double(seen.edges->size()));
    std::size_t common = 0; // lengths that are no chance
    for (const auto &[length, count] : runs) common += length > 0 && count * 50 > seen.edges->size();
    const bool single = runs[1] * 5 > seen.edges->size(); // half of all runs are, in random data
    if (off > 0.15 || !single || common < 2) return false;
    seen.reason = std::to_string(seen.edges->size()) + " edges lie on multiples of " +
                  seconds(timing.period * source.axis().interval) + " to " + percent(off) + " of it, of " +
                  std::to_string(common) + " lengths";
    return true;
}

Seen look(const SampleSource &source, Progress &progress)
{
    Seen seen;
    const SampleRange range{0, std::min(looked, source.axis().count)};
    seen.survey = surveyAmplitudes(source, range, progress, false);
    if (seen.survey.stats.count == 0 || !(seen.survey.stats.maximum > seen.survey.stats.minimum)) {
        seen.reason = "its samples are all alike";
        return seen;
    }
    seen.levels = referenceLevels(seen.survey, {});
    auto edges = findEdges(source, range, seen.levels, EdgeInterpolation::automatic, progress);
    seen.transition = medianTransitionSamples(source, edges, seen.levels);
    seen.edges = std::make_shared<const EdgeList>(std::move(edges));
    const std::size_t count = seen.edges->size();
    if (count == 0) {
        seen.reason = "it never crosses its mid level";
        return seen;
    }
    if (count <= 2) {
        seen.kind = Seen::Kind::step;
        seen.reason = count == 1 ? "it has one edge" : "it has two edges";
        return seen;
    }
    seen.periods = statisticsOf(periods(seen.edges, source.axis(), EdgeChoice::rising, progress));
    const bool even = seen.periods.count >= 2 && *seen.periods.std < 0.05 * *seen.periods.mean;
    if (!even) {
        seen.kind = isData(source, seen, progress) ? Seen::Kind::data : Seen::Kind::pulses;
        if (seen.kind == Seen::Kind::pulses)
            seen.reason = std::to_string(count) + " edges at times that no single period or unit interval fits";
        return seen;
    }
    // By the states: a sine rests at its extremes most, and noise does not widen them.
    const double swing = seen.levels.states.amplitude() / seen.survey.stats.acRms() / (2 * std::numbers::sqrt2);
    const double period = *seen.periods.mean / source.axis().interval;
    const double sineTransition = 2 * std::asin(0.8) / (2 * std::numbers::pi) * period; // 10 to 90 %
    const std::string regular = std::to_string(seen.periods.count) + " periods of " + seconds(*seen.periods.mean) +
                                " scatter by " + percent(*seen.periods.std / *seen.periods.mean);
    const bool sine = std::abs(swing - 1) < 0.06 && std::abs(seen.transition / sineTransition - 1) < 0.12;
    seen.kind = sine ? Seen::Kind::sine : Seen::Kind::clock;
    seen.reason = regular + (sine ? "; its swing is " + quantityText(2 * std::numbers::sqrt2 * swing, "", {}, 3) +
                                        " times its ac rms, as of a sine"
                                  : "; it rests at two levels");
    return seen;
}

/// How edges of the second lie beside those of the first.
struct Beside {
    double share = 0;         ///< of the first's edges that have one
    double mean = 0, std = 0; ///< s
};

Beside beside(const SampleSource &first, const Seen &a, EdgeChoice from, const SampleSource &second, const Seen &b,
              EdgeChoice to)
{
    std::optional<double> period;
    if (a.periods.mean) period = *a.periods.mean / first.axis().interval;
    const Population found = delays({a.edges, first.axis(), from}, {b.edges, second.axis(), to}, period);
    Beside told;
    std::size_t all = 0;
    for (std::size_t i = 0; i < a.edges->size(); ++i) all += chosen(from, a.edges->isRising(i));
    if (found.size() == 0 || all == 0) return told;
    const Statistics s = statisticsOf(found);
    told = {double(found.size()) / double(all), *s.mean, s.std.value_or(0)};
    return told;
}

} // namespace

Suggestion suggestFor(const SampleSource &source, Progress &progress)
{
    const Seen seen = look(source, progress);
    Suggestion made;
    made.reason = seen.reason;
    const auto rows = [&](const char *kind, std::initializer_list<const char *> quantities) {
        made.kind = kind;
        for (const char *quantity : quantities) made.rows.push_back({quantity});
    };
    switch (seen.kind) {
    case Seen::Kind::none:
        rows("no edges", {"mean", "ac_rms", "peak_to_peak", "maximum", "minimum"});
        break;
    case Seen::Kind::step:
        rows("step", {"high", "low", "amplitude"});
        for (std::size_t i = 0; i < seen.edges->size(); ++i) {
            const bool rising = seen.edges->isRising(i);
            made.rows.push_back({rising ? "rise_time" : "fall_time"});
            made.rows.push_back({rising ? "overshoot_rising" : "overshoot_falling"});
            made.rows.push_back({rising ? "preshoot_rising" : "preshoot_falling"});
            made.rows.push_back({"settling_time", rising ? "rising" : "falling"});
        }
        break;
    case Seen::Kind::sine:
        rows("sine", {"counted_frequency", "period_jitter", "peak_to_peak", "ac_rms", "mean"});
        break;
    case Seen::Kind::clock:
        rows("clock", {"counted_frequency", "period_jitter", "cycle_to_cycle_jitter", "duty_cycle", "rise_time",
                       "fall_time", "amplitude", "overshoot_rising", "overshoot_falling"});
        break;
    case Seen::Kind::data:
        rows("data", {"amplitude", "high", "low", "rise_time", "fall_time", "overshoot_rising", "overshoot_falling",
                      "symbol_rate", "time_interval_error", "eye_height", "eye_width"});
        break;
    case Seen::Kind::pulses:
        rows("pulse train", {"positive_width", "negative_width", "period", "rise_time", "fall_time", "amplitude",
                             "overshoot_rising", "rising_runts", "falling_runts", "edge_count"});
        break;
    }
    return made;
}

Suggestion suggestForPair(const SampleSource &first, const SampleSource &second, Progress &progress)
{
    const Seen a = look(first, progress), b = look(second, progress);
    Suggestion made;
    using Kind = Seen::Kind;
    if (!a.edges || !b.edges || a.edges->size() < 3 || b.edges->size() < 3) {
        made.reason = "one of them has too few edges to tell";
        return made;
    }
    const bool clockOfData = a.kind == Kind::data && (b.kind == Kind::clock || b.kind == Kind::sine),
               dataOfClock = b.kind == Kind::data && (a.kind == Kind::clock || a.kind == Kind::sine);
    if (clockOfData || dataOfClock) {
        made.kind = "clock and data";
        made.reason = clockOfData ? "the first is data, the second is as even as a clock"
                                  : "the first is as even as a clock, the second is data";
        for (const char *quantity : {"setup_time", "hold_time"}) made.rows.push_back({quantity, "", "", dataOfClock});
        return made;
    }
    const Beside alike = beside(first, a, EdgeChoice::rising, second, b, EdgeChoice::rising),
                 opposite = beside(first, a, EdgeChoice::rising, second, b, EdgeChoice::falling);
    const double transition = a.transition * first.axis().interval;
    const double ratio = b.levels.states.amplitude() / a.levels.states.amplitude();
    const bool legs = opposite.share > 0.9 && std::abs(opposite.mean) < transition && opposite.std < transition &&
                      ratio > 0.5 && ratio < 2;
    if (legs) {
        made.kind = "legs of a pair";
        made.reason = percent(opposite.share) + " of the rising edges have a falling one beside them, " +
                      seconds(std::abs(opposite.mean)) + (opposite.mean < 0 ? " before" : " behind") + " on average";
        made.rows = {{"delay", "rising", "falling"}, {"delay", "falling", "rising"}};
        return made;
    }
    if (alike.share < 0.8 || (a.periods.mean && alike.std > 0.1 * *a.periods.mean)) {
        made.reason = "their edges do not follow each other";
        return made;
    }
    made.kind = "input and output";
    made.reason = percent(alike.share) + " of the rising edges have one of the other beside them, " +
                  seconds(std::abs(alike.mean)) + (alike.mean < 0 ? " before" : " behind") + " on average";
    const bool turned = alike.mean < 0; // what comes first is the input
    made.rows = {{"delay", "", "", turned}, {"gain", "", "", turned}, {"gain_db", "", "", turned}};
    const bool periodic = a.kind == Kind::sine || a.kind == Kind::clock;
    if (periodic) made.rows.push_back({"phase", "", "", turned});
    if (a.kind != Kind::sine) made.rows.push_back({"device_rise_time", "", "", turned});
    return made;
}

} // namespace fulvex
