#pragma once

#include "over_time.h"

#include <vector>

namespace fulvex {

/// A straight line from each moment to the next of its piece; at a piece's ends as its first and last moment say; gaps
/// between pieces. On its source's grid.
class Course final : public OverTime {
public:
    struct Moment {
        double position, value;
    };
    struct Piece {
        double begin, end; ///< positions
        std::vector<Moment> moments;
    };
    Course(SourcePtr source, std::vector<Piece> pieces) : OverTime(std::move(source)), m_pieces(std::move(pieces)) {}
    double readEffort() const override { return 0.5; }
    void read(std::int64_t first, std::span<double> out) const override;

private:
    std::vector<Piece> m_pieces;
};

} // namespace fulvex
