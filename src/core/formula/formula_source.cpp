#include "error.h"
#include "formula.h"
#include "formula_steps.h"
#include "resampled_source.h"

#include <algorithm>
#include <cmath>
#include <memory>

namespace fulvex {

namespace {

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
                here[place] = m_steps.constant(node.number);
            else if (region != inputs.regions.end())
                here[place] = m_steps.leaf(std::make_shared<Within>(m_axis, region->second));
            else if (node.kind == Formula::Node::Kind::name)
                here[place] = m_steps.constant(inputs.parameters.at(formula.names()[node.index]));
            else {
                std::vector<std::size_t> arguments;
                for (const std::size_t argument : node.arguments) arguments.push_back(here[argument]);
                here[place] = m_steps.call(node.index, std::move(arguments));
            }
        }
        m_steps.place();
        for (const FormulaSteps::Operation &operation : m_steps.operations()) {
            if (operation.kind == FormulaSteps::Operation::Kind::call)
                m_gaps |=
                    std::string_view("+-").find(formulaFunctions()[operation.index].name) == std::string_view::npos;
            m_gaps |= std::abs(operation.constant) > 1e150; // sums that leave the range of doubles
        }
        for (const SourcePtr &leaf : m_steps.leaves()) {
            m_gaps |= leaf->mayHaveGaps();
            m_effort += leaf->readEffort();
        }
        m_effort += double(m_steps.operations().size()) / 16; // each costs less than reading a file's samples
        m_codes = m_steps.codedSum();
        m_gaps &= !m_codes;
    }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return m_gaps; }
    double readEffort() const override { return m_effort; }
    std::int64_t runIn() const override
    {
        std::int64_t longest = 0;
        for (const SourcePtr &leaf : m_steps.leaves()) longest = std::max(longest, leaf->runIn());
        return longest;
    }

    std::string remark() const override
    {
        std::string remarks;
        for (const SourcePtr &leaf : m_steps.leaves()) {
            const std::string remark = leaf->remark();
            if (!remark.empty() && remarks.find(remark) == std::string::npos)
                remarks += (remarks.empty() ? "" : " · ") + remark;
        }
        return remarks;
    }
    void release(SampleRange range) const override
    {
        for (const SourcePtr &leaf : m_steps.leaves()) leaf->release(range);
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        m_codes ? m_codes->read(first, out) : m_steps.run(first, out, m_gaps);
    }
    std::optional<CodeScale> codeScale() const override
    {
        return m_codes ? std::optional(m_codes->scale()) : std::nullopt;
    }
    bool readCodes(std::int64_t first, std::span<std::int16_t> out) const override
    {
        return m_codes->readCodes(first, out);
    }
    void readWideCodes(std::int64_t first, std::span<std::int32_t> out) const override
    {
        m_codes->readWideCodes(first, out);
    }

private:
    std::size_t valuesOf(const SourcePtr &channel)
    {
        const auto *inner = dynamic_cast<const FormulaSource *>(channel.get());
        if (!inner || !(inner->m_axis == m_axis)) return m_steps.leaf(channel);
        const std::size_t result = m_steps.append(inner->m_steps);
        return inner->m_gaps ? m_steps.clean(result) : result;
    }
    TimeAxis m_axis;
    FormulaSteps m_steps;
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
