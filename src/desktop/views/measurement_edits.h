#pragma once

#include "quantity_table.h"
#include "workbench.h"

#include <string>
#include <vector>

namespace fulvex {

/// The channel that something between two is measured to where none is named: the one behind it in the list, or the
/// first; empty where there is no other.
std::string otherChannel(const Document &document, const std::string &of);
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
/// Rows of several quantities of a channel, in one step.
void addMeasurements(Workbench &bench, const std::vector<std::string> &quantities, const std::string &channel);

} // namespace fulvex
