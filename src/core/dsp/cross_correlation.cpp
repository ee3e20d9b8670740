#include "cross_correlation.h"

#include "fourier.h"

#include <bit>

namespace fulvex {

std::vector<double> crossCorrelation(std::span<const double> a, std::span<const double> b, Progress &progress)
{
    const std::size_t n = a.size(), size = std::bit_ceil(2 * n);
    FourierBuffer first(a, size), second(b, size);
    first.forward();
    progress.advance(0);
    second.forward();
    progress.advance(0);
    for (std::size_t i = 0; i <= size / 2; ++i) first.lines()[i] = std::conj(first.lines()[i]) * second.lines()[i];
    first.backward();
    progress.advance(0);
    std::vector<double> sums(2 * n - 1);
    for (std::size_t i = 0; i < sums.size(); ++i) // negative lags lie at the end of the circle
        sums[i] = first.reals()[i >= n - 1 ? i - (n - 1) : size - (n - 1) + i] / double(size);
    return sums;
}

} // namespace fulvex
