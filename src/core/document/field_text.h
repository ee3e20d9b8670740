#pragma once

#include "field.h"

namespace fulvex {

/// A value as text that tells it from every other, doubles to the last bit. Not of lists of entries.
std::string exactText(const FieldValue &value);

/// Gives a field the value of another with the same key. Not of lists of entries.
void assign(const FieldValue &value, const FieldValue &from);

/// The ids that a field holds, those that its formula names included.
std::vector<std::string> idsIn(const Field &field);
/// Puts another id wherever the field holds one.
void renameIn(const Field &field, const std::string &from, const std::string &to);
/// Takes an id out: out of a list, or the field gets the value that `standard` has.
void clearIn(const Field &field, const Field &standard, const std::string &id);

} // namespace fulvex
