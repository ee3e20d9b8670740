#include "junit_xml.h"

#include "table_text.h"

#include <algorithm>

namespace fulvex {

namespace {

/// Text as it may stand in an attribute; what XML 1.0 cannot hold is a question mark.
std::string xmlQuoted(const std::string &text)
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

std::vector<JunitCase> casesOf(const Results &results)
{
    std::vector<JunitCase> cases;
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

std::string junitXml(const std::vector<JunitSuite> &suites)
{
    const auto countsOf = [](const std::vector<JunitSuite> &some) {
        std::size_t tests = 0, failures = 0, errors = 0, skipped = 0;
        for (const JunitSuite &suite : some) {
            for (const JunitCase &one : suite.cases) {
                ++tests;
                failures += !one.failure.empty();
                errors += !one.error.empty();
                skipped += !one.skipped.empty();
            }
        }
        return " tests=\"" + std::to_string(tests) + "\" failures=\"" + std::to_string(failures) + "\" errors=\"" +
               std::to_string(errors) + "\" skipped=\"" + std::to_string(skipped) + "\"";
    };
    std::string xml = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites" + countsOf(suites) + ">\n";
    for (const JunitSuite &suite : suites) {
        xml += "<testsuite name=" + xmlQuoted(suite.name) + countsOf({suite}) + ">\n";
        for (const JunitCase &one : suite.cases) {
            xml += "<testcase classname=" + xmlQuoted(one.of) + " name=" + xmlQuoted(one.name);
            if (!one.error.empty())
                xml += "><error message=" + xmlQuoted(one.error) + "/></testcase>\n";
            else if (!one.failure.empty())
                xml += "><failure message=" + xmlQuoted(one.failure) + "/></testcase>\n";
            else if (!one.skipped.empty())
                xml += "><skipped message=" + xmlQuoted(one.skipped) + "/></testcase>\n";
            else
                xml += "/>\n";
        }
        xml += "</testsuite>\n";
    }
    return xml + "</testsuites>\n";
}

std::string junitXml(const Results &results)
{
    const std::string title = results.document->title.empty() ? "project" : results.document->title;
    return junitXml(std::vector<JunitSuite>{{title, casesOf(results)}});
}

} // namespace fulvex
