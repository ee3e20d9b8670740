#include "level_keys.h"

#include "node_key.h"
#include "quantity.h"

#include <sstream>

namespace fulvex {

static std::string text(const std::optional<double> &value)
{
    std::ostringstream out;
    if (value) out << std::hexfloat << *value;
    return out.str();
}

LevelRule ruleOf(const LevelsEntry &entry)
{
    LevelRule rule;
    rule.kind = entry.kind == "absolute" ? LevelRule::Kind::absolute : LevelRule::Kind::percent;
    rule.states = entry.states == "fixed"      ? LevelRule::States::fixed
                  : entry.states == "extremes" ? LevelRule::States::extremes
                                               : LevelRule::States::histogram;
    rule.low = entry.low;
    rule.mid = entry.mid;
    rule.high = entry.high;
    rule.hysteresis = entry.hysteresis;
    rule.stateLow = entry.stateLow.value_or(0);
    rule.stateHigh = entry.stateHigh.value_or(0);
    return rule;
}

EdgeInterpolation interpolationOf(const std::string &name)
{
    return name == "linear"     ? EdgeInterpolation::linear
           : name == "sinc"     ? EdgeInterpolation::sinc
           : name == "instants" ? EdgeInterpolation::instants
                                : EdgeInterpolation::automatic;
}

LevelRule eyeLevelsRule(const LevelsEntry &entry)
{
    LevelRule rule = ruleOf(entry);
    if (entry.id != "default") return rule;
    rule.kind = LevelRule::Kind::percent;
    rule.low = 20;
    rule.mid = 50;
    rule.high = 80;
    return rule;
}

SymbolLevelRule symbolRuleOf(const LevelsEntry &levels, int modulation)
{
    SymbolLevelRule rule;
    rule.count = std::size_t(modulation);
    rule.extremes = levels.states == "extremes";
    rule.levels = levels.symbolLevels;
    rule.thresholds = levels.thresholds;
    if (levels.kind == "absolute") rule.hysteresis = levels.hysteresis;
    if (levels.states == "fixed" && rule.levels.empty())
        rule.levels = evenLevels(*levels.stateLow, *levels.stateHigh, rule.count);
    const auto needs = [&](const char *what, std::size_t given, std::size_t wanted) {
        if (given && given != wanted)
            throw Unmeasurable{"levels " + levels.id + " give " + std::to_string(given) + " " + what + ", and " +
                               std::to_string(modulation) + " amplitude levels have " + std::to_string(wanted)};
    };
    needs("\"symbol_levels\"", rule.levels.size(), rule.count);
    needs("\"thresholds\"", rule.thresholds.size(), rule.count - 1);
    return rule;
}

std::string textOf(const SymbolLevelRule &rule)
{
    std::string text = digestOf(rule.count, rule.extremes, rule.hysteresis.value_or(-1));
    for (const auto *list : {&rule.levels, &rule.thresholds})
        for (const double value : *list) text += digestOf(value);
    return text;
}

std::string surveyKey(const std::string &channel, SampleRange samples, bool stretches)
{
    return keyOf("survey", channel, samples.first, samples.last, stretches);
}

std::string levelsKey(const std::string &survey, const LevelRule &rule)
{
    return keyOf("levels", survey, int(rule.kind), int(rule.states), rule.low, rule.mid, rule.high,
                 text(rule.hysteresis), rule.stateLow, rule.stateHigh);
}

std::string edgesKey(const std::string &levels, EdgeInterpolation settled)
{
    return keyOf("edges", levels, settled == EdgeInterpolation::sinc ? "sinc" : "linear");
}

/// How many samples a transition takes between those levels.
std::string steepnessKey(const std::string &levels)
{
    return keyOf("steepness", levels);
}

} // namespace fulvex
