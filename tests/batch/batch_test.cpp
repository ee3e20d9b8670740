// The command line as other programs see it: the program is run, its output and exit status are looked at.

#include "link_batch.h"
#include "own_config.h"
#include "project_file.h"
#include "signals.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <filesystem>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

using namespace fulvex;

namespace {

/// The numbers of a .npy file of 64-bit floats.
std::vector<double> npyNumbers(const std::string &bytes, const std::string &shape)
{
    const std::size_t header = 10 + std::size_t(static_cast<unsigned char>(bytes.at(8))) +
                               256 * std::size_t(static_cast<unsigned char>(bytes.at(9)));
    EXPECT_THAT(bytes.substr(0, header), testing::HasSubstr("'shape': " + shape)) << bytes.substr(0, header);
    std::vector<double> numbers((bytes.size() - header) / sizeof(double));
    std::memcpy(numbers.data(), bytes.data() + header, numbers.size() * sizeof(double));
    return numbers;
}

} // namespace

TEST_F(LinkBatch, PopulationsGoOnAsFiles)
{
    makeLink();
    const test::Outcome outcome = run("run link.fulvex --populations made/here --out out");
    EXPECT_EQ(outcome.status, 0) << outcome.err;
    const auto rows = nlohmann::json::parse(test::readAll(folder / "out/results.json"))["measurements"];
    const auto count = rows[0]["count"].get<std::size_t>();
    const auto rise = npyNumbers(test::readAll(folder / "made/here/tr.npy"), "(" + std::to_string(count) + ", 2)");
    ASSERT_EQ(rise.size(), 2 * count);
    double sum = 0;
    for (std::size_t i = 0; i < count; ++i) {
        sum += rise[2 * i + 1];
        if (i == 0) continue;
        EXPECT_GT(rise[2 * i], rise[2 * i - 2]); // in time
    }
    EXPECT_NEAR(sum / double(count), rows[0]["mean"].get<double>(), 1e-12);
    const auto single = npyNumbers(test::readAll(folder / "made/here/pp.npy"), "(1, 2)");
    EXPECT_TRUE(std::isnan(single.at(0)));
    EXPECT_EQ(single.at(1), rows[1]["mean"].get<double>());
    EXPECT_TRUE(npyNumbers(test::readAll(folder / "made/here/bj.npy"), "(0, 2)").empty());
}

TEST_F(LinkBatch, AChannelIsWrittenWithWhatItsFormulaGives)
{
    makeLink();
    std::string project = test::readAll(folder / "link.fulvex");
    project.insert(project.find("\"clocks\""), R"("regions": [{"id": "part", "start": 10, "stop": 20}],
  )");
    folder.write("link.fulvex", project);
    const test::Outcome whole = run("write link.fulvex --channel g --to g.npy");
    EXPECT_EQ(whole.status, 0) << whole.err;
    test::DataSpec spec;
    spec.unitIntervals = 3000;
    spec.noise = 0.004;
    const auto volts = test::makeData(spec).volts;
    const auto doubled = npyNumbers(test::readAll(folder / "g.npy"), "(" + std::to_string(volts.size()) + ",)");
    ASSERT_EQ(doubled.size(), volts.size());
    for (std::size_t i = 0; i < volts.size(); ++i) ASSERT_NEAR(doubled[i], 2 * volts[i], 1.1e-6); // as the table has it
    const test::Outcome part = run("write link.fulvex --channel d --region part --to d.csv");
    EXPECT_EQ(part.status, 0) << part.err;
    EXPECT_THAT(part.out, testing::HasSubstr("101 samples"));
    const std::string table = test::readAll(folder / "d.csv");
    EXPECT_THAT(table, testing::HasSubstr("\n10,"));
    EXPECT_GE(std::count(table.begin(), table.end(), '\n'), 102); // headings, and a line a sample
    // What is written can be brought in again.
    EXPECT_EQ(run("info d.csv").status, 0);
    for (const char *wrong : {"--channel x --to a.npy", "--channel d --region x --to a.npy", "--channel d --to a.txt",
                              "--channel d --to none/a.npy"}) {
        const test::Outcome refused = run(std::string("write link.fulvex ") + wrong);
        EXPECT_EQ(refused.status, 2) << wrong;
        EXPECT_EQ(std::count(refused.err.begin(), refused.err.end(), '\n'), 1) << refused.err;
    }
    EXPECT_FALSE(std::filesystem::exists(folder / "a.npy"));
}

