#include "json_reader.h"

#include "error.h"
#include "nearest_name.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace fulvex {

JsonReader::JsonReader(const nlohmann::ordered_json &object, std::string path)
    : m_object(object), m_path(std::move(path))
{
    if (!object.is_object())
        throw Error(m_path, std::string("is ") + object.type_name() + " where an object belongs", "write {…}");
}

std::string JsonReader::where(const std::string &key) const
{
    if (key.empty()) return m_path;
    return m_path.empty() ? key : m_path + "." + key;
}

bool JsonReader::has(const char *key)
{
    m_read.insert(key);
    const auto found = m_object.find(key);
    return found != m_object.end() && !found->is_null();
}

bool JsonReader::mentions(const char *key)
{
    m_read.insert(key);
    return m_object.contains(key);
}

const nlohmann::ordered_json &JsonReader::raw(const char *key)
{
    m_read.insert(key);
    return m_object.at(key);
}

const nlohmann::ordered_json &JsonReader::array(const char *key)
{
    const auto &value = raw(key);
    if (!value.is_array())
        throw Error(where(key), std::string("is ") + value.type_name() + " where a list belongs", "write […]");
    return value;
}

void JsonReader::each(const char *key, const std::function<void(JsonReader &)> &use)
{
    if (!has(key)) return;
    const auto &list = array(key);
    for (std::size_t i = 0; i < list.size(); ++i) {
        JsonReader item(list[i], where(key) + "[" + std::to_string(i) + "]");
        use(item);
        item.finish();
    }
}

void JsonReader::read(const char *key, std::string &value)
{
    if (!has(key)) return;
    if (!raw(key).is_string())
        throw Error(where(key), std::string("is ") + raw(key).type_name() + " where a text belongs",
                    "put it in quotes");
    value = raw(key).get<std::string>();
}

void JsonReader::read(const char *key, double &value)
{
    if (!has(key)) return;
    if (!raw(key).is_number())
        throw Error(where(key), std::string("is ") + raw(key).type_name() + " where a number belongs",
                    "write a plain SI number");
    value = raw(key).get<double>();
    if (!std::isfinite(value)) throw Error(where(key), "is too large a number", "write a plain SI number");
}

void JsonReader::read(const char *key, int &value)
{
    if (!has(key)) return;
    double number = 0;
    read(key, number);
    if (number != std::floor(number) || std::abs(number) > 1e9)
        throw Error(where(key), "is no whole number", "write one");
    value = int(number);
}

void JsonReader::read(const char *key, bool &value)
{
    if (!has(key)) return;
    if (!raw(key).is_boolean())
        throw Error(where(key), std::string("is ") + raw(key).type_name() + " where true or false belongs",
                    "write one of them");
    value = raw(key).get<bool>();
}

std::vector<std::string> JsonReader::unread() const
{
    std::vector<std::string> keys;
    for (const auto &[key, value] : m_object.items()) {
        if (!m_read.contains(key)) keys.push_back(key);
    }
    return keys;
}

void JsonReader::readVersion(const char *key, const std::string &what)
{
    int version = 0;
    read(key, version);
    if (version == 1) return;
    if (version > 1)
        throw Error(where(key), "is " + std::to_string(version) + ", of a newer version of Fulvex",
                    "open it with that one; it is left as it is (this version reads " + what + " with \"" + key +
                        "\": 1)");
    throw Error(where(key), has(key) ? "is " + std::to_string(version) : "is missing",
                "this version reads " + what + " with \"" + key + "\": 1");
}

void JsonReader::finish() const
{
    const std::vector<std::string> keys = unread();
    if (keys.empty()) return;
    throw Error(where(keys[0]), "is not a key that belongs here",
                remedyForName(keys[0], std::vector<std::string>(m_read.begin(), m_read.end())));
}

} // namespace fulvex
