#include "run_course.h"

#include <utility>

namespace fulvex {

void RunCourse::add(std::size_t place, Results summary)
{
    take(place, {std::move(summary), false});
}

void RunCourse::leaveOut(std::size_t place, Results unread)
{
    take(place, {std::move(unread), true});
}

void RunCourse::skip(std::size_t place)
{
    take(place, {});
}

void RunCourse::take(std::size_t place, Ready ready)
{
    if (m_ended) return;
    m_early.emplace(place, std::move(ready));
    // In order only where that decides something: many that wait for a slow one would be kept for nothing.
    while (!m_early.empty() && !m_ended && (!m_stopAt || m_early.begin()->first == m_next)) {
        Ready one = std::move(m_early.begin()->second);
        m_early.erase(m_early.begin());
        ++m_next;
        if (!one.results) continue;
        if (one.unread) {
            m_tally.leaveOut(*one.results);
            continue;
        }
        if (captureFailed(*one.results)) ++m_failed;
        m_tally.add(std::move(*one.results));
        m_ended = m_stopAt && m_failed >= std::size_t(*m_stopAt);
    }
    if (m_ended) m_early.clear();
}

} // namespace fulvex
