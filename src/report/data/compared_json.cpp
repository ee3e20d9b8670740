#include "compared_json.h"

#include "document_json.h"
#include "error.h"
#include "fulvex_version.h"
#include "json_text.h"
#include "quantity_table.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace fulvex {

using Json = nlohmann::ordered_json;

namespace {

/// A number that may be missing or of another type.
std::optional<double> numberOf(const Json &object, const char *key)
{
    const auto member = object.find(key);
    if (member == object.end() || !member->is_number()) return std::nullopt;
    const double value = member->get<double>();
    return std::isfinite(value) ? std::optional(value) : std::nullopt;
}

Verdict verdictOf(const Json &object)
{
    for (const Verdict verdict : {Verdict::pass, Verdict::fail})
        if (textMember(object, "verdict") == verdictName(verdict)) return verdict;
    return Verdict::none;
}

template <typename Use>
void forEach(const Json &json, const char *key, Use &&use)
{
    const auto list = json.find(key);
    if (list == json.end() || !list->is_array()) return;
    for (const Json &one : *list)
        if (one.is_object() && !textMember(one, "id").empty()) use(one);
}

Json sideJson(const ComparedNumber &one)
{
    return {{"id", one.id},
            {"value", numberOrNull(one.value)},
            {"uncertainty", numberOrNull(one.uncertainty)},
            {"reason", one.reason},
            {"verdict", verdictName(one.verdict)}};
}

const char *wordOf(ComparedNumber::Part part)
{
    using Part = ComparedNumber::Part;
    switch (part) {
    case Part::spread:
        return "std";
    case Part::total:
        return "total";
    case Part::random:
        return "random";
    case Part::whole:
        break;
    }
    return "";
}

Json pairJson(const Comparison::Pair &pair)
{
    return {{"id", pair.first.id},
            {"part", wordOf(pair.first.part)},
            {"quantity", pair.first.quantity},
            {"unit", pair.first.unit},
            {"a", sideJson(pair.first)},
            {"b", sideJson(pair.second)},
            {"difference", numberOrNull(pair.difference)},
            {"uncertainty", numberOrNull(pair.uncertainty)},
            {"in_uncertainties", numberOrNull(pair.times)},
            {"differs", pair.differs()},
            {"set_differently", pair.setDifferently}};
}

} // namespace

bool isResultsJson(const std::string &text)
{
    const std::size_t first = text.find_first_not_of(" \t\r\n");
    if (first == std::string::npos || text[first] != '{') return false;
    try {
        const Json json = parseJson(text, {});
        return json.contains("measurements") && !textMember(json, "fulvex").empty(); // of a document a number
    } catch (const Error &) {
        return false; // whoever reads it as something else says what is wrong
    }
}

ComparedResult comparedOfJson(const std::string &text, const std::string &name)
{
    const Json json = parseJson(text, name);
    if (!json.is_object() || textMember(json, "fulvex").empty() || !json.contains("measurements"))
        throw Error(name, "is no results.json, or not a whole one", "make it anew with fulvex-batch run --out");
    using Part = ComparedNumber::Part;
    ComparedResult result{name, textMember(json, "fulvex"), nullptr, {}, {}};
    if (const auto document = json.find("document"); document != json.end())
        result.document = std::make_shared<const Document>(parseDocument(document->dump(), name + ": document"));
    forEach(json, "captures", [&](const Json &one) {
        result.captures.push_back({textMember(one, "id"), textMember(one, "file"), textMember(one, "sha256")});
    });
    const auto take = [&](const Json &one, EntryKind kind, const char *quantity, const char *unit, Part part,
                          const char *value, const char *uncertainty) -> ComparedNumber & {
        const std::string id = textMember(one, "id");
        result.numbers.push_back({kind, id, quantity, id, unit, textMember(one, "reason"), part, numberOf(one, value),
                                  numberOf(one, uncertainty), verdictOf(one)});
        return result.numbers.back();
    };
    forEach(json, "measurements", [&](const Json &one) {
        ComparedNumber &row = take(one, EntryKind::measurement, "", "", Part::whole, "mean", "uncertainty");
        row.quantity = textMember(one, "quantity");
        row.unit = textMember(one, "unit");
        const Quantity *quantity = findQuantity(row.quantity);
        row.title = quantity ? quantity->title : row.quantity;
        const auto count = numberOf(one, "count"), std = numberOf(one, "std");
        if (!row.value || !std || !count || *count < 2) return;
        const auto parts = one.find("uncertainty_parts");
        const bool known = parts != one.end() && parts->is_object();
        const ComparedNumber spread = spreadOf(row, std::int64_t(std::min(*count, 1e18)), *std,
                                               known ? numberOf(*parts, "scatter") : std::nullopt);
        result.numbers.push_back(spread);
    });
    forEach(json, "masks",
            [&](const Json &one) { take(one, EntryKind::mask, "mask", "", Part::whole, "failed_unit_intervals", ""); });
    forEach(json, "budgets", [&](const Json &one) {
        take(one, EntryKind::budget, "budget", "s", Part::total, "total", "uncertainty");
        if (!numberOf(one, "random")) return;
        take(one, EntryKind::budget, "budget", "s", Part::random, "random", "random_uncertainty").verdict =
            Verdict::none;
    });
    forEach(json, "phase_noise", [&](const Json &one) {
        take(one, EntryKind::phaseNoise, "phase_noise", "s", Part::whole, "jitter", "uncertainty");
    });
    return result;
}

std::string comparisonJson(const Comparison &comparison)
{
    Json json{{"fulvex_comparison", 1},
              {"fulvex", fulvexVersion},
              {"a", {{"name", comparison.firstName}, {"version", comparison.firstVersion}}},
              {"b", {{"name", comparison.secondName}, {"version", comparison.secondVersion}}},
              {"summary", summaryOf(comparison)},
              {"settings_known", comparison.settingsKnown}};
    json["settings"] = Json::array();
    for (const SettingDifference &one : comparison.settings)
        json["settings"].push_back({{"of", one.of},
                                    {"key", one.key},
                                    {"setting", one.setting},
                                    {"a", one.first},
                                    {"b", one.second},
                                    {"moves", comparison.movedBy(one)},
                                    {"behind", one.rows}});
    json["other_captures"] = comparison.otherCaptures;
    json["only_in_a"] = comparison.onlyFirst;
    json["only_in_b"] = comparison.onlySecond;
    constexpr std::pair<EntryKind, const char *> lists[] = {{EntryKind::measurement, "measurements"},
                                                            {EntryKind::mask, "masks"},
                                                            {EntryKind::budget, "budgets"},
                                                            {EntryKind::phaseNoise, "phase_noise"}};
    for (const auto &[kind, key] : lists) {
        json[key] = Json::array();
        for (const Comparison::Pair &pair : comparison.pairs)
            if (pair.first.kind == kind) json[key].push_back(pairJson(pair));
    }
    return jsonText(json) + "\n";
}

} // namespace fulvex
