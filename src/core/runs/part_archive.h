#pragma once

#include "error.h"

#include <algorithm>
#include <array>
#include <bit>
#include <concepts>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <vector>

namespace fulvex {

/// Values one behind the other, the same bytes on every machine: whole numbers in sevens of bits, the least first;
/// others in eight bytes, lists behind their length. What a struct is made of is said once, for writing and reading, by
/// `template <typename Archive> void describe(Archive &to, Struct &value) { to(value.a, value.b); }`.
class PartWriter {
public:
    static constexpr bool reads = false;
    template <typename... Values>
    void operator()(Values &...values)
    {
        (put(values), ...);
    }
    const std::string &bytes() const { return m_bytes; }

private:
    void putNumber(std::uint64_t number)
    {
        for (; number >= 0x80; number >>= 7) m_bytes.push_back(char(number | 0x80));
        m_bytes.push_back(char(number));
    }
    template <typename Value>
    void put(Value &value)
    {
        if constexpr (std::is_floating_point_v<Value>) {
            const auto bits = std::bit_cast<std::uint64_t>(double(value));
            for (int byte = 0; byte < 8; ++byte) m_bytes.push_back(char(bits >> (8 * byte)));
        } else if constexpr (std::is_enum_v<Value> || std::unsigned_integral<Value>) {
            putNumber(std::uint64_t(value));
        } else if constexpr (std::is_integral_v<Value>) {
            const auto number = std::int64_t(value); // the sign last, so that small ones are short
            putNumber(std::uint64_t(number) << 1 ^ std::uint64_t(number >> 63));
        } else {
            describe(*this, value);
        }
    }
    void put(std::string &text)
    {
        putNumber(text.size());
        m_bytes += text;
    }
    template <typename Value>
    void put(std::vector<Value> &list)
    {
        putNumber(list.size());
        for (Value &value : list) put(value);
    }
    template <typename Value, std::size_t count>
    void put(std::array<Value, count> &list)
    {
        for (Value &value : list) put(value);
    }
    template <typename First, typename Second>
    void put(std::pair<First, Second> &both)
    {
        (*this)(both.first, both.second);
    }
    template <typename Value>
    void put(std::optional<Value> &value)
    {
        bool there = value.has_value();
        put(there);
        if (there) put(*value);
    }
    template <typename Value>
    void put(std::shared_ptr<const Value> &value)
    {
        bool there = value != nullptr;
        put(there);
        if (there) put(const_cast<Value &>(*value)); // which a writer does not change
    }

    std::string m_bytes;
};

/// Reads what a PartWriter wrote. Throws Error where the bytes are no such thing; holds no more than a few times as
/// much as there are bytes.
class PartReader {
public:
    static constexpr bool reads = true;
    /// `where`: the file, for errors.
    PartReader(std::string_view bytes, std::string where) : m_bytes(bytes), m_where(std::move(where)) {}
    template <typename... Values>
    void operator()(Values &...values)
    {
        (take(values), ...);
    }
    bool atEnd() const { return m_at == m_bytes.size(); }
    [[noreturn]] void fail(const std::string &what) const
    {
        throw Error(m_where, what + " at byte " + std::to_string(m_at), "make the part anew");
    }
    /// For what bytes alone do not tell.
    void need(bool holds, const char *what) const
    {
        if (!holds) fail(what);
    }

private:
    std::uint64_t takeNumber()
    {
        std::uint64_t number = 0;
        for (int bits = 0; bits < 64; bits += 7) {
            if (m_at >= m_bytes.size()) fail("ends too soon");
            const auto byte = std::uint8_t(m_bytes[m_at++]);
            number |= std::uint64_t(byte & 0x7f) << bits;
            if (byte < 0x80) return number;
        }
        fail("has a number that is too long");
    }
    std::size_t takeLength()
    {
        const std::uint64_t length = takeNumber();
        if (length > m_bytes.size() - m_at) fail("has a list that is longer than the file"); // a byte each, at least
        return std::size_t(length);
    }
    template <typename Value>
    void take(Value &value)
    {
        if constexpr (std::is_floating_point_v<Value>) {
            if (m_bytes.size() - m_at < 8) fail("ends too soon");
            std::uint64_t bits = 0;
            for (int byte = 0; byte < 8; ++byte) bits |= std::uint64_t(std::uint8_t(m_bytes[m_at++])) << (8 * byte);
            value = Value(std::bit_cast<double>(bits));
        } else if constexpr (std::is_same_v<Value, bool>) {
            value = takeNumber() != 0;
        } else if constexpr (std::is_enum_v<Value>) {
            constexpr std::uint64_t most = 63; // no enumeration has as many
            value = Value(std::min(takeNumber(), most));
        } else if constexpr (std::unsigned_integral<Value>) {
            value = Value(takeNumber());
        } else if constexpr (std::is_integral_v<Value>) {
            const std::uint64_t number = takeNumber();
            const auto whole = std::int64_t(number >> 1 ^ (~(number & 1) + 1));
            if (std::int64_t(Value(whole)) != whole) fail("has a number that is too large");
            value = Value(whole);
        } else {
            describe(*this, value);
        }
    }
    void take(std::string &text)
    {
        const std::size_t length = takeLength();
        text.assign(m_bytes.substr(m_at, length));
        m_at += length;
    }
    template <typename Value>
    void take(std::vector<Value> &list)
    {
        const std::size_t length = takeLength();
        list.clear();
        for (std::size_t i = 0; i < length; ++i) { // grows as it is there: a length alone holds no memory
            Value value{};
            take(value);
            list.push_back(std::move(value));
        }
    }
    template <typename Value, std::size_t count>
    void take(std::array<Value, count> &list)
    {
        for (Value &value : list) take(value);
    }
    template <typename First, typename Second>
    void take(std::pair<First, Second> &both)
    {
        (*this)(both.first, both.second);
    }
    template <typename Value>
    void take(std::optional<Value> &value)
    {
        bool there = false;
        take(there);
        value.reset();
        if (there) take(value.emplace());
    }
    template <typename Value>
    void take(std::shared_ptr<const Value> &value)
    {
        bool there = false;
        take(there);
        value.reset();
        if (!there) return;
        auto own = std::make_shared<Value>();
        take(*own);
        value = std::move(own);
    }

    std::string_view m_bytes;
    std::string m_where;
    std::size_t m_at = 0;
};

} // namespace fulvex
