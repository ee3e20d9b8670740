// lowpass and highpass: what they pass, at which phase, from the first sample to the last, over gaps.

#include "error.h"
#include "filter_cascade.h"
#include "formula.h"
#include "signals.h"

#include <cmath>
#include <complex>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

using Complex = std::complex<double>;

std::vector<double> filtered(const std::string &formula, std::vector<double> values, double interval = 1)
{
    const SourcePtr x = makeMemorySource(std::move(values), interval);
    Progress progress;
    const SourcePtr made = Formula::parse(formula).evaluate(
        [&](const std::string &name) { return name == "x" ? x : nullptr; }, {{"fc", 0.1}}, progress);
    std::vector<double> out(std::size_t(made->axis().count));
    made->read(0, out);
    return out;
}

/// Amplitude and phase of a sine of amplitude 1 that went in, from the later half.
Complex responseTo(double frequency, const std::string &formula, int count)
{
    std::vector<double> values;
    for (int i = 0; i < count; ++i) values.push_back(std::cos(2 * std::numbers::pi * frequency * i));
    const std::vector<double> out = filtered(formula, values);
    // Least squares for a cosine and a sine.
    double cc = 0, ss = 0, cs = 0, yc = 0, ys = 0;
    for (int i = count / 2; i < count; ++i) {
        const double phase = 2 * std::numbers::pi * frequency * i, c = std::cos(phase), s = std::sin(phase);
        cc += c * c, ss += s * s, cs += c * s, yc += out[std::size_t(i)] * c, ys += out[std::size_t(i)] * s;
    }
    const double det = cc * ss - cs * cs;
    return {(yc * ss - ys * cs) / det, -(ys * cc - yc * cs) / det};
}

/// Of the analogue filter, s in units of the corner: reverse Bessel polynomials and their corners as tables have them.
Complex analogue(const std::string &shape, int order, Complex s)
{
    if (shape == "bessel") {
        const std::vector<std::vector<double>> polynomials{
            {1, 1}, {3, 3, 1}, {15, 15, 6, 1}, {105, 105, 45, 10, 1}, {945, 945, 420, 105, 15, 1}};
        const double corners[] = {1, 1.361654129, 1.755672389, 2.113917675, 2.427410702};
        const std::vector<double> &theta = polynomials[std::size_t(order - 1)];
        s *= corners[order - 1];
        Complex value = 0;
        for (std::size_t k = theta.size(); k-- > 0;) value = value * s + theta[k];
        return theta[0] / value;
    }
    Complex value = 1;
    for (int k = 0; k < order; ++k)
        value *= s - std::polar(1.0, std::numbers::pi * (0.5 + (2 * k + 1) / (2.0 * order)));
    return 1.0 / value;
}

} // namespace

/// At each frequency as the analogue filter does, where the bilinear transform puts it. The transient has faded to
/// 1e-12 in half of the record, which is as long as the corner asks for.
TEST(Filters, HaveTheResponseOfTheirShape)
{
    for (const std::string shape : {"butterworth", "bessel"}) {
        for (const int order : {1, 2, 3, 4, 5}) {
            for (const double corner : {0.004, 0.1, 0.31}) {
                for (const double frequency : {1e-4, 1e-3, 0.03, 0.1, 0.2, 0.37, 0.45}) {
                    const double at = std::tan(std::numbers::pi * frequency) / std::tan(std::numbers::pi * corner);
                    const std::string settings =
                        "(x, " + std::to_string(corner) + ", " + std::to_string(order) + ", " + shape + ")";
                    const int count = frequency < 1e-3 ? 60000 : 20000;
                    const Complex low = analogue(shape, order, {0, at}), high = analogue(shape, order, {0, -1 / at});
                    const Complex passed = responseTo(frequency, "lowpass" + settings, count),
                                  above = responseTo(frequency, "highpass" + settings, count);
                    EXPECT_LT(std::abs(passed - low), 1e-5 * std::abs(low) + 1e-11) << settings << " " << frequency;
                    EXPECT_LT(std::abs(above - high), 1e-5 * std::abs(high) + 1e-11) << settings << " " << frequency;
                }
            }
        }
    }
}

/// Higher orders by their magnitude alone; the corner is a corner.
TEST(Filters, OfHighOrderKeepTheirCorner)
{
    for (const std::string shape : {"butterworth", "bessel"}) {
        for (int order = 1; order <= FilterCascade::mostOrder; ++order) {
            const auto kind = shape == "bessel" ? FilterCascade::Kind::bessel : FilterCascade::Kind::butterworth;
            for (const double corner : {1e-4, 0.02, 0.25, 0.45}) {
                for (const auto pass : {FilterCascade::Pass::low, FilterCascade::Pass::high}) {
                    const FilterCascade filter = FilterCascade::made(kind, pass, order, corner);
                    EXPECT_NEAR(std::abs(filter.response(corner)), std::sqrt(0.5), 1e-6) << shape << " " << order;
                    EXPECT_NEAR(std::abs(filter.response(pass == FilterCascade::Pass::low ? 0 : 0.5)), 1, 1e-6);
                }
                if (shape == "bessel") continue;
                const FilterCascade filter = FilterCascade::made(kind, FilterCascade::Pass::low, order, corner);
                for (const double frequency : {0.5 * corner, 2 * corner, 0.48}) {
                    if (frequency >= 0.5) continue;
                    const double at = std::tan(std::numbers::pi * frequency) / std::tan(std::numbers::pi * corner);
                    const double truth = 1 / std::sqrt(1 + std::pow(at, 2 * order));
                    EXPECT_NEAR(std::abs(filter.response(frequency)) / truth, 1, 1e-6) << order << " " << frequency;
                }
            }
        }
    }
}

