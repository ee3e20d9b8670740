#include "view_state.h"

namespace fulvex {

void ViewState::begin(std::string sheet)
{
    *this = ViewState();
    m_sheet = std::move(sheet);
}

ViewState::View ViewState::view(const std::string &tile) const
{
    return ownView(tile).value_or(m_view);
}

std::optional<ViewState::View> ViewState::ownView(const std::string &tile) const
{
    const auto own = m_own.find(tile);
    return tile.empty() || own == m_own.end() ? std::nullopt : std::optional(own->second);
}

void ViewState::put(const Visit &visit)
{
    m_sheet = visit.sheet;
    (visit.tile.empty() ? m_view : m_own[visit.tile]) = visit.view;
    m_chosen = true;
}

void ViewState::changed(Visit before, bool step)
{
    if (step || !m_sinceChange.isValid() || m_sinceChange.elapsed() > pause) {
        if (m_back.size() == kept) m_back.erase(m_back.begin());
        m_back.push_back(std::move(before));
        m_forward.clear();
    }
    m_sinceChange.start();
}

std::optional<ViewState::Visit> ViewState::revisit(std::vector<Visit> &from, std::vector<Visit> &to,
                                                   const IsThere &isThere)
{
    while (!from.empty() && !from.back().sheet.empty() && !isThere(from.back())) from.pop_back();
    if (from.empty()) return {};
    const Visit visit = from.back();
    from.pop_back();
    const std::string tile = visit.sheet == m_sheet ? visit.tile : std::string();
    to.push_back({m_sheet, tile, view(tile)});
    m_sinceChange.invalidate();
    return visit;
}

} // namespace fulvex
