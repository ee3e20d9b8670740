#include "waveform.h"

#include "widest_vectors.h"

#include <bit>
#include <cassert>
#include <cmath>
#include <cstring>
#include <limits>

namespace fulvex {

std::string_view sampleTypeName(SampleType type)
{
    static constexpr std::string_view names[] = {"i8",  "u8",  "i16", "u16", "i24", "i32",
                                                 "u32", "i64", "u64", "f16", "f32", "f64"};
    return names[int(type)];
}

std::optional<SampleType> sampleTypeOf(std::string_view name)
{
    for (SampleType type = SampleType::i8; type <= SampleType::f64; type = SampleType(int(type) + 1)) {
        if (sampleTypeName(type) == name) return type;
    }
    return {};
}

Half::operator double() const
{
    const int exponent = bits >> 10 & 31;
    const double fraction = bits & 1023, sign = bits & 0x8000 ? -1 : 1;
    if (exponent == 31) return std::numeric_limits<double>::quiet_NaN(); // infinite or not a number: a gap
    return sign * (exponent ? std::ldexp(1024 + fraction, exponent - 25) : std::ldexp(fraction, -24));
}

namespace {

template <typename T>
T byteSwapped(T value)
{
    unsigned char bytes[sizeof(T)];
    std::memcpy(bytes, &value, sizeof(T));
    for (std::size_t i = 0; i < sizeof(T) / 2; ++i) std::swap(bytes[i], bytes[sizeof(T) - 1 - i]);
    std::memcpy(&value, bytes, sizeof(T));
    return value;
}

template <typename T>
double asDouble(T value)
{
    if constexpr (std::is_floating_point_v<T>) {
        return std::isfinite(value) ? double(value) : std::numeric_limits<double>::quiet_NaN();
    } else {
        return double(value);
    }
}

/// The samples as they lie; plain enough for the compiler to use the widest vectors there are.
/// Every so many samples, as channels beside each other lie.
template <typename T, std::size_t every>
FULVEX_WIDEST_VECTORS void convertInOrder(const T *samples, std::size_t count, double *out, double scale, double offset)
{
    for (std::size_t i = 0; i < count; ++i) out[i] = asDouble(samples[i * every]) * scale + offset;
}

template <typename T, std::size_t every, bool swapped, typename Code>
FULVEX_WIDEST_VECTORS void widenInOrder(const T *samples, std::size_t count, Code *out)
{
    for (std::size_t i = 0; i < count; ++i) out[i] = swapped ? byteSwapped(samples[i * every]) : samples[i * every];
}

template <typename T, bool swapped, typename Code>
void takeCodes(const std::byte *from, std::ptrdiff_t stride, std::span<Code> out)
{
    const auto *samples = reinterpret_cast<const T *>(from);
    if (std::uintptr_t(from) % alignof(T) == 0) {
        switch (stride / std::ptrdiff_t(sizeof(T)) * (stride % std::ptrdiff_t(sizeof(T)) == 0)) {
        case 1:
            return widenInOrder<T, 1, swapped>(samples, out.size(), out.data());
        case 2:
            return widenInOrder<T, 2, swapped>(samples, out.size(), out.data());
        case 4:
            return widenInOrder<T, 4, swapped>(samples, out.size(), out.data());
        }
    }
    for (Code &code : out) {
        T sample;
        std::memcpy(&sample, from, sizeof(T));
        code = swapped ? byteSwapped(sample) : sample;
        from += stride;
    }
}

template <typename T, bool swapped>
void convert(const std::byte *from, std::ptrdiff_t stride, std::span<double> out, double scale, double offset)
{
    const auto *samples = reinterpret_cast<const T *>(from);
    if (!swapped && std::uintptr_t(from) % alignof(T) == 0) {
        switch (stride / std::ptrdiff_t(sizeof(T)) * (stride % std::ptrdiff_t(sizeof(T)) == 0)) {
        case 1:
            return convertInOrder<T, 1>(samples, out.size(), out.data(), scale, offset);
        case 2:
            return convertInOrder<T, 2>(samples, out.size(), out.data(), scale, offset);
        case 4:
            return convertInOrder<T, 4>(samples, out.size(), out.data(), scale, offset);
        }
    }
    for (double &value : out) {
        T sample;
        std::memcpy(&sample, from, sizeof(T));
        value = asDouble(swapped ? byteSwapped(sample) : sample) * scale + offset;
        from += stride;
    }
}

/// Smallest and largest of integers; plain enough for the widest vectors.
template <typename T>
FULVEX_WIDEST_VECTORS void integerExtents(const T *samples, std::size_t count, std::size_t block, T *lows, T *highs)
{
    for (std::size_t first = 0, place = 0; first < count; first += block, ++place) {
        T low = samples[first], high = samples[first];
        const std::size_t last = count - first < block ? count : first + block;
        for (std::size_t i = first; i < last; ++i) {
            low = samples[i] < low ? samples[i] : low;
            high = samples[i] > high ? samples[i] : high;
        }
        lows[place] = low;
        highs[place] = high;
    }
}

/// The same of floating-point numbers; what is not finite is left out, and where nothing is left low is above high.
template <typename T>
FULVEX_WIDEST_VECTORS void floatExtents(const T *samples, std::size_t count, std::size_t block, T *lows, T *highs)
{
    constexpr T most = std::numeric_limits<T>::max();
    constexpr std::size_t lanes =
        64 / sizeof(T); // kept apart, since the order of floats must not matter to the compiler
    for (std::size_t first = 0, place = 0; first < count; first += block, ++place) {
        T low[lanes], high[lanes];
        for (std::size_t k = 0; k < lanes; ++k) {
            low[k] = std::numeric_limits<T>::infinity();
            high[k] = -low[k];
        }
        const std::size_t last = count - first < block ? count : first + block;
        std::size_t i = first;
        for (; i + lanes <= last; i += lanes) {
            for (std::size_t k = 0; k < lanes; ++k) {
                const T v = samples[i + k], size = v < 0 ? -v : v;
                low[k] = size <= most && v < low[k] ? v : low[k];
                high[k] = size <= most && v > high[k] ? v : high[k];
            }
        }
        for (; i < last; ++i) {
            const T v = samples[i], size = v < 0 ? -v : v;
            low[0] = size <= most && v < low[0] ? v : low[0];
            high[0] = size <= most && v > high[0] ? v : high[0];
        }
        for (std::size_t k = 1; k < lanes; ++k) {
            low[0] = low[k] < low[0] ? low[k] : low[0];
            high[0] = high[k] > high[0] ? high[k] : high[0];
        }
        lows[place] = low[0];
        highs[place] = high[0];
    }
}

template <typename T>
void fillExtents(const T *samples, std::size_t count, std::size_t block, std::span<Extent> out, double slope,
                 double level)
{
    std::vector<T> lows(out.size()), highs(out.size());
    if constexpr (std::is_floating_point_v<T>)
        floatExtents(samples, count, block, lows.data(), highs.data());
    else
        integerExtents(samples, count, block, lows.data(), highs.data());
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double low = double(lows[i]) * slope + level, high = double(highs[i]) * slope + level;
        out[i] = lows[i] > highs[i] ? Extent::nothing() : slope < 0 ? Extent::of(high, low) : Extent::of(low, high);
    }
}

} // namespace

