#include "coded_sum.h"
#include "error.h"
#include "formula.h"
#include "resampled_source.h"
#include "widest_vectors.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <map>
#include <memory>
#include <tuple>

namespace fulvex {

namespace {

/// A result that is not finite is a gap.
FULVEX_WIDEST_VECTORS void cleanGaps(std::span<double> values)
{
    // Of what is not finite the difference from itself is none: side by side, as std::isfinite() is not.
    for (double &value : values) value = value - value == 0 ? value : std::numeric_limits<double>::quiet_NaN();
}

/// What is computed for each block: operations in order, each on the results of earlier ones. What is the same, within
/// a formula or in several, is there once.
class Program {
public:
    struct Operation {
        enum class Kind { constant, leaf, call, clean } kind;
        double constant = 0;
        std::size_t index = 0;                   ///< into the leaves, or into formulaFunctions()
        std::vector<std::size_t> arguments = {}; ///< operations before this one
    };
    std::size_t constant(double number) { return add({Operation::Kind::constant, number}); }
    std::size_t leaf(const SourcePtr &source)
    {
        const auto known = std::find(m_leaves.begin(), m_leaves.end(), source);
        const auto index = std::size_t(known - m_leaves.begin());
        if (known == m_leaves.end()) m_leaves.push_back(source);
        return add({Operation::Kind::leaf, 0, index});
    }
    std::size_t call(std::size_t function, std::vector<std::size_t> arguments)
    {
        return add({Operation::Kind::call, 0, function, std::move(arguments)});
    }
    std::size_t clean(std::size_t of) { return add({Operation::Kind::clean, 0, 0, {of}}); }
    /// All of another one; its result.
    std::size_t append(const Program &other)
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
    const std::vector<Operation> &operations() const { return m_operations; }
    const std::vector<SourcePtr> &leaves() const { return m_leaves; }

