#include "fourier.h"

#include <algorithm>
#include <fftw3.h>
#include <map>
#include <mutex>
#include <utility>

namespace fulvex {

namespace {

class Plan {
public:
    Plan(int size, bool forward)
    {
        FourierBuffer scratch({}, std::size_t(size));
        auto *lines = reinterpret_cast<fftw_complex *>(scratch.lines());
        m_plan = forward ? fftw_plan_dft_r2c_1d(size, scratch.reals(), lines, FFTW_ESTIMATE)
                         : fftw_plan_dft_c2r_1d(size, lines, scratch.reals(), FFTW_ESTIMATE);
    }
    ~Plan() { fftw_destroy_plan(m_plan); }
    Plan(const Plan &) = delete;
    Plan &operator=(const Plan &) = delete;
    fftw_plan get() const { return m_plan; }

private:
    fftw_plan m_plan;
};

/// Made once for each size: the planner may be used by one thread at a time, a plan by many.
fftw_plan planFor(std::size_t size, bool forward)
{
    static std::mutex planning;
    static std::map<std::pair<std::size_t, bool>, Plan> plans;
    const std::lock_guard lock(planning);
    return plans.try_emplace({size, forward}, int(size), forward).first->second.get();
}

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
    fftw_execute_dft_r2c(planFor(m_size, true), m_reals.get(), reinterpret_cast<fftw_complex *>(m_reals.get()));
}

void FourierBuffer::backward()
{
    fftw_execute_dft_c2r(planFor(m_size, false), reinterpret_cast<fftw_complex *>(m_reals.get()), m_reals.get());
}

} // namespace fulvex
