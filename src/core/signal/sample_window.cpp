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

const double *SampleWindow::run(std::int64_t first, std::int64_t length, double *scratch)
{
    const std::int64_t block = first >> m_shift, offset = first - (block << m_shift);
    if (offset + length <= std::int64_t(1) << m_shift) {
        if (block != m_current->block) select(block);
        return m_current->values.data() + offset;
    }
    for (std::int64_t i = 0; i < length; ++i) scratch[i] = at(first + i);
    return scratch;
}

} // namespace fulvex
