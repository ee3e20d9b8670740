#include "column.h"

namespace fulvex {

Column Column::constant(double number, std::size_t count)
{
    const auto one = std::make_shared<const double>(number);
    return view(one, one.get(), count, 0);
}

Column Column::view(std::shared_ptr<const void> owner, const double *first, std::size_t count, std::size_t step)
{
    Column column;
    column.m_owner = std::move(owner);
    column.m_first = first;
    column.m_count = count;
    column.m_step = step;
    column.m_isView = true;
    return column;
}

Column Column::differences(std::size_t ahead) const
{
    Column column = part(0, m_count);
    column.m_ahead = ahead;
    return column;
}

Column Column::times(double factor) const
{
    Column column = part(0, m_count);
    column.m_factor *= factor;
    return column;
}

Column Column::inverse() const
{
    Column column = part(0, m_count);
    column.m_factor = 1 / m_factor;
    column.m_inverse = !m_inverse;
    return column;
}

bool Column::operator==(const Column &other) const
{
    if (m_count != other.m_count) return false;
    for (std::size_t i = 0; i < m_count; ++i)
        if ((*this)[i] != other[i]) return false;
    return true;
}

Column Column::part(std::size_t first, std::size_t count) const
{
    Column some = *this;
    some.m_first += first * m_step;
    some.m_count = count;
    some.m_isView = true;
    return some;
}

} // namespace fulvex
