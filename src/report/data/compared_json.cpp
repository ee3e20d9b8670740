#include "compared_json.h"

#include "document_json.h"
#include "error.h"
#include "fulvex_version.h"
#include "json_text.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace fulvex {

using Json = nlohmann::ordered_json;

namespace {

/// Members that may be missing or of another type, in files that this program did not write: those of an old or a
/// damaged one are not there.
std::string textOf(const Json &object, const char *key)
{
    const auto member = object.find(key);
    return member != object.end() && member->is_string() ? member->get<std::string>() : std::string();
}

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
        if (textOf(object, "verdict") == verdictName(verdict)) return verdict;
    return Verdict::none;
}

template <typename Use>
void forEach(const Json &json, const char *key, Use &&use)
{
    const auto list = json.find(key);
    if (list == json.end() || !list->is_array()) return;
    for (const Json &one : *list)
        if (one.is_object() && !textOf(one, "id").empty()) use(one);
}

Json number(const std::optional<double> &value)
{
    return value ? Json(*value) : Json();
}

Json sideJson(const ComparedNumber &one)
{
    return {{"id", one.id},
            {"value", number(one.value)},
            {"uncertainty", number(one.uncertainty)},
            {"reason", one.reason},
            {"verdict", verdictName(one.verdict)}};
}

Json pairJson(const Comparison::Pair &pair)
{
    return {{"id", pair.first.id},
            {"quantity", pair.first.quantity},
            {"unit", pair.first.unit},
            {"a", sideJson(pair.first)},
            {"b", sideJson(pair.second)},
            {"difference", number(pair.difference)},
            {"uncertainty", number(pair.uncertainty)},
            {"in_uncertainties", number(pair.times)},
            {"differs", pair.differs()},
            {"set_differently", pair.setDifferently}};
}

} // namespace

bool isResultsJson(const std::string &text)
{
    const std::size_t first = text.find_first_not_of(" \t\r\n");
    if (first == std::string::npos || text[first] != '{') return false;
    const Json json = Json::parse(text, nullptr, false);
    return json.is_object() && json.contains("measurements") &&
           !textOf(json, "fulvex").empty(); // of a document a number
}

ComparedResult comparedOfJson(const std::string &text, const std::string &name)
{
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object() || textOf(json, "fulvex").empty() || !json.contains("measurements"))
        throw Error(name, "is no results.json, or not a whole one", "make it anew with fulvex-batch run --out");
    ComparedResult result{name, textOf(json, "fulvex"), nullptr, {}, {}, {}};
    if (const auto document = json.find("document"); document != json.end())
        result.document = std::make_shared<const Document>(parseDocument(document->dump(), name + ": document"));
    forEach(json, "captures", [&](const Json &one) {
        result.captures.push_back({textOf(one, "id"), textOf(one, "file"), textOf(one, "sha256")});
    });
    forEach(json, "measurements", [&](const Json &one) {
        const std::string quantity = textOf(one, "quantity");
        result.rows.push_back({textOf(one, "id"), quantity, textOf(one, "title"), textOf(one, "unit"),
                               textOf(one, "reason"), numberOf(one, "mean"), numberOf(one, "uncertainty"),
                               verdictOf(one)});
        if (result.rows.back().title.empty()) result.rows.back().title = quantity;
    });
    forEach(json, "masks", [&](const Json &one) {
        const std::string id = textOf(one, "id");
        result.masks.push_back(
            {id, "mask", id, "", textOf(one, "reason"), numberOf(one, "failed_unit_intervals"), {}, verdictOf(one)});
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
    json["measurements"] = Json::array();
    for (const Comparison::Pair &pair : comparison.rows) json["measurements"].push_back(pairJson(pair));
    json["masks"] = Json::array();
    for (const Comparison::Pair &pair : comparison.masks) json["masks"].push_back(pairJson(pair));
    return jsonText(json) + "\n";
}

} // namespace fulvex
