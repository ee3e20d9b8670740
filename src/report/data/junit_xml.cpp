#include "junit_xml.h"

#include "table_text.h"

#include <algorithm>

namespace fulvex {

namespace {

/// Text as it may stand in an attribute; what XML 1.0 cannot hold is a question mark.
std::string quoted(const std::string &text)
{
    std::string escaped = "\"";
    for (const char letter : text) {
        switch (letter) {
        case '&':
            escaped += "&amp;";
            break;
        case '<':
            escaped += "&lt;";
            break;
        case '>':
            escaped += "&gt;";
            break;
        case '"':
            escaped += "&quot;";
            break;
        case '\n':
        case '\t':
            escaped += ' ';
            break;
        default:
            escaped += std::uint8_t(letter) < 0x20 ? '?' : letter;
        }
    }
    return escaped + '"';
}

struct Case {
    std::string of, name, failure, error;
};

std::vector<Case> casesOf(const Results &results)
{
    std::vector<Case> cases;
    for (const CaptureResult &capture : results.captures) cases.push_back({"capture", capture.file, {}, capture.error});
    for (const LedgerLine &line : ledgerLines(results)) {
        if (line.state == Verdict::none) continue;
        const std::string why = line.reason.empty() ? line.mean + ", limit " + line.limit : line.reason;
        cases.push_back({line.isMask ? "mask" : line.quantity, line.id, line.state == Verdict::fail ? why : "", {}});
    }
    const auto add = [&](const char *of, const auto &list, const char *why) {
        for (const auto &one : list)
            if (one.verdict != Verdict::none)
                cases.push_back({of, one.id, one.verdict == Verdict::fail ? why : "", {}});
    };
    add("jitter budget", results.budgets, "total jitter is above its limit");
    add("phase noise", results.phaseNoise, "phase noise is above its limit");
    return cases;
}

} // namespace

std::string junitXml(const Results &results)
{
    const std::vector<Case> cases = casesOf(results);
    const auto failures =
        std::count_if(cases.begin(), cases.end(), [](const Case &one) { return !one.failure.empty(); });
    const auto errors = std::count_if(cases.begin(), cases.end(), [](const Case &one) { return !one.error.empty(); });
    const std::string counts = " tests=\"" + std::to_string(cases.size()) + "\" failures=\"" +
                               std::to_string(failures) + "\" errors=\"" + std::to_string(errors) + "\"";
    const std::string title = results.document->title.empty() ? "project" : results.document->title;
    std::string xml = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites" + counts +
                      ">\n<testsuite name=" + quoted(title) + counts + ">\n";
    for (const Case &one : cases) {
        xml += "<testcase classname=" + quoted(one.of) + " name=" + quoted(one.name);
        if (!one.error.empty())
            xml += "><error message=" + quoted(one.error) + "/></testcase>\n";
        else if (!one.failure.empty())
            xml += "><failure message=" + quoted(one.failure) + "/></testcase>\n";
        else
            xml += "/>\n";
    }
    return xml + "</testsuite>\n</testsuites>\n";
}

} // namespace fulvex
