#include "info_command.h"

#include "capture_reader.h"
#include "number_text.h"

#include <cstdio>
#include <nlohmann/json.hpp>

namespace fulvex {

namespace {

nlohmann::ordered_json factsOf(const Capture &capture)
{
    nlohmann::ordered_json columns = nlohmann::ordered_json::array();
    for (std::size_t i = 0; i < capture.columns.size(); ++i) {
        const Waveform &column = capture.columns[i];
        columns.push_back({{"column", i},
                           {"name", column.name},
                           {"unit", column.unit},
                           {"sample_type", sampleTypeName(column.type)}});
    }
    nlohmann::ordered_json facts{{"file", capture.file},
                                 {"format", capture.format},
                                 {"channels", capture.columns.size()},
                                 {"samples", capture.axis.count}};
    facts["sample_interval"] =
        capture.intervalKnown ? nlohmann::ordered_json(capture.axis.interval) : nlohmann::ordered_json();
    facts["start"] = capture.axis.start;
    facts["columns"] = columns;
    facts["findings"] = nlohmann::ordered_json::array();
    for (const std::string &remark : capture.remarks)
        facts["findings"].push_back({{"check", "reading"}, {"level", "info"}, {"text", remark}});
    if (!capture.intervalKnown)
        facts["findings"].push_back(
            {{"check", "interval"},
             {"level", "warning"},
             {"text", "the file states no sample interval: give \"sample_interval\" in the import"}});
    return facts;
}

void print(const nlohmann::ordered_json &facts)
{
    std::printf("%s: %s, %lld channels of %lld samples", facts["file"].get<std::string>().c_str(),
                facts["format"].get<std::string>().c_str(), facts["channels"].get<long long>(),
                facts["samples"].get<long long>());
    if (!facts["sample_interval"].is_null()) {
        const double interval = facts["sample_interval"];
        std::printf(", every %s (%s), from %s on", quantityText(interval, "s", {}, 6).c_str(),
                    quantityText(1 / interval, "S/s", {}, 6).c_str(), quantityText(facts["start"], "s", {}, 6).c_str());
    }
    std::printf("\n");
    for (const auto &column : facts["columns"])
        std::printf(
            "  column %lld: %s%s%s\n", column["column"].get<long long>(),
            column["sample_type"].get<std::string>().c_str(),
            (column["name"].get<std::string>().empty() ? "" : ", \"" + column["name"].get<std::string>() + "\"")
                .c_str(),
            (column["unit"].get<std::string>().empty() ? "" : ", in " + column["unit"].get<std::string>()).c_str());
    for (const auto &finding : facts["findings"])
        std::printf("  %s: %s\n", finding["level"].get<std::string>().c_str(),
                    finding["text"].get<std::string>().c_str());
}

} // namespace

int info(const std::vector<std::string> &files, bool json)
{
    nlohmann::ordered_json all = nlohmann::ordered_json::array();
    Progress progress;
    for (const std::string &file : files) all.push_back(factsOf(readCapture(file, {}, progress)));
    if (json)
        std::printf("%s\n", all.dump(2).c_str());
    else
        for (const auto &facts : all) print(facts);
    return 0;
}

} // namespace fulvex
