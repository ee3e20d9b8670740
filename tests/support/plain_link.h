#pragma once

#include "edge_list.h"
#include "eye_fold.h"

#include <cstdint>
#include <span>
#include <vector>

namespace fulvex::test {

/// What a link's record is taken apart by; levels in the unit of the samples.
struct PlainLinkRule {
    double mid = 0, bottom = 0, top = 0; ///< crossings, see EdgeScanner
    double period = 4;                   ///< samples, near the symbols'
    double interval = 1e-10;             ///< s
    double bandwidth = 1.5e6;            ///< Hz, of a loop of order 2
    double damping = 0.7071;
    double least = -0.36, most = 0.36; ///< that the eye's rows are laid for
};

/// The headline pipeline as one would write it first: sample by sample, edge by edge, one pass after the other, in
/// double precision. What the product's own has to agree with, and what its speed is told beside.
struct PlainLink {
    PlainLink(std::span<const double> values, const PlainLinkRule &rule);
    EdgeList edges;
    std::vector<std::int64_t> numbers; ///< of unit intervals, one an edge
    double offset = 0, period = 0;     ///< the straight line through them, samples
    std::vector<double> followed;      ///< by the loop, unit intervals behind the line, one an edge
    std::vector<double> late;          ///< what it leaves
    std::int64_t firstSettled = 0;     ///< unit interval, as unitIntervals counted from the record's first whole one
    std::int64_t unitIntervals = 0;
    double settledRms = 0; ///< of `late` behind the loop's settling, UI
    EyeFold fold;          ///< of settled unit intervals: picture, levels and mean traces

private:
    void findEdges(std::span<const double> values, const PlainLinkRule &rule);
    void number(const PlainLinkRule &rule);
    void follow(const PlainLinkRule &rule);
    void foldEye(std::span<const double> values, const PlainLinkRule &rule);
    double boundary(std::int64_t number, std::size_t &knot) const;
};

} // namespace fulvex::test
