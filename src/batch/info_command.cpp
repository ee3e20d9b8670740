#include "info_command.h"

#include "capture_reader.h"
#include "engine.h"
#include "finding_json.h"
#include "json_text.h"
#include "number_text.h"
#include "plain_text.h"
#include "program_folders.h"

#include <cstdio>
#include <nlohmann/json.hpp>

namespace fulvex {

namespace {

/// A project of the one capture: a channel for each column, and their difference where there are two.
Document projectOf(const Capture &capture, const std::string &file)
{
    Document document;
    CaptureEntry entry;
    entry.id = "capture";
    std::error_code failure;
    entry.file = std::filesystem::absolute(file, failure).string();
    document.captures.push_back(entry);
    for (std::size_t i = 0; i < capture.columns.size(); ++i) {
        document.channels.push_back({.id = "column_" + std::to_string(i), .capture = entry.id, .column = int(i)});
    }
    if (capture.columns.size() == 2) {
        ChannelEntry difference;
        difference.id = "difference";
        difference.formula = "column_0 - column_1";
        document.channels.push_back(difference);
    }
    return document;
}

nlohmann::ordered_json factsOf(const std::string &file, Progress &progress)
{
    const Capture capture = readCapture(file, {}, progress);
    Engine engine(shareFolder() / "masks");
    const Results results = engine.evaluate(projectOf(capture, file), {}, {.check = true}, progress);
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
    facts["stated"] = nlohmann::ordered_json::array();
    for (const StatedFact &fact : capture.stated)
        facts["stated"].push_back({{"what", fact.what}, {"value", fact.value}});
    facts["findings"] = nlohmann::ordered_json::array();
    for (const Finding &finding : results.captures[0].findings) facts["findings"].push_back(findingJson(finding));
    return facts;
}

void print(const nlohmann::ordered_json &facts)
{
    const auto counted = [&](const char *what) { // "samples" and the like, without its end where it is one
        const auto count = facts[what].get<long long>();
        const std::string words = std::to_string(count) + " " + what;
        return count == 1 ? words.substr(0, words.size() - 1) : words;
    };
    std::printf("%s: %s, %s of %s", shownText(facts["file"].get<std::string>()).c_str(),
                facts["format"].get<std::string>().c_str(), counted("channels").c_str(), counted("samples").c_str());
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
    for (const auto &fact : facts["stated"])
        std::printf("  %s: %s\n", fact["what"].get<std::string>().c_str(), fact["value"].get<std::string>().c_str());
    for (const auto &finding : facts["findings"])
        std::printf("  %s: %s%s\n", finding["level"].get<std::string>().c_str(),
                    (finding.contains("channel") ? finding["channel"].get<std::string>() + ": " : "").c_str(),
                    finding["text"].get<std::string>().c_str());
}

} // namespace

int info(const std::vector<std::string> &files, bool json)
{
    nlohmann::ordered_json all = nlohmann::ordered_json::array();
    Progress progress;
    for (const std::string &file : files) all.push_back(factsOf(file, progress));
    if (json)
        std::printf("%s\n", jsonText(all).c_str());
    else
        for (const auto &facts : all) print(facts);
    return 0;
}

} // namespace fulvex
