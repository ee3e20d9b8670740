#include "report_document.h"

#include "document_json.h"
#include "error.h"
#include "json_text.h"
#include "report_seal.h"

#include <nlohmann/json.hpp>

namespace fulvex {

using Json = nlohmann::ordered_json;

Document documentOfResults(const std::string &text, const std::string &name)
{
    const Json json = parseJson(text, name);
    const auto own = json.is_object() ? json.find("document") : json.end();
    if (own == json.end() || !own->is_object())
        throw Error(name, "does not hold the project that it was made from", "make it anew with this version");
    Document document = parseDocument(jsonText(*own), name + ": document");
    const auto captures = json.find("captures");
    if (captures == json.end() || !captures->is_array()) return document;
    for (CaptureEntry &capture : document.captures) {
        if (capture.isRun() || !capture.sha256.empty()) continue;
        for (const Json &one : *captures)
            if (textMember(one, "id") == capture.id) capture.sha256 = textMember(one, "sha256");
    }
    return document;
}

Document documentOfReport(const std::string &text, const std::string &name)
{
    return documentOfResults(resultsInReport(text, name), name);
}

} // namespace fulvex
