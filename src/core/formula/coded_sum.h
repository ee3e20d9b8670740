#pragma once

#include "sample_source.h"

namespace fulvex {

/// A channel of whole numbers, or the sum or difference of two that have steps of the same size, scaled: whole numbers
/// again, which are added before anything is rounded. A sum of two has a wide scale.
class CodedSum {
public:
    struct Term {
        SourcePtr source;
        double factor;
    };
    /// Of constant + the sum of the terms; nothing where that is none, or where a term's own codes are wide.
    static std::optional<CodedSum> of(const std::vector<Term> &terms, double constant);
    const CodeScale &scale() const { return m_scale; }
    void read(std::int64_t first, std::span<double> out) const;
    bool readCodes(std::int64_t first, std::span<std::int16_t> out) const;
    void readWideCodes(std::int64_t first, std::span<std::int32_t> out) const;

private:
    template <typename Use>
    bool forPieces(std::int64_t first, std::size_t count, Use &&use) const;
    SourcePtr m_first, m_second; ///< the second may be null
    bool m_subtracts = false;
    CodeScale m_scale;
};

} // namespace fulvex
