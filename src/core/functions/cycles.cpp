#include "course.h"
#include "error.h"
#include "functions.h"
#include "line_fit.h"
#include "passages.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

namespace fulvex {

namespace {

Passages passagesOf(const FormulaOver &of, const char *function)
{
    Passages found = risingPassages(*of.sources[0], of.progress);
    if (found.positions.size() < 2)
        throw Error("",
                    std::string(function) + " of a signal that passes its middle upwards " +
                        (found.positions.empty() ? "never" : "once"),
                    "it needs two such passages: take a longer record, or a signal with edges");
    return found;
}

/// A value for each period.
SourcePtr ofPeriods(const FormulaOver &of, const char *function, double (*valueOf)(double period))
{
    const Passages found = passagesOf(of, function);
    const double interval = of.sources[0]->axis().interval;
    std::vector<Course::Piece> pieces;
    for (std::size_t i = 1; i < found.positions.size(); ++i) {
        if (found.afterGap[i]) continue;
        const double from = found.positions[i - 1], to = found.positions[i];
        if (pieces.empty() || pieces.back().end != from) pieces.push_back({from, to, {}});
        pieces.back().end = to;
        pieces.back().moments.push_back({(from + to) / 2, valueOf((to - from) * interval)});
    }
    return std::make_shared<Course>(of.sources[0], std::move(pieces));
}

/// Which cycle each passage begins, from 0 on: across a gap as many are counted as the mean of whole periods says.
std::vector<double> cyclesOf(const Passages &found)
{
    double sum = 0, whole = 0;
    for (std::size_t i = 1; i < found.positions.size(); ++i) {
        if (found.afterGap[i]) continue;
        sum += found.positions[i] - found.positions[i - 1];
        ++whole;
    }
    std::vector<double> cycles = {0};
    for (std::size_t i = 1; i < found.positions.size(); ++i) {
        const double apart = found.positions[i] - found.positions[i - 1];
        const double between = found.afterGap[i] && whole > 0 ? std::max(1.0, std::round(apart * whole / sum)) : 1;
        cycles.push_back(cycles.back() + between);
    }
    return cycles;
}

} // namespace

SourcePtr frequencyOf(const FormulaOver &of)
{
    return ofPeriods(of, "frequency", [](double period) { return 1 / period; });
}

SourcePtr periodOf(const FormulaOver &of)
{
    return ofPeriods(of, "period", [](double period) { return period; });
}

SourcePtr phaseOf(const FormulaOver &of)
{
    const Passages found = passagesOf(of, "phase");
    const TimeAxis &axis = of.sources[0]->axis();
    const double asked = of.constants[0];
    if (!(asked >= 0) || std::isinf(asked))
        throw Error("", "a phase against a frequency below 0", "give the carrier's, or none for the straight line's");
    const std::vector<double> cycles = cyclesOf(found);
    std::vector<double> ahead; // cycles
    if (asked > 0) {
        double mean = 0;
        for (std::size_t i = 0; i < cycles.size(); ++i) {
            ahead.push_back(cycles[i] - (found.positions[i] - found.positions.front()) * axis.interval * asked);
            mean += ahead.back() / double(cycles.size());
        }
        for (double &one : ahead) one -= mean;
    } else {
        LineFit line;
        for (std::size_t i = 0; i < cycles.size(); ++i) line.add(cycles[i], found.positions[i]);
        for (std::size_t i = 0; i < cycles.size(); ++i)
            ahead.push_back((line.at(cycles[i]) - found.positions[i]) / line.slope());
    }
    std::vector<Course::Piece> pieces;
    for (std::size_t i = 0; i < ahead.size(); ++i) {
        if (i == 0 || found.afterGap[i]) pieces.push_back({found.positions[i], found.positions[i], {}});
        pieces.back().end = found.positions[i];
        pieces.back().moments.push_back({found.positions[i], 2 * std::numbers::pi * ahead[i]});
    }
    return std::make_shared<Course>(of.sources[0], std::move(pieces));
}

} // namespace fulvex