/// A constant passes a low pass as it is from the first sample on, and a high pass not at all; a step comes as the
/// first order's exponential, sampled as the bilinear transform does.
TEST(Filters, BeginAsIfTheFirstValueHadBeenThereForEver)
{
    std::vector<double> step(3000, 2.5);
    for (std::size_t i = 1000; i < step.size(); ++i) step[i] = 3.5;
    for (const char *settings : {"(x, fc)", "(x, 0.02, 4)", "(x, 0.3, 5, bessel)", "(x, 0.01, bessel)"}) {
        const std::vector<double> low = filtered(std::string("lowpass") + settings, step),
                                  high = filtered(std::string("highpass") + settings, step);
        for (std::size_t i = 0; i < 1000; ++i) {
            ASSERT_NEAR(low[i], 2.5, 1e-12) << settings << " " << i;
            ASSERT_NEAR(high[i], 0, 1e-12) << settings << " " << i;
        }
        EXPECT_NEAR(low.back(), 3.5, 1e-9) << settings;
        EXPECT_NEAR(high.back(), 0, 1e-9) << settings;
    }
    const double warped = std::tan(std::numbers::pi * 0.02), pole = (1 - warped) / (1 + warped);
    const std::vector<double> low = filtered("lowpass(x, 0.02, 1)", step);
    for (int i = 0; i < 1500; ++i) // after the first sample of it, which takes half a step's share
        ASSERT_NEAR(3.5 - low[std::size_t(1000 + i)], (1 - (1 - pole) / 2) * std::pow(pole, i), 1e-12) << i;
}

/// What lies behind a gap does not know what lay before it, wherever the gap lies.
TEST(Filters, BeginAnewBehindAGap)
{
    test::Gaussian random(3);
    std::vector<double> values;
    for (int i = 0; i < 9000; ++i) values.push_back(5 + random());
    for (const std::size_t gap : {0u, 1u, 511u, 512u, 1023u, 4000u, 8998u}) {
        std::vector<double> broken = values;
        broken[gap] = NAN;
        const std::vector<double> whole = filtered("lowpass(x, 0.03, 3)", values),
                                  found = filtered("lowpass(x, 0.03, 3)", broken);
        const std::vector<double> later =
            filtered("lowpass(x, 0.03, 3)", {values.begin() + std::ptrdiff_t(gap) + 1, values.end()});
        for (std::size_t i = 0; i < values.size(); ++i) {
            if (i == gap)
                ASSERT_TRUE(std::isnan(found[i]));
            else if (i < gap)
                ASSERT_EQ(found[i], whole[i]) << gap << " " << i;
            else
                ASSERT_NEAR(found[i], later[i - gap - 1], 1e-12) << gap << " " << i; // pieces lie elsewhere
        }
    }
    for (const double v : filtered("lowpass(x, 0.03, 3)", std::vector<double>(2000, NAN))) ASSERT_TRUE(std::isnan(v));
    EXPECT_EQ(filtered("highpass(x, 0.03, 3)", {7}), (std::vector<double>{0}));
}

/// Against one chain over the whole record, without pieces.
TEST(Filters, ArePiecedTogetherWithoutASeam)
{
    test::Gaussian random(5);
    std::vector<double> values;
    for (int i = 0; i < 400000; ++i) values.push_back(1 + random());
    for (const double corner : {0.0005, 0.02, 0.4}) {
        for (const int order : {1, 4, 7}) {
            const FilterCascade filter =
                FilterCascade::made(FilterCascade::Kind::butterworth, FilterCascade::Pass::low, order, corner);
            std::vector<double> chain = values;
            FilterCascade::State state = filter.settledAt(values.front());
            filter.run(chain, state);
            const std::vector<double> found =
                filtered("lowpass(x, " + std::to_string(corner) + ", " + std::to_string(order) + ")", values);
            for (std::size_t i = 0; i < values.size(); ++i)
                ASSERT_NEAR(found[i], chain[i], 1e-7 * std::max(1.0, 1e-3 / corner))
                    << corner << " " << order << " " << i;
        }
    }
}

TEST(Filters, SayWhatIsWrongAndWhere)
{
    struct Wrong {
        const char *formula, *where, *says;
    };
    for (const Wrong &wrong : {Wrong{"lowpass(x, 0.5)", "character 1", "a corner at 500.0 mHz of samples at 1.000 Hz"},
                               {"1 + lowpass(x, 0)", "character 5", "a corner at 0"},
                               {"highpass(x, -0.1, 2)", "character 1", "a corner at"},
                               {"lowpass(x, 0.1, 0)", "character 1", "whole number from 1 to 10"},
                               {"lowpass(x, 0.1, 2.5)", "character 1", "whole number"},
                               {"lowpass(x, 0.1, 11)", "character 1", "whole number"},
                               {"lowpass(x, 0.1, 2, round)", "character 20", "too many arguments"},
                               {"lowpass(x, 0.1, bessel, 2)", "character 23", "too many arguments"},
                               {"lowpass(x, 0.1,)", "character 16", ""},
                               {"lowpass(x)", "character 10", "takes"},
                               {"lowpass(x, x)", "character 12", "changes over time"}}) {
        try {
            filtered(wrong.formula, {1, 2, 3});
            ADD_FAILURE() << wrong.formula << " is taken";
        } catch (const Error &error) {
            EXPECT_EQ(error.where(), wrong.where) << wrong.formula << ": " << error.what();
            EXPECT_NE(error.found().find(wrong.says), std::string::npos) << wrong.formula << ": " << error.found();
            EXPECT_FALSE(error.remedy().empty()) << wrong.formula;
        }
    }
}
