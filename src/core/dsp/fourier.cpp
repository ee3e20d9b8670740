#include "fourier.h"

#include <algorithm>
#include <fftw3.h>
#include <mutex>

namespace fulvex {

namespace {

/// Its planner may be used by one thread at a time; a plan by several.
std::mutex planning;

class Plan {
public:
    Plan(int size, double *reals, bool forward)
    {
        const std::lock_guard lock(planning);
        auto *lines = reinterpret_cast<fftw_complex *>(reals);
        m_plan = forward ? fftw_plan_dft_r2c_1d(size, reals, lines, FFTW_ESTIMATE)
                         : fftw_plan_dft_c2r_1d(size, lines, reals, FFTW_ESTIMATE);
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

void FourierBuffer::Free::operator()(void *memory) const
{
    fftw_free(memory);
}

FourierBuffer::FourierBuffer(std::span<const double> values, std::size_t size)
    : m_size(size), m_reals(static_cast<double *>(fftw_malloc((size + 2) * sizeof(double))))
{
    std::copy(values.begin(), values.end(), m_reals.get());
    std::fill(m_reals.get() + values.size(), m_reals.get() + size + 2, 0.0);
}

void FourierBuffer::forward()
{
    Plan(int(m_size), m_reals.get(), true).run();
}

void FourierBuffer::backward()
{
    Plan(int(m_size), m_reals.get(), false).run();
}

} // namespace fulvex
