#include "cross_correlation.h"

#include <algorithm>
#include <bit>
#include <complex>
#include <fftw3.h>
#include <memory>
#include <mutex>

namespace fulvex {

namespace {

struct Free {
    void operator()(void *memory) const { fftw_free(memory); }
};
using Reals = std::unique_ptr<double[], Free>;

/// Its planner may be used by one thread at a time; a plan by several.
std::mutex planning;

class Plan {
public:
    Plan(int size, double *reals, bool forward)
    {
        const std::lock_guard lock(planning);
        auto *spectrum = reinterpret_cast<fftw_complex *>(reals); // in place, padded to size + 2
        m_plan = forward ? fftw_plan_dft_r2c_1d(size, reals, spectrum, FFTW_ESTIMATE)
                         : fftw_plan_dft_c2r_1d(size, spectrum, reals, FFTW_ESTIMATE);
    }
    ~Plan()
    {
        const std::lock_guard lock(planning);
        fftw_destroy_plan(m_plan);
    }
    Plan(const Plan &) = delete;
    Plan &operator=(const Plan &) = delete;
    void run() const { fftw_execute(m_plan); }

private:
    fftw_plan m_plan;
};

} // namespace

std::vector<double> crossCorrelation(std::span<const double> a, std::span<const double> b, Progress &progress)
{
    const std::size_t n = a.size(), size = std::bit_ceil(2 * n);
    const auto padded = [&](std::span<const double> values) {
        Reals reals(static_cast<double *>(fftw_malloc((size + 2) * sizeof(double))));
        std::copy(values.begin(), values.end(), reals.get());
        std::fill(reals.get() + n, reals.get() + size + 2, 0.0);
        return reals;
    };
    const Reals first = padded(a), second = padded(b);
    Plan(int(size), first.get(), true).run();
    progress.advance(0);
    Plan(int(size), second.get(), true).run();
    progress.advance(0);
    auto *x = reinterpret_cast<std::complex<double> *>(first.get());
    const auto *y = reinterpret_cast<const std::complex<double> *>(second.get());
    for (std::size_t i = 0; i <= size / 2; ++i) x[i] = std::conj(x[i]) * y[i];
    Plan(int(size), first.get(), false).run();
    progress.advance(0);
    std::vector<double> sums(2 * n - 1);
    for (std::size_t i = 0; i < sums.size(); ++i) // negative lags lie at the end of the circle
        sums[i] = first[i >= n - 1 ? i - (n - 1) : size - (n - 1) + i] / double(size);
    return sums;
}

} // namespace fulvex