/// Spectra with their curves; a program that nobody allowed does not run, is shown, allowed, and runs.
TEST_F(LinkBatch, SpectraAndProgramsOfAProject)
{
    const test::OwnConfig config;
    makeLink();
    std::string project = test::readAll(folder / "link.fulvex");
    project.insert(project.find("\"clocks\""), R"("spectra": [{"id": "lines", "kind": "spectrum", "source": "d"}],
  "programs": [{"id": "turned", "file": "turned.py", "arguments": ["signal"]}],
  )");
    project.insert(project.find("{\"id\": \"g\""), R"J({"id": "own", "formula": "turned(d)"
}, {"id": "course", "formula": "trend(tr)"}, )J");
    ;
    folder.write("link.fulvex", project);
    folder.write("turned.py", "#!/usr/bin/python3\nimport sys, numpy\nfrom numpy.lib import format as npy\n"
                              "sys.stdin.buffer.readline()\nnpy.read_magic(sys.stdin.buffer)\n"
                              "npy.read_array_header_1_0(sys.stdin.buffer)\n"
                              "made = -numpy.frombuffer(sys.stdin.buffer.read())\n"
                              "npy.write_array_header_1_0(sys.stdout.buffer, npy.header_data_from_array_1_0(made))\n"
                              "sys.stdout.buffer.write(made.tobytes())\n");
    const test::Outcome before = run("write link.fulvex --channel own --to own.npy");
    EXPECT_EQ(before.status, 2);
    EXPECT_THAT(before.err, testing::HasSubstr("has not been allowed to run here"));
    const test::Outcome shown = run("program link.fulvex turned");
    EXPECT_EQ(shown.status, 0) << shown.err;
    EXPECT_THAT(shown.out, testing::AllOf(testing::HasSubstr("not allowed to run here"),
                                          testing::HasSubstr("made = -numpy.frombuffer")));
    EXPECT_EQ(run("program link.fulvex turned --allow").status, 0);
    const test::Outcome after = run("write link.fulvex --channel own --to own.npy");
    EXPECT_EQ(after.status, 0) << after.err;
    EXPECT_EQ(run("write link.fulvex --channel course --to course.npy").status, 0); // with the row that it stands on
    const test::Outcome all = run("run link.fulvex --out out");
    EXPECT_EQ(all.status, 0) << all.err;
    const auto results = nlohmann::json::parse(test::readAll(folder / "out/results.json"));
    EXPECT_EQ(results["spectra"][0]["status"], "ok");
    EXPECT_GT(results["spectra"][0]["segments"].get<int>(), 1);
    EXPECT_THAT(test::readAll(folder / "out/lines.spectrum.csv"), testing::HasSubstr("frequency_Hz,density_"));
    EXPECT_TRUE(results["files"].contains("lines.spectrum.csv"));
    const test::Outcome strongest = run("evidence link.fulvex lines --frequencies 0.1:0.3 --most 3");
    EXPECT_EQ(strongest.status, 0) << strongest.err;
    EXPECT_THAT(strongest.out, testing::HasSubstr("is strongest"));
    EXPECT_EQ(run("program link.fulvex turned --forbid").status, 0);
    EXPECT_EQ(run("write link.fulvex --channel own --to again.npy").status, 2);
    EXPECT_EQ(run("program link.fulvex nothing").status, 2);
}

