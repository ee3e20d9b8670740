#pragma once

#include "workbench.h"

#include <string>

namespace fulvex {

/// Formulas, and the parameters and functions that they stand on; each edit one undoable step.

/// A channel, which is selected. Its id, or an empty one where the document did not take it; so do the next two.
std::string addFormula(Workbench &bench, const std::string &formula);
/// Under a free id made of its own; gives that.
std::string addParameter(Workbench &bench, ParameterEntry parameter);
/// One to be written: of an argument, which it gives back.
std::string addFunction(Workbench &bench);
/// Sets a parameter as one undoable step with what was set of it just before; a value beyond its span widens that.
void setParameter(Workbench &bench, const std::string &id, double value);

} // namespace fulvex
