#pragma once

#include "inspector_form.h"

namespace fulvex {

/// Adds a field for each of the entry's fields that people set, as its description says (see Field); an empty id means
/// the document's own. `wanted` leaves some out. What is set is set in the `others` as well, where they have such a
/// field.
void addDescribedFields(InspectorForm &form, Workbench &bench, const std::string &id,
                        const std::function<bool(const Field &)> &wanted = {},
                        const std::vector<std::string> &others = {});

/// The unit that a row of the Ledger is measured in.
std::string rowsUnit(const Workbench &bench, const std::string &id);

} // namespace fulvex