    /// Decides where results lie: leaves in a block each, all else in as few tiles as are needed at a time, the last
    /// one in the result. No more is to be added then.
    void place()
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
    /// What it comes to as a sum of leaves with factors, where it is one of whole numbers.
    std::optional<CodedSum> codedSum() const
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
    /// `clean`: what is not finite becomes a gap.
    void run(std::int64_t first, std::span<double> result, bool clean) const
    {
        constexpr std::size_t tile = 1024; // some of them stay in the nearest cache
        const auto memory = std::make_unique_for_overwrite<double[]>(result.size() * m_blocks +
                                                                     std::min(tile, result.size()) * m_tiles);
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

private:
    std::size_t add(const Operation &operation)
    {
        const auto [known, fresh] = m_known.try_emplace(operation, m_operations.size());
        if (fresh) m_operations.push_back(operation);
        return known->second;
    }
    struct Before { // whatever numbers are among them
        bool operator()(const Operation &a, const Operation &b) const
        {
            const auto bits = [](const Operation &operation) {
                return std::tuple(operation.kind, std::bit_cast<std::uint64_t>(operation.constant), operation.index,
                                  operation.arguments);
            };
            return bits(a) < bits(b);
        }
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

/// 1 within a span of time, 0 beside it.
class Within final : public SampleSource {
public:
    Within(const TimeAxis &axis, const Formula::Span &span)
        : m_axis(axis), m_range(samplesWithin(axis, span.start, span.stop))
    {
    }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return false; }
    double readEffort() const override { return 0; }
    void read(std::int64_t first, std::span<double> out) const override
    {
        for (double &value : out) {
            value = first >= m_range.first && first < m_range.last ? 1 : 0;
            ++first;
        }
    }

private:
    TimeAxis m_axis;
    SampleRange m_range;
};

} // namespace

/// Runs a program over one block at a time, on buffers that stay in the cache. Formulas over formulas on one grid are
/// one program.
class FormulaSource final : public SampleSource {
public:
    FormulaSource(const Formula &formula, const Formula::Inputs &inputs, Progress &progress)
    {
        const std::vector<Formula::Node> &nodes = formula.nodes();
        // What only functions over time stand on is a part of theirs.
        const std::vector<bool> wanted = formula.neededFor(nodes.size() - 1, false);
        std::vector<SourcePtr> sources(nodes.size()); // of nodes that lie on a grid already
        std::vector<std::size_t> named;               // those, in the order in which they stand in the text
        for (std::size_t place = 0; place < nodes.size(); ++place) {
            if (!wanted[place]) continue;
            sources[place] = formula.sourceOf(place, inputs, progress);
            if (sources[place]) named.push_back(place);
        }
        std::sort(named.begin(), named.end(),
                  [&](std::size_t a, std::size_t b) { return formula.m_where[a].at < formula.m_where[b].at; });
        std::vector<TimeAxis> axes;
        for (const std::size_t place : named) axes.push_back(sources[place]->axis());
        if (axes.empty())
            throw Error("", "the formula names no channel", "name at least one, so that it has a time axis");
        m_axis = commonAxis(axes);
        if (m_axis.count == 0) throw Error("", "its channels have no time in common", "check their starts and delays");
        std::vector<std::size_t> here(nodes.size());
        for (std::size_t place = 0; place < nodes.size(); ++place) {
            if (!wanted[place]) continue;
            const Formula::Node &node = nodes[place];
            const auto region = node.kind == Formula::Node::Kind::name
                                    ? inputs.regions.find(formula.names()[node.index])
                                    : inputs.regions.end();
            if (sources[place])
                here[place] = valuesOf(resampled(sources[place], m_axis));
            else if (node.kind == Formula::Node::Kind::number)
                here[place] = m_program.constant(node.number);
            else if (region != inputs.regions.end())
                here[place] = m_program.leaf(std::make_shared<Within>(m_axis, region->second));
            else if (node.kind == Formula::Node::Kind::name)
                here[place] = m_program.constant(inputs.parameters.at(formula.names()[node.index]));
            else {
                std::vector<std::size_t> arguments;
                for (const std::size_t argument : node.arguments) arguments.push_back(here[argument]);
                here[place] = m_program.call(node.index, std::move(arguments));
            }
        }
        m_program.place();
        for (const Program::Operation &operation : m_program.operations()) {
            if (operation.kind == Program::Operation::Kind::call)
                m_gaps |=
                    std::string_view("+-").find(formulaFunctions()[operation.index].name) == std::string_view::npos;
            m_gaps |= std::abs(operation.constant) > 1e150; // sums that leave the range of doubles
        }
        for (const SourcePtr &leaf : m_program.leaves()) {
            m_gaps |= leaf->mayHaveGaps();
            m_effort += leaf->readEffort();
        }
        m_effort += double(m_program.operations().size()) / 16; // each costs less than reading a file's samples
        m_codes = m_program.codedSum();
        m_gaps &= !m_codes;
    }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return m_gaps; }
    double readEffort() const override { return m_effort; }
    std::int64_t runIn() const override
    {
        std::int64_t longest = 0;
        for (const SourcePtr &leaf : m_program.leaves()) longest = std::max(longest, leaf->runIn());
        return longest;
    }