TEST_F(LinkBatch, RunWritesAllFourFilesWithTheContractsKeys)
{
    makeLink();
    const test::Outcome outcome = run("run link.fulvex --out out");
    EXPECT_EQ(outcome.status, 0) << outcome.err;
    const auto results = nlohmann::json::parse(test::readAll(folder / "out/results.json"));
    EXPECT_EQ(results["project"]["title"], "Link");
    EXPECT_EQ(results["project"]["sha256"].get<std::string>().size(), 64u);
    EXPECT_EQ(results["captures"][0]["channels"], 1);
    EXPECT_EQ(results["captures"][0]["sha256"].get<std::string>().size(), 64u);
    EXPECT_NEAR(results["captures"][0]["sample_interval"].get<double>(), 0.1, 1e-9);
    EXPECT_NEAR(results["clocks"][0]["rate"].get<double>(), 1 / 1.23, 1e-4);
    const auto &tr = results["measurements"][0];
    EXPECT_EQ(tr["status"], "ok");
    EXPECT_EQ(tr["verdict"], "pass");
    EXPECT_NEAR(tr["mean"].get<double>(), 2.563 * 0.12 * 1.23, 0.01);
    const auto &bj = results["measurements"][2];
    EXPECT_EQ(bj["status"], "unmeasurable");
    EXPECT_EQ(bj["count"], 0);
    for (const char *key : {"mean", "std", "min", "max", "last", "uncertainty"}) EXPECT_TRUE(bj[key].is_null()) << key;
    EXPECT_NE(bj["reason"], "");
    const auto &mask = results["masks"][0];
    EXPECT_EQ(mask["failed_unit_intervals"], 0);
    EXPECT_EQ(mask["areas"].size(), 3u);
    EXPECT_GT(mask["margin"].get<double>(), 0);
    EXPECT_EQ(mask["verdict"], "pass");
    EXPECT_EQ(results["eyes"][0]["unit_intervals"], mask["unit_intervals"]);
    EXPECT_THAT(test::readAll(folder / "out/measurements.csv"), testing::HasSubstr("tr,rise_time,d,s,ok,"));
    const std::string html = test::readAll(folder / "out/report.html");
    EXPECT_THAT(html, testing::HasSubstr("data:image/png;base64,"));
    EXPECT_THAT(html, testing::Not(testing::ContainsRegex("(src|href)=\"[^d#]"))); // stands alone
    EXPECT_EQ(test::readAll(folder / "out/report.pdf").substr(0, 5), "%PDF-");
}

TEST_F(LinkBatch, AReportShowsTheTracesOfSheetsAndOfAMasksWorstFailure)
{
    makeLink();
    std::string text = test::readAll(folder / "link.fulvex");
    text.insert(text.rfind('}'), R"(, "sheets": [{"id": "s", "title": "Bench", "tiles": [
        {"id": "t", "kind": "traces", "of": ["g"], "row": 0, "column": 0}]}])");
    text.replace(text.find("\"margin\": 0.0"), 13, "\"margin\": 0.9"); // which it fails
    folder.write("sheet.fulvex", text);
    EXPECT_EQ(run("run sheet.fulvex --out out").status, 1);
    const std::string html = test::readAll(folder / "out/report.html");
    EXPECT_THAT(html, testing::HasSubstr(">Bench</h2>"));
    EXPECT_THAT(html, testing::HasSubstr("Traces: g"));
    EXPECT_THAT(html, testing::HasSubstr("Where the worst lies on the trace"));
    EXPECT_EQ(run("run link.fulvex --out out").status, 0);
    EXPECT_THAT(test::readAll(folder / "out/report.html"), testing::Not(testing::HasSubstr("Traces: ")));
}

