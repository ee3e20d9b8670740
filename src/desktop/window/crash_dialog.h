#pragma once

#include <QWidget>

namespace fulvex {

/// What programs before this one left when they ended by a fault, to be looked at, saved or thrown away.
void showCrashNotes(QWidget *window);

} // namespace fulvex
