#pragma once

#include "mask_definition.h"

#include <QString>
#include <string>
#include <vector>

namespace fulvex {

/// A shipped mask and its title.
struct MaskChoice {
    std::string id;
    QString title;
    MaskDefinition definition; ///< without areas where it cannot be read
};
/// Read once.
const std::vector<MaskChoice> &maskChoices();

} // namespace fulvex