TEST_F(LinkBatch, WithoutOutThePeopleGetATable)
{
    makeLink();
    const test::Outcome outcome = run("run link.fulvex");
    EXPECT_EQ(outcome.status, 0);
    EXPECT_THAT(outcome.out, testing::HasSubstr("rise time"));
    EXPECT_THAT(outcome.out, testing::HasSubstr("bj: only the tail method tells"));
    EXPECT_EQ(outcome.err, "");
}

TEST_F(LinkBatch, ParametersAndLimitsCount)
{
    makeLink();
    run("run link.fulvex --out a");
    run("run link.fulvex --set k=4 --out b");
    const auto mean = [&](const char *out) {
        return nlohmann::json::parse(test::readAll(folder.path() / out / "results.json"))["measurements"][1]["mean"]
            .get<double>();
    };
    EXPECT_NEAR(mean("b") / mean("a"), 2, 1e-9);
    std::string project = test::readAll(folder / "link.fulvex");
    project.replace(project.find("\"max\": 1.0"), 10, "\"max\": 0.1");
    folder.write("strict.fulvex", project);
    EXPECT_EQ(run("run strict.fulvex -q").status, 1);
}

TEST_F(LinkBatch, TwoResultsAreComparedBySettingsFirst)
{
    makeLink();
    EXPECT_EQ(run("run link.fulvex --out before").status, 0);
    test::Outcome same = run("compare link.fulvex before/results.json");
    EXPECT_EQ(same.status, 0) << same.err << same.out;
    EXPECT_THAT(same.out, testing::HasSubstr("Nothing is set differently"));
    std::string text = test::readAll(folder / "link.fulvex");
    text.insert(text.find("\"channels\""), R"("levels": [{"id": "default", "kind": "percent", "low": 20, "mid": 50,
        "high": 80, "states": "histogram"}], )");
    folder.write("steep.fulvex", text);
    const test::Outcome other = run("compare before/results.json steep.fulvex");
    EXPECT_EQ(other.status, 1);
    EXPECT_THAT(other.out, testing::ContainsRegex("low of default +10.0 % +20.0 % +tr\n"));
    EXPECT_THAT(other.out, testing::HasSubstr("set differently"));
    EXPECT_LT(other.out.find("low of default"), other.out.find("B − A")); // settings first
    EXPECT_EQ(run("compare before/results.json steep.fulvex --out both").status, 1);
    const auto json = nlohmann::json::parse(test::readAll(folder / "both/comparison.json"));
    ASSERT_EQ(json.at("settings").size(), 2u);
    EXPECT_EQ(json.at("settings")[1].at("key"), "high");
    EXPECT_THAT(json.at("settings")[1].at("moves"), testing::ElementsAre("tr"));
    EXPECT_THAT(json.at("settings")[1].at("behind"), testing::Contains("bj"));
    EXPECT_TRUE(json.at("other_captures").empty());
    for (const char *wrong :
         {"compare link.fulvex none.fulvex", "compare before/measurements.csv link.fulvex", "compare link.fulvex"}) {
        const test::Outcome outcome = run(wrong);
        EXPECT_EQ(outcome.status, 2) << wrong;
        EXPECT_EQ(std::count(outcome.err.begin(), outcome.err.end(), '\n'), 1) << outcome.err;
    }
}