    std::string remark() const override
    {
        std::string remarks;
        for (const SourcePtr &leaf : m_program.leaves()) {
            const std::string remark = leaf->remark();
            if (!remark.empty() && remarks.find(remark) == std::string::npos)
                remarks += (remarks.empty() ? "" : " · ") + remark;
        }
        return remarks;
    }
    void release(SampleRange range) const override
    {
        for (const SourcePtr &leaf : m_program.leaves()) leaf->release(range);
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        m_codes ? m_codes->read(first, out) : m_program.run(first, out, m_gaps);
    }
    std::optional<CodeScale> codeScale() const override
    {
        return m_codes ? std::optional(m_codes->scale()) : std::nullopt;
    }
    bool readCodes(std::int64_t first, std::span<std::int16_t> out) const override
    {
        return m_codes->readCodes(first, out);
    }

private:
    std::size_t valuesOf(const SourcePtr &channel)
    {
        const auto *inner = dynamic_cast<const FormulaSource *>(channel.get());
        if (!inner || !(inner->m_axis == m_axis)) return m_program.leaf(channel);
        const std::size_t result = m_program.append(inner->m_program);
        return inner->m_gaps ? m_program.clean(result) : result;
    }
    TimeAxis m_axis;
    Program m_program;
    std::optional<CodedSum> m_codes; ///< which it is read by, where it is one
    bool m_gaps = false;
    double m_effort = 0;
};

SourcePtr Formula::sourceOf(std::size_t place, const Inputs &inputs, Progress &progress) const
{
    const Node &node = m_nodes[place];
    if (node.kind == Node::Kind::name) {
        const std::string &name = m_names[node.index];
        if (SourcePtr channel = inputs.channelOf(name)) return channel;
        if (!inputs.parameters.contains(name) && !inputs.regions.contains(name))
            throw Error(placeOf(place), "no channel, parameter or region has the id \"" + name + "\"",
                        "add it, or correct the formula");
    }
    const bool program = node.kind == Node::Kind::program;
    if (!program && (node.kind != Node::Kind::call || !formulaFunctions()[node.index].over)) return nullptr;
    const auto make = [&] {
        return program ? madeByProgram(place, inputs, progress) : madeOver(place, inputs, progress);
    };
    return inputs.keep ? inputs.keep(part(place), make) : make();
}

/// The first one's, over the span common to all.
static void layOnOneGrid(std::vector<SourcePtr> &sources, const std::string &place)
{
    std::vector<TimeAxis> axes;
    for (const SourcePtr &source : sources) axes.push_back(source->axis());
    const TimeAxis axis = axes.empty() ? TimeAxis() : commonAxis(axes);
    if (!axes.empty() && axis.count == 0)
        throw Error(place, "its signals have no time in common", "check their starts and delays");
    for (SourcePtr &source : sources) source = resampled(source, axis);
}

SourcePtr Formula::madeByProgram(std::size_t place, const Inputs &inputs, Progress &progress) const
{
    const Node &node = m_nodes[place];
    std::vector<Formula> formulas;
    std::vector<SourcePtr> sources;
    std::vector<double> constants;
    for (std::size_t i = 0; i < node.arguments.size(); ++i) {
        if (i >= node.inputs) {
            constants.push_back(constantOf(node.arguments[i], m_where[place].at, inputs));
            continue;
        }
        formulas.push_back(part(node.arguments[i]));
        sources.push_back(formulas.back().source(inputs, progress));
    }
    layOnOneGrid(sources, placeOf(place));
    const std::string &name = m_names[node.index];
    if (!inputs.run)
        throw Error(placeOf(place), "\"" + name + "\" is a program, which runs when the formula is taken", "take it");
    try {
        return inputs.run(name, formulas, sources, constants);
    } catch (const Error &error) {
        throw error.within(placeOf(place));
    }
}

SourcePtr Formula::madeOver(std::size_t place, const Inputs &inputs, Progress &progress) const
{
    const Node &node = m_nodes[place];
    const FormulaFunction &function = formulaFunctions()[node.index];
    FormulaOver over{{}, {}, {}, {}, progress, inputs.estimated};
    for (std::size_t i = 0; i < node.arguments.size(); ++i) {
        const FormulaArgument &wanted = function.arguments[i];
        const Node &argument = m_nodes[node.arguments[i]];
        const bool named = wanted.moments && argument.kind == Node::Kind::name && inputs.momentsOf;
        if (auto moments = named ? inputs.momentsOf(m_names[argument.index]) : std::nullopt) {
            over.moments.push_back(std::move(*moments));
        } else if (wanted.moments && !wanted.unit) {
            throw Error(placeAt(node.arguments[i], m_where[place].arguments[i]),
                        std::string(function.name) + " is of a row of the table", "name it by its id");
        } else if (!wanted.words.empty()) {
            over.words.push_back(argument.unit);
        } else if (wanted.unit && !(wanted.maySignal && changes(node.arguments[i], inputs))) {
            over.constants.push_back(constantOf(node.arguments[i], m_where[place].arguments[i], inputs));
        } else {
            over.sources.push_back(part(node.arguments[i]).source(inputs, progress));
        }
    }
    layOnOneGrid(over.sources, placeOf(place));
    try {
        return function.over(over);
    } catch (const Error &error) {
        if (!error.where().empty()) throw;
        throw error.within(placeOf(place));
    }
}

SourcePtr Formula::source(const Inputs &inputs, Progress &progress) const
{
    const SourcePtr bare = sourceOf(m_nodes.size() - 1, inputs, progress);
    return bare ? bare : std::make_shared<const FormulaSource>(*this, inputs, progress);
}

bool Formula::changes(std::size_t node, const Inputs &inputs) const
{
    const std::vector<bool> wanted = neededFor(node, true);
    for (std::size_t i = 0; i <= node; ++i)
        if (wanted[i] && m_nodes[i].kind == Node::Kind::name && !inputs.parameters.contains(m_names[m_nodes[i].index]))
            return true;
    return false;
}

std::vector<bool> Formula::neededFor(std::size_t node, bool overTime) const
{
    std::vector<bool> needed(node + 1);
    needed[node] = true;
    for (std::size_t i = node + 1; i-- > 0;) {
        if (!needed[i]) continue;
        const bool program = m_nodes[i].kind == Node::Kind::program;
        if (!program && m_nodes[i].kind != Node::Kind::call) continue;
        if ((program || formulaFunctions()[m_nodes[i].index].over) && !overTime) continue;
        for (const std::size_t argument : m_nodes[i].arguments) needed[argument] = true;
    }
    return needed;
}

Formula Formula::part(std::size_t node) const
{
    const std::vector<bool> wanted = neededFor(node, true);
    Formula found;
    std::vector<std::size_t> here(node + 1);
    for (std::size_t i = 0; i <= node; ++i) {
        if (!wanted[i]) continue;
        Node own = m_nodes[i];
        if (own.kind == Node::Kind::name || own.kind == Node::Kind::program) {
            const auto known = std::find(found.m_names.begin(), found.m_names.end(), m_names[own.index]);
            own.index = std::size_t(known - found.m_names.begin());
            if (known == found.m_names.end()) found.m_names.push_back(m_names[m_nodes[i].index]);
        }
        if (own.kind == Node::Kind::call || own.kind == Node::Kind::program) {
            for (std::size_t &argument : own.arguments) argument = here[argument];
        }
        here[i] = found.m_nodes.size();
        found.m_nodes.push_back(own);
        found.m_where.push_back(m_where[i]);
    }
    for (const auto &[place, name] : m_places) {
        const auto known = std::find(found.m_names.begin(), found.m_names.end(), m_names[name]);
        if (known != found.m_names.end()) found.m_places.emplace_back(place, known - found.m_names.begin());
    }
    return found;
}

std::string Formula::placeAt(std::size_t node, std::size_t from) const
{
    const auto place = std::find_if(m_places.begin(), m_places.end(), [&](const auto &one) {
        return one.first >= from && m_nodes[node].kind == Node::Kind::name && one.second == m_nodes[node].index;
    });
    return "character " + std::to_string((place == m_places.end() ? m_where[node].at : place->first) + 1);
}

std::string Formula::placeOf(std::size_t node) const
{
    return "character " + std::to_string(m_where[node].at + 1);
}

double Formula::constantOf(std::size_t node, std::size_t from, const Inputs &inputs) const
{
    const Node &of = m_nodes[node];
    if (of.kind == Node::Kind::number) return of.number;
    if (of.kind == Node::Kind::name) {
        const std::string &name = m_names[of.index];
        if (const auto parameter = inputs.parameters.find(name); parameter != inputs.parameters.end())
            return parameter->second;
        throw Error(placeAt(node, from), "\"" + name + "\" changes over time where a constant is needed",
                    "give a number or a parameter");
    }
    if (of.kind == Node::Kind::program)
        throw Error(placeOf(node),
                    "what \"" + m_names[of.index] + "\" gives changes over time where a constant is needed",
                    "give a number or a parameter");
    const FormulaFunction &function = formulaFunctions()[of.index];
    if (!function.apply)
        throw Error(placeOf(node), std::string(function.name) + " changes over time where a constant is needed",
                    "give a number or a parameter");
    std::vector<double> numbers;
    for (const std::size_t argument : of.arguments) numbers.push_back(constantOf(argument, from, inputs));
    std::vector<std::span<const double>> others;
    for (std::size_t i = 1; i < numbers.size(); ++i) others.push_back({&numbers[i], 1});
    function.apply({numbers.data(), 1}, others);
    return numbers.front();
}

SourcePtr Formula::evaluate(const Inputs &inputs, Progress &progress) const
{
    SourcePtr made = source(inputs, progress);
    constexpr double most = 1000; // readings of a file's samples for one sample of the channel
    if (made->readEffort() > most)
        throw Error("",
                    "stands on so many integrals, or on formulas over channels of different sample grids, that each "
                    "sample would "
                    "be computed more than " +
                        std::to_string(int(most)) + " times",
                    "keep a copy of a channel on the way, or bring the captures to one grid");
    return made;
}

} // namespace fulvex
