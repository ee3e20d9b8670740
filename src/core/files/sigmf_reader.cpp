#include "sigmf_reader.h"

#include "error.h"
#include "json_text.h"
#include "mapped_columns.h"
#include "stated_facts.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace fulvex {

namespace {

using Json = nlohmann::ordered_json;

constexpr std::size_t longestMeta = 64u << 20;

/// "ri16_le" and the like; gives whether they are complex.
bool takeType(const std::string &datatype, SampleLayout &layout, const std::string &where)
{
    const std::size_t underscore = datatype.find('_');
    const std::string type = datatype.substr(0, underscore);
    const std::string order = underscore == std::string::npos ? "" : datatype.substr(underscore + 1);
    const bool complex = type.starts_with('c');
    const auto known = type.size() > 1 ? sampleTypeOf(type.substr(1)) : std::nullopt;
    const bool one = known && sampleSize(*known) == 1;
    if ((!complex && !type.starts_with('r')) || !known || *known == SampleType::i24 ||
        (!one && order != "le" && order != "be"))
        throw Error(where, "\"" + datatype + "\" is not a type of samples", "write for example ri16_le or rf32_le");
    layout.type = *known;
    layout.swapped = !one && isSwapped(order == "be");
    return complex;
}

double numberOf(const Json &object, const char *key, double standard, const std::string &where)
{
    const auto found = object.find(key);
    if (found == object.end()) return standard;
    if (!found->is_number()) throw Error(where + ": " + key, "is not a number", "mend the metadata");
    return found->get<double>();
}

std::size_t bytesOf(const Json &object, const char *key, const std::string &where)
{
    const double value = numberOf(object, key, 0, where);
    if (!(value >= 0 && value < 9e15)) throw Error(where + ": " + key, "is not a number of bytes", "mend the metadata");
    return std::size_t(value);
}

/// From each one's first sample to that of the next.
std::vector<SampleRange> segmentsOf(const Json &captures, std::int64_t samples, const std::string &where)
{
    std::vector<SampleRange> segments;
    for (const Json &one : captures) {
        const double first = numberOf(one, "core:sample_start", 0, where);
        if (!(first >= 0 && first <= double(samples)) || (!segments.empty() && first < double(segments.back().first)))
            throw Error(where + ": captures: core:sample_start", "does not rise within the samples",
                        "mend the metadata");
        if (!segments.empty()) segments.back().last = std::int64_t(first);
        segments.push_back({std::int64_t(first), samples});
    }
    return segments;
}

Json parseMeta(const MappedFile &file)
{
    const std::string name = file.path().string();
    const auto bytes = file.bytes();
    if (bytes.size() > longestMeta) throw Error(name, "is too long for metadata", "keep samples in .sigmf-data");
    const std::string_view text(reinterpret_cast<const char *>(bytes.data()), bytes.size());
    Json meta = parseJson(text, name);
    if (!meta.is_object() || !meta.contains("global") || !meta["global"].is_object())
        throw Error(name, "has no \"global\" object", "it is not SigMF metadata");
    return meta;
}

} // namespace

bool looksLikeSigmf(std::span<const std::byte> head)
{
    const std::string_view text(reinterpret_cast<const char *>(head.data()), head.size());
    const std::size_t first = text.find_first_not_of(" \t\r\n");
    return first != std::string_view::npos && text[first] == '{' &&
           text.find("\"core:datatype\"") != std::string_view::npos;
}

std::vector<std::filesystem::path> sigmfFiles(const std::filesystem::path &path)
{
    std::vector files{path, path};
    files[0].replace_extension(".sigmf-meta");
    files[1].replace_extension(".sigmf-data");
    return files;
}

