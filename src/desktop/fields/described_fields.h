#pragma once

#include "inspector_form.h"

namespace fulvex {

/// Adds a field for each of the entry's fields that people set, as its description says (see Field); an empty id means
/// the document's own. `wanted` leaves some out. What is set is set in the `others` as well, where they have such a
/// field.
void addDescribedFields(InspectorForm &form, Workbench &bench, const std::string &id,
                        const std::function<bool(const Field &)> &wanted = {},
                        const std::vector<std::string> &others = {});

/// Puts what a word of the document means into a field that holds a word, an id or a whole number.
void setWord(const FieldValue &value, const std::string &to);

/// The unit that a row of the Ledger is measured in.
std::string rowsUnit(const Workbench &bench, const std::string &id);

} // namespace fulvex
