#pragma once

#include "action.h"

namespace fulvex {

/// What can be done with the captures of a run: take them, step through them, leave one out, count anew. `window`: that
/// asks for files and reasons.
std::vector<Action> runActions(Workbench &bench, QWidget *window);

/// Asks for an instrument's address, the one before as a start; empty: none was given.
QString askForInstrument(QWidget *parent);

/// Asks why a capture does not count, and leaves it out then.
void askAndLeaveOut(Workbench &bench, const std::string &name, QWidget *parent);

/// A sheet that shows the run: an overview, this one and all of them beside each other, a trend.
void addRunSheet(Workbench &bench, const std::string &capture);

} // namespace fulvex
