#pragma once

#include <stdexcept>
#include <string>

namespace fulvex {

/// An input that cannot be used: where (file, line, byte or JSON path), what was found, and what would mend it.
/// The one error type at the edges of the program. A caller's mistake is an assert; a quantity that cannot be
/// measured is a value with a reason (see Row), never an Error. What it says is one line of valid UTF-8, whatever bytes
/// the parts hold.
class Error : public std::runtime_error {
public:
    Error(const std::string &where, const std::string &what, const std::string &remedy = {});
    const std::string &where() const { return m_where; }
    const std::string &found() const { return m_found; }
    const std::string &remedy() const { return m_remedy; }
    /// The same error, told from farther out: "outer: where".
    Error within(const std::string &outer) const;

private:
    std::string m_where, m_found, m_remedy;
};

} // namespace fulvex
