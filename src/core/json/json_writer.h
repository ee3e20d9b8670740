#pragma once

#include "json_text.h"

#include <optional>
#include <string>
#include <vector>

namespace fulvex {

/// Writes members that differ from the default, so that a project stays readable.
class JsonWriter {
public:
    template <typename T>
    JsonWriter &put(const char *key, const T &value)
    {
        m_json[key] = value;
        return *this;
    }
    template <typename T>
    JsonWriter &put(const char *key, const T &value, const T &standard)
    {
        if (!(value == standard)) m_json[key] = value;
        return *this;
    }
    template <typename T>
    JsonWriter &put(const char *key, const std::optional<T> &value)
    {
        if (value) m_json[key] = *value;
        return *this;
    }
    JsonWriter &text(const char *key, const std::string &value)
    {
        if (!value.empty()) m_json[key] = value;
        return *this;
    }
    JsonWriter &kept(const std::string &json)
    {
        if (!json.empty()) m_json.update(parseJson(json, "kept"));
        return *this;
    }
    nlohmann::ordered_json take() { return std::move(m_json); }

private:
    nlohmann::ordered_json m_json = nlohmann::ordered_json::object();
};

template <typename Entry, typename Make>
void putList(nlohmann::ordered_json &json, const char *key, const std::vector<Entry> &entries, Make &&make)
{
    if (entries.empty()) return;
    json[key] = nlohmann::ordered_json::array();
    for (const Entry &entry : entries) json[key].push_back(make(entry));
}

} // namespace fulvex
