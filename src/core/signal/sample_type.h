#pragma once

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string_view>
#include <type_traits>
#include <utility>

namespace fulvex {

enum class SampleType { i8, u8, i16, u16, i24, i32, u32, i64, u64, f16, f32, f64 };

/// An IEEE 754 half-precision number as stored; only ever converted.
struct Half {
    std::uint16_t bits;
    operator double() const;
};

/// A signed integer of three bytes, little-endian, as stored; only ever converted.
struct Int24 {
    std::uint8_t bytes[3];
    operator double() const
    {
        return std::int32_t(std::uint32_t(bytes[0]) << 8 | std::uint32_t(bytes[1]) << 16 |
                            std::uint32_t(bytes[2]) << 24) >>
               8;
    }
};

/// Calls `visit` with a value of the C++ type that a SampleType names; the switch stands outside the caller's loop.
template <typename Visit>
decltype(auto) withSampleType(SampleType type, Visit &&visit)
{
    switch (type) {
    case SampleType::i8:
        return visit(std::int8_t{});
    case SampleType::u8:
        return visit(std::uint8_t{});
    case SampleType::i16:
        return visit(std::int16_t{});
    case SampleType::u16:
        return visit(std::uint16_t{});
    case SampleType::i24:
        return visit(Int24{});
    case SampleType::i32:
        return visit(std::int32_t{});
    case SampleType::u32:
        return visit(std::uint32_t{});
    case SampleType::i64:
        return visit(std::int64_t{});
    case SampleType::u64:
        return visit(std::uint64_t{});
    case SampleType::f16:
        return visit(Half{});
    case SampleType::f32:
        return visit(float{});
    case SampleType::f64:
        break;
    }
    return visit(double{});
}

inline std::size_t sampleSize(SampleType type)
{
    return withSampleType(type, [](auto sample) { return sizeof(sample); });
}

inline bool isInteger(SampleType type)
{
    return withSampleType(type, [](auto sample) {
        return std::is_integral_v<decltype(sample)> || std::is_same_v<decltype(sample), Int24>;
    });
}

/// "i16" and the like, as the document names them.
std::string_view sampleTypeName(SampleType type);
std::optional<SampleType> sampleTypeOf(std::string_view name);

} // namespace fulvex
