#include "sigmf_writer.h"

#include "atomic_file.h"
#include "interleaved_blocks.h"
#include "json_text.h"

#include <nlohmann/json.hpp>

namespace fulvex {

void writeSigmf(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
                Progress &progress)
{
    std::filesystem::path dataPath = path;
    dataPath.replace_extension(".sigmf-data");
    const TimeAxis axis = writtenAxis(channels, range);
    using Json = nlohmann::ordered_json;
    Json global{{"core:datatype", "rf64_le"},
                {"core:version", "1.0.0"},
                {"core:sample_rate", 1 / axis.interval},
                {"core:num_channels", channels.size()},
                {"core:recorder", "Fulvex"},
                {"fulvex:sample_interval", axis.interval},
                {"fulvex:start", axis.start}};
    Json names = Json::array(), units = Json::array();
    for (const WrittenChannel &channel : channels) {
        names.push_back(channel.name);
        units.push_back(channel.unit);
    }
    global["fulvex:names"] = names;
    global["fulvex:units"] = units;
    const Json meta{
        {"global", global}, {"captures", Json::array({{{"core:sample_start", 0}}})}, {"annotations", Json::array()}};
    AtomicFile data(dataPath), file(path);
    interleavedBlocks(channels, range, progress, [&](std::int64_t, std::span<const double> block) {
        data.write({reinterpret_cast<const char *>(block.data()), block.size_bytes()});
    });
    file.write(jsonText(meta) + "\n");
    data.commit();
    file.commit();
}

} // namespace fulvex
