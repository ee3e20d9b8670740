#pragma once

#include <QPalette>
#include <QString>

#include "look.h"

namespace fulvex {

QPalette paletteOf(const Look &look);
QString styleSheetOf(const Look &look);

}  // namespace fulvex
