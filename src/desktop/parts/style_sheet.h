#pragma once

#include "look.h"

#include <QPalette>
#include <QString>

namespace fulvex {

QPalette paletteOf(const Look &look);
QString styleSheetOf(const Look &look);

} // namespace fulvex
