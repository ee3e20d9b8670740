#include "finding_json.h"

#include <nlohmann/json.hpp>

namespace fulvex {

nlohmann::ordered_json findingJson(const Finding &finding)
{
    nlohmann::ordered_json json{{"check", finding.check}, {"level", finding.level}, {"text", finding.text}};
    if (!finding.channel.empty()) json["channel"] = finding.channel;
    if (finding.from && finding.to) {
        json["from"] = *finding.from;
        json["to"] = *finding.to;
    }
    if (finding.remedy) json["remedy"] = finding.remedy->words;
    return json;
}

} // namespace fulvex
