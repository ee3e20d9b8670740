#pragma once

#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>

namespace fulvex {

/// JSON from outside: as deep as anything of ours is, and not deeper, since copying and writing it goes level by level
/// on the stack, and objects as large as anything of ours, since their members are searched one by one. Throws Error
/// with `where` and the line: no valid JSON, nested too deeply, too many members, a number out of range.
nlohmann::ordered_json parseJson(std::string_view text, const std::string &where);
constexpr int deepestJson = 64, mostKeys = 10000;

/// As text, with replacement signs where a name from outside is no valid UTF-8. `indent` below 0: in one line.
std::string jsonText(const nlohmann::ordered_json &json, int indent = 2);

/// A text among an object's members; nothing where it is missing or of another type, as in files that this program did
/// not write.
std::string textMember(const nlohmann::ordered_json &object, const char *key);
/// A text that has to be among an object's members; throws Error with `where` for one that is missing or of another
/// type.
std::string requiredText(const nlohmann::ordered_json &object, const char *key, const std::string &where);
/// A number, or null where there is none, or none that JSON can hold.
nlohmann::ordered_json numberOrNull(const std::optional<double> &value);

} // namespace fulvex