TEST_F(LinkBatch, WhatCannotBeUsedIsOneLineAndStatusTwo)
{
    makeLink();
    folder.write("bad.fulvex", "{\"fulvex\": 1,\n \"chanels\": []}");
    folder.write(
        "circle.fulvex",
        R"({"fulvex": 1, "captures": [{"id": "r", "file": "link.csv"}], "channels": [{"id": "a", "formula": "a"}]})");
    folder.write(
        "gone.fulvex",
        R"({"fulvex": 1, "captures": [{"id": "r", "file": "gone.csv"}], "channels": [{"id": "a", "capture": "r"}]})");
    folder.write("cut.npy", std::string("\x93NUMPY\x01\x00\x76\x00{'descr'", 18));
    const char *const cases[][2] = {
        {"run bad.fulvex --out out", "bad.fulvex: chanels: is not a key that belongs here; did you mean \"channels\"?"},
        {"run circle.fulvex --out out", "goes in a circle: a → a"},
        {"run gone.fulvex --out out", "gone.csv: is not there"},
        {"run none.fulvex --out out", "none.fulvex: No such file or directory"},
        {"run link.fulvex --set q=1 --out out", "the project has no parameter \"q\""},
        {"run link.fulvex --set k=99 --out out", "lies outside the parameter's min and max"},
        {"run link.fulvex --set k=nan --out out", "the value is not a number"},
        {"run link.fulvex --capture zz=link.csv --out out", "the project has no capture \"zz\""},
        {"run link.fulvex --capture run1=cut.npy --out out", "the header should be 118 bytes long"},
        {"info cut.npy", "the file is truncated: copy or export it again"},
        {"info cut.npy --out out", "--out"},
        {"wobble", "fulvex-batch"},
        {"run", "PROJECT"},
    };
    for (const auto &[arguments, expected] : cases) {
        const test::Outcome outcome = run(arguments);
        EXPECT_EQ(outcome.status, 2) << arguments;
        EXPECT_THAT(outcome.err, testing::HasSubstr(expected)) << arguments;
        EXPECT_EQ(std::count(outcome.err.begin(), outcome.err.end(), '\n'), 1) << outcome.err;
        EXPECT_FALSE(std::filesystem::exists(folder / "out/results.json")) << arguments;
    }
}

TEST_F(LinkBatch, InfoDescribesFiles)
{
    makeLink();
    const test::Outcome text = run("info link.csv");
    EXPECT_EQ(text.status, 0);
    EXPECT_THAT(text.out, testing::HasSubstr("link.csv: csv, 1 channel of"));
    const auto json = nlohmann::json::parse(run("info --json link.csv").out);
    EXPECT_EQ(json[0]["format"], "csv");
    EXPECT_EQ(json[0]["columns"][0]["name"], "v");
}

TEST_F(LinkBatch, EvidenceTellsTheMomentsBehindANumber)
{
    makeLink();
    const auto all = nlohmann::json::parse(run("evidence --json link.fulvex tr --most 100000").out);
    ASSERT_GT(all["count"].get<int>(), 300);
    ASSERT_EQ(all["moments"].size(), all["count"].get<std::size_t>());
    const double worst = all["moments"][0]["value"];
    const std::string around = std::to_string(worst - 1e-6) + ":" + std::to_string(worst + 1e-6);
    const auto some = nlohmann::json::parse(run("evidence --json link.fulvex tr --values " + around).out);
    EXPECT_EQ(some["count"], 1);
    EXPECT_EQ(some["moments"][0]["time"], all["moments"][0]["time"]);
    const auto box = nlohmann::json::parse(run("evidence --json link.fulvex eye1 --phases 0:1 --values=-9:9").out);
    EXPECT_EQ(box["count"], box["all"]);
    EXPECT_EQ(box["moments"].size(), 20u);
    const test::Outcome words = run("evidence link.fulvex eye1 --phases 0.49:0.51 --values=-0.01:0.01");
    EXPECT_THAT(words.out, testing::HasSubstr("No unit interval passes there."));
    EXPECT_THAT(run("evidence link.fulvex tr --most 3").out, testing::HasSubstr("off the mean"));
}

TEST_F(LinkBatch, AQuestionThatCannotBeAskedSaysWhyInOneLine)
{
    makeLink();
    for (const char *asked :
         {"nobody", "tr --values 3", "tr --values 3:2", "tr --times a:b", "tr --times 1:2x", "tr --most -1"}) {
        const test::Outcome outcome = run(std::string("evidence link.fulvex ") + asked);
        EXPECT_EQ(outcome.status, 2) << asked;
        EXPECT_EQ(std::count(outcome.err.begin(), outcome.err.end(), '\n'), 1) << outcome.err;
        EXPECT_EQ(outcome.out, "");
    }
}

