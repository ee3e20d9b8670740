// Programs as functions of formulas: nothing runs before its content was allowed, what runs is kept, what fails is told
// and not tried again.

#include "document_json.h"
#include "engine.h"
#include "error.h"
#include "npy_header.h"
#include "own_config.h"
#include "program_consent.h"
#include "program_run.h"
#include "signals.h"
#include "two_columns.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace fulvex;
using testing::HasSubstr;

namespace {

/// Times its constant, if the file `runs` beside it may be written to: each run leaves a byte there.
std::string timesProgram(const std::filesystem::path &runs, const std::string &also = "")
{
    return "#!/usr/bin/python3\nimport json, sys, numpy\nfrom numpy.lib import format as npy\nopen('" + runs.string() +
           "', 'a').write('x')\ntask = json.loads(sys.stdin.buffer.readline())\n" + also +
           "\nnpy.read_magic(sys.stdin.buffer)\nnpy.read_array_header_1_0(sys.stdin.buffer)\n"
           "made = numpy.frombuffer(sys.stdin.buffer.read()) * task['parameters']['by']\n"
           "npy.write_array_header_1_0(sys.stdout.buffer, npy.header_data_from_array_1_0(made))\n"
           "sys.stdout.buffer.write(made.tobytes())\n";
}

class ProgramsOf : public testing::Test {
protected:
    ProgramsOf() : document(test::twoColumns(1e-9))
    {
        std::vector<double> both;
        for (int i = 0; i < 4000; ++i) {
            both.push_back(std::sin(i / 20.0));
            both.push_back(double(i));
        }
        folder.write("a.npy", npyHeader("<f8", 4000, 2) + test::bytesOf(both));
        write(timesProgram(runsFile()));
        document.programs.push_back({.id = "times", .file = "times.py", .arguments = {"signal"}, .parameters = {"by"}});
        document.channels.push_back({.id = "more", .formula = "times(a + b * 0, 2 * gain)"});
        document.parameters.push_back({"gain", 2});
        document.measurements.push_back({.id = "m", .quantity = "maximum", .source = "more"});
    }
    std::filesystem::path runsFile() const { return folder.path() / "runs"; }
    void write(const std::string &text)
    {
        folder.write("times.py", text);
        content = readProgram(folder.path() / "times.py").sha256;
    }
    int runs() const
    {
        std::error_code none;
        const auto size = std::filesystem::file_size(runsFile(), none);
        return none ? 0 : int(size);
    }
    Results evaluate()
    {
        validate(document);
        Progress progress;
        return engine.evaluate(document, folder.path(), {}, progress);
    }
    std::string error() { return findEntry(evaluate().channels, "more")->error; }
    const test::OwnConfig config;
    const test::TemporaryFolder folder;
    Engine engine{FULVEX_SHIPPED_MASKS};
    Document document;
    std::string content;
};

} // namespace

TEST_F(ProgramsOf, RunNothingUntilTheContentIsAllowed)
{
    Results results = evaluate();
    EXPECT_EQ(results.programs[0].state, ProgramStatus::State::unseen);
    EXPECT_EQ(results.programs[0].sha256, content);
    EXPECT_THAT(findEntry(results.channels, "more")->error,
                HasSubstr("channel \"more\": character 1: program \"times\": has not been allowed to run here"));
    EXPECT_THAT(results.rows[0].reason, HasSubstr("has not been allowed"));
    EXPECT_EQ(runs(), 0);
    allowProgram(content);
    results = evaluate();
    EXPECT_EQ(results.programs[0].state, ProgramStatus::State::allowed);
    EXPECT_EQ(findEntry(results.channels, "more")->error, "");
    EXPECT_NEAR(*results.rows[0].statistics.mean, 4, 1e-3);
    EXPECT_EQ(results.rows[0].unit, "V");
    EXPECT_EQ(runs(), 1);
    evaluate();
    EXPECT_EQ(runs(), 1); // kept
    document.parameters[0].value = 3;
    EXPECT_NEAR(*evaluate().rows[0].statistics.mean, 6, 1e-3);
    EXPECT_EQ(runs(), 2);
    write(timesProgram(runsFile(), "# another"));
    EXPECT_THAT(error(), HasSubstr("has not been allowed"));
    EXPECT_EQ(runs(), 2);
    forbidProgram(content);
}

TEST_F(ProgramsOf, OfAnotherContentThanTheProjectWasSavedWithDoNotRun)
{
    allowProgram(content);
    document.programs[0].sha256 = std::string(64, '0');
    const Results results = evaluate();
    EXPECT_EQ(results.programs[0].state, ProgramStatus::State::another);
    EXPECT_THAT(findEntry(results.channels, "more")->error,
                HasSubstr("is not the one that the project was saved with"));
    EXPECT_EQ(runs(), 0);
    document.programs[0].sha256 = content;
    EXPECT_EQ(error(), "");
    std::filesystem::remove(folder.path() / "times.py");
    EXPECT_EQ(evaluate().programs[0].state, ProgramStatus::State::missing);
    EXPECT_THAT(error(), HasSubstr("put it back"));
}

