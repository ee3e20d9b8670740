// Programs of the user's: what they are given, what they may give back, and everything that they may do wrong. Each is
// a script of the plain shell or of Python, as a user might have one.

#include "error.h"
#include "own_config.h"
#include "program_consent.h"
#include "program_run.h"
#include "signals.h"
#include "temporary_folder.h"

#include <chrono>
#include <cmath>
#include <gmock/gmock.h>
#include <thread>

using namespace fulvex;
using testing::AllOf;
using testing::HasSubstr;

namespace {

/// Copies what it is given, whatever that is: all of the first array.
constexpr const char *echo = R"(#!/usr/bin/python3
import json, sys
import numpy
from numpy.lib import format as npy
task = json.loads(sys.stdin.buffer.readline())
def take(count):
    npy.read_magic(sys.stdin.buffer)
    assert npy.read_array_header_1_0(sys.stdin.buffer) == ((count,), False, numpy.dtype("<f8"))
    return numpy.frombuffer(sys.stdin.buffer.read(8 * count))
arrays = [take(count) for count in task["lengths"]]
def give(made):
    npy.write_array_header_1_0(sys.stdout.buffer, npy.header_data_from_array_1_0(made))
    sys.stdout.buffer.write(made.tobytes())
)";

class Programs : public testing::Test {
protected:
    SourcePtr run(const std::string &text, std::size_t count = 1000, double seconds = 20)
    {
        std::vector<double> values;
        for (std::size_t i = 0; i < count; ++i) values.push_back(std::sin(double(i)));
        if (count > 7) values[7] = NAN;
        return run(text, {makeMemorySource(values, 1e-9, 0.5)}, seconds);
    }
    SourcePtr run(const std::string &text, std::vector<SourcePtr> signals, double seconds = 20)
    {
        folder.write("own.program", text);
        ProgramTask task{std::move(signals), {"V", "A"}, {{"limit", 0.25}}};
        task.units.resize(task.inputs.size());
        task.seconds = seconds;
        return runProgram(readProgram(folder.path() / "own.program"), task, progress);
    }
    std::string failure(const std::string &text, std::size_t count = 1000, double seconds = 20)
    {
        try {
            run(text, count, seconds);
        } catch (const Error &error) {
            return error.what();
        }
        return "none";
    }
    static std::vector<double> allOf(const SampleSource &source)
    {
        std::vector<double> values(std::size_t(source.axis().count));
        source.read(0, values);
        return values;
    }
    test::TemporaryFolder folder;
    Progress progress;
};

} // namespace

TEST_F(Programs, AreGivenAllThatIsSaidAndGiveASignalOnTheSameGrid)
{
    const SourcePtr made =
        run(std::string(echo) + R"(
assert task["fulvex_program"] == 1 and task["interval"] == 1e-9 and task["start"] == 0.5
assert task["lengths"] == [5, 5] and task["units"] == ["V", "A"] and task["parameters"] == {"limit": 0.25}
give(arrays[0] * arrays[1] + task["parameters"]["limit"])
)",
            {makeMemorySource({1, 2, NAN, 4, 5}, 1e-9, 0.5), makeMemorySource({1, 1, 1, 2, 2}, 1e-9, 0.5)});
    EXPECT_EQ(made->axis().interval, 1e-9);
    EXPECT_EQ(made->axis().start, 0.5);
    const auto values = allOf(*made);
    ASSERT_EQ(values.size(), 5u);
    EXPECT_EQ(values[1], 2.25);
    EXPECT_TRUE(std::isnan(values[2]));
    EXPECT_EQ(values[4], 10.25);
    EXPECT_EQ(made->remark(), "");
}

