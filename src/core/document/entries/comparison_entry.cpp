#include "comparison_entry.h"

#include "entry_words.h"

namespace fulvex {

std::vector<Field> fieldsOf(ComparisonEntry &entry)
{
    return {idField(entry.id), fileField(entry.file, "name the other result's file")};
}

} // namespace fulvex
