#pragma once

#include <complex>
#include <cstddef>
#include <memory>
#include <span>

namespace fulvex {

/// The least number from `least` on that is quickly transformed: even, and made of twos, threes and fives.
std::size_t quickLength(std::size_t least);

/// Real numbers and their discrete Fourier transform, in place, of `size` numbers, up to 2^30. Long
/// ones are transformed on several cores.
class FourierBuffer {
public:
    /// `values`, then zeros.
    FourierBuffer(std::span<const double> values, std::size_t size);
    void forward();
    void backward(); ///< times size
    std::size_t size() const { return m_size; }
    double *reals() { return m_reals.get(); }
    /// After forward(): size / 2 + 1 of them.
    std::complex<double> *lines() { return reinterpret_cast<std::complex<double> *>(m_reals.get()); }
    const std::complex<double> *lines() const { return reinterpret_cast<const std::complex<double> *>(m_reals.get()); }

private:
    struct Free {
        void operator()(void *memory) const;
    };
    std::size_t m_size;
    std::unique_ptr<double[], Free> m_reals; ///< padded to size + 2
};

} // namespace fulvex
