#include "plan.h"

#include "atomic_file.h"
#include "document_json.h"
#include "error.h"
#include "field_json.h"
#include "fields_check.h"
#include "json_text.h"
#include "quantity_table.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>

namespace fulvex {

using Json = nlohmann::ordered_json;

namespace {

constexpr Choice statistics[] = {{"mean", "mean"}, {"std", "spread"}, {"min", "smallest"}, {"max", "largest"}};

} // namespace

std::vector<Field> fieldsOf(PlanSlot &slot)
{
    CaptureWants &w = slot.wants;
    const auto least = [](const char *key, const char *words, const char *unit, std::optional<double> &value) {
        return Field{
            .key = key, .group = "wants", .words = words, .unit = unit, .least = 0, .above = true, .value = &value};
    };
    const auto of = [](const char *key, const char *words, std::string &value) {
        return Field{.key = key, .group = "wants", .words = words, .value = &value};
    };
    return {
        {.key = "id", .words = "name", .always = true, .value = &slot.id},
        {.key = "title", .words = "title", .letters = 1000, .value = &slot.title},
        {.key = "as", .words = "fills", .value = &slot.as},
        {.key = "count", .words = "how many", .least = 1, .most = 1000, .value = &slot.count},
        {.key = "channels", .group = "wants", .words = "channels", .least = 1, .most = 10000, .value = &w.channels},
        least("sample_rate", "sample rate", "Sa/s", w.sampleRate),
        least("length", "length", "s", w.length),
        least("samples", "samples", "", w.samples),
        of("level_of", "level of", w.levelOf),
        {.key = "level_min", .group = "wants", .words = "least", .unit = channelUnit, .value = &w.levelLeast},
        {.key = "level_max", .group = "wants", .words = "most", .unit = channelUnit, .value = &w.levelMost},
        of("rate_of", "rate of", w.rateOf),
        least("symbol_rate", "symbol rate", "Bd", w.symbolRate),
        least("ppm", "off by (ppm)", "", w.ppm),
        of("pattern_of", "pattern of", w.patternOf),
        {.key = "pattern_length",
         .group = "wants",
         .words = "its length",
         .least = 1,
         .most = 1 << 24,
         .value = &w.patternLength},
        {.key = "clipping", .group = "wants", .words = "may clip", .value = &w.clipping},
    };
}

std::vector<Field> fieldsOf(PlanTest &test)
{
    return {
        {.key = "id", .words = "name", .always = true, .value = &test.id},
        {.key = "title", .words = "title", .letters = 1000, .value = &test.title},
        {.key = "of",
         .words = "of",
         .always = true,
         .needed = true,
         .wrong = "names nothing",
         .mend = "name a row, mask, budget or phase noise",
         .value = &test.of},
        {.key = "statistic", .words = "its", .choices = statistics, .value = &test.statistic},
        {.key = "unit", .value = &test.unit},
        {.key = "min", .group = "limit", .words = "at least", .unit = rowUnit, .value = &test.limit.min},
        {.key = "max", .group = "limit", .words = "at most", .unit = rowUnit, .value = &test.limit.max},
        {.key = "clause", .words = "clause", .letters = 1000, .value = &test.clause},
        {.key = "condition", .words = "condition", .letters = 2000, .value = &test.condition},
    };
}

std::vector<Field> fieldsOf(PlanStep &step)
{
    return {
        {.key = "id", .words = "name", .always = true, .value = &step.id},
        {.key = "title", .words = "title", .always = true, .letters = 1000, .value = &step.title},
        {.key = "text", .letters = 20000, .value = &step.text},
        {.key = "picture", .words = "picture", .letters = 4000, .value = &step.picture},
        {.key = "state", .words = "device state", .letters = 1000, .value = &step.state},
        {.key = "setup", .words = "measured by", .always = true, .value = &step.setup},
        {.key = "captures", .value = EntryList(EntryKind::any, "capture", 100, step.captures)},
        {.key = "tests", .value = EntryList(EntryKind::any, "test", 1000, step.tests)},
    };
}

std::vector<Field> fieldsOf(Plan &plan)
{
    return {
        {.key = "id", .words = "name", .always = true, .value = &plan.id},
        {.key = "title", .words = "title", .always = true, .letters = 1000, .value = &plan.title},
        {.key = "revision", .words = "revision", .value = &plan.revision},
        {.key = "source", .words = "follows", .letters = 2000, .value = &plan.source},
        {.key = "steps", .value = EntryList(EntryKind::any, "step", 500, plan.steps)},
    };
}

namespace {

void needsId(const std::string &id, std::set<std::string> &taken, const std::string &where)
{
    if (!isId(id))
        throw Error(where + ".id", "\"" + id.substr(0, 100) + "\" is no id",
                    "use a small letter, then small letters, digits and _");
    if (!taken.insert(id).second) throw Error(where + ".id", "\"" + id + "\" is taken", "give each its own");
}

void checkSlot(const PlanSlot &slot, const Document &setup, const std::string &where)
{
    const CaptureWants &w = slot.wants;
    if (!findEntry(setup.captures, slot.capture()))
        throw Error(where, "the setup has no capture \"" + slot.capture() + "\"",
                    "name one of its captures by \"as\", or call the slot so");
    const auto needs = [&](bool there, const std::string &of, const char *key, const char *what, const auto &list) {
        if (!there) return;
        if (!findEntry(list, of))
            throw Error(where + ".wants." + key, "the setup has no " + std::string(what) + " \"" + of + "\"",
                        "name one of it");
    };
    needs(w.levelLeast || w.levelMost, w.levelOf, "level_of", "channel", setup.channels);
    needs(w.symbolRate.has_value(), w.rateOf, "rate_of", "clock", setup.clocks);
    needs(w.patternLength.has_value(), w.patternOf, "pattern_of", "clock", setup.clocks);
    if (w.symbolRate && !w.ppm)
        throw Error(where + ".wants.symbol_rate", "says not how far it may be off", "give \"ppm\" beside it");
    if (w.levelLeast && w.levelMost && *w.levelLeast > *w.levelMost)
        throw Error(where + ".wants.level_min", "lies above level_max", "exchange them");
}

void checkTest(const PlanTest &test, const Document &setup, const std::string &where)
{
    const MeasurementEntry *row = findEntry(setup.measurements, test.of);
    const bool ownVerdict =
        findEntry(setup.masks, test.of) || findEntry(setup.budgets, test.of) || findEntry(setup.phaseNoise, test.of);
    if (!row && !ownVerdict)
        throw Error(where + ".of", "the setup has no row, mask, budget or phase noise \"" + test.of + "\"",
                    "name one of it");
    if (row && !test.limit.isSet())
        throw Error(where + ".limit", "is missing", "give \"min\", \"max\" or both, in the row's unit");
    if (!row && test.limit.isSet())
        throw Error(where + ".limit", "\"" + test.of + "\" carries its own", "set it in the setup");
    if (test.limit.min && test.limit.max && *test.limit.min > *test.limit.max)
        throw Error(where + ".limit", "nothing can pass: min lies above max", "exchange them");
    const BudgetEntry *budget = findEntry(setup.budgets, test.of);
    const PhaseNoiseEntry *noise = findEntry(setup.phaseNoise, test.of);
    if ((budget && !budget->limit) || (noise && noise->limitLevels.empty()))
        throw Error(where + ".of", "\"" + test.of + "\" has no limit, so nothing is tested",
                    "give it one in the setup");
    if (row && !test.unit.empty()) {
        const Quantity *quantity = findQuantity(row->quantity);
        if (quantity && quantity->unit && test.unit != quantity->unit)
            throw Error(where + ".unit", "is not \"" + std::string(quantity->unit) + "\"",
                        "limits are in plain SI units");
    }
}

void check(const Plan &plan)
{
    Plan own = plan;
    checkFields(fieldsOf(own));
    if (!isId(plan.id)) throw Error("id", "\"" + plan.id.substr(0, 100) + "\" is no id", "as \"acceptance_c\"");
    if (plan.steps.empty()) throw Error("steps", "there is none", "a plan has one step or more");
    std::set<std::string> steps, slots;
    for (std::size_t i = 0; i < plan.steps.size(); ++i) {
        const PlanStep &step = plan.steps[i];
        const std::string where = "steps[" + std::to_string(i) + "]";
        needsId(step.id, steps, where);
        const PlanSetup *setup = findEntry(plan.setups, step.setup);
        if (!setup) throw Error(where + ".setup", "there is no setup \"" + step.setup + "\"", "name one of \"setups\"");
        if (step.captures.empty()) throw Error(where + ".captures", "there is none", "a step needs a capture");
        if (std::filesystem::path(step.picture).is_absolute() || step.picture.find("..") != std::string::npos)
            throw Error(where + ".picture", "lies elsewhere", "name a file beside the plan");
        std::set<std::string> filled, tests;
        for (std::size_t k = 0; k < step.captures.size(); ++k) {
            const std::string at = where + ".captures[" + std::to_string(k) + "]";
            needsId(step.captures[k].id, slots, at);
            checkSlot(step.captures[k], setup->document, at);
            if (!filled.insert(step.captures[k].capture()).second)
                throw Error(at + ".as", "is filled by two slots", "give each its own capture of the setup");
        }
        for (const CaptureEntry &capture : setup->document.captures)
            if (!filled.contains(capture.id))
                throw Error(where + ".captures", "the setup's capture \"" + capture.id + "\" has no slot", "add one");
        for (std::size_t k = 0; k < step.tests.size(); ++k) {
            const std::string at = where + ".tests[" + std::to_string(k) + "]";
            needsId(step.tests[k].id, tests, at);
            checkTest(step.tests[k], setup->document, at);
        }
    }
}

/// The setups of a plan, which are documents.
std::vector<PlanSetup> readSetups(JsonReader &in)
{
    std::vector<PlanSetup> setups;
    std::set<std::string> ids;
    if (!in.has("setups")) throw Error("setups", "is missing", "give the documents that steps are measured by");
    in.each("setups", [&](JsonReader &one) {
        PlanSetup setup;
        one.read("id", setup.id);
        needsId(setup.id, ids, one.where());
        if (!one.has("document")) throw Error(one.where("document"), "is missing", "give a project's members");
        Json document = one.raw("document");
        if (!document.is_object()) throw Error(one.where("document"), "is no object", "give a project's members");
        if (const auto captures = document.find("captures"); captures != document.end() && captures->is_array())
            for (Json &capture : *captures)
                if (capture.is_object() && !capture.contains("file")) capture["file"] = unfilledFile;
        setup.document = parseDocument(jsonText(document), one.where("document"));
        setups.push_back(std::move(setup));
    });
    return setups;
}

} // namespace

const PlanStep *Plan::stepOf(const std::string &slot) const
{
    for (const PlanStep &step : steps)
        if (findEntry(step.captures, slot)) return &step;
    return nullptr;
}

Plan parsePlan(const std::string &text, const std::string &name)
{
    const Json json = parseJson(text, name);
    try {
        JsonReader in(json, "");
        in.readVersion("fulvex_plan", "plans");
        Plan plan;
        plan.setups = readSetups(in);
        readFields(in, fieldsOf(plan));
        in.finish();
        check(plan);
        return plan;
    } catch (const Error &error) {
        throw error.within(name);
    }
}

std::string planText(const Plan &plan)
{
    Plan own = plan, standard;
    Json json = {{"fulvex_plan", 1}};
    json.update(fieldsJson(fieldsOf(own), fieldsOf(standard)));
    Json steps = json["steps"];
    json.erase("steps"); // they stand behind what they are measured by
    json["setups"] = Json::array();
    for (const PlanSetup &setup : plan.setups) {
        Json document = Json::parse(documentText(setup.document));
        for (Json &capture : document["captures"])
            if (capture["file"] == unfilledFile) capture.erase("file");
        json["setups"].push_back({{"id", setup.id}, {"document", std::move(document)}});
    }
    json["steps"] = std::move(steps);
    return jsonText(json) + "\n";
}

Plan loadPlan(const std::filesystem::path &file)
{
    return parsePlan(readTextFile(file), file.string());
}

} // namespace fulvex
