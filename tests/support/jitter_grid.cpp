#include "jitter_grid.h"

#include "clock_recovery.h"
#include "edge_finder.h"
#include "jitter_budget.h"
#include "jitter_signal.h"
#include "number_text.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace fulvex::test {

namespace {

constexpr double ps = 1e-12, pi = std::numbers::pi;

/// What is bounded, as instants and how often each occurs; a normal distribution is added to them.
struct Truth {
    std::map<double, double> data; ///< s, share
    std::vector<JitterSpec::Line> lines;
    double bounded = 0; ///< s, uniform between half of it to either side
    double random = 0;  ///< s rms
    /// What all of it together is, on a grid of a fiftieth of the random part.
    std::map<std::int64_t, double> joint() const
    {
        std::map<std::int64_t, double> all{{0, 1}};
        const auto join = [&](const std::map<double, double> &more) {
            std::map<std::int64_t, double> joined;
            for (const auto &[at, share] : all)
                for (const auto &[further, part] : more) joined[at + std::llround(further / step())] += share * part;
            all = std::move(joined);
        };
        join(data);
        constexpr int nodes = 400; // alike in phase
        for (const JitterSpec::Line &line : lines) {
            std::map<double, double> sine;
            for (int i = 0; i < nodes; ++i) sine[line.amplitude * std::cos(pi * (i + 0.5) / nodes)] += 1.0 / nodes;
            join(sine);
        }
        if (bounded > 0) {
            std::map<double, double> uniform;
            for (int i = 0; i < nodes; ++i) uniform[bounded * ((i + 0.5) / nodes - 0.5)] += 1.0 / nodes;
            join(uniform);
        }
        return all;
    }
    double step() const { return random / 50; }
    double total(double ratio) const
    {
        const auto all = joint();
        const auto limit = [&](double sign) {
            const double farthest =
                std::max(std::abs(double(all.begin()->first)), std::abs(double(all.rbegin()->first)));
            double low = -farthest * step(), high = farthest * step() + 20 * random;
            for (int i = 0; i < 40; ++i) {
                const double middle = (low + high) / 2;
                double beyond = 0;
                for (const auto &[at, share] : all)
                    beyond +=
                        share * 0.5 * std::erfc((middle - sign * double(at) * step()) / random / std::numbers::sqrt2);
                (beyond > ratio ? low : high) = middle;
            }
            return (low + high) / 2;
        };
        return limit(1) + limit(-1);
    }
};

std::string inPs(double seconds)
{
    return fixedText(seconds / ps, 1) + " ps";
}

/// What of the edges' errors data made, by all that occurs, about the mean.
std::map<double, double> dataValues(const JitterSpec &spec)
{
    JitterSpec alone = spec;
    alone.random = 0;
    alone.lines.clear();
    alone.other = nullptr;
    const JitterEdges edges = makeJitter(alone);
    std::map<double, double> values;
    double mean = 0;
    for (const double error : edges.errors) mean += error / double(edges.size());
    for (const double error : edges.errors)
        values[std::round((error - mean) / (1e-5 * ps)) * 1e-5 * ps] += 1 / double(edges.size());
    return values;
}

JitterCase judged(std::string what, const Truth &truth, const JitterMakeUp &found, double dataExtent, bool hidden)
{
    JitterCase made;
    made.what = std::move(what);
    const JitterTails tails = tailsOf(found);
    double periodic = 0;
    for (const JitterSpec::Line &line : truth.lines) periodic += 2 * line.amplitude;
    const double total = truth.total(1e-12);
    const auto add = [&](const char *quantity, double is, double value, double uncertainty, double goal, bool counts) {
        made.parts.push_back({quantity, is, value, uncertainty, goal, counts});
    };
    // What is bounded and of nothing else hides in the spectrum: there the tails are asked.
    add("random, by its spectrum", truth.random, found.random, found.randomUncertainty, 0.03 * truth.random, !hidden);
    add("random, by its tails", truth.random, tails.fit.random, tails.fit.uncertainty(), 0.10 * truth.random, hidden);
    // Lines that lie below what noise makes of as many edges are none.
    const double lowest = 8 * truth.random / std::sqrt(double(found.edges.size()));
    const bool allStand =
        std::all_of(truth.lines.begin(), truth.lines.end(), [&](const auto &line) { return line.amplitude > lowest; });
    add("periodic", periodic, found.periodic(), found.periodicUncertainty(), std::max(0.05 * periodic, 0.2 * ps),
        allStand);
    add("data", dataExtent, found.data.peakToPeak, found.data.uncertainty, std::max(0.03 * dataExtent, 0.3 * ps), true);
    const JitterBudget budget = budgetOf(found, hidden ? &tails : nullptr, 1e-12, {});
    add(hidden ? "total at 1e-12, by its tails" : "total at 1e-12", total, budget.total, budget.uncertainty,
        0.05 * total, true);
    return made;
}

} // namespace

