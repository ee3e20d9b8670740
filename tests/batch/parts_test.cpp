// Many captures by the command line: lists of them, parts, and several machines.

#include "link_batch.h"

#include <cstdio>
#include <filesystem>
#include <gmock/gmock.h>
#include <map>
#include <nlohmann/json.hpp>

using namespace fulvex;

TEST_F(LinkBatch, PartsOfARunAddUpToTheWholeOfIt)
{
    std::string captures;
    for (int i = 0; i < 4; ++i) {
        const std::string file = "c" + std::to_string(i) + ".csv";
        makeLink(file, std::uint64_t(20 + i));
        captures += " --capture run1=" + file;
        EXPECT_EQ(run("run link.fulvex -q --capture run1=" + file + " --partial " + std::to_string(i) + ".part").status,
                  0);
    }
    EXPECT_EQ(run("run link.fulvex" + captures + " --out whole --junit whole.xml").status, 0);
    EXPECT_EQ(run("run link.fulvex" + captures + " --out both --jobs 2").status, 0);
    EXPECT_EQ(run("merge link.fulvex -q 2.part 0.part --partial some.part").status, 0);
    const auto merged = run("merge link.fulvex 3.part some.part 1.part 0.part --out merged --junit merged.xml");
    EXPECT_EQ(merged.status, 0);
    EXPECT_EQ(merged.err, "left out: 0.part: all its captures are in another part\n");
    const auto results = [&](const std::string &of) {
        auto json = nlohmann::json::parse(test::readAll(folder / (of + "/results.json")));
        json.erase("made");
        json.erase("seal");
        json.erase("files");
        for (auto &clock : json["clocks"]) { // means, which are the same to 1e-12
            for (const char *mean : {"rate", "rate_uncertainty"}) {
                char digits[32];
                std::snprintf(digits, sizeof(digits), "%.12g", clock[mean].get<double>());
                clock[mean] = digits;
            }
        }
        return json.dump();
    };
    EXPECT_EQ(results("merged"), results("whole"));
    EXPECT_EQ(results("both"), results("whole"));
    EXPECT_EQ(test::readAll(folder / "merged/measurements.csv"), test::readAll(folder / "whole/measurements.csv"));
    const std::string verdicts = test::readAll(folder / "whole.xml");
    EXPECT_EQ(verdicts, test::readAll(folder / "merged.xml"));
    EXPECT_THAT(verdicts, testing::AllOf(testing::StartsWith("<?xml version=\"1.0\""), testing::HasSubstr("c3.csv"),
                                         testing::HasSubstr("failures=\"0\"")));
    const auto repeated = run("merge link.fulvex 0.part 0.part 0.part --repeated --out thrice");
    EXPECT_EQ(repeated.status, 0);
    const auto count = [&](const std::string &of) {
        const auto json = nlohmann::json::parse(test::readAll(folder / (of + "/results.json")));
        return json["eyes"][0]["unit_intervals"].get<std::int64_t>();
    };
    EXPECT_EQ(run("merge link.fulvex 0.part --out once").status, 0);
    EXPECT_EQ(count("thrice"), 3 * count("once"));
    EXPECT_EQ(run("merge link.fulvex link.fulvex").status, 2);
    EXPECT_THAT(run("merge link.fulvex link.fulvex").err, testing::HasSubstr("is no part"));
}

