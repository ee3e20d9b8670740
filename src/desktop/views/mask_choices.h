#pragma once

#include <QString>
#include <string>
#include <vector>

namespace fulvex {

/// A shipped mask and its title.
struct MaskChoice {
    std::string id;
    QString title;
};
/// Read once.
const std::vector<MaskChoice> &maskChoices();

} // namespace fulvex
