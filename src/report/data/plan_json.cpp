#include "plan_json.h"

#include "count_text.h"
#include "error.h"
#include "fulvex_version.h"
#include "json_text.h"
#include "junit_xml.h"
#include "limit_text.h"
#include "number_text.h"
#include "table_text.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace fulvex {

using Json = nlohmann::ordered_json;

namespace {

Json testJson(const PlanTest &test, const TestOutcome &outcome)
{
    Json json{{"id", test.id},
              {"of", test.of},
              {"title", outcome.title},
              {"statistic", test.statistic},
              {"clause", test.clause},
              {"condition", test.condition},
              {"unit", outcome.unit},
              {"wanted", outcome.wanted},
              {"value", numberOrNull(outcome.value)},
              {"uncertainty", numberOrNull(outcome.uncertainty)},
              {"limit", {{"min", numberOrNull(outcome.least)}, {"max", numberOrNull(outcome.most)}}},
              {"margin", numberOrNull(outcome.margin)},
              {"count", outcome.count},
              {"verdict", verdictName(outcome.verdict)}};
    if (!outcome.reason.empty()) json["reason"] = outcome.reason;
    if (!outcome.advice.empty()) json["advice"] = outcome.advice;
    return json;
}

Json stepJson(const PlanStep &step, const StepOutcome &outcome)
{
    Json json{{"id", step.id},
              {"title", step.title},
              {"device_state", step.state},
              {"state", stateName(outcome.state)},
              {"verdict", verdictName(outcome.verdict())}};
    if (!outcome.reason.empty()) json["reason"] = outcome.reason;
    json["captures"] = Json::array();
    for (const StepOutcome::Capture &capture : outcome.captures) {
        Json one{{"slot", capture.slot}, {"file", capture.file}, {"sha256", capture.sha256}};
        one["checks"] = Json::array();
        for (const CaptureFit &check : capture.checks)
            one["checks"].push_back(
                {{"what", check.what}, {"wanted", check.wanted}, {"found", check.found}, {"holds", check.holds}});
        json["captures"].push_back(std::move(one));
    }
    json["tests"] = Json::array();
    for (std::size_t i = 0; i < step.tests.size(); ++i)
        json["tests"].push_back(testJson(step.tests[i], outcome.tests[i]));
    return json;
}

} // namespace

std::string measuredText(const TestOutcome &test)
{
    if (!test.value) return "—";
    if (test.ofMask)
        return *test.value > 0 ? countText(*test.value) + " of " + countText(double(test.count)) + " failed"
                               : "none failed";
    if (test.unit.empty() && *test.value == std::floor(*test.value)) return countText(*test.value);
    return quantityWithUncertainty(*test.value, test.unit, test.uncertainty);
}

std::string limitText(const TestOutcome &test)
{
    if (test.ofMask) return "none may fail";
    return limitText(LimitEntry{test.least, test.most}, test.unit);
}

std::string marginText(const TestOutcome &test)
{
    return test.margin ? fixedText(100 * *test.margin, std::abs(*test.margin) < 0.1 ? 1 : 0) + " %" : "—";
}

std::string planJson(const Plan &plan, const std::vector<StepOutcome> &steps, const PlanFacts &facts)
{
    Json json{{"fulvex_plan_results", 1},
              {"fulvex", fulvexVersion},
              {"plan",
               {{"id", plan.id},
                {"title", plan.title},
                {"revision", plan.revision},
                {"source", plan.source},
                {"sha256", facts.sha256}}},
              {"made", facts.made},
              {"verdict", verdictName(verdictOf(steps))}};
    json["steps"] = Json::array();
    for (std::size_t i = 0; i < plan.steps.size(); ++i) json["steps"].push_back(stepJson(plan.steps[i], steps[i]));
    return jsonText(json) + "\n";
}

std::string planRecord(const std::string &id, const Plan &plan, const std::vector<StepOutcome> &steps,
                       const PlanFacts &facts)
{
    return jsonText(
        {{"id", id}, {"plan", Json::parse(planText(plan))}, {"results", Json::parse(planJson(plan, steps, facts))}},
        -1);
}

