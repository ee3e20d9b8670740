#pragma once

#include "coded_sum.h"

#include <map>
#include <optional>
#include <vector>

namespace fulvex {

/// What is computed for each block: operations in order, each on the results of earlier ones. What is the same, within
/// a formula or in several, is there once.
class FormulaSteps {
public:
    struct Operation {
        enum class Kind { constant, leaf, call, clean } kind;
        double constant = 0;
        std::size_t index = 0;                   ///< into the leaves, or into formulaFunctions()
        std::vector<std::size_t> arguments = {}; ///< operations before this one
    };
    std::size_t constant(double number) { return add({Operation::Kind::constant, number}); }
    std::size_t leaf(const SourcePtr &source);
    std::size_t call(std::size_t function, std::vector<std::size_t> arguments)
    {
        return add({Operation::Kind::call, 0, function, std::move(arguments)});
    }
    std::size_t clean(std::size_t of) { return add({Operation::Kind::clean, 0, 0, {of}}); }
    /// All of another one; its result.
    std::size_t append(const FormulaSteps &other);
    const std::vector<Operation> &operations() const { return m_operations; }
    const std::vector<SourcePtr> &leaves() const { return m_leaves; }

    /// Decides where results lie: leaves in a block each, all else in as few tiles as are needed at a time, the last
    /// one in the result. No more is to be added then.
    void place();
    /// What it comes to as a sum of leaves with factors, where it is one of whole numbers.
    std::optional<CodedSum> codedSum() const;
    /// `clean`: what is not finite becomes a gap.
    void run(std::int64_t first, std::span<double> result, bool clean) const;

private:
    std::size_t add(const Operation &operation);
    struct Before { // whatever numbers are among them
        bool operator()(const Operation &a, const Operation &b) const;
    };
    std::vector<Operation> m_operations;
    std::vector<SourcePtr> m_leaves; ///< file channels, and what lies on another grid
    std::map<Operation, std::size_t, Before> m_known;
    /// Where a result lies: a block of all samples, or a tile of some of them.
    struct Place {
        bool block;
        std::size_t index;
        bool operator==(const Place &) const = default;
    };
    static constexpr std::size_t out = ~std::size_t(0); ///< what is read for
    std::vector<Place> m_places;
    std::size_t m_blocks = 0, m_tiles = 0;
};

} // namespace fulvex
