#include "tail_fit.h"

#include "bounded_jitter.h"
#include "core_loop.h"
#include "normal_distribution.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <gsl/gsl_errno.h>
#include <gsl/gsl_multimin.h>
#include <gsl/gsl_sf_gamma.h>
#include <numbers>
#include <vector>

namespace fulvex {

namespace {

constexpr std::size_t atoms = 32;
constexpr double tail = 0.2; ///< of the values, to either side
constexpr double mostBell = 3;

/// Counts of values between edges, the middle ones together.
struct Bins {
    std::vector<double> edges; ///< between neighbouring bins; the first and the last reach on for ever
    std::vector<double> counts;
    double all = 0, mean = 0, std = 0;
};

Bins binsOf(const AmplitudeHistogram &values)
{
    Bins bins;
    bins.all = values.count();
    for (const AmplitudeHistogram::Bin &bin : values.bins) bins.mean += bin.sum / bins.all;
    // Of about 300 bins, as many of those of the histogram together as it takes.
    constexpr int fine = 400;
    int together = 0;
    while (values.grid.count >> together > fine) ++together;
    struct Filled {
        double count, behind; ///< its upper border
    };
    std::vector<Filled> filled;
    std::int64_t last = 0;
    const double width = values.grid.width();
    for (std::size_t i = 0; i < values.bins.size(); ++i) {
        const std::int64_t at = values.grid.first + std::int64_t(i), group = at >> together;
        if (filled.empty() || group != last) filled.push_back({0, double((group + 1) << together) * width});
        last = group;
        const AmplitudeHistogram::Bin &bin = values.bins[i];
        filled.back().count += bin.count;
        if (bin.count > 0) bins.std += bin.count * std::pow(bin.sum / bin.count - bins.mean, 2);
    }
    bins.std = values.least < values.most ? std::sqrt(bins.std / bins.all) : 0; // whatever rounding makes of the mean
    double before = 0;
    for (const Filled &one : filled) {
        const double behind = before + one.count;
        const bool inMiddle = behind > tail * bins.all && before < (1 - tail) * bins.all;
        if (inMiddle && before > tail * bins.all) {
            bins.counts.back() += one.count;
            bins.edges.back() = one.behind;
        } else {
            bins.counts.push_back(one.count);
            bins.edges.push_back(one.behind);
        }
        before = behind;
    }
    bins.edges.pop_back();
    return bins;
}

/// The part of a normal distribution beyond so many standard deviations, by cubics between values and slopes at 4096
/// places: to 1e-12 of itself.
class Beyond {
public:
    Beyond()
    {
        for (int i = 0; i < size; ++i) {
            const double q = i * step - reach;
            m_values.push_back(normalTail(q));
            m_slopes.push_back(-std::exp(-q * q / 2) / std::sqrt(2 * std::numbers::pi) * step);
        }
    }
    double at(double q) const
    {
        const double place = (q + reach) / step;
        if (!(place >= 0 && place < size - 1)) return normalTail(q);
        const auto i = std::size_t(place);
        const double t = place - double(i), u = 1 - t;
        return u * u * ((1 + 2 * t) * m_values[i] + t * m_slopes[i]) +
               t * t * ((3 - 2 * t) * m_values[i + 1] - u * m_slopes[i + 1]);
    }

private:
    static constexpr int size = 4097;
    static constexpr double reach = 9, step = 2 * reach / (size - 1);
    std::vector<double> m_values, m_slopes;
};

/// Shares of a beta distribution of equal parameters over equal parts of its extent. Not all of them are numbers where
/// the shape is too far out for the library.
std::array<double, atoms> sharesOf(double shape)
{
    std::array<double, atoms> shares{};
    double below = 0;
    for (std::size_t i = 0; i < atoms / 2; ++i) { // the other half is the same, the other way round
        gsl_sf_result reached{0.5, 0};
        if (i + 1 < atoms / 2 && gsl_sf_beta_inc_e(shape, shape, double(i + 1) / atoms, &reached) != GSL_SUCCESS)
            reached.val = NAN;
        shares[i] = shares[atoms - 1 - i] = reached.val - below;
        below = reached.val;
    }
    return shares;
}
double placeOf(std::size_t atom) ///< from -1 to 1
{
    return (2 * double(atom) + 1) / atoms - 1;
}

/// What a fit is made of: ln of random and of half the extent over the standard deviation, ln of the shape, and the
/// middle off the mean, in standard deviations.
using Unknowns = std::array<double, 4>;

double minusLogLikelihood(const Bins &bins, const Unknowns &at, bool bounded)
{
    const double random = bins.std * std::exp(at[0]), half = bounded ? bins.std * std::exp(at[1]) : 0,
                 shape = std::exp(at[2]), middle = bins.mean + at[3] * bins.std;
    static const Beyond beyondOf;
    std::array<double, atoms> share{};
    if (bounded) share = sharesOf(std::clamp(shape, 1e-3, 1e2));
    const auto upTo = [&](double edge) {
        if (!bounded) return beyondOf.at((middle - edge) / random);
        double part = 0;
        for (std::size_t i = 0; i < atoms; ++i)
            part += share[i] * beyondOf.at((middle + half * placeOf(i) - edge) / random);
        return part;
    };
    double sum = 0, before = 0;
    constexpr double least = 1e-300;
    for (std::size_t i = 0; i < bins.counts.size(); ++i) {
        const double behind = i < bins.edges.size() ? upTo(bins.edges[i]) : 1;
        if (bins.counts[i] > 0) sum -= bins.counts[i] * std::log(std::max(behind - before, least));
        before = behind;
    }
    if (!std::isfinite(sum)) return 1e300;
    if (!bounded) return sum;
    // A shape is about uniform unless the values say otherwise; a longer bell than that is no bound.
    const double beyond = std::max(0.0, at[2] - std::log(mostBell));
    return sum + at[2] * at[2] / 4.5 + 50 * beyond * beyond + 50 * std::pow(std::max(0.0, -5 - at[2]), 2);
}

/// The least of a function, by the simplex of J. A. Nelder and R. Mead (1965).
template <std::size_t count>
double leastOf(const std::function<double(const std::array<double, count> &)> &function, std::array<double, count> &at)
{
    gsl_multimin_function wanted;
    wanted.n = count;
    wanted.params = const_cast<void *>(static_cast<const void *>(&function));
    wanted.f = [](const gsl_vector *x, void *params) {
        std::array<double, count> place;
        for (std::size_t i = 0; i < count; ++i) place[i] = gsl_vector_get(x, i);
        return (*static_cast<const std::function<double(const std::array<double, count> &)> *>(params))(place);
    };
    gsl_vector *start = gsl_vector_alloc(count), *step = gsl_vector_alloc(count);
    for (std::size_t i = 0; i < count; ++i) gsl_vector_set(start, i, at[i]);
    gsl_vector_set_all(step, 0.2);
    gsl_multimin_fminimizer *search = gsl_multimin_fminimizer_alloc(gsl_multimin_fminimizer_nmsimplex2, count);
    gsl_multimin_fminimizer_set(search, &wanted, start, step);
    for (int i = 0; i < 400 && gsl_multimin_fminimizer_iterate(search) == 0; ++i)
        if (gsl_multimin_test_size(gsl_multimin_fminimizer_size(search), 1e-3) == 0) break;
    for (std::size_t i = 0; i < count; ++i) at[i] = gsl_vector_get(search->x, i);
    const double least = search->fval;
    gsl_multimin_fminimizer_free(search);
    gsl_vector_free(start);
    gsl_vector_free(step);
    return least;
}

/// How far an unknown may be off: where the likelihood, the others free, has fallen by a half (profile likelihood).
double uncertaintyOfRandom(const Bins &bins, const Unknowns &best, double least)
{
    double reach = 0.01;
    for (; reach < 1; reach *= 1.6) {
        std::array<double, 3> others{best[1], best[2], best[3]};
        const double there = leastOf<3>(
            [&](const std::array<double, 3> &some) {
                return minusLogLikelihood(bins, {best[0] - reach, some[0], some[1], some[2]}, true);
            },
            others);
        if (there > least + 0.5) return reach / std::sqrt(2 * (there - least));
    }
    return 1;
}

} // namespace

double TailFit::uncertainty() const
{
    constexpr double shifted = 0.1; // a rectangular distribution's half width: JCGM 100, 4.3.7
    return std::hypot(randomUncertainty, extent > 0 ? shifted * random / std::sqrt(3) : hidden);
}

TailFit fitTails(const AmplitudeHistogram &values)
{
    // What a library cannot compute is no reason to end the program: it is told by its results.
    [[maybe_unused]] static const auto handler = gsl_set_error_handler_off();
    TailFit found;
    constexpr std::int64_t fewest = 2000;
    if (const double count = values.count(); count < double(fewest)) {
        found.reason = std::to_string(std::int64_t(count)) + " edges; tails need " + std::to_string(fewest) +
                       " to be told: take a longer capture or region";
        return found;
    }
    const Bins bins = binsOf(values);
    if (!(bins.std > 0)) return found;
    std::array<double, 2> plain{0, 0};
    const double without = leastOf<2>(
        [&](const std::array<double, 2> &at) {
            return minusLogLikelihood(bins, {at[0], 0, 0, at[1]}, false);
        },
        plain);
    found.random = bins.std * std::exp(plain[0]);
    found.middle = bins.mean + plain[1] * bins.std;
    found.randomUncertainty = found.random / std::sqrt(2 * bins.all * 2 * tail);

    // From a uniform distribution, from two values, and from a bell.
    std::array<Unknowns, 3> starts{Unknowns{-0.3, 0, 0, 0}, Unknowns{-0.5, 0, -2, 0}, Unknowns{-0.15, 0.3, 1, 0}};
    std::array<double, 3> ends{};
    onAllCores(std::int64_t(starts.size()), [&](std::int64_t i) {
        ends[std::size_t(i)] = leastOf<4>([&](const Unknowns &some) { return minusLogLikelihood(bins, some, true); },
                                          starts[std::size_t(i)]);
    });
    const auto which = std::size_t(std::min_element(ends.begin(), ends.end()) - ends.begin());
    const double least = ends[which];
    const Unknowns best = starts[which];
    const double likelier = without - least, random = bins.std * std::exp(best[0]);
    const double believed = std::log(1000.0); // of two parameters more, chance makes as much once in a thousand times
    if (likelier < believed) {
        constexpr double parameters = 2;
        const double weight = 1 / (1 + std::exp(parameters - likelier));
        found.hidden = std::sqrt(weight) * std::abs(found.random - random);
        return found;
    }
    found.random = random;
    found.extent = 2 * bins.std * std::exp(best[1]);
    found.shape = std::exp(best[2]);
    found.middle = bins.mean + best[3] * bins.std;
    found.randomUncertainty = found.random * uncertaintyOfRandom(bins, best, least);
    const std::array<double, atoms> shares = sharesOf(found.shape);
    std::vector<BoundedJitter::Value> spread;
    for (std::size_t i = 0; i < atoms; ++i) spread.push_back({found.extent / 2 * placeOf(i), shares[i]});
    constexpr double ratio = 1e-12;
    const double q = normalQuantile(2 * ratio); // each of the two values has half of the edges
    found.apart =
        std::max(0.0, BoundedJitter(std::move(spread), {}, 0).totalAt(ratio, found.random) - 2 * q * found.random);
    found.apartUncertainty = 2 * q * found.randomUncertainty;
    return found;
}

} // namespace fulvex
