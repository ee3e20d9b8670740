#include "dialect.h"

#include "atomic_file.h"
#include "error.h"
#include "json_reader.h"
#include "json_text.h"
#include "shipped_names.h"
#include "word_list.h"

#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>

namespace fulvex {

namespace {

using Json = nlohmann::ordered_json;
constexpr const char *dialectEnding = ".dialect.json";
constexpr std::array fieldNames{"samples", "sample_interval", "start", "scale", "offset", "skip"};
constexpr std::size_t mostLines = 100, mostChannels = 64, longestLine = 1000;

std::vector<std::string> linesOf(JsonReader &in, const char *key)
{
    std::vector<std::string> lines;
    if (!in.has(key)) return lines;
    const Json &given = in.raw(key);
    const bool fits = given.is_array() && given.size() <= mostLines &&
                      std::all_of(given.begin(), given.end(), [](const Json &one) { return one.is_string(); });
    if (!fits) throw Error(in.where(key), "is no list of lines", "write [\"line\", …]");
    for (const Json &one : given) lines.push_back(one.get<std::string>());
    return lines;
}

/// What is sent is one line.
void check(const std::string &line, const std::string &where)
{
    if (line.size() > longestLine || line.find_first_of("\r\n") != std::string::npos ||
        line.find('\0') != std::string::npos)
        throw Error(where, "is not one line", "give each line by itself");
}

} // namespace

Dialect parseDialect(const std::string &text, const std::string &where)
{
    const Json json = parseJson(text, where);
    try {
        JsonReader in(json, "");
        in.readVersion("fulvex_dialect", "dialects");
        Dialect dialect;
        in.read("id", dialect.id);
        in.read("title", dialect.title);
        in.read("identity", dialect.identity);
        in.read("done", dialect.done);
        in.read("error", dialect.error);
        in.read("read", dialect.read);
        in.read("unit", dialect.unit);
        in.read("time_out", dialect.patience);
        std::string type = "i16", order = "little";
        in.read("samples", type);
        in.read("byte_order", order);
        dialect.begin = linesOf(in, "begin");
        dialect.acquire = linesOf(in, "acquire");
        dialect.abort = linesOf(in, "abort");
        dialect.channels = linesOf(in, "channels");
        in.each("describe", [&](JsonReader &item) {
            Dialect::Description one;
            item.read("ask", one.ask);
            one.fields = linesOf(item, "fields");
            check(one.ask, item.where("ask"));
            for (const std::string &field : one.fields)
                if (std::find(fieldNames.begin(), fieldNames.end(), field) == fieldNames.end())
                    throw Error(item.where("fields"), "\"" + field + "\" is not known",
                                "use samples, sample_interval, start, scale, offset or skip");
            dialect.describe.push_back(std::move(one));
        });
        in.finish();
        const auto known = sampleTypeOf(type);
        if (!known) throw Error("samples", "\"" + type + "\" is no type of samples", "write for example i16");
        dialect.samples = *known;
        if (order != "little" && order != "big") throw Error("byte_order", "is not known", "use little or big");
        dialect.bigEndian = order == "big";
        if (dialect.channels.empty() || dialect.channels.size() > mostChannels)
            throw Error("channels", "names none, or too many", "name 1 to 64, as {channel} is to be replaced");
        if (dialect.read.empty()) throw Error("read", "is missing", "say how a channel's samples are asked for");
        constexpr int least = 10, most = 600000;
        if (dialect.patience < least || dialect.patience > most)
            throw Error("time_out", "is not within 10 … 600000", "give ms");
        for (const auto *lines : {&dialect.begin, &dialect.acquire, &dialect.abort})
            for (const std::string &line : *lines) check(line, "begin, acquire, abort");
        for (const std::string *line : {&dialect.identity, &dialect.done, &dialect.error, &dialect.read})
            check(*line, "identity, done, error, read");
        return dialect;
    } catch (const Error &error) {
        throw error.within(where);
    }
}

Dialect findDialect(const std::string &idOrFile, const std::filesystem::path &shipped,
                    const std::filesystem::path &base)
{
    const bool file = idOrFile.find('/') != std::string::npos || idOrFile.ends_with(".json");
    const std::filesystem::path path = file ? base / idOrFile : shipped / (idOrFile + dialectEnding);
    std::error_code failure;
    if (!file && !std::filesystem::exists(path, failure))
        throw Error("dialect \"" + idOrFile + "\"", "is none of those that are shipped",
                    "use " + listed(shippedDialects(shipped)) + ", or a file");
    return parseDialect(readTextFile(path), path.string());
}

std::vector<std::string> shippedDialects(const std::filesystem::path &shipped)
{
    return shippedNames(shipped, dialectEnding);
}

} // namespace fulvex