/// What fails is told each time and tried once, until something changes; all else is there.
TEST_F(ProgramsOf, ThatFailHarmNothingElse)
{
    write(timesProgram(runsFile(), "raise ValueError('no')"));
    allowProgram(content);
    for (int again = 0; again < 3; ++again) {
        const Results results = evaluate();
        EXPECT_THAT(findEntry(results.channels, "more")->error, HasSubstr("ValueError: no"));
        EXPECT_EQ(findEntry(results.channels, "a")->error, "");
    }
    EXPECT_EQ(runs(), 1);
    document.parameters[0].value = 5;
    EXPECT_THAT(error(), HasSubstr("ValueError: no"));
    EXPECT_EQ(runs(), 2);
    write(timesProgram(runsFile(), "print('slowly now', file=sys.stderr)"));
    allowProgram(content);
    const Results results = evaluate();
    EXPECT_EQ(findEntry(results.channels, "more")->error, "");
    EXPECT_EQ(findEntry(results.channels, "more")->remark, "slowly now");
}

TEST_F(ProgramsOf, AreFunctionsInFormulas)
{
    allowProgram(content);
    document.programs[0].unit = "A";
    const auto set = [&](const std::string &formula) { document.channels.back().formula = formula; };
    set("2 * times(a, 3)");
    EXPECT_EQ(evaluate().rows[0].unit, "A");
    EXPECT_NEAR(*evaluate().rows[0].statistics.mean, 6, 1e-3);
    set("lowpass(times(smooth(a, 5 ns), 1), 100 MHz) + 1 A");
    EXPECT_EQ(error(), "");
    set("times(a, 3) + 1 V");
    EXPECT_THAT(error(), HasSubstr("do not fit together"));
    set("times(a, b)");
    EXPECT_THAT(error(), HasSubstr("\"b\" changes over time where a constant is needed"));
    document.programs[0].unit = "s";
    set("smooth(a, times(a, 1))");
    EXPECT_THAT(error(), HasSubstr("changes over time where a constant is needed"));
    set("times(a)");
    EXPECT_THROW(evaluate(), Error);
    set("times(a, 1, 2)");
    EXPECT_THROW(evaluate(), Error);
    set("times + a");
    EXPECT_THAT(error(), HasSubstr("times"));
    document.programs[0].id = "lowpass";
    EXPECT_THROW(validate(document), Error);
    document.programs[0].id = "times";
    document.programs[0].arguments.clear();
    EXPECT_THROW(validate(document), Error);
    document.programs[0].arguments = {"signal", "signal"};
    EXPECT_THROW(validate(document), Error);
}

/// The two that ship with the demo, against what they say of themselves.
TEST_F(ProgramsOf, ShippedAsExamplesDoWhatTheySay)
{
    std::filesystem::copy(FULVEX_DEMO_PROGRAMS "/despike.py", folder.path() / "despike.py");
    const std::string slew = std::string(FULVEX_DEMO) + "/programs/slew_limit";
    for (const auto &[id, file, constant] :
         {std::tuple<const char *, std::string, const char *>("despike", "despike.py", "limit"),
          {"slew_limit", slew, "rate"}}) {
        document.programs.push_back({.id = id, .file = file, .arguments = {"signal"}, .parameters = {constant}});
        allowProgram(readProgram(folder.path() / file).sha256);
    }
    const auto values = [&](const std::string &formula) {
        document.channels.back().formula = formula;
        const Results results = evaluate();
        const ChannelResult &made = *findEntry(results.channels, "more");
        EXPECT_EQ(made.error, "");
        std::vector<double> all(made.source ? std::size_t(made.source->axis().count) : 0);
        if (made.source) made.source->read(0, all);
        return all;
    };
    // One sample of a sine 5 V too high; b counts samples.
    const auto clean = values("despike(a + 5 V * ((b > 999.5 V) - (b > 1000.5 V)), 0.5 V)");
    ASSERT_EQ(clean.size(), 4000u);
    for (std::size_t i = 2; i + 2 < 4000; ++i) EXPECT_NEAR(clean[i], std::sin(double(i) / 20), 0.11) << i;
    const auto slow = values("slew_limit(1 V * (b > 99.5 V), 1e7)"); // 10 mV a sample
    EXPECT_EQ(slow[99], 0);
    EXPECT_NEAR(slow[149], 0.5, 1e-9);
    EXPECT_NEAR(slow[300], 1, 1e-9);
}
