#pragma once

#include "plan.h"

namespace fulvex {

/// A project as what steps are measured by: its captures without files, and nothing of what was found, compared or
/// worked down with it.
PlanSetup setupOf(const Document &document, const std::string &id);

/// A slot for each capture of the setup that a step has none for yet; names are free in the whole plan.
void addSlots(const Plan &plan, PlanStep &step, const Document &setup);

/// A test for each row with a limit, mask, budget and phase noise of the setup that is judged and has none yet.
void addTests(PlanStep &step, const Document &setup);

/// A plan of one step that tests what a project does: to begin with.
Plan planOf(const Document &document);

/// A name made of a wish that none of these is.
std::string freeName(const std::vector<std::string> &taken, const std::string &wish);

} // namespace fulvex
