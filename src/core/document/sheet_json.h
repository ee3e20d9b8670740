#pragma once

#include "document.h"
#include "json_reader.h"

namespace fulvex {

/// Notes, markers and sheets of a project: out of its JSON, and into it.
void readSheets(JsonReader &in, Document &document);
void putSheets(nlohmann::ordered_json &json, const Document &document);

} // namespace fulvex