std::vector<JitterCase> jitterGrid(int cases, std::uint64_t seed)
{
    Gaussian chance(seed);
    const auto between = [&](double low, double high) { return low + (high - low) * chance.uniform(); };
    const auto overDecades = [&](double low, double high) { return low * std::pow(high / low, chance.uniform()); };
    const auto oneOf = [&](int count) { return int(chance.uniform() * count); };
    std::vector<JitterCase> made;
    for (int number = 0; number < cases; ++number) {
        JitterSpec spec;
        spec.seed = seed * 1000 + std::uint64_t(number);
        spec.random = overDecades(1, 20) * ps;
        const double edges = overDecades(1e4, 1e6);
        std::string what = fixedText(edges, 0) + " edges";
        const int order = std::array{0, 7, 9, 11, 15}[std::size_t(oneOf(5))];
        if (order > 0) {
            spec.symbol = prbs(order);
            what += ", PRBS " + std::to_string(order);
        } else {
            spec.levels = std::size_t(2 + oneOf(3));
            what += ", random data of " + std::to_string(spec.levels) + " levels";
        }
        spec.unitIntervals = std::int64_t(edges / (spec.levels == 2 ? 0.5 : 1 - 1 / double(spec.levels)));
        what += ", random " + inPs(spec.random);
        for (int line = oneOf(4); line > 0; --line) {
            spec.lines.push_back({overDecades(0.1e6, 200e6), between(0.2, 25) * ps, between(0, 2 * pi)});
            what += ", line of " + inPs(2 * spec.lines.back().amplitude) + " at " +
                    quantityText(spec.lines.back().frequency, "Hz", {}, 3);
        }
        if (const int symbols = oneOf(5); symbols > 0) { // mild, or severe
            const double first = between(0, 20.0 / 1.8) * ps;
            for (int k = 0; k < symbols; ++k) spec.response.push_back(first * std::pow(0.45, k));
            what += ", data of " + std::to_string(symbols) + " symbols";
        }
        spec.dutyDistortion = oneOf(2) * between(0, 10) * ps;
        if (spec.dutyDistortion > 0) what += ", duty cycle " + inPs(spec.dutyDistortion);
        Truth truth{dataValues(spec), spec.lines, 0, spec.random};
        // Told from tails where it is wide enough to be seen, and edges suffice.
        const bool hidden = oneOf(3) == 0 && edges > 5e4;
        if (hidden) {
            truth.bounded = between(1.5, 5) * spec.random;
            truth.bounded = std::min(truth.bounded, 20 * ps);
            spec.other = [wide = truth.bounded](Gaussian &draw) { return wide * (draw.uniform() - 0.5); };
            what += ", bounded " + inPs(truth.bounded);
        }
        Progress progress;
        const JitterMakeUp found = makeUpOf(makeJitter(spec), {}, progress);
        made.push_back(judged(std::move(what), truth, found, dataExtent(spec), hidden));
    }
    return made;
}

std::vector<JitterCase> sampledJitterGrid(int cases, std::uint64_t seed)
{
    constexpr double fewestSamples = 3.2; // with fewer, band-limited edges reach into their neighbours
    Gaussian chance(seed + 99);
    std::vector<JitterCase> made;
    for (int number = 0; number < cases; ++number) {
        constexpr double interval = 1e-10;
        DataSpec spec;
        spec.seed = seed * 1000 + std::uint64_t(number);
        spec.samplesPerUi = fewestSamples * std::pow(50 / fewestSamples, chance.uniform());
        spec.unitIntervals = std::int64_t(2e4 * std::pow(10, chance.uniform()));
        const double unit = spec.samplesPerUi * interval;
        spec.edgeSigma = std::max(0.12, 0.9 / spec.samplesPerUi); // as band-limited as samples ask for
        spec.randomJitter = 0.002 + 0.01 * chance.uniform();
        spec.dutyDistortion = 0.01 * chance.uniform();
        const double amplitude = 0.002 + 0.02 * chance.uniform(), cycles = 1e-3 * std::pow(100, chance.uniform());
        spec.wander = [=](double ui) { return amplitude * std::sin(2 * pi * cycles * ui); };
        const Data data = makeData(spec);
        Progress progress;
        const SourcePtr source = makeMemorySource(data.volts, interval);
        const EdgeList edges =
            findEdges(*source, {0, source->axis().count}, {{}, 0, 0, 0, 0.05}, EdgeInterpolation::instants, progress);
        const auto timing = std::make_shared<const SymbolTiming>(findSymbolTiming(edges, {}, progress));
        const Clock clock = fixedClock(std::make_shared<const EdgeList>(edges), timing, source->axis(), {});
        const JitterMakeUp found = makeUpOf(jitterEdges(clock, 2, {-INFINITY, INFINITY}, {}, progress), {}, progress);
        Truth truth{{{-spec.dutyDistortion * unit / 2, 0.5}, {spec.dutyDistortion * unit / 2, 0.5}},
                    {{cycles / unit, amplitude * unit}},
                    0,
                    spec.randomJitter * unit};
        const std::string what = fixedText(spec.samplesPerUi, 1) + " samples a UI of " + inPs(unit) + ", " +
                                 std::to_string(data.edges.size()) + " edges, random " + inPs(truth.random) +
                                 ", line of " + inPs(2 * amplitude * unit) + ", duty cycle " +
                                 inPs(spec.dutyDistortion * unit);
        made.push_back(judged(what, truth, found, spec.dutyDistortion * unit, false));
    }
    return made;
}

} // namespace fulvex::test
