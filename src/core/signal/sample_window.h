#pragma once

#include "progress.h"
#include "raw_vector.h"
#include "sample_source.h"

#include <array>
#include <vector>

namespace fulvex {

/// Random access to a source by index, for work around single moments: keeps the last few blocks that were asked
/// for. Walking back and forth across a block's border does not read it again. One per thread.
class SampleWindow {
public:
    enum class Around { neighbours, few }; ///< places that lie behind each other, or far apart
    /// A cancel of `progress`, where there is one, ends any at() or run() that reads on with Cancelled.
    explicit SampleWindow(const SampleSource &source, Progress *progress = nullptr, Around around = Around::neighbours)
        : m_source(source), m_progress(progress), m_count(source.axis().count), m_shift(around == Around::few ? 8 : 13)
    {
    }
    std::int64_t count() const { return m_count; }
    const SampleSource &source() const { return m_source; }
    /// The sample at an index within 0 .. count.
    double at(std::int64_t index)
    {
        const std::int64_t block = index >> m_shift;
        if (block != m_current->block) select(block);
        return m_current->values[std::size_t(index - (block << m_shift))];
    }
    /// Samples first .. first + length, which must lie within the record, where they are kept until others are asked
    /// for; null where they lie in more than one block.
    const double *within(std::int64_t first, std::int64_t length)
    {
        const std::int64_t block = first >> m_shift, offset = first - (block << m_shift);
        if (offset + length > std::int64_t(1) << m_shift) return nullptr;
        if (block != m_current->block) select(block);
        return m_current->values.data() + offset;
    }
    /// The same, copied to `scratch` where they lie in more than one.
    const double *run(std::int64_t first, std::int64_t length, double *scratch)
    {
        if (const double *const kept = within(first, length)) return kept;
        for (std::int64_t i = 0; i < length; ++i) scratch[i] = at(first + i);
        return scratch;
    }

private:
    struct Block {
        std::int64_t block = -1;
        std::uint64_t used = 0;
        RawVector<double> values;
    };
    void select(std::int64_t block);
    const SampleSource &m_source;
    Progress *m_progress;
    std::int64_t m_count;
    int m_shift; ///< blocks are 2^m_shift samples long
    std::array<Block, 3> m_blocks;
    Block *m_current = &m_blocks[0];
    std::uint64_t m_clock = 0;
};

} // namespace fulvex
