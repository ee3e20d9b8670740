// docs/automation.md: its commands are run as they stand there.

#include "batch_program.h"
#include "temporary_folder.h"

#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <sstream>

using namespace fulvex;

namespace {

std::string contentOf(const std::filesystem::path &file)
{
    std::ostringstream all;
    all << std::ifstream(file, std::ios::binary).rdbuf();
    return all.str();
}

/// The blocks of a kind in a Markdown file.
std::vector<std::string> blocksOf(const std::string &markdown, const std::string &kind)
{
    std::vector<std::string> blocks;
    const std::string fence = "```" + kind + "\n";
    for (std::size_t at = 0; (at = markdown.find(fence, at)) != std::string::npos;) {
        at += fence.size();
        blocks.push_back(markdown.substr(at, markdown.find("```", at) - at));
    }
    return blocks;
}

struct Automation : testing::Test {
    /// Runs lines of a shell in the folder; what they leave in `status`.
    int run(const std::string &lines, const std::string &variables)
    {
        std::ofstream(folder / "lines.sh") << "set -eu\ncd '" << folder.path().string() << "'\nPATH='"
                                           << std::filesystem::path(FULVEX_BATCH).parent_path().string() << ":"
                                           << FULVEX_EXAMPLES << "':/usr/bin:$PATH\nstatus=0\n"
                                           << variables << "\n"
                                           << lines << "\nexit $status\n";
        const int ended =
            std::system(("bash '" + (folder / "lines.sh") + "' >'" + (folder / "said") + "' 2>&1").c_str());
        return WEXITSTATUS(ended);
    }
    std::string said() { return contentOf(folder / "said"); }
    test::TemporaryFolder folder;
    const std::vector<std::string> blocks = blocksOf(contentOf(FULVEX_AUTOMATION), "sh");
    const std::string project = "PROJECT='" + std::string(FULVEX_DEMO) + "/tests-brackwater.fulvex'";
};

} // namespace

TEST_F(Automation, ItsCommandsRunAsTheyStandInTheDocs)
{
    ASSERT_EQ(blocks.size(), 4U);
    EXPECT_EQ(run(blocks[0], project), 1) << said(); // the demo's mask fails
    for (const char *file :
         {"report/results.json", "report/measurements.csv", "report/report.pdf", "report/report.html",
          "populations/tr.npy", "populations/tr.histogram.npy", "verdicts.xml"})
        EXPECT_TRUE(std::filesystem::exists(folder.path() / file)) << file;
    EXPECT_EQ(contentOf(folder.path() / "report/measurements.csv").find(",\""), std::string::npos)
        << "a comma where a point should be";

    // The rise time passes, the eye of the fixed clock has a row that fails.
    EXPECT_EQ(run(blocks[1], project + "\nROW=tr"), 0) << said();
    EXPECT_THAT(said(), testing::HasSubstr("tr: mean 3.54")) << said();
    EXPECT_THAT(contentOf(folder.path() / "row.png"), testing::StartsWith("\x89PNG"));
    EXPECT_GT(std::filesystem::file_size(folder.path() / "row.png"), 10000U);
    const auto results = nlohmann::json::parse(contentOf(folder.path() / "report/results.json"));
    for (const auto &row : results.at("measurements"))
        if (row.at("verdict") == "fail" && row.at("status") == "ok") {
            EXPECT_EQ(run(blocks[1], project + "\nROW=" + row.at("id").get<std::string>()), 1) << said();
            break;
        }
    EXPECT_EQ(run(blocks[1], project + "\nROW=nothing"), 1);
    EXPECT_THAT(said(), testing::HasSubstr("no row is called nothing"));

    // The report holds against the captures it was made from.
    EXPECT_EQ(run(blocks[3], "FOLDER='" + std::string(FULVEX_DEMO) + "'"), 0) << said();
}

TEST_F(Automation, AnotherFileTakesACapturesPlace)
{
    const std::string link = R"({"fulvex": 1,
        "captures": [{"id": "link", "file": "none.npy", "import": {"format": "npy", "sample_interval": 1.25e-10}}],
        "channels": [{"id": "p", "capture": "link", "column": 0, "scale": 1.2e-5, "unit": "V"},
                     {"id": "twice", "formula": "gain * p"}],
        "parameters": [{"id": "gain", "value": 1}],
        "measurements": [{"id": "swing", "quantity": "amplitude", "source": "twice"}]})";
    folder.write("link.fulvex", link);
    const std::string variables =
        "PROJECT=link.fulvex\nID=link\nFILE='" + std::string(FULVEX_DEMO) + "/captures/camera-link.npy'";
    ASSERT_EQ(run(blocks[2], variables), 0) << said();
    const auto results = nlohmann::json::parse(contentOf(folder.path() / "today/results.json"));
    const double swing = results.at("measurements").at(0).at("mean");
    EXPECT_NEAR(swing, 2 * 0.406 * 1.2 / 1.220703125, 0.01); // a leg has half of 812 mV
    folder.write("link.fulvex", std::string(link).replace(link.find("\"gain\", \"value\""), 6, "\"loss\""));
    EXPECT_EQ(run(blocks[2], variables), 2) << said();
}
