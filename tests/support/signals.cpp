#include "signals.h"

#include <cmath>
#include <numbers>

namespace fulvex::test {

double Gaussian::uniform()
{
    m_state ^= m_state << 13;
    m_state ^= m_state >> 7;
    m_state ^= m_state << 17;
    return (double(m_state >> 11) + 0.5) * 0x1p-53;
}

double Gaussian::operator()()
{
    if (m_hasSpare) {
        m_hasSpare = false;
        return m_spare;
    }
    const double radius = std::sqrt(-2 * std::log(uniform())), angle = 2 * std::numbers::pi * uniform();
    m_spare = radius * std::sin(angle);
    m_hasSpare = true;
    return radius * std::cos(angle);
}

static std::vector<bool> randomBits(std::int64_t count, std::uint64_t seed)
{
    Gaussian random(seed + 1000);
    std::vector<bool> bits;
    for (std::int64_t i = 0; i < count; ++i) bits.push_back(random.uniform() < 0.5);
    return bits;
}

Data makeData(const DataSpec &spec)
{
    Data data;
    const std::vector<double> levels = spec.levels.empty() ? std::vector{spec.low, spec.high} : spec.levels;
    if (levels.size() == 2) {
        for (const bool bit : randomBits(spec.unitIntervals + 1, spec.seed)) data.symbols.push_back(bit);
    } else {
        Gaussian which(spec.seed + 1000);
        for (std::int64_t i = 0; i <= spec.unitIntervals; ++i)
            data.symbols.push_back(int(which.uniform() * double(levels.size())));
    }
    for (std::int64_t i = 0; spec.bit && i <= spec.unitIntervals; ++i) data.symbols[std::size_t(i)] = spec.bit(i);
    for (const int symbol : data.symbols) data.bits.push_back(symbol > 0);
    Gaussian random(spec.seed);
    std::vector<double> heights; // of the edges
    for (std::int64_t n = 1; n <= spec.unitIntervals; ++n) {
        const int before = data.symbols[std::size_t(n - 1)], now = data.symbols[std::size_t(n)];
        if (now == before) continue;
        const bool up = now > before;
        const double late =
            spec.wander(double(n)) + spec.randomJitter * random() + (up ? 0.5 : -0.5) * spec.dutyDistortion;
        data.edges.push_back(spec.offset + (double(n) + late) * spec.samplesPerUi);
        data.numbers.push_back(n);
        data.rising.push_back(up);
        heights.push_back(levels[std::size_t(now)] - levels[std::size_t(before)]);
    }
    const auto count = std::int64_t(spec.offset + (double(spec.unitIntervals) + 0.5) * spec.samplesPerUi);
    const double sigma = spec.edgeSigma * spec.samplesPerUi;
    double settled = levels[std::size_t(data.symbols[0])];
    std::size_t first = 0;
    Gaussian noise(spec.seed + 77);
    for (std::int64_t k = 0; k < count; ++k) {
        while (first < data.edges.size() && data.edges[first] < double(k) - 8 * sigma) settled += heights[first++];
        double value = settled;
        for (std::size_t i = first; i < data.edges.size() && data.edges[i] < double(k) + 8 * sigma; ++i)
            value += heights[i] * 0.5 * std::erfc(-(double(k) - data.edges[i]) / sigma / std::numbers::sqrt2);
        data.volts.push_back(value + spec.noise * noise());
    }
    return data;
}

Data makeBandLimitedData(double samplesPerUi, std::int64_t unitIntervals, std::uint64_t seed)
{
    constexpr std::int64_t reach = 150; // the pulse falls with the cube of time: what is beyond adds less than 1e-7
    const auto pulse = [](double t) {   // in UI
        const double u = 2 * t;
        if (std::abs(std::abs(u) - 1) < 1e-9) return 0.5;
        const double sinc = t == 0 ? 1 : std::sin(std::numbers::pi * u) / (std::numbers::pi * u);
        return sinc / (1 - u * u);
    };
    Data data;
    data.bits = randomBits(unitIntervals, seed);
    const double offset = 2.71;
    const auto count = std::int64_t(offset + double(unitIntervals) * samplesPerUi);
    for (std::int64_t k = 0; k < count; ++k) {
        const double ui = (double(k) - offset) / samplesPerUi - 0.5; // symbol n is centred at n + 0.5
        const auto nearest = std::int64_t(std::floor(ui));
        double value = 0;
        for (std::int64_t n = std::max<std::int64_t>(0, nearest - reach);
             n <= std::min(unitIntervals - 1, nearest + reach); ++n)
            value += (data.bits[std::size_t(n)] ? 0.4 : -0.4) * pulse(ui - double(n));
        data.volts.push_back(value);
    }
    for (std::int64_t n = 1; n < unitIntervals; ++n) {
        if (data.bits[std::size_t(n)] == data.bits[std::size_t(n - 1)]) continue;
        data.edges.push_back(offset + double(n) * samplesPerUi);
        data.numbers.push_back(n);
        data.rising.push_back(data.bits[std::size_t(n)]);
    }
    return data;
}

double meanOf(const std::vector<double> &values)
{
    double sum = 0;
    for (const double v : values) sum += v;
    return sum / double(values.size());
}

std::string bytesOf(const std::vector<double> &values)
{
    return {reinterpret_cast<const char *>(values.data()), values.size() * sizeof(double)};
}

double rmsOf(const std::vector<double> &values)
{
    double sum = 0;
    for (const double v : values) sum += v * v;
    return std::sqrt(sum / double(values.size()));
}

} // namespace fulvex::test