bool Waveform::extents(SampleRange range, std::int64_t block, std::span<Extent> out, double factor, double shift) const
{
    const double slope = scale * factor, level = offset * factor + shift;
    const std::byte *from = data + range.first * stride;
    return withSampleType(type, [&](auto sample) {
        using T = decltype(sample);
        if constexpr (std::is_arithmetic_v<T>) {
            if (swapped || stride != std::ptrdiff_t(sizeof(T)) || std::uintptr_t(from) % alignof(T) != 0) return false;
            fillExtents(reinterpret_cast<const T *>(from), std::size_t(range.size()), std::size_t(block), out, slope,
                        level);
            return true;
        } else {
            return false;
        }
    });
}

void Waveform::readScaled(std::int64_t first, std::span<double> out, double factor, double shift) const
{
    assert(first >= 0 && first + std::int64_t(out.size()) <= count);
    const double slope = scale * factor, level = offset * factor + shift;
    const std::byte *from = data + first * stride;
    withSampleType(type, [&](auto sample) {
        using T = decltype(sample);
        swapped ? convert<T, true>(from, stride, out, slope, level)
                : convert<T, false>(from, stride, out, slope, level);
    });
}

bool Waveform::readCodes(std::int64_t first, std::span<std::int16_t> out) const
{
    assert(first >= 0 && first + std::int64_t(out.size()) <= count);
    const std::byte *from = data + first * stride;
    switch (type) {
    case SampleType::i8:
        takeCodes<std::int8_t, false>(from, stride, out);
        return true;
    case SampleType::u8:
        takeCodes<std::uint8_t, false>(from, stride, out);
        return true;
    case SampleType::i16:
        swapped ? takeCodes<std::int16_t, true>(from, stride, out) : takeCodes<std::int16_t, false>(from, stride, out);
        return true;
    default:
        return false;
    }
}

void Waveform::readWideCodes(std::int64_t first, std::span<std::int32_t> out) const
{
    assert(hasWideCodes() && first >= 0 && first + std::int64_t(out.size()) <= count);
    const std::byte *from = data + first * stride;
    swapped ? takeCodes<std::uint16_t, true>(from, stride, out) : takeCodes<std::uint16_t, false>(from, stride, out);
}

const std::int16_t *Waveform::codesInPlace(std::int64_t first) const
{
    const std::byte *from = data + first * stride;
    const bool asTheyAre = type == SampleType::i16 && !swapped && stride == std::ptrdiff_t(sizeof(std::int16_t)) &&
                           std::uintptr_t(from) % alignof(std::int16_t) == 0;
    return asTheyAre ? reinterpret_cast<const std::int16_t *>(from) : nullptr;
}

void Waveform::announce(SampleRange range) const
{
    if (mapping && range.size() > 0)
        mapping->announce({data + range.first * stride, std::size_t(range.size() * stride)});
}

void Waveform::release(SampleRange range) const
{
    if (!mapping || range.size() == 0) return;
    mapping->release({data + range.first * stride, std::size_t(range.size() * stride)});
}

Waveform makeWaveform(std::string name, std::vector<double> samples)
{
    auto owner = std::make_shared<const std::vector<double>>(std::move(samples));
    Waveform waveform;
    waveform.name = std::move(name);
    waveform.data = reinterpret_cast<const std::byte *>(owner->data());
    waveform.count = std::int64_t(owner->size());
    waveform.owner = owner;
    return waveform;
}

} // namespace fulvex
