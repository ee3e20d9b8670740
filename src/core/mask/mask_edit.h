#pragma once

#include "mask_area.h"

#include <cstddef>
#include <optional>

namespace fulvex {

/// Drawing a mask by hand: what each move makes of its areas, in whatever they are measured in.

/// About what a mask stays the same on both sides while it is edited: the middle of the unit interval, the middle
/// between the levels. Empty: about nothing.
struct MaskMirror {
    std::optional<double> across, up;
};

/// A vertex of an area, or the side that begins there.
struct MaskPlace {
    std::size_t area = 0, point = 0;
    bool operator==(const MaskPlace &) const = default;
};

/// Moves a vertex, and with it those that are its images. One that lies on a mirror stays there.
void moveVertex(std::vector<MaskArea> &areas, MaskPlace vertex, MaskPoint to, const MaskMirror &mirror);
/// Moves an area. Its images follow; one that is its own image keeps its middle.
void moveArea(std::vector<MaskArea> &areas, std::size_t area, double across, double up, const MaskMirror &mirror);
/// Puts a vertex into a side, and into the images of that; gives the new one's place.
MaskPlace addVertex(std::vector<MaskArea> &areas, MaskPlace side, MaskPoint at, const MaskMirror &mirror);
/// False, and nothing is done, where an area would have too few left.
bool removeVertex(std::vector<MaskArea> &areas, MaskPlace vertex, const MaskMirror &mirror);

/// What a mask is measured in, and how these lie to each other at an eye (or a channel).
struct MaskScale {
    bool seconds = false, normalised = true;
};
struct MaskGround {
    double unitInterval = 1;  ///< s; of a template what it looks at
    double zero = 0, one = 1; ///< state levels, channel's unit
    bool atEdges = false;     ///< a template lies there: it is shown in seconds
    double left = 0;          ///< s, where what it looks at begins
};
/// The same areas, at the same place, in another scale.
void rescale(std::vector<MaskArea> &areas, MaskScale from, MaskScale to, const MaskGround &ground);

} // namespace fulvex
