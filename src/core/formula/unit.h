#pragma once

#include <map>
#include <string>
#include <string_view>

namespace fulvex {

/// A unit as powers of V, A and s, and of whatever other words a file may name; what a formula's result is in follows
/// from it. A word is taken as it stands: "mV" is not V.
class Unit {
public:
    Unit() = default; ///< of pure numbers
    /// "V", "V/s", "V²", "A·s"; W, Ω, S, Hz and C are products of the three. Whatever is none of these is a word.
    explicit Unit(std::string_view text);
    Unit times(const Unit &other) const;
    Unit over(const Unit &other) const;
    Unit toThe(double power) const; ///< powers are kept in halves, which roots of squares need
    bool isNumber() const { return m_halves.empty(); }
    /// As people write it: one of the above where it is one.
    std::string text() const;
    bool operator==(const Unit &) const = default;

private:
    void add(const std::string &word, int halves);
    std::map<std::string, int> m_halves; ///< twice the power of each word, none of them 0
};

} // namespace fulvex
