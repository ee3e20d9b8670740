#pragma once

#include <functional>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace fulvex {

/// Reads one JSON object's members with their path in every message, and at the end refuses what nobody asked for.
class JsonReader {
public:
    JsonReader(const nlohmann::ordered_json &object, std::string path);

    bool has(const char *key);      ///< present and not null
    bool mentions(const char *key); ///< present, if only as null
    std::string where(const std::string &key = {}) const;
    const nlohmann::ordered_json &raw(const char *key);

    void read(const char *key, std::string &value);
    void read(const char *key, double &value);
    void read(const char *key, int &value);
    void read(const char *key, bool &value);
    template <typename T>
    void read(const char *key, std::optional<T> &value)
    {
        if (!has(key)) return;
        T one{};
        read(key, one);
        value = std::move(one);
    }
    /// The member that says which version a file of ours is of, which has to be 1; `what`: such files, in words. Throws
    /// Error: a newer one is left as it is.
    void readVersion(const char *key, const std::string &what);
    /// For each object of an array member.
    void each(const char *key, const std::function<void(JsonReader &)> &use);
    /// Throws Error for a key that was never asked for, with the nearest known one.
    void finish() const;

private:
    std::vector<std::string> unread() const; ///< keys that nobody has asked for yet
    const nlohmann::ordered_json &array(const char *key);
    const nlohmann::ordered_json &m_object;
    std::string m_path;
    std::set<std::string> m_read;
};

} // namespace fulvex
