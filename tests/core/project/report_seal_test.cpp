#include "error.h"
#include "report_document.h"
#include "report_seal.h"

#include <gmock/gmock.h>

namespace fulvex {
namespace {

using testing::HasSubstr;

TEST(ReportSeal, NoticesEveryChangedLetter)
{
    const std::string text = sealed("some numbers: 1.25\n" + sealRoom() + "\nand more\n");
    EXPECT_TRUE(isSealWhole(text));
    EXPECT_EQ(sealed(text), text);
    for (std::size_t i = 0; i < text.size(); ++i) {
        std::string other = text;
        other[i] = char(other[i] ^ 1);
        EXPECT_FALSE(isSealWhole(other)) << i;
    }
    EXPECT_FALSE(isSealWhole(text + " "));
    EXPECT_FALSE(isSealWhole("no seal at all"));
    EXPECT_FALSE(isSealWhole(""));
    EXPECT_FALSE(isSealWhole(sealMark));
    EXPECT_EQ(sealed("no room"), "no room");
}

/// What is held may look like the seal, and like the end of what holds it.
TEST(ReportSeal, ResultsComeBackAsTheyWere)
{
    const std::string json = "{\"title\": \"</script><b>\", \"seal\": \"" + sealRoom() + "\"}";
    const std::string html =
        sealed("<!doctype html>\n<html>" + resultsForHtml(json) + "<!-- " + sealRoom() + " --></html>\n");
    EXPECT_TRUE(isReport(html));
    EXPECT_TRUE(isSealWhole(html));
    const std::string held = resultsInReport(html, "r");
    EXPECT_EQ(held.find('<'), std::string::npos);
    EXPECT_THAT(held, HasSubstr("\\u003c/script>"));
}

TEST(ReportSeal, WhatHoldsNoResultsIsRefused)
{
    for (const char *text : {"<!doctype html>\n<html></html>", "%PDF-1.4\n%%EOF",
                             "%PDF-1.4\n<< /FulvexResults true /Length 900 >>\nstream\n{}",
                             "%PDF-1.4\n<< /FulvexResults true /Length x >>\nstream\n{}",
                             "<!doctype html><script type=\"application/json\" id=\"fulvex-results\">{"})
        EXPECT_THROW(resultsInReport(text, "r"), Error) << text;
    EXPECT_FALSE(isReport("{\"fulvex\": 1}"));
    for (const char *json : {"", "[]", "{}", "{\"document\": 3}", "{\"document\": {\"fulvex\": 1, \"no\": 2}}"})
        EXPECT_THROW(documentOfResults(json, "r"), Error) << json;
    const Document document =
        documentOfResults(R"({"document": {"fulvex": 1, "captures": [{"id": "r", "file": "a.npy"}]},
        "captures": [{"id": "r", "sha256": "abc"}, 7, {"id": 3}]})",
                          "r");
    EXPECT_EQ(document.captures.at(0).sha256, "abc");
}

} // namespace
} // namespace fulvex
