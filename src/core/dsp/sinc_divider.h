#pragma once

#include "sinc_kernel.h"

#include <cstddef>
#include <span>
#include <vector>

namespace fulvex {

/// Band-limited interpolation at the instants that share out each sample interval equally. As the kernel is even, the
/// weights of an instant are those of another, mirrored: a pair of them costs half of two.
class SincDivider {
public:
    explicit SincDivider(int factor); ///< instants to a sample interval, 1 or more
    int factor() const { return m_factor; }
    /// out[k]: the value (first + k) / factor sample intervals behind samples[SincKernel::before]; where a sample is,
    /// the sample itself. Reads SincKernel::taps - 1 more than the samples in whose intervals they lie. The same bits
    /// whatever the machine's vectors.
    void read(const double *samples, std::size_t first, std::span<double> out) const;

    /// Weights of a pair of instants, of the sums and the differences of samples that lie mirrored about the middle:
    /// the pair's values are the sum of both and their difference. The instant in the middle has no odd ones.
    struct Pair {
        std::size_t earlier, later; ///< instants; the same in the middle
        double even[SincKernel::taps / 2], odd[SincKernel::taps / 2];
    };

private:
    int m_factor;
    std::vector<Pair> m_pairs; ///< the middle last, if there is one
};

} // namespace fulvex
