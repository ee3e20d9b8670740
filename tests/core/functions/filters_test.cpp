// lowpass and highpass: what they pass, at which phase, from the first sample to the last, over gaps.

#include "filter_cascade.h"
#include "formulas.h"
#include "signals.h"
#include "windowed_taps.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

using Complex = std::complex<double>;

/// Amplitude and phase of a sine of amplitude 1 that went in, from the later half.
Complex responseTo(double frequency, const std::string &formula, int count)
{
    std::vector<double> values;
    for (int i = 0; i < count; ++i) values.push_back(std::cos(2 * std::numbers::pi * frequency * i));
    const std::vector<double> out = test::madeOf(formula, values);
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

/// A band is the low pass at (s + w0² / s) / width, and what it stops the rest at 1 / that.
TEST(Filters, OfBandsHaveTheResponseOfTheirLowPass)
{
    struct Band {
        double low, high;
    };
    for (const std::string shape : {"butterworth", "bessel"}) {
        for (const int order : {1, 2, 3, 5}) {
            for (const Band &band : {Band{0.05, 0.07}, Band{0.01, 0.4}, Band{0.2, 0.21}}) {
                const double low = std::tan(std::numbers::pi * band.low), high = std::tan(std::numbers::pi * band.high);
                const std::string settings = "(x, " + std::to_string(band.low) + ", " + std::to_string(band.high) +
                                             ", " + std::to_string(order) + ", " + shape + ")";
                for (const double frequency : {1e-3, 0.03, 0.055, 0.07, 0.2, 0.205, 0.37, 0.45}) {
                    const double at = std::tan(std::numbers::pi * frequency);
                    const double moved = (at - low * high / at) / (high - low);
                    const Complex within = analogue(shape, order, {0, moved}),
                                  beside = analogue(shape, order, {0, -1 / moved});
                    const Complex passed = responseTo(frequency, "bandpass" + settings, 20000),
                                  left = responseTo(frequency, "bandstop" + settings, 20000);
                    EXPECT_LT(std::abs(passed - within), 1e-5 * std::abs(within) + 1e-10) << settings << frequency;
                    EXPECT_LT(std::abs(left - beside), 1e-5 * std::abs(beside) + 1e-10) << settings << frequency;
                }
            }
        }
    }
}

/// Forward and backward: the square of a gain that is 2^(-1/4) at the corner, and no phase at all, at a record's end as
/// well as at its begin.
TEST(Filters, OfZeroPhaseMoveNothing)
{
    for (const int order : {1, 2, 4}) {
        for (const double frequency : {1e-3, 0.05, 0.08}) {
            const double corner = 0.08,
                         at = std::tan(std::numbers::pi * frequency) / std::tan(std::numbers::pi * corner);
            const double truth = 1 / (1 + (std::sqrt(2.0) - 1) * std::pow(at, 2 * order));
            const std::string settings = "lowpass(x, 0.08, " + std::to_string(order) + ", zerophase)";
            const Complex found = responseTo(frequency, settings, 20000); // the end is a small part of it
            EXPECT_LT(std::abs(found - truth), 1e-2 * truth) << settings << frequency;
            std::vector<double> sine;
            for (int i = 0; i < 20000; ++i) sine.push_back(std::cos(2 * std::numbers::pi * frequency * i));
            const std::vector<double> out = test::madeOf(settings, sine);
            for (std::size_t i = 5000; i < 15000; ++i) ASSERT_NEAR(out[i], truth * sine[i], 1e-9) << settings << i;
        }
    }
    for (const char *shape : {"bessel", "butterworth", "fir"}) {
        const std::string settings = std::string("(x, 0.1, 0.2, 3, ") + shape + ", zerophase)";
        for (const double corner : {0.1, 0.2}) {
            std::vector<double> sine;
            for (int i = 0; i < 4000; ++i) sine.push_back(std::cos(2 * std::numbers::pi * corner * i));
            const std::vector<double> passed = test::madeOf("bandpass" + settings, sine),
                                      left = test::madeOf("bandstop" + settings, sine);
            // The ripple of a FIR's other edge, of 60 dB, may be there.
            for (std::size_t i = 1000; i < 3000; ++i) {
                ASSERT_NEAR(passed[i], std::sqrt(0.5) * sine[i], 2e-3) << settings << corner << " " << i;
                ASSERT_NEAR(left[i], std::sqrt(0.5) * sine[i], 2e-3) << settings << corner << " " << i;
            }
        }
        const std::vector<double> constant =
            test::madeOf("lowpass(x, 0.1, " + std::string(shape) + ", zerophase)", std::vector<double>(700, 3.5));
        for (const double v : constant) ASSERT_NEAR(v, 3.5, 1e-12);
    }
    // A ramp's middle stays where it is; time runs the same in both ways.
    test::Gaussian random(8);
    std::vector<double> noise;
    for (int i = 0; i < 5000; ++i) noise.push_back(random());
    std::vector<double> turned(noise.rbegin(), noise.rend());
    const std::vector<double> forth = test::madeOf("highpass(x, 0.05, 3, fir, zerophase)", noise);
    std::vector<double> back = test::madeOf("highpass(x, 0.05, 3, fir, zerophase)", turned);
    std::reverse(back.begin(), back.end());
    for (std::size_t i = 0; i < noise.size(); ++i) ASSERT_NEAR(forth[i], back[i], 1e-11) << i;
}

/// Half a stop band's 60 dB beyond the transition; with the delay of half its taps; and each corner a corner.
TEST(Filters, OfFiniteResponsePassAndStop)
{
    for (const double corner : {0.01, 0.1, 0.3, 0.45}) {
        for (const int order : {1, 2, 5}) {
            const double transition = std::min(corner, 0.5 - corner) / order;
            const std::string settings = "(x, " + std::to_string(corner) + ", " + std::to_string(order) + ", fir";
            const int half = int(std::ceil(3.6248 / transition / 2)); // (60 - 7.95) / 14.36
            const int count = 8 * half + 2000;
            for (const double frequency : {corner - transition, corner, corner + 0.95 * transition, 1e-4}) {
                if (frequency <= 0) continue;
                const Complex low = responseTo(frequency, "lowpass" + settings + ")", count),
                              high = responseTo(frequency, "highpass" + settings + ")", count);
                const Complex turn = std::polar(1.0, -2 * std::numbers::pi * frequency * half);
                const double truth = frequency == corner ? std::sqrt(0.5) : frequency > corner ? 0 : 1;
                const double tolerance = frequency == corner ? 1e-6 : 1.2e-3;
                EXPECT_LT(std::abs(low - truth * turn), tolerance) << settings << " at " << frequency;
                EXPECT_LT(std::abs(high - (frequency == corner ? truth : 1 - truth) * turn), tolerance)
                    << settings << " at " << frequency;
            }
        }
    }
}

/// Of a band the transitions are as wide as the band is, where nothing else is narrower.
TEST(Filters, OfFiniteResponsePassAndStopBands)
{
    using Band = std::pair<double, double>;
    for (const Band &band : {Band(0.1, 0.13), Band(0.02, 0.3), Band(0.3, 0.45), Band(0.2, 0.22)}) {
        for (const int order : {1, 3}) {
            const auto [low, high] = band;
            const double transition = std::min({low, high - low, 0.5 - high}) / order;
            const std::string settings = "(x, " + std::to_string(low) + ", " + std::to_string(high) + ", " +
                                         std::to_string(order) + ", fir, zerophase)";
            const int count = 8 * int(std::ceil(3.6248 / transition / 2)) + 2000;
            const double middle = (low + high) / 2;
            for (const double frequency : {low - 0.95 * transition, middle, high + 0.95 * transition}) {
                const double pass = std::abs(responseTo(frequency, "bandpass" + settings, count)),
                             stop = std::abs(responseTo(frequency, "bandstop" + settings, count));
                EXPECT_NEAR(pass, frequency == middle ? 1 : 0, 3e-3) << settings << " at " << frequency;
                if (frequency == middle && high - middle < transition) continue; // neither transition is over there
                EXPECT_NEAR(stop, frequency == middle ? 0 : 1, 3e-3) << settings << " at " << frequency;
            }
        }
    }
}

/// Segments of a transform are cut and joined without a seam: against the sum itself, over gaps of all lengths.
TEST(Filters, OfFiniteResponseAreTheirSum)
{
    test::Gaussian random(6);
    for (const double missing : {0.0, 0.0005, 0.2}) {
        std::vector<double> values;
        for (int i = 0; i < 30000; ++i) values.push_back(random.uniform() < missing ? NAN : 1 + random());
        values[12345] = 1e5;
        const std::vector<double> taps = windowedTaps(FilterPass::low, 0.02, 0, 0.02);
        for (const bool centred : {false, true}) {
            const std::vector<double> found =
                test::madeOf(std::string("lowpass(x, 0.02, 1, fir") + (centred ? ", zerophase)" : ")"), values);
            const auto ahead = std::ptrdiff_t(centred ? taps.size() / 2 : 0);
            for (std::ptrdiff_t i = 0; i < std::ptrdiff_t(values.size()); ++i) {
                const bool gap = std::isnan(values[std::size_t(i)]);
                ASSERT_EQ(std::isnan(found[std::size_t(i)]), gap) << i;
                if (gap || (i % 7 != 0 && missing == 0)) continue;
                // From a tap to the next, held at what lies next to a gap or an end.
                double sum = 0, held = values[std::size_t(i)];
                const auto valueAt = [&](std::ptrdiff_t at) {
                    if (at >= 0 && at < std::ptrdiff_t(values.size())) {
                        if (std::isnan(values[std::size_t(at)])) return false;
                        held = values[std::size_t(at)];
                    }
                    return true;
                };
                bool open = true;
                for (std::ptrdiff_t at = i; at > i + ahead - std::ptrdiff_t(taps.size()); --at) {
                    open = open && valueAt(at);
                    sum += taps[std::size_t(i + ahead - at)] * held;
                }
                open = true, held = values[std::size_t(i)];
                for (std::ptrdiff_t at = i + 1; at <= i + ahead; ++at) {
                    open = open && valueAt(at);
                    sum += taps[std::size_t(i + ahead - at)] * held;
                }
                ASSERT_NEAR(found[std::size_t(i)], sum, 1e-9) << missing << " " << centred << " " << i;
            }
        }
    }
}

/// Each corner lifts or bends by 3 dB and 45 degrees where it lies alone.
TEST(Filters, AnEqualiserLiftsAsItsZeroAndPolesSay)
{
    for (const double frequency : {1e-3, 0.01, 0.05, 0.2, 0.4}) {
        const auto corner = [&](double at) {
            return Complex(1, std::tan(std::numbers::pi * frequency) / std::tan(std::numbers::pi * at));
        };
        const Complex truth = corner(0.01) / (corner(0.2) * corner(0.4));
        const Complex found = responseTo(frequency, "equalise(x, 0.01, 0.2, 0.4)", 20000);
        EXPECT_LT(std::abs(found - truth), 1e-8 * std::abs(truth)) << frequency;
    }
    for (const double v : test::madeOf("equalise(x, 0.01, 0.2, 0.2)", std::vector<double>(800, -2)))
        ASSERT_NEAR(v, -2, 1e-12);
}

/// Higher orders by their magnitude alone; the corner is a corner.
TEST(Filters, OfHighOrderKeepTheirCorner)
{
    for (const std::string shape : {"butterworth", "bessel"}) {
        for (int order = 1; order <= FilterCascade::mostOrder; ++order) {
            const auto kind = shape == "bessel" ? FilterCascade::Kind::bessel : FilterCascade::Kind::butterworth;
            for (const double corner : {1e-4, 0.02, 0.25, 0.45}) {
                for (const auto pass : {FilterPass::low, FilterPass::high}) {
                    const FilterCascade filter = FilterCascade::made({kind, pass, order, corner});
                    EXPECT_NEAR(std::abs(filter.response(corner)), std::sqrt(0.5), 1e-6) << shape << " " << order;
                    EXPECT_NEAR(std::abs(filter.response(pass == FilterPass::low ? 0 : 0.5)), 1, 1e-6);
                }
                if (shape == "bessel") continue;
                const FilterCascade filter = FilterCascade::made({kind, FilterPass::low, order, corner});
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
        const std::vector<double> low = test::madeOf(std::string("lowpass") + settings, step),
                                  high = test::madeOf(std::string("highpass") + settings, step);
        for (std::size_t i = 0; i < 1000; ++i) {
            ASSERT_NEAR(low[i], 2.5, 1e-12) << settings << " " << i;
            ASSERT_NEAR(high[i], 0, 1e-12) << settings << " " << i;
        }
        EXPECT_NEAR(low.back(), 3.5, 1e-9) << settings;
        EXPECT_NEAR(high.back(), 0, 1e-9) << settings;
    }
    const double warped = std::tan(std::numbers::pi * 0.02), pole = (1 - warped) / (1 + warped);
    const std::vector<double> low = test::madeOf("lowpass(x, 0.02, 1)", step);
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
        const std::vector<double> whole = test::madeOf("lowpass(x, 0.03, 3)", values),
                                  found = test::madeOf("lowpass(x, 0.03, 3)", broken);
        const std::vector<double> later =
            test::madeOf("lowpass(x, 0.03, 3)", {values.begin() + std::ptrdiff_t(gap) + 1, values.end()});
        for (std::size_t i = 0; i < values.size(); ++i) {
            if (i == gap)
                ASSERT_TRUE(std::isnan(found[i]));
            else if (i < gap)
                ASSERT_EQ(found[i], whole[i]) << gap << " " << i;
            else
                ASSERT_NEAR(found[i], later[i - gap - 1], 1e-12) << gap << " " << i; // pieces lie elsewhere
        }
    }
    for (const double v : test::madeOf("lowpass(x, 0.03, 3)", std::vector<double>(2000, NAN)))
        ASSERT_TRUE(std::isnan(v));
    EXPECT_EQ(test::madeOf("highpass(x, 0.03, 3)", {7}), (std::vector<double>{0}));
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
                FilterCascade::made({FilterCascade::Kind::butterworth, FilterPass::low, order, corner});
            std::vector<double> chain = values;
            FilterCascade::State state = filter.settledAt(values.front());
            filter.run(chain, state);
            const std::vector<double> found =
                test::madeOf("lowpass(x, " + std::to_string(corner) + ", " + std::to_string(order) + ")", values);
            for (std::size_t i = 0; i < values.size(); ++i)
                ASSERT_NEAR(found[i], chain[i], 1e-7 * std::max(1.0, 1e-3 / corner))
                    << corner << " " << order << " " << i;
        }
    }
}

TEST(Filters, SayWhatIsWrongAndWhere)
{
    test::expectRefused({{"lowpass(x, 0.5)", "character 1", "a corner at 500.0 mHz of samples at 1.000 Hz"},
                         {"1 + lowpass(x, 0)", "character 5", "a corner at 0"},
                         {"highpass(x, -0.1, 2)", "character 1", "a corner at"},
                         {"lowpass(x, 0.1, 0)", "character 1", "whole number from 1 to 10"},
                         {"lowpass(x, 0.1, 2.5)", "character 1", "whole number"},
                         {"lowpass(x, 0.1, 11)", "character 1", "whole number"},
                         {"lowpass(x, 0.1, 2, round)", "character 20", "too many arguments"},
                         {"lowpass(x, 0.1, bessel, 2)", "character 25", "too many arguments"},
                         {"lowpass(x, 0.1,)", "character 16", ""},
                         {"lowpass(x)", "character 10", "takes"},
                         {"lowpass(x, x)", "character 12", "changes over time"}},
                        [](const std::string &formula) {
                            test::madeOf(formula, {1, 2, 3});
                        });
}
