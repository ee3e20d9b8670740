// Functions that look at more than a sample at a time.

#include "error.h"
#include "formulas.h"
#include "signals.h"

#include <bit>
#include <cmath>
#include <numbers>
#include <oneapi/tbb/global_control.h>

using namespace fulvex;

namespace {

SourcePtr made(const std::string &formula, std::vector<double> values, double interval,
               const decltype(Formula::Inputs::keep) &keep = {})
{
    return test::made(formula, {{"x", makeMemorySource(std::move(values), interval)}}, {{"k", 3.0}}, keep);
}

std::vector<double> sampled(const std::function<double(double)> &of, int count, double interval)
{
    std::vector<double> values;
    for (int i = 0; i < count; ++i) values.push_back(of(i * interval));
    return values;
}

} // namespace

TEST(Derivative, OfParabolasIsExact)
{
    for (const double interval : {1e-9, 1.0, 1e4}) {
        const auto slope = test::allOf(
            made("derivative(x)", sampled([](double t) { return 3 + 2 * t - 5 * t * t; }, 1000, interval), interval));
        for (std::size_t i = 1; i + 1 < slope.size(); ++i) {
            const double t = double(i) * interval, is = 2 - 10 * t;
            // The samples are rounded to 2^-53 of their size, and differences of them divided by two intervals.
            const double size = 3 + 2 * t + 5 * t * t + 20 * interval * t;
            ASSERT_NEAR(slope[i], is, 4e-16 * size / interval + 1e-15 * std::abs(is)) << i;
        }
        EXPECT_NEAR(slope.front(), 2 - 5 * interval, 1e-6 * (2 + 10 * interval + 1e-9 / interval));
    }
}

TEST(Derivative, OfASineIsSmallerByWhatIsStated)
{
    for (const double frequency : {0.001, 0.01, 0.1, 0.25, 0.45}) { // of the sample rate
        const double interval = 1e-9, omega = 2 * std::numbers::pi * frequency / interval;
        const auto slope = test::allOf(
            made("derivative(x)", sampled([&](double t) { return std::sin(omega * t); }, 4000, interval), interval));
        const double gain = std::sin(omega * interval) / interval;
        for (std::size_t i = 1; i + 1 < slope.size(); ++i)
            ASSERT_NEAR(slope[i], gain * std::cos(omega * double(i) * interval), 1e-9 * omega + 1e-3) << i;
    }
}

TEST(Integral, OfStraightLinesIsExact)
{
    const double interval = 1e-3;
    const auto sum =
        test::allOf(made("integral(x)", sampled([](double t) { return 2 - 3 * t; }, 20000, interval), interval));
    EXPECT_EQ(sum.front(), 0);
    for (std::size_t i = 0; i < sum.size(); ++i) {
        const double t = double(i) * interval;
        ASSERT_NEAR(sum[i], 2 * t - 1.5 * t * t, 1e-13 * (1 + t * t)) << i;
    }
}

TEST(Integral, AndDerivativeUndoEachOther)
{
    // The derivative of the trapezoids' sum is the mean over (1, 2, 1) / 4.
    test::Gaussian random(4);
    std::vector<double> values;
    for (int i = 0; i < 30000; ++i) values.push_back(random());
    const auto back = test::allOf(made("derivative(integral(x))", values, 0.5));
    for (std::size_t i = 1; i + 1 < values.size(); ++i)
        ASSERT_NEAR(back[i], (values[i - 1] + 2 * values[i] + values[i + 1]) / 4, 1e-11) << i;
}

/// A straight line stays one; a sine keeps its phase, and has the gain of a mean over n samples. n is the odd number of
/// samples within half the time to either side.
TEST(Smooth, IsTheMeanAboutEachSample)
{
    constexpr double interval = 1e-9;
    for (const int n : {1, 3, 101, 9001}) {
        const std::string formula = "smooth(x, " + std::to_string(n) + " ns)";
        const auto line =
            test::allOf(made(formula, sampled([](double t) { return 3e9 * t - 2; }, 30000, interval), interval));
        for (int i = n / 2; i + n / 2 < 30000; ++i)
            ASSERT_NEAR(line[std::size_t(i)], 3.0 * i - 2, 1e-9) << n;   // 4096 values up to 9e4 are added up
        for (const double frequency : {1e-4, 0.003, 0.05, 0.21, 0.45}) { // of the sample rate
            const double w = 2 * std::numbers::pi * frequency;
            const auto found = test::allOf(made(
                formula, sampled([&](double t) { return std::sin(w * t / interval + 1); }, 30000, interval), interval));
            const double gain = std::sin(w * n / 2) / (n * std::sin(w / 2));
            for (int i = n / 2; i + n / 2 < 30000; ++i)
                ASSERT_NEAR(found[std::size_t(i)], gain * std::sin(w * i + 1), 1e-10) << n << " " << frequency;
        }
    }
    EXPECT_EQ(test::allOf(made("smooth(x, 2.9)", {1, 2, 3, 4}, 1)),
              (std::vector<double>{1.5, 2, 3, 3.5})); // at the ends of fewer
    EXPECT_EQ(test::allOf(made("smooth(x, k)", {1, 2, 3, 4}, 1)), (std::vector<double>{1.5, 2, 3, 3.5}));
    EXPECT_EQ(test::allOf(made("smooth(x, 100)", {1, 2, 6}, 1)), (std::vector<double>{3, 3, 3}));
    const auto gap = test::allOf(made("smooth(x, 3)", {1, NAN, 3, 5}, 1));
    EXPECT_EQ(gap[0], 1);
    EXPECT_TRUE(std::isnan(gap[1]));
    EXPECT_EQ(gap[2], 4);
}

