#pragma once

#include "sample_source.h"

namespace fulvex {

/// A channel of whole numbers, or the sum or difference of two that have steps of the same size, scaled: whole numbers
/// again, which are added before anything is rounded.
class CodedSum {
public:
    struct Term {
        SourcePtr source;
        double factor;
    };
    /// Of constant + the sum of the terms; nothing where that is none.
    static std::optional<CodedSum> of(const std::vector<Term> &terms, double constant);
    const CodeScale &scale() const { return m_scale; }
    void read(std::int64_t first, std::span<double> out) const;
    bool readCodes(std::int64_t first, std::span<std::int16_t> out) const;

private:
    SourcePtr m_first, m_second; ///< the second may be null
    bool m_subtracts = false;
    CodeScale m_scale;
};

} // namespace fulvex