/// Longer than any pipe holds, in floats of 4 bytes, with the answer begun before all is read.
TEST_F(Programs, MayAnswerWhileTheyReadAndInOtherNumbers)
{
    const std::size_t count = 3'000'000;
    const SourcePtr made = run(R"(#!/usr/bin/python3
import json, sys
import numpy
from numpy.lib import format as npy
task = json.loads(sys.stdin.buffer.readline())
npy.write_array_header_1_0(sys.stdout.buffer, {"descr": "<f4", "fortran_order": False, "shape": (task["lengths"][0],)})
version = npy.read_magic(sys.stdin.buffer)
npy.read_array_header_1_0(sys.stdin.buffer)
while True:
    block = sys.stdin.buffer.read(80000)
    if not block: break
    sys.stdout.buffer.write((2 * numpy.frombuffer(block)).astype("<f4").tobytes())
print("took", task["lengths"][0], file=sys.stderr)
print("all well", file=sys.stderr)
)",
                               count);
    const auto values = allOf(*made);
    for (const std::size_t i : {std::size_t(0), std::size_t(1), std::size_t(1234567), count - 1})
        EXPECT_EQ(values[i], double(float(2 * std::sin(double(i)))));
    EXPECT_EQ(made->remark(), "took 3000000 · all well");
}

TEST_F(Programs, ThatFailSayWhatTheySaidLast)
{
    EXPECT_THAT(
        failure("#!/bin/sh\necho first >&2\necho 'no such constant' >&2\nexit 3\n"),
        AllOf(HasSubstr("own.program"), HasSubstr("ended with 3"), HasSubstr("it said: first · no such constant")));
    EXPECT_THAT(failure(std::string(echo) + "raise ValueError('too loud')\n"), HasSubstr("ValueError: too loud"));
    EXPECT_THAT(failure("#!/bin/sh\nkill -SEGV $$\n"), HasSubstr("was ended by signal 11"));
    EXPECT_THAT(failure("#!/bin/sh\nprintf '\\033[31mred\\033[0m \\377\\n' >&2; exit 1\n"),
                testing::Not(HasSubstr("\033"))); // what it prints moves no cursor
}

TEST_F(Programs, ThatGiveSomethingElseAreNotBelieved)
{
    EXPECT_THAT(failure("#!/bin/sh\ncat > /dev/null\n"), HasSubstr("gave nothing"));
    EXPECT_THAT(failure("#!/bin/sh\ncat > /dev/null; echo hello\n"), HasSubstr("gave what is no such array"));
    EXPECT_THAT(failure(std::string(echo) + "give(arrays[0][:-1])\n"), HasSubstr("999 numbers of one signal of 1000"));
    EXPECT_THAT(failure(std::string(echo) + "give(arrays[0].reshape(2, -1))\n"), HasSubstr("2 × 500"));
    EXPECT_THAT(failure(std::string(echo) + R"(
npy.write_array_header_1_0(sys.stdout.buffer, {"descr": "<f8", "fortran_order": False, "shape": (1000,)})
sys.stdout.buffer.write(arrays[0][:10].tobytes())
)"),
                HasSubstr("gave what is no such array"));
    EXPECT_THAT(failure(std::string(echo) + R"(
npy.write_array_header_1_0(sys.stdout.buffer, {"descr": "<U8", "fortran_order": False, "shape": (1000,)})
sys.stdout.buffer.write(b"x" * 32000)
)"),
                HasSubstr("gave what is no such array"));
}

TEST_F(Programs, ThatFloodAreStopped)
{
    EXPECT_THAT(failure("#!/bin/sh\ncat /dev/zero\n"), AllOf(HasSubstr("gave more than"), HasSubstr("was stopped")));
    EXPECT_THAT(failure("#!/bin/sh\ncat /dev/zero >&2\n"), HasSubstr("printed more than 64 MiB"));
}

/// Nobody waits for them, nor for what they started: it is all gone at once.
TEST_F(Programs, ThatHangAreStoppedWithAllTheyStarted)
{
    const auto begun = std::chrono::steady_clock::now();
    const std::string mark = (folder.path() / "alive").string();
    EXPECT_THAT(
        failure("#!/bin/sh\n(while true; do date > '" + mark + "'; sleep 0.05; done) &\nsleep 1000\n", 1000, 0.5),
        AllOf(HasSubstr("took longer than 500 ms and was stopped"), HasSubstr("seconds")));
    EXPECT_LT(std::chrono::steady_clock::now() - begun, std::chrono::seconds(10));
    std::error_code gone;
    std::filesystem::remove(mark, gone);
    std::this_thread::sleep_for(std::chrono::milliseconds(300));
    EXPECT_FALSE(std::filesystem::exists(mark));
    EXPECT_THAT(failure("#!/bin/sh\nexec >&- 2>&-\nsleep 1000\n", 1000),
                HasSubstr("closed its output but did not end"));
}

