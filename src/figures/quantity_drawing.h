#pragma once

#include "look.h"

#include <QImage>
#include <string_view>

namespace fulvex {

/// A small drawing of what a quantity measures, on a signal that shows it; empty where there is none.
QImage quantityDrawing(std::string_view quantity, QSize size, const Look &look);

} // namespace fulvex
