#include "formula_steps.h"

#include "formula_function.h"
#include "widest_vectors.h"

#include <algorithm>
#include <bit>
#include <limits>
#include <memory>
#include <tuple>

namespace fulvex {

/// A result that is not finite is a gap.
FULVEX_WIDEST_VECTORS static void cleanGaps(std::span<double> values)
{
    // Of what is not finite the difference from itself is none: side by side, as std::isfinite() is not.
    for (double &value : values) value = value - value == 0 ? value : std::numeric_limits<double>::quiet_NaN();
}

std::size_t FormulaSteps::leaf(const SourcePtr &source)
{
    const auto known = std::find(m_leaves.begin(), m_leaves.end(), source);
    const auto index = std::size_t(known - m_leaves.begin());
    if (known == m_leaves.end()) m_leaves.push_back(source);
    return add({Operation::Kind::leaf, 0, index});
}

std::size_t FormulaSteps::append(const FormulaSteps &other)
{
    std::vector<std::size_t> here;
    for (Operation operation : other.m_operations) {
        if (operation.kind == Operation::Kind::leaf) {
            here.push_back(leaf(other.m_leaves[operation.index]));
            continue;
        }
        for (std::size_t &argument : operation.arguments) argument = here[argument];
        here.push_back(add(operation));
    }
    return here.back();
}

void FormulaSteps::place()
{
    std::vector<std::size_t> lastUse(m_operations.size());
    for (std::size_t i = 0; i < m_operations.size(); ++i)
        for (const std::size_t argument : m_operations[i].arguments) lastUse[argument] = i;
    std::vector<std::size_t> free;
    for (std::size_t i = 0; i < m_operations.size(); ++i) {
        const std::vector<std::size_t> &arguments = m_operations[i].arguments;
        if (m_operations[i].kind == Operation::Kind::leaf) {
            m_places.push_back({true, m_blocks++});
            continue;
        }
        const bool inPlace = !arguments.empty() && lastUse[arguments.front()] == i;
        if (!inPlace && free.empty()) free.push_back(m_tiles++);
        m_places.push_back(inPlace ? m_places[arguments.front()] : Place{false, free.back()});
        if (!inPlace) free.pop_back();
        for (const std::size_t argument : arguments) {
            const Place &done = m_places[argument];
            if (lastUse[argument] == i && !done.block && done != m_places[i] &&
                std::find(free.begin(), free.end(), done.index) == free.end())
                free.push_back(done.index);
        }
    }
    const Place result = m_places.back();
    for (Place &place : m_places)
        if (place == result) place = {true, out};
}

std::optional<CodedSum> FormulaSteps::codedSum() const
{
    struct Sum {
        bool isLinear = true;
        double constant = 0;
        std::vector<double> factors;
    };
    std::vector<Sum> sums;
    for (const Operation &operation : m_operations) {
        Sum sum{true, operation.constant, std::vector<double>(m_leaves.size())};
        if (operation.kind == Operation::Kind::leaf) sum.factors[operation.index] = 1;
        if (operation.kind == Operation::Kind::clean) sum = sums[operation.arguments[0]];
        if (operation.kind == Operation::Kind::call) {
            const std::string_view name = formulaFunctions()[operation.index].name;
            const Sum &a = sums[operation.arguments[0]], &b = sums[operation.arguments.back()];
            const auto isConstant = [](const Sum &one) {
                return std::ranges::count(one.factors, 0.0) == std::ssize(one.factors);
            };
            const auto weighted = [&](double of, double with) {
                sum.constant = of * a.constant + with * b.constant;
                for (std::size_t i = 0; i < sum.factors.size(); ++i)
                    sum.factors[i] = of * a.factors[i] + with * b.factors[i];
            };
            sum.isLinear = a.isLinear && b.isLinear;
            if (name == "+" || name == "-")
                weighted(1, name == "+" ? 1 : -1);
            else if (name == "negated")
                weighted(-1, 0);
            else if (name == "*" && isConstant(b))
                weighted(b.constant, 0);
            else if (name == "*" && isConstant(a))
                weighted(0, a.constant);
            else if (name == "/" && isConstant(b))
                weighted(1 / b.constant, 0);
            else
                sum.isLinear = false;
        }
        sums.push_back(std::move(sum));
    }
    if (!sums.back().isLinear) return std::nullopt;
    std::vector<CodedSum::Term> terms;
    for (std::size_t i = 0; i < m_leaves.size(); ++i)
        if (sums.back().factors[i] != 0) terms.push_back({m_leaves[i], sums.back().factors[i]});
    return CodedSum::of(terms, sums.back().constant);
}

void FormulaSteps::run(std::int64_t first, std::span<double> result, bool clean) const
{
    constexpr std::size_t tile = 1024; // some of them stay in the nearest cache
    const auto memory =
        std::make_unique_for_overwrite<double[]>(result.size() * m_blocks + std::min(tile, result.size()) * m_tiles);
    const auto block = [&](std::size_t index) {
        return index == out ? result.data() : memory.get() + index * result.size();
    };
    for (std::size_t i = 0; i < m_operations.size(); ++i) {
        if (m_operations[i].kind == Operation::Kind::leaf)
            m_leaves[m_operations[i].index]->read(first, {block(m_places[i].index), result.size()});
    }
    std::vector<std::span<const double>> others;
    for (std::size_t begin = 0; begin < result.size(); begin += tile) {
        const std::size_t count = std::min(tile, result.size() - begin);
        const auto at = [&](std::size_t operation) -> std::span<double> {
            const Place &place = m_places[operation];
            if (place.block) return {block(place.index) + begin, count};
            return {memory.get() + m_blocks * result.size() + place.index * std::min(tile, result.size()), count};
        };
        for (std::size_t i = 0; i < m_operations.size(); ++i) {
            const Operation &operation = m_operations[i];
            if (operation.kind == Operation::Kind::leaf) continue;
            const std::span<double> here = at(i);
            if (operation.kind == Operation::Kind::constant)
                std::fill(here.begin(), here.end(), operation.constant);
            else if (const auto from = at(operation.arguments[0]); from.data() != here.data())
                std::copy(from.begin(), from.end(), here.begin());
            if (operation.kind == Operation::Kind::call) {
                others.clear();
                for (std::size_t argument = 1; argument < operation.arguments.size(); ++argument)
                    others.push_back(at(operation.arguments[argument]));
                formulaFunctions()[operation.index].apply(here, others);
            }
            if (operation.kind == Operation::Kind::clean) cleanGaps(here);
        }
        if (clean) cleanGaps(result.subspan(begin, count));
    }
}

bool FormulaSteps::Before::operator()(const Operation &a, const Operation &b) const
{
    const auto bits = [](const Operation &operation) {
        return std::tuple(operation.kind, std::bit_cast<std::uint64_t>(operation.constant), operation.index,
                          operation.arguments);
    };
    return bits(a) < bits(b);
}

std::size_t FormulaSteps::add(const Operation &operation)
{
    const auto [known, fresh] = m_known.try_emplace(operation, m_operations.size());
    if (fresh) m_operations.push_back(operation);
    return known->second;
}

} // namespace fulvex