TEST_F(LinkBatch, ParallelMakesThePartsAndDoesWhatIsMissing)
{
    std::string captures, given;
    for (int i = 0; i < 3; ++i) {
        const std::string file = "night " + std::to_string(i) + ".csv"; // with a blank in its name
        makeLink(file, std::uint64_t(40 + i));
        captures += " '" + file + "'";
        given += " --capture 'run1=" + file + "'";
    }
    const auto script = [&](const std::string &arguments) {
        const std::string call = "cd '" + folder.path().string() +
                                 "' && XDG_CACHE_HOME=cache FULVEX_BATCH='" FULVEX_BATCH "' '" FULVEX_SCALE "/" +
                                 arguments + " >stdout 2>stderr";
        return WEXITSTATUS(std::system(call.c_str()));
    };
    const auto parts = [&] {
        int count = 0;
        for (const auto &one : std::filesystem::directory_iterator(folder.path() / "parts"))
            count += one.path().extension() == ".part";
        return count;
    };
    ASSERT_EQ(script("parts-here' link.fulvex run1 parts 2" + captures), 0) << test::readAll(folder / "stderr");
    EXPECT_EQ(parts(), 3);
    const auto lost = std::filesystem::directory_iterator(folder.path() / "parts")->path();
    const auto kept = [&] {
        std::map<std::filesystem::path, std::filesystem::file_time_type> times;
        for (const auto &one : std::filesystem::directory_iterator(folder.path() / "parts"))
            if (one.path() != lost) times[one.path()] = one.last_write_time();
        return times;
    };
    std::filesystem::remove(lost);
    const auto before = kept();
    ASSERT_EQ(script("parts-here' link.fulvex run1 parts 2" + captures), 0);
    EXPECT_EQ(parts(), 3);
    EXPECT_EQ(kept(), before);
    EXPECT_EQ(run("merge link.fulvex parts/*.part --out merged").status, 0);
    EXPECT_EQ(run("run link.fulvex" + given + " --out whole").status, 0);
    EXPECT_EQ(test::readAll(folder / "merged/measurements.csv"), test::readAll(folder / "whole/measurements.csv"));
    // The array job does a line of a list.
    folder.write("list", "night 0.csv\nnight 1.csv\n");
    EXPECT_EQ(script("parts-array.sh' link.fulvex run1 tasks list"), 2); // of no task
    ::setenv("FULVEX_SCALE", FULVEX_SCALE, 1);
    ::setenv("TASK", "2", 1);
    EXPECT_EQ(script("parts-array.sh' link.fulvex run1 tasks list"), 0) << test::readAll(folder / "stderr");
    ::unsetenv("TASK");
    EXPECT_EQ(run("merge link.fulvex tasks/*.part -q").status, 0);
}

TEST_F(LinkBatch, OneOfManyThatCannotBeReadIsTold)
{
    makeLink();
    makeLink("other.csv", 7);
    folder.write("torn.npy", "\x93NUMPY");
    const std::string three =
        "run link.fulvex --capture run1=link.csv --capture run1=torn.npy --capture run1=other.csv";
    const auto told = run(three + " --out some --junit some.xml --populations values");
    EXPECT_EQ(told.status, 1);
    EXPECT_THAT(told.err, testing::AllOf(testing::HasSubstr("left out: "), testing::HasSubstr("torn.npy")));
    const auto json = nlohmann::json::parse(test::readAll(folder / "some/results.json"));
    EXPECT_EQ(json["captures"].size(), 3u);
    EXPECT_THAT(json["captures"][2]["findings"].dump(), testing::HasSubstr("error"));
    EXPECT_EQ(json["masks"][0]["captures"].size(), 2u);
    EXPECT_THAT(test::readAll(folder / "some.xml"), testing::HasSubstr("<error message="));
    const std::string row = json["measurements"][0]["id"];
    EXPECT_TRUE(std::filesystem::exists(folder.path() / "values" / "1" / (row + ".npy")));
    EXPECT_TRUE(std::filesystem::exists(folder.path() / "values" / "3" / (row + ".npy")));
    EXPECT_EQ(run("run link.fulvex -q --capture run1=torn.npy --capture run1=torn.npy").status, 2);
}

TEST_F(LinkBatch, CapturesAreReplacedAndAccumulated)
{
    makeLink("other.csv", 7);
    makeLink();
    run("run link.fulvex --out one");
    EXPECT_EQ(run("run link.fulvex --capture run1=link.csv --capture run1=other.csv --out two").status, 0);
    const auto one = nlohmann::json::parse(test::readAll(folder / "one/results.json")),
               two = nlohmann::json::parse(test::readAll(folder / "two/results.json"));
    EXPECT_GT(two["measurements"][0]["count"].get<int>(), 1.8 * one["measurements"][0]["count"].get<int>());
    EXPECT_NEAR(two["eyes"][0]["samples"].get<double>(), 2 * one["eyes"][0]["samples"].get<double>(), 30);
    EXPECT_EQ(two["captures"].size(), 2u);
    const auto &mask = two["masks"][0];
    ASSERT_EQ(mask["captures"].size(), 2u);
    EXPECT_THAT(mask["captures"][0]["files"].get<std::string>(), testing::EndsWith("/link.csv"));
    EXPECT_THAT(mask["captures"][1]["files"].get<std::string>(), testing::EndsWith("/other.csv"));
    EXPECT_EQ(mask["captures"][0]["unit_intervals"], one["masks"][0]["unit_intervals"]);
    EXPECT_EQ(mask["captures"][0]["hits"].get<int>() + mask["captures"][1]["hits"].get<int>(), mask["hits"]);
    EXPECT_FALSE(one["masks"][0].contains("captures"));
}