std::vector<PlanRecord> planRecords(const std::string &resultsJson, const std::string &name)
{
    const Json json = parseJson(resultsJson, name);
    std::vector<PlanRecord> records;
    if (!json.is_object() || !json.contains("plans")) return records;
    const auto number = [](const Json &object, const char *key) {
        return object.contains(key) && object[key].is_number() ? std::optional(object[key].get<double>())
                                                               : std::nullopt;
    };
    try {
        for (const Json &one : json.at("plans")) {
            PlanRecord record{one.at("id").get<std::string>(), parsePlan(jsonText(one.at("plan")), name), {}};
            for (const Json &step : one.at("results").at("steps"))
                for (const Json &test : step.at("tests"))
                    record.tests.push_back({textMember(step, "id"), textMember(test, "id"), textMember(test, "verdict"),
                                            number(test, "value"), number(test, "uncertainty")});
            records.push_back(std::move(record));
        }
    } catch (const Json::exception &) {
        throw Error(name, "holds plans that are not as this program writes them", "make it anew");
    }
    return records;
}

void rememberFound(AttemptEntry &attempt, const StepOutcome &outcome)
{
    if (outcome.state != StepOutcome::State::done) return;
    attempt.found.clear();
    for (const TestOutcome &test : outcome.tests)
        if (test.wanted) attempt.found[test.id] = std::string(verdictName(test.verdict)) + ", " + measuredText(test);
    attempt.sha256.clear();
    for (const StepOutcome::Capture &capture : outcome.captures) attempt.sha256.push_back(capture.sha256);
}

std::string planJunit(const Plan &plan, const std::vector<StepOutcome> &steps)
{
    std::vector<JunitSuite> suites;
    for (std::size_t i = 0; i < plan.steps.size(); ++i) {
        JunitSuite suite{plan.title + ": " + plan.steps[i].title, {}};
        for (const StepOutcome::Capture &capture : steps[i].captures) {
            JunitCase one{"capture", capture.slot + "=" + capture.file};
            for (const CaptureFit &check : capture.checks)
                if (!check.holds && one.error.empty())
                    one.error = check.what + " is " + check.found + ", wanted: " + check.wanted;
            suite.cases.push_back(std::move(one));
        }
        for (std::size_t k = 0; k < plan.steps[i].tests.size(); ++k) {
            const TestOutcome &test = steps[i].tests[k];
            JunitCase one{plan.steps[i].id, test.id};
            const std::string measured = measuredText(test) + ", limit " + limitText(test);
            if (test.verdict == TestVerdict::open)
                one.skipped =
                    test.wanted ? "its step is " + std::string(stateName(steps[i].state)) : "it is not wanted";
            else if (test.verdict == TestVerdict::unmeasurable)
                one.failure = test.reason;
            else if (test.verdict == TestVerdict::undecidable)
                one.failure = measured + ": not decidable. " + test.advice;
            else if (test.verdict == TestVerdict::fail)
                one.failure = measured;
            suite.cases.push_back(std::move(one));
        }
        suites.push_back(std::move(suite));
    }
    return junitXml(suites);
}

std::string planTable(const Plan &plan, const std::vector<StepOutcome> &steps)
{
    std::string text = plan.title + (plan.revision.empty() ? "" : ", revision " + plan.revision) + "\n";
    for (std::size_t i = 0; i < plan.steps.size(); ++i) {
        const PlanStep &step = plan.steps[i];
        const StepOutcome &outcome = steps[i];
        text += "\n" + std::to_string(i + 1) + "  " + step.title + ": ";
        text += outcome.state == StepOutcome::State::done ? verdictName(outcome.verdict()) : stateName(outcome.state);
        text += (outcome.reason.empty() ? "" : ", " + outcome.reason) + "\n";
        for (const StepOutcome::Capture &capture : outcome.captures)
            for (const CaptureFit &check : capture.checks)
                if (!check.holds)
                    text += "   " + capture.file + ": " + check.what + " is " + check.found +
                            ", wanted: " + check.wanted + "\n";
        if (outcome.state != StepOutcome::State::done) continue;
        std::vector<std::vector<std::string>> lines{{"  ", "test", "measured", "limit", "margin", "verdict", "clause"}};
        std::string advice;
        for (std::size_t k = 0; k < step.tests.size(); ++k) {
            const TestOutcome &test = outcome.tests[k];
            lines.push_back({"  ", test.title, measuredText(test), limitText(test), marginText(test),
                             test.wanted ? verdictName(test.verdict) : "not wanted", step.tests[k].clause});
            if (!test.advice.empty()) advice += "   " + test.title + ": " + test.advice + "\n";
            if (!test.reason.empty()) advice += "   " + test.title + ": " + test.reason + "\n";
        }
        text += alignedText(lines, [](std::size_t column) { return column <= 1 || column >= 5; }) + advice;
    }
    return text + "\nAltogether: " + verdictName(verdictOf(steps)) + "\n";
}

} // namespace fulvex
