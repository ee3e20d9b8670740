#pragma once

#include "quantity_table.h"
#include "suggestion.h"
#include "workbench.h"

#include <string>
#include <vector>

namespace fulvex {

/// The channel that something between two is measured to where none is named: the one behind it in the list, or the
/// first; empty where there is no other.
std::string otherChannel(const Document &document, const std::string &of);
/// A row of a quantity of a channel, clock or eye, appended; its id: the quantity's name, or `wish`, where that is
/// free.
std::string appendRow(Document &document, const std::string &quantity, const std::string &of,
                      const std::string &wish = {});
/// `of`: a channel, clock or eye, by what the quantity needs.
std::string addMeasurement(Workbench &bench, const std::string &quantity, const std::string &of);
/// What on a channel a quantity can be measured of: itself, or a clock or an eye of it, that which is selected or the
/// last; empty where there is none.
std::string subjectOf(const Workbench &bench, const Quantity &quantity, const std::string &channel);
/// Whether a row can be measured again in the same way of a channel; that it is measured of already it cannot.
bool canMeasureAgain(const Workbench &bench, const std::string &row, const std::string &channel);
/// Does so: quantity, levels, region, edges and limit stay, channel, clock and eye are the other's. Selects the new
/// row.
void measureAgain(Workbench &bench, const std::string &row, const std::string &channel);
/// The clock or eye on a channel that is selected, or that the selection stands on; else the last; empty: there is
/// none.
std::string nearestClock(const Workbench &bench, const std::string &channel);
std::string nearestEye(const Workbench &bench, const std::string &channel);
/// The rows that fit a channel, in one step; what needs a clock or an eye that is not there is left out. `to`: the
/// second channel of a pair.
void addSuggested(Workbench &bench, const std::vector<Suggestion::Row> &rows, const std::string &channel,
                  const std::string &to);
/// The same row by another clock, or in another region; selects it.
void measureByClock(Workbench &bench, const std::string &row, const std::string &clock);
void measureInRegion(Workbench &bench, const std::string &row, const std::string &region);
/// A row of what lies in a box on a channel, between two moments (s) and two values, and its histogram on the shown
/// sheet, in one step.
void measureBox(Workbench &bench, const std::string &quantity, const std::string &channel,
                std::pair<double, double> times, std::pair<double, double> values);
/// The same in a box of an eye: phases in UI, values in the channel's unit.
void measureEyeBox(Workbench &bench, const std::string &quantity, const std::string &eye,
                   std::pair<double, double> phases, std::pair<double, double> values);
/// Rows of several quantities of a channel, in one step.
void addMeasurements(Workbench &bench, const std::vector<std::string> &quantities, const std::string &channel);

} // namespace fulvex