/// Its time is a constant that makes sense; what is wrong is told with its place.
TEST(Smooth, SaysWhatIsWrongWithItsTimeAndWhere)
{
    test::expectRefused({{"1 + smooth(x, -1)", "character 5", "below 0"},
                         {"smooth(x, 0 / 0)", "character 1", "below 0"},
                         {"smooth(x, 2 * 2M)", "character 1", "more than 1000000 samples"},
                         {"smooth(x, 2 * x)", "character 15", "changes over time"},
                         {"smooth(x, smooth(x, 1))", "character 11", "changes over time"},
                         {"smooth(x)", "character 9", "takes 2 arguments"},
                         {"smooth(x, 1, 2)", "character 12", "too many arguments"}},
                        [](const std::string &formula) {
                            made(formula, {1, 2, 3}, 1);
                        });
}

TEST(FunctionsOverTime, GapsStayWhereTheyAre)
{
    std::vector<double> values;
    for (int i = 0; i < 100; ++i) values.push_back(i); // a ramp of 1
    values[40] = values[41] = NAN;
    values[60] = NAN;              // a single one is no less a gap, though both of its neighbours are there
    values[70] = values[72] = NAN; // and 71 has none
    const auto slope = test::allOf(made("derivative(x)", values, 1)), sum = test::allOf(made("integral(x)", values, 1));
    for (std::size_t i = 0; i < values.size(); ++i) {
        const bool gap = std::isnan(values[i]);
        EXPECT_EQ(std::isnan(slope[i]), gap || i == 71) << i;
        if (!std::isnan(slope[i])) {
            EXPECT_EQ(slope[i], 1) << i; // beside gaps to the one neighbour
        }
        EXPECT_EQ(std::isnan(sum[i]), gap) << i;
    }
    EXPECT_EQ(sum[39], 39 * 39 / 2.0);
    EXPECT_EQ(sum[42], sum[39]); // nothing was added across the gap
    EXPECT_EQ(sum[59], sum[42] + (59 * 59 - 42 * 42) / 2.0);
    EXPECT_EQ(sum[71], sum[69]);
    for (const auto &few : {std::vector<double>{7}, {7, 9}, {NAN, 1}, {1e308, -1e308, 1e308}}) {
        EXPECT_EQ(test::allOf(made("derivative(x)", few, 1)).size(), few.size());
        EXPECT_EQ(test::allOf(made("integral(x)", few, 1)).size(), few.size());
    }
    EXPECT_TRUE(std::isnan(test::allOf(made("derivative(x)", {7}, 1))[0])); // nobody knows
    EXPECT_EQ(test::allOf(made("derivative(x)", {7, 9}, 1))[1], 2);
}

