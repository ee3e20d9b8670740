#include "sample_window.h"

#include <algorithm>

namespace fulvex {

void SampleWindow::select(std::int64_t block)
{
    for (Block &kept : m_blocks) {
        if (kept.block == block) {
            m_current = &kept;
            kept.used = ++m_clock;
            return;
        }
    }
    if (m_progress) m_progress->advance(0);
    Block &oldest = *std::min_element(m_blocks.begin(), m_blocks.end(),
                                      [](const Block &a, const Block &b) { return a.used < b.used; });
    const std::int64_t blockSize = std::int64_t(1) << m_shift, first = block * blockSize;
    oldest.values.resize(std::size_t(std::min(blockSize, m_count - first)));
    m_source.read(first, oldest.values);
    oldest.block = block;
    oldest.used = ++m_clock;
    m_current = &oldest;
}

} // namespace fulvex
