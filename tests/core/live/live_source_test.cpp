// An instrument over TCP: what it captured comes over bit by bit, and whatever goes wrong is told and gone on from.

#include "capture_reader.h"
#include "error.h"
#include "live_file.h"
#include "live_recorder.h"
#include "simulator.h"
#include "temporary_folder.h"

#include <atomic>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <thread>

namespace fulvex {
namespace {

using namespace std::chrono_literals;
namespace fs = std::filesystem;

constexpr demo::SimulatorOptions quick{.samples = 20000, .mostPerSecond = 1000};

Dialect shipped(int patience = 1000)
{
    Dialect dialect = findDialect("brackwater", FULVEX_SHIPPED_DIALECTS, {});
    dialect.patience = patience;
    return dialect;
}

std::string errorOf(const std::function<void()> &act)
{
    try {
        act();
    } catch (const Error &error) {
        return error.what();
    }
    return "no error";
}

TEST(LiveSource, ReadsWhatTheInstrumentCaptured)
{
    const test::Simulator simulator(quick);
    Progress progress;
    LiveSource source(simulator.address(), shipped(), progress);
    EXPECT_EQ(source.identity(), "Brackwater,Simulated instrument,1,1");
    const LiveRecord record = source.acquire(progress);
    // The same seed gives the same captures.
    demo::SimulatedLink link(1, 20000);
    link.make({});
    ASSERT_EQ(record.channels.size(), 2u);
    EXPECT_EQ(record.samples(), 20000);
    EXPECT_DOUBLE_EQ(record.interval, 1.25e-10);
    EXPECT_DOUBLE_EQ(record.channels[0].scale, link.scale());
    EXPECT_EQ(std::memcmp(record.channels[0].bytes.data(), link.p().data(), 40000), 0);
    EXPECT_EQ(std::memcmp(record.channels[1].bytes.data(), link.n().data(), 40000), 0);
    const LiveRecord second = source.acquire(progress);
    EXPECT_NE(std::memcmp(second.channels[0].bytes.data(), record.channels[0].bytes.data(), 40000), 0);
}

TEST(LiveSource, WhatIsKeptReadsAsItWasCaptured)
{
    const test::Simulator simulator(quick);
    const test::TemporaryFolder folder;
    Progress progress;
    for (const bool bigEndian : {false, true}) {
        Dialect dialect = shipped();
        dialect.bigEndian = bigEndian;
        if (bigEndian) dialect.begin.back() = "FORM:BORD NORM";
        LiveSource source(simulator.address(), dialect, progress);
        const LiveRecord record = source.acquire(progress);
        const auto path = liveFile(folder.path(), nextLiveNumber(folder.path()));
        writeLive(path, record);
        const Capture capture = readCapture(path, {}, progress);
        ASSERT_EQ(capture.columns.size(), 2u);
        EXPECT_EQ(capture.columns[1].name, "CH2");
        EXPECT_EQ(capture.columns[1].unit, "V");
        EXPECT_EQ(capture.axis.interval, 1.25e-10);
        std::vector<double> volts(20000);
        capture.columns[1].read(0, volts);
        std::int16_t last = 0;
        std::memcpy(&last, record.channels[1].bytes.data() + 2 * 19999, 2);
        if (bigEndian) last = std::int16_t(__builtin_bswap16(std::uint16_t(last)));
        EXPECT_DOUBLE_EQ(volts[19999], last * record.channels[1].scale);
    }
    EXPECT_EQ(nextLiveNumber(folder.path()), 3u);
}

TEST(LiveSource, EachFaultIsToldAndTheNextConnectionIsFine)
{
    const test::Simulator simulator(quick);
    const std::pair<const char *, const char *> faults[] = {{"silent", "sent nothing within"},
                                                            {"cut", "in the middle of an answer"},
                                                            {"short", "sent nothing within"},
                                                            {"long", "goes on behind the end"},
                                                            {"header", "it begins with '%'"},
                                                            {"preamble", "is no number"},
                                                            {"zero", "is no time"},
                                                            {"count", "were expected"},
                                                            {"garbage", "values were expected"},
                                                            {"offended", "Data out of range"}};
    for (const auto &[fault, told] : faults) {
        Progress progress;
        Dialect dialect = shipped(300);
        dialect.begin.push_back(std::string("SIMulate:FAULt ") + fault);
        const std::string what = errorOf([&] {
            LiveSource source(simulator.address(), dialect, progress);
            source.acquire(progress);
        });
        EXPECT_THAT(what, testing::StartsWith("127.0.0.1:")) << fault;
        EXPECT_THAT(what, testing::HasSubstr(told)) << fault;
        LiveSource fine(simulator.address(), shipped(), progress);
        EXPECT_EQ(fine.acquire(progress).samples(), 20000) << fault;
    }
}

TEST(LiveSource, ASlowOneIsWaitedForAsLongAsSomethingComes)
{
    const test::Simulator simulator(quick);
    Progress progress;
    Dialect dialect = shipped(800); // eighty times the pause between two pieces, and less than one block takes
    dialect.begin.push_back("SIM:FAUL slow");
    LiveSource source(simulator.address(), dialect, progress);
    const auto begun = std::chrono::steady_clock::now();
    EXPECT_EQ(source.acquire(progress).samples(), 20000);
    EXPECT_GT(std::chrono::steady_clock::now() - begun, 900ms); // it was slower than the patience
}

TEST(LiveSource, NobodyThereIsToldAtOnce)
{
    Progress progress;
    EXPECT_THAT(errorOf([&] { LiveSource("127.0.0.1:1", shipped(), progress); }),
                testing::HasSubstr("cannot be connected"));
    EXPECT_THAT(errorOf([&] { LiveSource("", shipped(), progress); }), testing::HasSubstr("is no address"));
    EXPECT_THAT(errorOf([&] { LiveSource("no.such.host.invalid", shipped(), progress); }),
                testing::HasSubstr("cannot be looked up"));
}

TEST(LiveSource, ACancelEndsAnyWaitWithinATenthOfASecond)
{
    const test::Simulator simulator(quick);
    for (const char *fault : {"silent", "short", "slow"}) {
        auto quickest = std::chrono::steady_clock::duration::max();
        for (int i = 0; i < 3; ++i) { // a machine busy with something else delays one or two
            Progress progress;
            Dialect dialect = shipped(60000);
            dialect.begin.push_back(std::string("SIM:FAUL ") + fault);
            std::jthread cancelling([&] {
                std::this_thread::sleep_for(30ms);
                progress.cancel();
            });
            const auto begun = std::chrono::steady_clock::now();
            EXPECT_THROW(LiveSource(simulator.address(), dialect, progress).acquire(progress), Cancelled) << fault;
            quickest = std::min(quickest, std::chrono::steady_clock::now() - begun);
        }
        EXPECT_LT(quickest, 30ms + 100ms) << fault;
    }
}

TEST(LiveRecorder, GoesOnThroughFaultsAndLosesNothing)
{
    const test::Simulator simulator({.samples = 20000, .mostPerSecond = 1000, .faultEvery = 3});
    const test::TemporaryFolder folder;
    std::size_t messages = 0;
    LiveState last;
    std::mutex mutex;
    {
        LiveRecorder recorder(
            {simulator.address(), shipped(200), folder.path(), 36},
            [&](const LiveState &state) {
                const std::lock_guard lock(mutex);
                if (!state.message.empty() && state.message != last.message) ++messages;
                last = state;
            },
            [] { return true; });
        for (int i = 0; i < 400 && recorder.running(); ++i) std::this_thread::sleep_for(50ms);
        EXPECT_FALSE(recorder.running());
    }
    EXPECT_EQ(last.captures, 36u);
    EXPECT_GE(messages, 8u);
    // All that was taken was read, in its order, each once: what was on its way when the line broke was read again.
    Progress progress;
    demo::SimulatedLink link(1, 20000);
    for (std::size_t i = 1; i <= 36; ++i) {
        link.make({});
        std::vector<double> volts(20000);
        readCapture(liveFile(folder.path(), i), {}, progress).columns[0].read(0, volts);
        EXPECT_DOUBLE_EQ(volts[1234], link.p()[1234] * link.scale()) << i;
        EXPECT_DOUBLE_EQ(volts[19876], link.p()[19876] * link.scale()) << i;
    }
}

TEST(LiveRecorder, ComesBackWhenTheInstrumentDoes)
{
    const test::TemporaryFolder folder;
    auto simulator = std::make_unique<test::Simulator>(quick);
    const std::string address = simulator->address();
    std::mutex mutex;
    LiveState last;
    LiveRecorder recorder(
        {address, shipped(200), folder.path(), 0},
        [&](const LiveState &state) {
            const std::lock_guard lock(mutex);
            last = state;
        },
        [] { return true; });
    const auto now = [&] {
        const std::lock_guard lock(mutex);
        return last;
    };
    const auto comes = [&](auto holds) {
        for (int i = 0; i < 200 && !holds(now()); ++i) std::this_thread::sleep_for(50ms);
        return holds(now());
    };
    ASSERT_TRUE(comes([](const LiveState &state) { return state.captures >= 3; }));
    simulator.reset();
    ASSERT_TRUE(comes([](const LiveState &state) { return !state.message.empty(); }));
    EXPECT_TRUE(recorder.running());
    recorder.stop();
    ASSERT_TRUE(comes([](const LiveState &state) { return !state.running; }));
}

TEST(LiveRecorder, WaitsWhileNobodyKeepsUp)
{
    const test::Simulator simulator(quick);
    const test::TemporaryFolder folder;
    std::atomic<std::size_t> written = 0, looked = 0;
    LiveRecorder recorder(
        {simulator.address(), shipped(), folder.path(), 0}, [&](const LiveState &state) { written = state.captures; },
        [&] { return written - looked < 3; });
    for (int i = 0; i < 100 && written < 3; ++i) std::this_thread::sleep_for(20ms);
    std::this_thread::sleep_for(300ms);
    EXPECT_EQ(written, 3u);
    looked = 2;
    for (int i = 0; i < 100 && written < 5; ++i) std::this_thread::sleep_for(20ms);
    EXPECT_EQ(written, 5u);
    recorder.stop(); // ends a wait that nobody would end
    for (int i = 0; i < 400 && recorder.running(); ++i) std::this_thread::sleep_for(5ms);
    EXPECT_FALSE(recorder.running());
}

TEST(LiveRecorder, AFullDiskIsWaitedForWithWhatWasRead)
{
    const test::Simulator simulator(quick);
    const test::TemporaryFolder folder;
    const fs::path kept = folder.path() / "kept";
    folder.write("kept", "a file where the folder should be"); // nothing can be written there
    std::mutex mutex;
    LiveState last;
    LiveRecorder recorder(
        {simulator.address(), shipped(), kept, 2},
        [&](const LiveState &state) {
            const std::lock_guard lock(mutex);
            last = state;
        },
        [] { return true; });
    const auto comes = [&](auto holds) {
        for (int i = 0; i < 200; ++i, std::this_thread::sleep_for(25ms)) {
            const std::lock_guard lock(mutex);
            if (holds(last)) return true;
        }
        return false;
    };
    ASSERT_TRUE(comes([](const LiveState &state) { return !state.message.empty(); }));
    EXPECT_TRUE(recorder.running());
    fs::remove(kept);
    fs::create_directory(kept);
    ASSERT_TRUE(comes([](const LiveState &state) { return state.captures == 2; }));
    Progress progress;
    std::vector<double> first(20000);
    readCapture(liveFile(kept, 1), {}, progress).columns[0].read(0, first);
    demo::SimulatedLink link(1, 20000);
    link.make({});
    EXPECT_DOUBLE_EQ(first[777], link.p()[777] * link.scale()); // the very first that was taken
}

TEST(Dialects, SayWhatIsWrongWithThem)
{
    const auto of = [](const std::string &text) { return errorOf([&] { parseDialect(text, "d.dialect.json"); }); };
    EXPECT_EQ(of(R"({"fulvex_dialect": 1, "channels": ["A"], "read": "R? {channel}"})"), "no error");
    EXPECT_THAT(of("{}"), testing::HasSubstr("fulvex_dialect"));
    EXPECT_THAT(of(R"({"fulvex_dialect": 1, "read": "R?"})"), testing::HasSubstr("channels"));
    EXPECT_THAT(of(R"({"fulvex_dialect": 1, "channels": ["A"]})"), testing::HasSubstr("read"));
    EXPECT_THAT(of(R"({"fulvex_dialect": 1, "channels": ["A"], "read": "R?\nX"})"),
                testing::HasSubstr("is not one line"));
    EXPECT_THAT(of(R"({"fulvex_dialect": 1, "channels": ["A"], "read": "R?", "samples": "i17"})"),
                testing::HasSubstr("i17"));
    EXPECT_THAT(of(R"({"fulvex_dialect": 1, "channels": ["A"], "read": "R?",
                       "describe": [{"ask": "P?", "fields": ["volts"]}]})"),
                testing::HasSubstr("\"volts\" is not known"));
    EXPECT_THAT(of(R"({"fulvex_dialect": 1, "channels": ["A"], "read": "R?", "redd": 1})"), testing::HasSubstr("redd"));
    EXPECT_THAT(errorOf([] { findDialect("none", FULVEX_SHIPPED_DIALECTS, {}); }),
                testing::HasSubstr("use brackwater"));
}

} // namespace
} // namespace fulvex