TEST_F(LinkBatch, InfoTellsWhatTheCheckFinds)
{
    std::string table = "t,p,n\n";
    for (int i = 0; i < 4000; ++i) { // the second leg late by three rows, and clipped
        const auto leg = [](int k) { return std::tanh(3 * std::sin(2 * M_PI * k / 80.0)); };
        table += std::to_string(i) + "e-9," + std::to_string(leg(i)) + "," + std::to_string(-leg(i - 3)) + "\n";
    }
    folder.write("legs.csv", table);
    const test::Outcome outcome = run("info --json legs.csv");
    EXPECT_EQ(outcome.status, 0) << outcome.err;
    bool found = false;
    const auto all = nlohmann::json::parse(outcome.out);
    for (const auto &finding : all[0]["findings"]) {
        if (finding["check"] != "skew") continue;
        found = true;
        EXPECT_EQ(finding["level"], "warning");
        EXPECT_EQ(finding["channel"], "column_1");
        EXPECT_THAT(finding["text"].get<std::string>(), testing::HasSubstr("3.000"));
        EXPECT_THAT(finding["remedy"].get<std::string>(), testing::HasSubstr("deskew column_1 by"));
        EXPECT_LT(finding["from"].get<double>(), finding["to"].get<double>());
    }
    EXPECT_TRUE(found) << outcome.out;
    EXPECT_THAT(run("info legs.csv").out, testing::HasSubstr("warning: column_1: "));
}

TEST_F(LinkBatch, EveryFormatIsDescribed)
{
    for (const char *name :
         {"packed.npz", "level5.mat", "chunked.h5", "16-bit.wav", "two-channels.sigmf-meta", "block.bin"}) {
        const test::Outcome outcome = run("info --json '" + std::string(FULVEX_FIXTURES) + "/" + name + "'");
        EXPECT_EQ(outcome.status, 0) << name << outcome.err;
        EXPECT_EQ(nlohmann::json::parse(outcome.out)[0]["samples"], 40) << name;
    }
}

TEST_F(LinkBatch, HelpAndVersion)
{
    EXPECT_THAT(run("--version").out, testing::HasSubstr("fulvex-batch 0.1.0"));
    EXPECT_EQ(run("-h").status, 0);
    EXPECT_THAT(run("run -h").out, testing::HasSubstr("--capture"));
}

TEST_F(LinkBatch, APackedProjectGivesTheSameNumbers)
{
    makeLink();
    ASSERT_EQ(run("run link.fulvex --out plain").status, 0);
    Progress progress;
    const OpenedProject opened = openProject(folder / "link.fulvex", progress);
    packProject(opened.document, opened.base, folder / "link.fulvexpack", progress);
    std::filesystem::remove(folder / "link.csv");
    setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1);
    const int status = run("run link.fulvexpack --out packed").status;
    const auto plain = nlohmann::json::parse(test::readAll(folder / "plain/results.json")),
               packed = nlohmann::json::parse(test::readAll(folder / "packed/results.json"));
    EXPECT_EQ(status, 0);
    EXPECT_EQ(plain["measurements"], packed["measurements"]);
    EXPECT_EQ(plain["masks"], packed["masks"]);
    EXPECT_EQ(plain["captures"][0]["sha256"], packed["captures"][0]["sha256"]);
    const test::Outcome torn = run("run " + folder.write("torn.fulvexpack", "PK\x03\x04 and no more") + " --out torn");
    EXPECT_EQ(torn.status, 2);
    EXPECT_THAT(torn.err, testing::HasSubstr("is not a whole ZIP archive"));
    EXPECT_EQ(std::count(torn.err.begin(), torn.err.end(), '\n'), 1);
}
