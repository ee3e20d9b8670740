#include "error.h"

#include "plain_text.h"

namespace fulvex {

static std::string sentence(const std::string &where, const std::string &what, const std::string &remedy)
{
    std::string text = where.empty() ? what : where + ": " + what;
    if (!remedy.empty()) text += "; " + remedy;
    return shownText(text); // a file's name or contents may hold anything
}

Error::Error(const std::string &where, const std::string &what, const std::string &remedy)
    : std::runtime_error(sentence(where, what, remedy)), m_where(where), m_found(what), m_remedy(remedy)
{
}

Error Error::within(const std::string &outer) const
{
    return Error(m_where.empty() ? outer : outer + ": " + m_where, m_found, m_remedy);
}

} // namespace fulvex
