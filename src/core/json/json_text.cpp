#include "json_text.h"

#include "error.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <nlohmann/json.hpp>

namespace fulvex {

using Json = nlohmann::ordered_json;

Json parseJson(std::string_view text, const std::string &where)
{
    const auto lineAt = [&](std::size_t byte) {
        const auto before = text.substr(0, std::min(byte, text.size()));
        return where + ": line " + std::to_string(1 + std::count(before.begin(), before.end(), '\n'));
    };
    std::array<int, deepestJson + 2> keys{}; // seen so far in the object of each depth
    try {
        return Json::parse(text, [&](int depth, Json::parse_event_t event, Json &) {
            if (depth > deepestJson)
                throw Error(where, "is nested more than " + std::to_string(deepestJson) + " levels deep",
                            "nothing that is read here is: it was not made for this program");
            const auto level = std::size_t(depth) + 1;
            if (event == Json::parse_event_t::object_start) keys[std::min(level, keys.size() - 1)] = 0;
            if (event == Json::parse_event_t::key && ++keys[std::size_t(depth)] > mostKeys)
                throw Error(where, "holds an object of more than " + std::to_string(mostKeys) + " members",
                            "nothing that is read here does: it was not made for this program");
            return true;
        });
    } catch (const Json::parse_error &error) {
        throw Error(lineAt(error.byte), "is not valid JSON",
                    "mend it there; the last thing read is before byte " + std::to_string(error.byte));
    } catch (const Json::exception &) {
        throw Error(where, "holds a number that is too large", "write a plain SI number");
    }
}

std::string textMember(const Json &object, const char *key)
{
    if (!object.is_object()) return {};
    const auto member = object.find(key);
    return member != object.end() && member->is_string() ? member->get<std::string>() : std::string();
}

std::string requiredText(const Json &object, const char *key, const std::string &where)
{
    if (!object.contains(key) || !object[key].is_string())
        throw Error(where, std::string("\"") + key + "\" is missing or no text",
                    std::string("add \"") + key + "\": \"…\"");
    return object[key];
}

Json numberOrNull(const std::optional<double> &value)
{
    return value && std::isfinite(*value) ? Json(*value) : Json();
}

std::string jsonText(const Json &json, int indent)
{
    return json.dump(indent, ' ', false, Json::error_handler_t::replace);
}

} // namespace fulvex
