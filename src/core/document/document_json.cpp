#include "document_json.h"

#include "atomic_file.h"
#include "error.h"
#include "json_reader.h"
#include "json_writer.h"
#include "sheet_json.h"

#include <algorithm>

namespace fulvex {

using Json = nlohmann::ordered_json;

namespace {

std::variant<int, std::string> readColumn(JsonReader &in, const char *key)
{
    if (in.raw(key).is_string()) return in.raw(key).get<std::string>();
    int index = 0;
    in.read(key, index);
    return index;
}

std::optional<char> readCharacter(JsonReader &in, const char *key)
{
    std::optional<std::string> text;
    in.read(key, text);
    if (!text) return {};
    if (*text == "\\t") text = "\t";
    if (text->size() != 1) throw Error(in.where(key), "is not one character", "write \";\", \",\" or \"\\t\"");
    return text->front();
}

/// Members that this version only keeps, as JSON text; empty when there are none.
std::string keptJson(JsonReader &in, std::initializer_list<const char *> keys)
{
    Json kept = Json::object();
    for (const char *key : keys) {
        if (in.has(key)) kept[key] = in.raw(key);
    }
    return kept.empty() ? std::string() : jsonText(kept, -1);
}

ImportOptions readImport(JsonReader &in)
{
    ImportOptions options;
    in.read("format", options.format);
    in.read("sample_interval", options.sampleInterval);
    in.read("start", options.start);
    const auto keys = in.unread();
    if (std::find(keys.begin(), keys.end(), "time_column") != keys.end())
        options.timeColumn = in.has("time_column") ? std::optional(readColumn(in, "time_column")) : std::nullopt;
    options.separator = readCharacter(in, "separator");
    options.decimal = readCharacter(in, "decimal");
    if (in.has("dataset")) {
        const Json &given = in.raw("dataset");
        for (const Json &name : given.is_array() ? given : Json::array({given})) {
            if (!name.is_string())
                throw Error(in.where("dataset"), "is neither a name nor a list of names",
                            "write \"ch1\" or [\"ch1\", …]");
            options.datasets.push_back(name);
        }
    }
    std::optional<std::string> type, order;
    in.read("sample_type", type);
    if (type) {
        options.sampleType = sampleTypeOf(*type);
        if (!options.sampleType)
            throw Error(in.where("sample_type"), "\"" + *type + "\" is not a type of samples",
                        "write i8, u8, i16, u16, i24, i32, u32, i64, u64, f16, f32 or f64");
    }
    in.read("byte_order", order);
    if (order && *order != "little" && *order != "big")
        throw Error(in.where("byte_order"), "is \"" + *order + "\"", "write \"little\" or \"big\"");
    if (order) options.bigEndian = *order == "big";
    std::optional<int> header;
    in.read("header_bytes", header);
    options.headerBytes = header;
    if (header && *header < 0) throw Error(in.where("header_bytes"), "is below 0", "give the bytes before the samples");
    in.read("interleave", options.interleave);
    if (options.interleave && (*options.interleave < 1 || *options.interleave > 4096))
        throw Error(in.where("interleave"), "is not within 1 … 4096", "give the number of channels");
    return options;
}

void readCaptures(JsonReader &in, Document &document)
{
    in.each("captures", [&](JsonReader &item) {
        CaptureEntry entry;
        item.read("id", entry.id);
        item.read("file", entry.file);
        item.read("sha256", entry.sha256);
        std::optional<double> bytes;
        item.read("bytes", bytes);
        if (bytes && !(*bytes >= 0 && *bytes < 9e15))
            throw Error(item.where("bytes"), "is no number of bytes",
                        "leave it out: it is found when the project is saved");
        if (bytes) entry.bytes = std::int64_t(*bytes);
        if (item.has("import")) {
            JsonReader import(item.raw("import"), item.where("import"));
            entry.import = readImport(import);
            import.finish();
        }
        document.captures.push_back(entry);
    });
}

void readChannels(JsonReader &in, Document &document)
{
    in.each("channels", [&](JsonReader &item) {
        ChannelEntry entry;
        item.read("id", entry.id);
        item.read("capture", entry.capture);
        if (item.has("column")) entry.column = readColumn(item, "column");
        item.read("scale", entry.scale);
        item.read("offset", entry.offset);
        item.read("delay", entry.delay);
        item.read("formula", entry.formula);
        item.read("unit", entry.unit);
        item.read("label", entry.label);
        document.channels.push_back(entry);
    });
    in.each("parameters", [&](JsonReader &item) {
        ParameterEntry entry;
        item.read("id", entry.id);
        item.read("value", entry.value);
        item.read("min", entry.min);
        item.read("max", entry.max);
        item.read("unit", entry.unit);
        document.parameters.push_back(entry);
    });
    in.each("regions", [&](JsonReader &item) {
        RegionEntry entry;
        item.read("id", entry.id);
        item.read("start", entry.start);
        item.read("stop", entry.stop);
        document.regions.push_back(entry);
    });
}

void readLevelsAndClocks(JsonReader &in, Document &document)
{
    in.each("levels", [&](JsonReader &item) {
        LevelsEntry entry;
        entry.id.clear();
        item.read("id", entry.id);
        item.read("kind", entry.kind);
        item.read("low", entry.low);
        item.read("mid", entry.mid);
        item.read("high", entry.high);
        item.read("states", entry.states);
        item.read("state_low", entry.stateLow);
        item.read("state_high", entry.stateHigh);
        item.read("hysteresis", entry.hysteresis);
        document.levels.push_back(entry);
    });
    in.each("clocks", [&](JsonReader &item) {
        ClockEntry entry;
        item.read("id", entry.id);
        item.read("source", entry.source);
        item.read("method", entry.method);
        item.read("rate", entry.rate);
        item.read("order", entry.order);
        item.read("bandwidth", entry.bandwidth);
        item.read("damping", entry.damping);
        item.read("bandwidth_of", entry.bandwidthOf);
        item.read("from", entry.from);
        item.read("edges", entry.edges);
        item.read("multiply", entry.multiply);
        item.read("delay", entry.delay);
        item.read("modulation", entry.modulation);
        item.read("levels", entry.levels);
        item.read("interpolate", entry.interpolate);
        document.clocks.push_back(entry);
    });
}

void readMeasurements(JsonReader &in, Document &document)
{
    in.each("eyes", [&](JsonReader &item) {
        EyeEntry entry;
        item.read("id", entry.id);
        item.read("source", entry.source);
        item.read("clock", entry.clock);
        item.read("region", entry.region);
        item.read("interpolate", entry.interpolate);
        document.eyes.push_back(entry);
    });
    in.each("masks", [&](JsonReader &item) {
        MaskEntry entry;
        item.read("id", entry.id);
        item.read("eye", entry.eye);
        item.read("mask", entry.mask);
        item.read("margin", entry.margin);
        document.masks.push_back(entry);
    });
    in.each("measurements", [&](JsonReader &item) {
        MeasurementEntry entry;
        item.read("id", entry.id);
        item.read("quantity", entry.quantity);
        item.read("source", entry.source);
        if (item.has("to") && item.raw("to").is_number())
            item.read("to", entry.settings["to"]); // a frequency
        else
            item.read("to", entry.to);
        item.read("clock", entry.clock);
        item.read("eye", entry.eye);
        item.read("region", entry.region);
        item.read("levels", entry.levels);
        item.read("edge", entry.edge);
        item.read("to_edge", entry.toEdge);
        if (item.has("limit")) {
            JsonReader limit(item.raw("limit"), item.where("limit"));
            entry.limit.emplace();
            limit.read("min", entry.limit->min);
            limit.read("max", entry.limit->max);
            limit.finish();
        }
        for (const char *key : {"ber", "offset", "from", "opening", "gap", "band"}) {
            if (!item.has(key)) continue;
            item.read(key, entry.settings[key]);
        }
        entry.furtherJson = keptJson(item, {"of", "method", "lines"});
        document.measurements.push_back(entry);
    });
}

Json columnJson(const std::variant<int, std::string> &column)
{
    if (const int *index = std::get_if<int>(&column)) return *index;
    return std::get<std::string>(column);
}

Json importJson(const ImportOptions &options)
{
    JsonWriter out;
    out.put("format", options.format).put("sample_interval", options.sampleInterval).put("start", options.start);
    if (options.timeColumn) out.put("time_column", *options.timeColumn ? columnJson(**options.timeColumn) : Json());
    if (options.separator) out.put("separator", std::string(1, *options.separator));
    if (options.decimal) out.put("decimal", std::string(1, *options.decimal));
    if (options.datasets.size() == 1) out.put("dataset", options.datasets[0]);
    if (options.datasets.size() > 1) out.put("dataset", options.datasets);
    if (options.sampleType) out.put("sample_type", std::string(sampleTypeName(*options.sampleType)));
    if (options.bigEndian) out.put("byte_order", std::string(*options.bigEndian ? "big" : "little"));
    out.put("header_bytes", options.headerBytes).put("interleave", options.interleave);
    return out.take();
}

Json clockJson(const ClockEntry &e)
{
    const ClockEntry standard;
    JsonWriter out;
    out.put("id", e.id).put("source", e.source).put("method", e.method);
    out.put("rate", e.rate ? Json(*e.rate) : Json());
    if (e.method == "pll") {
        out.put("order", e.order).put("bandwidth", e.bandwidth).put("damping", e.damping);
        out.put("bandwidth_of", e.bandwidthOf, standard.bandwidthOf);
    }
    if (e.method == "explicit")
        out.put("from", e.from).put("edges", e.edges).put("multiply", e.multiply).put("delay", e.delay);
    return out.put("modulation", e.modulation, standard.modulation)
        .put("levels", e.levels, standard.levels)
        .put("interpolate", e.interpolate, standard.interpolate)
        .take();
}

Json measurementJson(const MeasurementEntry &e)
{
    JsonWriter out;
    out.put("id", e.id).put("quantity", e.quantity).text("source", e.source).text("to", e.to).text("clock", e.clock);
    out.text("eye", e.eye).text("region", e.region).put("levels", e.levels, std::string("default"));
    out.text("edge", e.edge).text("to_edge", e.toEdge);
    for (const auto &[key, value] : e.settings) out.put(key.c_str(), value);
    out.kept(e.furtherJson);
    if (e.limit)
        out.put("limit", Json{{"min", e.limit->min ? Json(*e.limit->min) : Json()},
                              {"max", e.limit->max ? Json(*e.limit->max) : Json()}});
    return out.take();
}

} // namespace

Document parseDocument(const std::string &text, const std::string &name)
{
    const Json json = parseJson(text, name);
    try {
        JsonReader in(json, "");
        int version = 0;
        in.read("fulvex", version);
        if (version != 1)
            throw Error("fulvex", in.has("fulvex") ? "is " + std::to_string(version) : "is missing",
                        "this version reads documents with \"fulvex\": 1");
        Document document;
        in.read("title", document.title);
        in.read("time_origin", document.timeOrigin);
        if (in.has("device")) {
            JsonReader device(in.raw("device"), "device");
            device.read("name", document.device.name);
            device.read("serial", document.device.serial);
            device.read("comment", document.device.comment);
            device.finish();
        }
        readCaptures(in, document);
        readChannels(in, document);
        readLevelsAndClocks(in, document);
        readMeasurements(in, document);
        readSheets(in, document);
        in.finish();
        nameTiles(document);
        validate(document);
        return document;
    } catch (const Error &error) {
        throw error.within(name);
    }
}

ImportOptions parseImport(const std::string &json)
{
    const Json parsed = parseJson(json, "import");
    JsonReader in(parsed, "import");
    ImportOptions options = readImport(in);
    in.finish();
    return options;
}

std::string importText(const ImportOptions &options)
{
    return jsonText(importJson(options), -1);
}

std::string documentText(const Document &document)
{
    Json json = JsonWriter().put("fulvex", 1).put("title", document.title).take();
    if (!(document.device == DeviceEntry{}))
        json["device"] = JsonWriter()
                             .text("name", document.device.name)
                             .text("serial", document.device.serial)
                             .text("comment", document.device.comment)
                             .take();
    if (document.timeOrigin != 0) json["time_origin"] = document.timeOrigin;
    putList(json, "captures", document.captures, [](const CaptureEntry &e) {
        JsonWriter out;
        out.put("id", e.id).put("file", e.file).text("sha256", e.sha256).put("bytes", e.bytes);
        if (!(e.import == ImportOptions{})) out.put("import", importJson(e.import));
        return out.take();
    });
    putList(json, "channels", document.channels, [](const ChannelEntry &e) {
        JsonWriter out;
        out.put("id", e.id);
        if (e.formula.empty())
            out.put("capture", e.capture)
                .put("column", columnJson(e.column))
                .put("scale", e.scale, 1.0)
                .put("offset", e.offset, 0.0)
                .put("delay", e.delay, 0.0);
        else
            out.put("formula", e.formula);
        return out.text("unit", e.unit).text("label", e.label).take();
    });
    putList(json, "parameters", document.parameters, [](const ParameterEntry &e) {
        return JsonWriter()
            .put("id", e.id)
            .put("value", e.value)
            .put("min", e.min)
            .put("max", e.max)
            .text("unit", e.unit)
            .take();
    });
    putList(json, "regions", document.regions, [](const RegionEntry &e) {
        return JsonWriter().put("id", e.id).put("start", e.start).put("stop", e.stop).take();
    });
    putList(json, "levels", document.levels, [](const LevelsEntry &e) {
        return JsonWriter()
            .put("id", e.id)
            .put("kind", e.kind)
            .put("low", e.low)
            .put("mid", e.mid)
            .put("high", e.high)
            .put("states", e.states)
            .put("state_low", e.stateLow)
            .put("state_high", e.stateHigh)
            .put("hysteresis", e.hysteresis)
            .take();
    });
    putList(json, "clocks", document.clocks, clockJson);
    putList(json, "eyes", document.eyes, [](const EyeEntry &e) {
        return JsonWriter()
            .put("id", e.id)
            .put("source", e.source)
            .put("clock", e.clock)
            .text("region", e.region)
            .put("interpolate", e.interpolate, std::string("auto"))
            .take();
    });
    putList(json, "masks", document.masks, [](const MaskEntry &e) {
        return JsonWriter().put("id", e.id).put("eye", e.eye).put("mask", e.mask).put("margin", e.margin).take();
    });
    putList(json, "measurements", document.measurements, measurementJson);
    putSheets(json, document);
    return jsonText(json) + "\n";
}

Document loadDocument(const std::filesystem::path &path)
{
    return parseDocument(readTextFile(path), path.string());
}

void saveDocument(const Document &document, const std::filesystem::path &path)
{
    writeFileAtomically(path, documentText(document));
}

} // namespace fulvex
