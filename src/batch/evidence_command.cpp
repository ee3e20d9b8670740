#include "evidence_command.h"

#include "engine.h"
#include "error.h"
#include "evidence_text.h"
#include "json_text.h"
#include "number_text.h"
#include "plain_text.h"
#include "program_folders.h"
#include "project_file.h"
#include "table_text.h"

#include <cstdio>
#include <nlohmann/json.hpp>

namespace fulvex {

namespace {

Question::Span spanOf(const std::string &text, const char *option)
{
    if (text.empty()) return std::nullopt;
    const auto fail = [&](const char *what) {
        throw Error(std::string(option) + " " + text, what,
                    "write two plain SI numbers, for example " + std::string(option) + " 1.2e-10:1.5e-10");
    };
    const std::size_t colon = text.find(':');
    if (colon == std::string::npos) fail("is not of the form FROM:TO");
    const auto first = plainNumber(std::string_view(text).substr(0, colon));
    const auto second = plainNumber(std::string_view(text).substr(colon + 1));
    if (!first || !second) fail("is not of two numbers");
    if (!(*first < *second)) fail("ends before it begins");
    return std::pair(*first, *second);
}

nlohmann::ordered_json itemJson(const Evidence &evidence, const Evidence::Item &item)
{
    nlohmann::ordered_json json{{"time", item.time}, {"from", item.place.from}, {"to", item.place.to}};
    json["channel"] = item.place.channel;
    const bool failure = evidence.of == Evidence::Of::failures;
    if ((failure || evidence.of == Evidence::Of::passes) && !evidence.atEdges)
        json["unit_interval"] = item.unitInterval;
    if (evidence.of != Evidence::Of::findings) json[failure ? "depth" : "value"] = item.value;
    if (failure) json["area"] = item.words;
    if (evidence.of == Evidence::Of::findings) {
        json["text"] = item.words;
        json["level"] = item.warning ? "warning" : "info";
    }
    return json;
}

void print(const Evidence &evidence)
{
    std::printf("%s\n", shownText(headingOf(evidence)).c_str());
    if (evidence.items.empty()) {
        std::printf("%s\n", shownText(evidence.none).c_str());
        return;
    }
    std::vector<std::vector<std::string>> lines{columnsOf(evidence)};
    for (const Evidence::Item &item : evidence.items) {
        lines.push_back(cellsOf(evidence, item));
        for (std::string &cell : lines.back()) cell = shownText(cell);
    }
    std::fputs(alignedText(lines, [](std::size_t) { return true; }).c_str(), stdout);
}

} // namespace

int evidence(const EvidenceCommand &command)
{
    Question question;
    question.id = command.id;
    question.times = spanOf(command.times, "--times");
    question.values = spanOf(command.values, "--values");
    question.phases = spanOf(command.phases, "--phases");
    question.frequencies = spanOf(command.frequencies, "--frequencies");
    Progress progress;
    const OpenedProject project = openProject(command.project, progress);
    const Document &document = project.document;
    if (!findEntry(document.captures, command.id) && !findEntry(document.measurements, command.id) &&
        !findEntry(document.eyes, command.id) && !findEntry(document.masks, command.id) &&
        !findEntry(document.spectra, command.id))
        throw Error(command.project, "has no capture, measurement, eye, mask or spectrum \"" + command.id + "\"",
                    "give the id of one");
    Engine engine(shareFolder() / "masks", 0);
    const Results results = engine.evaluate(document, project.base, {.check = true}, progress);
    if (const std::string error = results.firstError(); !error.empty()) throw Error("", error);
    const Evidence found = evidenceFor(results, question, command.most, progress);
    if (!command.json) {
        print(found);
        return 0;
    }
    nlohmann::ordered_json json{{"of", command.id}, {"count", found.count}, {"all", found.all}};
    json["unit"] = found.unit;
    json["moments"] = nlohmann::ordered_json::array();
    for (const Evidence::Item &item : found.items) json["moments"].push_back(itemJson(found, item));
    if (found.items.empty()) json["none"] = found.none;
    std::printf("%s\n", jsonText(json).c_str());
    return 0;
}

} // namespace fulvex
