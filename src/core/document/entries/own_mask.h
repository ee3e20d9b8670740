#pragma once

#include "mask_definition.h"
#include "mask_entry.h"

namespace fulvex {

/// The mask that an entry holds itself, as a file would have it.
inline MaskDefinition ownMask(const MaskEntry &entry)
{
    MaskDefinition mask;
    mask.id = entry.id;
    mask.title = entry.ownTitle();
    mask.source = "this project";
    mask.normalised = entry.y == "normalised";
    mask.seconds = entry.x == "s";
    mask.areas = entry.areas;
    return mask;
}

} // namespace fulvex
