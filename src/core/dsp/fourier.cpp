#include "fourier.h"

#include "core_loop.h"

#include <algorithm>
#include <bit>
#include <fftw3.h>
#include <map>
#include <mutex>
#include <utility>

namespace fulvex {

namespace {

/// From that size on a transform is shared by cores, and by how many does not depend on how many there are.
constexpr std::size_t longFrom = std::size_t(1) << 20;
constexpr int shares = 4;

/// FFTW's own threads would be begun for each transform.
void onOurCores(void *(*work)(char *), char *jobs, std::size_t size, int count, void *)
{
    onAllCores(count, [&](std::int64_t job) { work(jobs + std::size_t(job) * size); });
}

class Plan {
public:
    Plan(int size, bool forward)
    {
        fftw_plan_with_nthreads(std::size_t(size) < longFrom ? 1 : shares);
        auto *lines = fftw_alloc_complex(std::size_t(size) / 2 + 1); // looked at for how it lies alone
        auto *reals = reinterpret_cast<double *>(lines);
        m_plan = forward ? fftw_plan_dft_r2c_1d(size, reals, lines, FFTW_ESTIMATE)
                         : fftw_plan_dft_c2r_1d(size, lines, reals, FFTW_ESTIMATE);
        fftw_free(lines);
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
    [[maybe_unused]] static const bool prepared = [] {
        fftw_threads_set_callback(onOurCores, nullptr);
        return fftw_init_threads() != 0;
    }();
    return plans.try_emplace({size, forward}, int(size), forward).first->second.get();
}

} // namespace

std::size_t quickLength(std::size_t least)
{
    const std::size_t simplest = std::bit_ceil(std::max<std::size_t>(2, least));
    std::size_t best = simplest;
    for (std::size_t fives = 2; fives < simplest; fives *= 5) {
        for (std::size_t threes = fives; threes < simplest; threes *= 3) {
            std::size_t length = threes;
            while (length < least) length *= 2;
            best = std::min(best, length);
        }
    }
    return best;
}

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
