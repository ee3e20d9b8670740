// How a report is laid out, in the document and kept for others.

#include "document_json.h"
#include "error.h"
#include "references.h"
#include "report_layout.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using testing::HasSubstr;

namespace {

Document withReport()
{
    Document document;
    document.sheets.resize(2);
    document.sheets[0].id = "first";
    document.sheets[1].id = "second";
    document.report = {"letter", "the night shift", "bench 2", "AAAA", {"sheets", "measurements"}, {"second"}};
    return document;
}

std::string refusal(const std::string &report)
{
    try {
        parseDocument(R"({"fulvex": 1, "report": )" + report + "}", "p");
        return "taken";
    } catch (const Error &error) {
        return error.what();
    }
}

} // namespace

TEST(ReportLayouts, AreOfTheDocument)
{
    const Document document = withReport(), read = parseDocument(documentText(document), "p");
    EXPECT_EQ(read.report, document.report);
    EXPECT_TRUE(sameComputation(document, Document(document)));
    Document other = document;
    other.report.author = "the day shift";
    EXPECT_TRUE(sameComputation(document, other));
    EXPECT_EQ(documentText(Document()).find("report"), std::string::npos); // what is as it is made is not written
}

TEST(ReportLayouts, HaveAllPartsInTheirOrderUnlessSomeAreChosen)
{
    const std::vector<std::string> all = partsOf({});
    EXPECT_EQ(all.size(), reportParts().size());
    EXPECT_EQ(all.front(), "plans");
    EXPECT_EQ(partsOf(withReport().report), (std::vector<std::string>{"sheets", "measurements"}));
}

TEST(ReportLayouts, WhatIsNotKnownIsRefusedWithWhatIs)
{
    EXPECT_THAT(refusal(R"({"paper": "foolscap"})"), HasSubstr("use a4, letter"));
    EXPECT_THAT(refusal(R"({"parts": ["sheets", "gossip"]})"), HasSubstr("\"gossip\" is not known; use plans"));
    EXPECT_THAT(refusal(R"({"parts": "sheets"})"), HasSubstr("report.parts"));
    EXPECT_THAT(refusal(R"({"logo": ")" + std::string(500000, 'A') + "\"}"), HasSubstr("report.logo"));
    EXPECT_EQ(refusal(R"({"without": ["nobody"]})"), "taken"); // what is gone is not missed
}

TEST(ReportLayouts, FollowWhatIsRenamedAndRemoved)
{
    Document document = withReport();
    renameEntry(document, "second", "breaks");
    EXPECT_EQ(document.report.without, std::vector<std::string>{"breaks"});
    removeWithDependents(document, "breaks");
    EXPECT_TRUE(document.report.without.empty());
    EXPECT_EQ(document.report.parts.size(), 2u);
}

TEST(ReportLayouts, AreKeptWithoutWhatIsOneProjects)
{
    const ReportLayout kept{"the harbour's", withReport().report};
    const ReportLayout read = parseReportLayout(reportLayoutText(kept), "kept");
    EXPECT_EQ(read.title, kept.title);
    EXPECT_TRUE(read.entry.without.empty());
    ReportEntry entry;
    entry.without = {"first"};
    layOut(entry, read);
    EXPECT_EQ(entry.place, "bench 2");
    EXPECT_EQ(entry.parts, kept.entry.parts);
    EXPECT_EQ(entry.without, std::vector<std::string>{"first"});
    for (const char *wrong : {"{}", "nothing", R"({"fulvex_report": 2, "title": "t"})",
                              R"({"fulvex_report": 1, "title": "t", "report": {"parts": ["gossip"]}})"})
        EXPECT_THROW(parseReportLayout(wrong, "kept"), Error) << wrong;
}
