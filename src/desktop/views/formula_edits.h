#pragma once

#include "workbench.h"

#include <string>

namespace fulvex {

/// Formulas, and the parameters and functions that they stand on; each edit one undoable step.

/// Adds; each selects what it made and gives its id, or an empty one when the document did not take it.
std::string addFormula(Workbench &bench, const std::string &formula);
/// Under a free id made of its own; gives that.
std::string addParameter(Workbench &bench, ParameterEntry parameter);
/// One to be written: of an argument, which it gives back.
std::string addFunction(Workbench &bench);
/// Sets a parameter as one undoable step with what was set of it just before; a value beyond its span widens that.
void setParameter(Workbench &bench, const std::string &id, double value);

} // namespace fulvex
