#pragma once

#include "formula.h"
#include "results.h"

#include <memory>
#include <string>
#include <vector>

namespace fulvex {

/// What a formula that is being typed would make of what is in view: from a few hundred thousand samples of the
/// channels as they are, whatever the record's length, beside the interface.
struct FormulaSketch {
    struct From {
        std::string formula;
        Formula::OwnFunctions own;
        std::map<std::string, double> parameters;
        std::map<std::string, std::string> parameterUnits;
        std::map<std::string, Formula::Span> regions;
        std::shared_ptr<const Results> results;
        double start, stop; ///< s, what is in view
        int columns;        ///< pixels
        bool operator==(const From &) const = default;
    };
    static FormulaSketch of(const From &from);

    std::string formula;              ///< that it is of
    std::string where, found, remedy; ///< where `found` is not empty: what is wrong, as an Error says it
    std::string unit;                 ///< of the result
    bool byProgram = false;           ///< it calls one of the user's, which does not run for a sketch: no picture
    double rate = 0;                  ///< samples a second of it
    double start = 0, stop = 1;       ///< s, what the columns are of: less than what is in view where that is long
    std::vector<Extent> columns;      ///< smallest and largest of each; empty ones are gaps
    std::vector<std::pair<double, double>> samples; ///< s and values, NaN for gaps, where they are few: no columns then
    Extent whole() const;
};

} // namespace fulvex
