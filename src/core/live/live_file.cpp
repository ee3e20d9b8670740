#include "live_file.h"

#include "atomic_file.h"
#include "json_text.h"

#include <algorithm>
#include <charconv>
#include <cstring>
#include <nlohmann/json.hpp>

namespace fulvex {

namespace {

constexpr const char *beginning = "live-", *ending = ".sigmf-meta";
constexpr int digits = 6;

/// Samples of all channels one after the other, as they were sent.
void interleave(const LiveRecord &record, std::size_t size, std::size_t first, std::size_t count, std::string &out)
{
    const std::size_t channels = record.channels.size();
    out.resize(count * channels * size);
    for (std::size_t c = 0; c < channels; ++c) {
        const std::byte *from = record.channels[c].bytes.data() + first * size;
        if (size == 2) { // by far the most, and quickly copied
            for (std::size_t i = 0; i < count; ++i) {
                std::uint16_t sample;
                std::memcpy(&sample, from + 2 * i, 2);
                std::memcpy(out.data() + 2 * (i * channels + c), &sample, 2);
            }
        } else {
            for (std::size_t i = 0; i < count; ++i)
                std::memcpy(out.data() + size * (i * channels + c), from + size * i, size);
        }
    }
}

} // namespace

void writeLive(const std::filesystem::path &meta, const LiveRecord &record)
{
    using Json = nlohmann::ordered_json;
    std::filesystem::path dataPath = meta;
    dataPath.replace_extension(".sigmf-data");
    const std::size_t size = sampleSize(record.type);
    std::string type = "r" + std::string(sampleTypeName(record.type));
    if (size > 1) type += record.bigEndian ? "_be" : "_le";
    Json names = Json::array(), units = Json::array(), scales = Json::array(), offsets = Json::array();
    for (const LiveRecord::Channel &channel : record.channels) {
        names.push_back(channel.name);
        units.push_back(record.unit);
        scales.push_back(channel.scale);
        offsets.push_back(channel.offset);
    }
    Json global{{"core:datatype", type},
                {"core:version", "1.0.0"},
                {"core:num_channels", record.channels.size()},
                {"core:hw", record.identity},
                {"core:recorder", "Fulvex"}};
    if (record.interval > 0) {
        global["core:sample_rate"] = 1 / record.interval;
        global["fulvex:sample_interval"] = record.interval;
    }
    global["fulvex:start"] = record.start;
    global["fulvex:names"] = names;
    global["fulvex:units"] = units;
    global["fulvex:scales"] = scales;
    global["fulvex:offsets"] = offsets;
    const Json all{
        {"global", global}, {"captures", Json::array({{{"core:sample_start", 0}}})}, {"annotations", Json::array()}};
    AtomicFile data(dataPath, AtomicFile::Kept::cached), file(meta, AtomicFile::Kept::cached);
    std::string block;
    constexpr std::size_t blockSamples = 1 << 16;
    const auto samples = std::size_t(record.samples());
    for (std::size_t at = 0; at < samples; at += blockSamples) {
        interleave(record, size, at, std::min(blockSamples, samples - at), block);
        data.write(block);
    }
    file.write(jsonText(all) + "\n");
    data.commit();
    file.commit();
}

std::filesystem::path liveFile(const std::filesystem::path &folder, std::size_t number)
{
    std::string text = std::to_string(number);
    text.insert(0, std::size_t(std::max(0, digits - int(text.size()))), '0');
    return folder / (beginning + text + ending);
}

std::size_t nextLiveNumber(const std::filesystem::path &folder)
{
    std::size_t next = 1;
    std::error_code failure;
    for (std::filesystem::directory_iterator one(folder, failure), end; !failure && one != end;
         one.increment(failure)) {
        const std::string name = one->path().stem();
        std::size_t number = 0;
        if (!name.starts_with(beginning)) continue;
        const char *first = name.data() + std::string_view(beginning).size(), *last = name.data() + name.size();
        if (std::from_chars(first, last, number).ptr == last) next = std::max(next, number + 1);
    }
    return next;
}

std::string livePattern(const std::string &folder)
{
    return (std::filesystem::path(folder) / (std::string(beginning) + "*" + ending)).string();
}

} // namespace fulvex
