#pragma once

#include "field.h"
#include "json_reader.h"

namespace fulvex {

/// Reads an object's members into fields. Throws Error with the JSON path for what is of the wrong type.
void readFields(JsonReader &in, const std::vector<Field> &fields);

/// An object of those fields that do not have the value that `standard` has, and of those that are always written.
nlohmann::ordered_json fieldsJson(const std::vector<Field> &fields, const std::vector<Field> &standard);

/// A small file of our own that is made of fields: an object whose member `kind` is 1.
std::string fieldsText(const char *kind, const std::vector<Field> &fields, const std::vector<Field> &standard);
/// Reads such a text into fields. `what`: of those files, for people ("sets of rows"). Throws Error: `name`, the JSON
/// path, what is wrong, what would mend it.
void readFieldsText(const std::string &text, const std::string &name, const char *kind, const std::string &what,
                    const std::vector<Field> &fields);

} // namespace fulvex