Capture readSigmf(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &)
{
    const auto paths = sigmfFiles(file->path());
    const bool given = file->path() == paths[1];
    const auto meta = given ? MappedFile::open(paths[0]) : file;
    const auto data = given ? file : MappedFile::open(paths[1]);
    const std::string where = meta->path().string();
    const Json json = parseMeta(*meta);
    const Json &global = json["global"];

    Capture capture;
    capture.sources = {meta, data};
    SampleLayout layout;
    const auto type = global.find("core:datatype");
    if (type == global.end() || !type->is_string())
        throw Error(where, "states no core:datatype", "add it to \"global\", for example \"ri16_le\"");
    const bool complex = takeType(type->get<std::string>(), layout, where + ": core:datatype");
    const double channels = numberOf(global, "core:num_channels", 1, where);
    if (!(channels >= 1 && channels <= 4096 && channels == std::floor(channels)))
        throw Error(where + ": core:num_channels", "is not within 1 … 4096", "mend the metadata");
    layout.channels = std::int64_t(channels) * (complex ? 2 : 1);
    checkColumns(std::size_t(layout.channels), where, "save fewer channels in one recording");
    if (const auto segments = json.find("captures"); segments != json.end() && segments->is_array()) {
        for (std::size_t i = 0; i < segments->size(); ++i) {
            const Json &segment = (*segments)[i];
            if (!segment.is_object()) throw Error(where + ": captures[" + std::to_string(i) + "]", "is not an object");
            const std::size_t header = bytesOf(segment, "core:header_bytes", where);
            if (i == 0) {
                layout.offset = header;
            } else if (header > 0) {
                throw Error(where + ": captures[" + std::to_string(i) + "]", "has header bytes amid the samples",
                            "save each segment as a recording of its own");
            } else if (!options.segment) {
                capture.remarks.push_back("segment " + std::to_string(i + 1) +
                                          " is taken to follow the one before without a gap");
            }
        }
    }
    const std::size_t trailing = bytesOf(global, "core:trailing_bytes", where), bytes = data->bytes().size();
    fillLayout(layout, bytes - std::min(bytes, trailing), data->path().string(), capture.remarks);
    capture.columns = mappedColumns(data, layout);
    for (std::size_t i = 0; complex && i < capture.columns.size(); ++i)
        capture.columns[i].name =
            (channels > 1 ? "[" + std::to_string(i / 2) + "] " : "") + (i % 2 ? "imaginary" : "real");
    capture.axis.count = layout.samples;
    if (const auto segments = json.find("captures");
        segments != json.end() && segments->is_array() && segments->size() > 1)
        capture.segments = segmentsOf(*segments, layout.samples, where);
    const double rate = numberOf(global, "core:sample_rate", 0, where);
    capture.intervalKnown = rate > 0;
    if (rate > 0) capture.axis.interval = 1 / rate;
    // Ours: interval (of which the rate is rounded) and start of the record, each channel's name, unit and scale;
    // docs/formats.md.
    const double interval = numberOf(global, "fulvex:sample_interval", 0, where);
    if (rate > 0 && std::abs(interval * rate - 1) < 1e-9) capture.axis.interval = interval;
    capture.axis.start = numberOf(global, "fulvex:start", 0, where);
    const auto state = [&](const std::string &key, const Json &value) {
        if (value.is_string()) addStated(capture.stated, key, value.get<std::string>());
        if (value.is_number()) addStated(capture.stated, key, value.dump());
    };
    for (const auto &[key, value] : global.items()) {
        for (const char *kept : {"core:hw", "core:author", "core:description", "core:recorder", "core:license",
                                 "core:collection", "core:dataset"})
            if (key == kept) state(key, value);
    }
    if (const auto segments = json.find("captures");
        segments != json.end() && segments->is_array() && !segments->empty())
        for (const char *key : {"core:datetime", "core:frequency"})
            if (const auto found = (*segments)[0].find(key); found != (*segments)[0].end()) state(key, *found);
    for (const auto &[key, member] : {std::pair("fulvex:names", &Waveform::name), {"fulvex:units", &Waveform::unit}}) {
        const auto list = global.find(key);
        if (list == global.end() || !list->is_array()) continue;
        for (std::size_t i = 0; i < std::min(list->size(), capture.columns.size()); ++i) {
            if ((*list)[i].is_string()) capture.columns[i].*member = (*list)[i].get<std::string>();
        }
    }
    for (const auto &[key, member] :
         {std::pair("fulvex:scales", &Waveform::scale), {"fulvex:offsets", &Waveform::offset}}) {
        const auto list = global.find(key);
        if (list == global.end() || !list->is_array()) continue;
        for (std::size_t i = 0; i < std::min(list->size(), capture.columns.size()); ++i) {
            if (!(*list)[i].is_number() || !std::isfinite((*list)[i].get<double>()))
                throw Error(where + ": " + key, "is not all numbers", "mend the metadata");
            capture.columns[i].*member = (*list)[i].get<double>();
        }
    }
    applyTimeOptions(capture, options);
    return capture;
}

} // namespace fulvex
