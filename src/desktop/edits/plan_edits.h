#pragma once

#include "workbench.h"

namespace fulvex {

/// Makes a project of a plan's file: its first step's setup, and a sheet with the steps. Throws Error.
void openPlan(Workbench &bench, const QString &file);

/// Files for a slot of a step: into the newest attempt where that still waits for them or was refused, else as a new
/// attempt. Those of an attempt that was refused are replaced.
void fillSlot(Workbench &bench, const std::string &plan, const std::string &step, const std::string &slot,
              const QStringList &files);
/// Has an instrument take what a slot still lacks, or one more, into it.
void acquireForSlot(Workbench &bench, const std::string &plan, const std::string &step, const PlanSlot &slot,
                    const QString &address);
/// A new attempt at a step, which waits for its captures; what was found before stays.
void repeatStep(Workbench &bench, const std::string &plan, const std::string &step);
/// Leaves a step out with a reason; without one it counts again.
void skipStep(Workbench &bench, const std::string &plan, const std::string &step, const QString &reason);
void wantTest(Workbench &bench, const std::string &plan, const std::string &step, const std::string &test, bool wanted);
/// Makes the project that of a step: its setup with the captures of the newest attempt, so that all views show them.
void lookAtStep(Workbench &bench, const std::string &plan, const std::string &step);

/// Writes plan.json, as batch does, of what is known now.
void exportPlan(Workbench &bench, const std::string &plan, const QString &path);

} // namespace fulvex
