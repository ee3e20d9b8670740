#pragma once

#include "field.h"

namespace fulvex {

/// How the report of a project is laid out, and what its first page says besides the device.
struct ReportEntry {
    std::string paper = "a4";
    std::string author, place;        ///< who measured, and where
    std::string logo;                 ///< a PNG picture, in base64; empty: none
    std::vector<std::string> parts;   ///< in order, see reportParts(); empty: all, in their usual order
    std::vector<std::string> without; ///< entries that it does without: sheets, plans, comparisons, rows
    bool operator==(const ReportEntry &) const = default;
};

/// The parts that a report may have, in their usual order, and what they are called.
std::span<const Choice> reportParts();
/// Those that a report has, in its order.
std::vector<std::string> partsOf(const ReportEntry &entry);
inline constexpr Choice paperWords[] = {{"a4", "A4"}, {"letter", "letter"}};

/// Fields of the object `report` of the document.
std::vector<Field> fieldsOf(ReportEntry &entry);

} // namespace fulvex
