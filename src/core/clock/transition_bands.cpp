#include "transition_bands.h"

#include "edge_finder.h"

#include <map>

namespace fulvex {

TransitionBands::TransitionBands(const SymbolLevels &levels)
    : m_symbols(levels.levels.size()), m_bandOf(m_symbols * m_symbols)
{
    std::map<double, std::uint8_t> known;
    for (std::size_t low = 0; low < m_symbols; ++low) {
        for (std::size_t high = low + 1; high < m_symbols; ++high) {
            const double middle = levels.middle(low, high);
            const auto [at, fresh] = known.try_emplace(middle, std::uint8_t(m_levels.size()));
            if (fresh) m_levels.push_back(crossingLevel(middle, levels.hysteresis));
            m_bandOf[low * m_symbols + high] = m_bandOf[high * m_symbols + low] = at->second;
        }
    }
}

void FoundTransitions::resize(std::size_t count)
{
    edges.positions.resize(count);
    edges.flags.resize(count);
    edges.steps.resize(count);
}

} // namespace fulvex