TEST_F(Programs, AreStoppedByACancel)
{
    std::thread later([&] {
        std::this_thread::sleep_for(std::chrono::milliseconds(200));
        progress.cancel();
    });
    const auto begun = std::chrono::steady_clock::now();
    EXPECT_THROW(run("#!/bin/sh\nsleep 1000\n", 1000, 1000), Cancelled);
    later.join();
    EXPECT_LT(std::chrono::steady_clock::now() - begun, std::chrono::seconds(5));
}

/// It runs without reading a byte of what it is sent: that is its own business.
TEST_F(Programs, NeedNotReadWhatTheyAreGiven)
{
    const SourcePtr made = run("#!/usr/bin/python3\nimport sys, numpy\nfrom numpy.lib import format as npy\n"
                               "sys.stdin.close()\nmade = numpy.ones(2000000, dtype='i1')\n"
                               "npy.write_array_header_1_0(sys.stdout.buffer, npy.header_data_from_array_1_0(made))\n"
                               "sys.stdout.buffer.write(made.tobytes())\n",
                               2000000);
    EXPECT_EQ(allOf(*made)[1999999], 1);
}

TEST_F(Programs, OfNoKindThatRunsSaySo)
{
    EXPECT_THAT(failure("give(arrays[0])\n"), AllOf(HasSubstr("cannot be started"), HasSubstr("#!")));
    EXPECT_THAT(failure("#!/nowhere/interpreter\n"), HasSubstr("cannot be started"));
    EXPECT_THROW(readProgram(folder.path()), Error);
    EXPECT_THROW(readProgram(folder.path() / "nothing"), Error);
}

TEST_F(Programs, HaveNoMoreMemoryThanTheyAreAllowed)
{
    EXPECT_THAT(failure(std::string(echo) + "big = bytearray(6 << 30)\ngive(arrays[0])\n"), HasSubstr("MemoryError"));
}

/// Nothing of ours but what it takes to find an interpreter.
TEST_F(Programs, SeeNothingOfOurEnvironment)
{
    ::setenv("FULVEX_SECRET", "seen", 1);
    EXPECT_THAT(failure("#!/bin/sh\nenv >&2\nexit 1\n"), testing::Not(HasSubstr("FULVEX_SECRET")));
    ::unsetenv("FULVEX_SECRET");
}

/// What is run is what was read, whatever is put at its path or into the cache meanwhile.
TEST_F(Programs, AreRunAsTheyWereRead)
{
    folder.write("own.program", std::string(echo) + "give(arrays[0])\n");
    const ProgramContent content = readProgram(folder.path() / "own.program");
    folder.write("own.program", "#!/bin/sh\nexit 9\n");
    ProgramTask task{{makeMemorySource({1, 2, 3}, 1)}, {"V"}, {}};
    EXPECT_EQ(allOf(*runProgram(content, task, progress)), (std::vector<double>{1, 2, 3}));
    EXPECT_EQ(allOf(*runProgram(content, task, progress)), (std::vector<double>{1, 2, 3})); // from the cache
}

TEST(ProgramConsent, IsOfAContentAndKept)
{
    const test::OwnConfig config;
    const std::string one(64, 'a'), other(64, 'b');
    EXPECT_FALSE(isProgramAllowed(one));
    allowProgram(one);
    EXPECT_TRUE(isProgramAllowed(one));
    EXPECT_FALSE(isProgramAllowed(other));
    forbidProgram(one);
    EXPECT_FALSE(isProgramAllowed(one));
    EXPECT_THROW(allowProgram("../../etc"), Error);
    EXPECT_FALSE(isProgramAllowed("../../etc/passwd"));
}
