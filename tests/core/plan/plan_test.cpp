#include "error.h"
#include "plan.h"

#include <filesystem>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

namespace fulvex {
namespace {

using testing::HasSubstr;
using Json = nlohmann::ordered_json;

Json small()
{
    return Json::parse(R"json({"fulvex_plan": 1, "id": "small", "title": "Small plan", "revision": "B",
        "setups": [{"id": "plain", "document": {"fulvex": 1,
            "captures": [{"id": "r", "import": {"sample_interval": 1e-10}}],
            "channels": [{"id": "a", "capture": "r"}],
            "clocks": [{"id": "ck", "source": "a"}],
            "eyes": [{"id": "eye", "source": "a", "clock": "ck"}],
            "masks": [{"id": "mask", "eye": "eye", "mask": "ieee-802.3-1000base-x"}],
            "budgets": [{"id": "whole", "clock": "ck"}, {"id": "limited", "clock": "ck", "limit": 0.3}],
            "measurements": [{"id": "tr", "quantity": "rise_time", "source": "a"}]}}],
        "steps": [{"id": "one", "title": "First", "text": "Do it", "setup": "plain",
            "captures": [{"id": "r", "wants": {"channels": 1, "sample_rate": 1e9, "rate_of": "ck", "symbol_rate": 1e9,
                "ppm": 100}}],
            "tests": [{"id": "rise", "of": "tr", "limit": {"max": 1e-9}, "clause": "4.2"}, {"id": "mask", "of": "mask"},
                {"id": "jitter", "of": "limited"}]},
          {"id": "two", "title": "Second", "setup": "plain", "captures": [{"id": "again", "as": "r", "count": 2}],
            "tests": []}]})json");
}

std::string problemOf(const Json &json)
{
    try {
        parsePlan(json.dump(), "p");
    } catch (const Error &error) {
        return error.what();
    }
    return "none";
}

TEST(Plan, IsReadAndWrittenAsItIs)
{
    const Plan plan = parsePlan(small().dump(), "p");
    EXPECT_EQ(plan.steps.size(), 2u);
    EXPECT_EQ(plan.steps[0].tests[0].limit.max, 1e-9);
    EXPECT_EQ(plan.steps[1].captures[0].capture(), "r");
    EXPECT_EQ(plan.steps[1].captures[0].count, 2);
    EXPECT_EQ(plan.stepOf("again"), &plan.steps[1]);
    EXPECT_EQ(plan.stepOf("nowhere"), nullptr);
    const std::string text = planText(plan);
    EXPECT_TRUE(parsePlan(text, "again") == plan);
    EXPECT_THAT(text, testing::Not(HasSubstr("a step's capture")));
}

TEST(Plan, WhatCannotBeIsSaidWhereItStands)
{
    const auto with = [](const std::string &path, const Json &value) {
        Json json = small();
        json[Json::json_pointer(path)] = value;
        return problemOf(json);
    };
    EXPECT_EQ(problemOf(small()), "none");
    EXPECT_THAT(with("/fulvex_plan", 2), HasSubstr("fulvex_plan"));
    EXPECT_THAT(with("/id", "Not One"), HasSubstr("id"));
    EXPECT_THAT(with("/steps", Json::array()), HasSubstr("steps"));
    EXPECT_THAT(with("/steps/1/id", "one"), HasSubstr("steps[1].id: \"one\" is taken"));
    EXPECT_THAT(with("/steps/1/captures/0/id", "r"), HasSubstr("steps[1].captures[0].id"));
    EXPECT_THAT(with("/steps/0/setup", "none"), HasSubstr("steps[0].setup: there is no setup \"none\""));
    EXPECT_THAT(with("/steps/1/captures/0/as", "x"), HasSubstr("the setup has no capture \"x\""));
    EXPECT_THAT(with("/steps/0/captures/0/wants/rate_of", "x"), HasSubstr("captures[0].wants.rate_of"));
    EXPECT_THAT(with("/steps/0/captures/0/wants/ppm", nullptr), HasSubstr("how far it may be off"));
    EXPECT_THAT(with("/steps/0/captures/0/wants/channels", 0), HasSubstr("channels"));
    EXPECT_THAT(with("/steps/0/captures/0/wants/sample_rate", -1), HasSubstr("sample_rate"));
    EXPECT_THAT(with("/steps/0/tests/0/of", "x"), HasSubstr("steps[0].tests[0].of"));
    EXPECT_THAT(with("/steps/0/tests/0/limit", nullptr), HasSubstr("tests[0].limit: is missing"));
    EXPECT_THAT(with("/steps/0/tests/0/limit/min", 2e-9), HasSubstr("nothing can pass"));
    EXPECT_THAT(with("/steps/0/tests/0/statistic", "median"), HasSubstr("statistic"));
    EXPECT_THAT(with("/steps/0/tests/1/limit", {{"max", 3}}), HasSubstr("carries its own"));
    EXPECT_THAT(with("/steps/0/tests/2/of", "whole"), HasSubstr("has no limit"));
    EXPECT_THAT(with("/steps/0/picture", "/etc/passwd"), HasSubstr("lies elsewhere"));
    EXPECT_THAT(with("/steps/0/picture", "../secret.png"), HasSubstr("lies elsewhere"));
    EXPECT_THAT(with("/steps/0/unknown", 1), HasSubstr("unknown"));
    EXPECT_THAT(with("/setups/0/document/measurements/0/quantity", 7), HasSubstr("quantity"));
    EXPECT_THAT(with("/setups/0/document", 7), HasSubstr("setups[0].document"));
}

TEST(Plan, ThoseThatShipAreWhole)
{
    int plans = 0;
    for (const auto &file :
         std::filesystem::directory_iterator(std::filesystem::path(FULVEX_SHIPPED_MASKS) / "../plans")) {
        const Plan plan = loadPlan(file.path());
        ++plans;
        EXPECT_FALSE(plan.source.empty()) << file.path();
        for (const PlanStep &step : plan.steps) {
            EXPECT_FALSE(step.text.empty()) << plan.id << " " << step.id;
            for (const PlanTest &test : step.tests) EXPECT_FALSE(test.clause.empty()) << plan.id << " " << test.id;
        }
        EXPECT_TRUE(parsePlan(planText(plan), "again") == plan);
    }
    EXPECT_EQ(plans, 2);
}

} // namespace
} // namespace fulvex