TEST(FunctionsOverTime, GiveTheSameBitsForAnyBlockAndAnyNumberOfCores)
{
    test::Gaussian random(8);
    std::vector<double> values;
    for (int i = 0; i < 300000; ++i) values.push_back(i % 5000 == 17 ? NAN : 1e3 + random());
    std::set<std::string> left;
    for (const FormulaFunction &function : formulaFunctions())
        if (function.over) left.insert(function.name);
    for (const std::string formula : {"integral(x)",
                                      "derivative(x)",
                                      "smooth(x, 33 ns)",
                                      "smooth(smooth(x, 9 us), 10 us)",
                                      "lowpass(x, 20 MHz, 5)",
                                      "highpass(lowpass(x, 1 MHz), 20k, 3, bessel)",
                                      "integral(derivative(x) * x) + derivative(x) / k",
                                      "bandpass(x, 20 MHz, 21 MHz, 3, zerophase)",
                                      "bandstop(x, 90 MHz, 300 MHz, 2, fir)",
                                      "lowpass(x, 200k, fir, zerophase)",
                                      "detrend(x)",
                                      "delay(x, 3.3 ns)",
                                      "rms(x, 77 ns)",
                                      "median(x, 21 ns)",
                                      "envelope(x, 501 ns, lower)",
                                      "equalise(x, 1 MHz, 50 MHz, 90 MHz)",
                                      "taps(x, 2.5 ns, 1, -0.2, 0, 0.1)",
                                      "emphasise(x, 4 ns, 1.5)",
                                      "resample(x, 1.25 GHz)",
                                      "resample(x, 77 MHz)",
                                      "interpolate(x, 3)",
                                      "average(x, 123.4 ns)",
                                      "average(x, smooth(x, 9 ns))",
                                      "frequency(x)",
                                      "period(smooth(x, 30 ns))",
                                      "phase(x)",
                                      "phase(x, 100 MHz)",
                                      "am(x, 100 MHz, 5 MHz)",
                                      "fm(x, 100 MHz, 5 MHz)"}) {
        std::erase_if(left, [&](const std::string &name) { return formula.find(name + "(") != std::string::npos; });
        const SourcePtr source = made(formula, values, 1e-9);
        const std::vector<double> whole = test::allOf(source);
        ASSERT_TRUE(std::any_of(whole.begin(), whole.end(), [](double v) { return v == v; })) << formula;
        const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
        const std::vector<double> alone = test::allOf(made(formula, values, 1e-9));
        ASSERT_EQ(alone.size(), whole.size()) << formula;
        for (std::size_t i = 0; i < whole.size(); ++i)
            ASSERT_EQ(std::bit_cast<std::uint64_t>(alone[i]), std::bit_cast<std::uint64_t>(whole[i])) << formula << i;
        const std::int64_t count = source->axis().count;
        for (const std::int64_t size : {1, 7, 4096, 8192, 50001}) {
            std::vector<double> block(static_cast<std::size_t>(size));
            const std::int64_t step = size == 1 && formula.find("median") == std::string::npos ? 3989 : 13 * size + 997;
            for (std::int64_t first = 0; first + size <= count; first += step) {
                source->read(first, block);
                for (std::int64_t i = 0; i < size; ++i)
                    ASSERT_EQ(std::bit_cast<std::uint64_t>(block[std::size_t(i)]),
                              std::bit_cast<std::uint64_t>(whole[std::size_t(first + i)]))
                        << formula << " " << size << " " << first + i;
            }
        }
    }
    EXPECT_TRUE(left.empty()) << *left.begin() << " is not among them";
}

TEST(FunctionsOverTime, ALongRecordIsScannedWhenItIsMadeAndThatCanBeCancelled)
{
    const SourcePtr x = makeMemorySource(std::vector<double>(1000000, 1.0), 1);
    Progress progress;
    progress.cancel();
    EXPECT_THROW(Formula::parse("integral(x)").evaluate({[&](const std::string &) { return x; }, {}, {}}, progress),
                 Cancelled);
}

TEST(FunctionsOverTime, EachIsAskedForByItsPartOfTheFormulaAndMadeOnce)
{
    std::map<std::string, SourcePtr> kept;
    int times = 0;
    const decltype(Formula::Inputs::keep) keep = [&](const Formula &part, const std::function<SourcePtr()> &make) {
        SourcePtr &place = kept[part.canonical()];
        if (!place) ++times, place = make();
        return place;
    };
    const auto first = test::allOf(made("integral(x * 2) - integral(x * 2) / 4", {1, 2, 3, 4}, 1, keep));
    EXPECT_EQ(times, 1);
    const auto second = test::allOf(made("3 + integral(x * 2)", {1, 2, 3, 4}, 1, keep));
    EXPECT_EQ(times, 1); // of another formula
    EXPECT_EQ(second.back(), 3 + 15);
    EXPECT_EQ(first.back(), 15 - 15 / 4.0);
    made("integral(x * k)", {1, 2, 3, 4}, 1, keep);
    EXPECT_EQ(times, 2);
}

TEST(FunctionsOverTime, NestedOnesAreMadeOnceEachWhateverTheDepth)
{
    std::string formula = "x";
    for (int i = 0; i < 40; ++i) formula = "derivative(" + formula + ")"; // without a cache
    std::vector<double> values(200);
    for (std::size_t i = 0; i < values.size(); ++i) values[i] = double(i);
    const auto found = test::allOf(made(formula, values, 1));
    EXPECT_EQ(found[100], 0);
    EXPECT_THROW(made("integral(integral(x)) + y", values, 1), Error); // there is no y
    std::string deep = "x";                                            // each goes back to a fixed place before a block
    for (int i = 0; i < 20; ++i) deep = "integral(" + deep + ")";
    try {
        made(deep, values, 1);
        ADD_FAILURE() << "taken";
    } catch (const Error &error) {
        EXPECT_NE(std::string(error.what()).find("so many integrals"), std::string::npos) << error.what();
    }
}

TEST(FunctionsOverTime, CarryTheUnitOn)
{
    const auto unitOf = [](const std::string &formula, const std::string &unit) {
        const auto type =
            Formula::parse(formula).typeOf([&](const std::string &) -> Formula::Type { return {.unit = Unit(unit)}; });
        return type.unit ? type.unit->text() : "?";
    };
    EXPECT_EQ(unitOf("derivative(x)", "V"), "V/s");
    EXPECT_EQ(unitOf("integral(derivative(x))", "V"), "V");
    EXPECT_EQ(unitOf("integral(x)", "A"), "C");
    EXPECT_EQ(unitOf("integral(x)", "V"), "V·s");
    EXPECT_EQ(unitOf("integral(x * x)", "V"), Unit("V").times(Unit("V")).times(Unit("s")).text());
}
