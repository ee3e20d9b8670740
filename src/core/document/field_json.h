#pragma once

#include "field.h"
#include "json_reader.h"

namespace fulvex {

/// Reads an object's members into fields. Throws Error with the JSON path for what is of the wrong type.
void readFields(JsonReader &in, const std::vector<Field> &fields);

/// An object of those fields that do not have the value that `standard` has, and of those that are always written.
nlohmann::ordered_json fieldsJson(const std::vector<Field> &fields, const std::vector<Field> &standard);

} // namespace fulvex
