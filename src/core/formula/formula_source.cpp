#include "error.h"
#include "formula.h"
#include "resampled_source.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <memory>

namespace fulvex {

namespace {

/// Runs the steps over one block at a time on a stack of buffers that stay in the cache. Formulas over formulas on one
/// grid become one program, in which each is computed once a block however many others use it.
class FormulaSource final : public SampleSource {
public:
    FormulaSource(TimeAxis axis, std::vector<Formula::Step> own, std::vector<SourcePtr> channels)
        : m_axis(axis), m_own(std::move(own)), m_channels(std::move(channels))
    {
        Builder(*this).build();
        std::size_t depth = 0;
        for (const Step &step : m_steps) {
            if (step.kind == Step::Kind::call) {
                const FormulaFunction &function = formulaFunctions()[step.index];
                depth -= std::size_t(function.arguments - 1);
                m_gaps |= std::string_view("+-").find(function.name) == std::string_view::npos;
            } else if (step.kind != Step::Kind::keep && step.kind != Step::Kind::clean) {
                m_gaps |= std::abs(step.constant) > 1e150; // sums that leave the range of doubles
                m_depth = std::max(m_depth, ++depth);
            }
        }
        for (const SourcePtr &leaf : m_leaves) {
            m_gaps |= leaf->mayHaveGaps();
            m_effort += leaf->readEffort();
        }
        m_effort += double(m_steps.size()) / 16; // a step costs less than reading a file's samples
    }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return m_gaps; }
    double readEffort() const override { return m_effort; }
    void release(SampleRange range) const override
    {
        for (const SourcePtr &leaf : m_leaves) leaf->release(range);
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        // The lowest of the stack is `out`; every level is written before it is read. What is kept lies behind it.
        const auto buffer = std::make_unique_for_overwrite<double[]>(out.size() * (m_depth - 1 + m_kept));
        const auto at = [&](std::size_t level) {
            return level == 0 ? out : std::span(buffer.get() + (level - 1) * out.size(), out.size());
        };
        std::size_t depth = 0;
        for (const Step &step : m_steps) {
            switch (step.kind) {
            case Step::Kind::constant:
                std::fill_n(at(depth).begin(), out.size(), step.constant), ++depth;
                break;
            case Step::Kind::leaf:
                m_leaves[step.index]->read(first, at(depth)), ++depth;
                break;
            case Step::Kind::call: {
                const FormulaFunction &function = formulaFunctions()[step.index];
                depth -= std::size_t(function.arguments - 1);
                function.apply(at(depth - 1), function.arguments > 1 ? at(depth) : std::span<double>());
                break;
            }
            case Step::Kind::clean:
                clean(at(depth - 1));
                break;
            case Step::Kind::keep:
                std::copy_n(at(depth - 1).begin(), out.size(), at(m_depth + step.index).begin());
                break;
            case Step::Kind::kept:
                std::copy_n(at(m_depth + step.index).begin(), out.size(), at(depth).begin()), ++depth;
                break;
            }
        }
        if (m_gaps) clean(out);
    }

private:
    struct Step {
        enum class Kind { constant, leaf, call, clean, keep, kept } kind;
        double constant = 0;
        std::size_t index = 0; ///< into the leaves, formulaFunctions(), or what is kept
    };
    /// A result that is not finite is a gap.
    static void clean(std::span<double> values)
    {
        for (double &value : values) {
            if (!std::isfinite(value)) value = std::numeric_limits<double>::quiet_NaN();
        }
    }
    /// The formula that a channel is, where it lies on this grid.
    const FormulaSource *inner(const SourcePtr &channel) const
    {
        const auto *formula = dynamic_cast<const FormulaSource *>(channel.get());
        return formula && formula->m_axis == m_axis ? formula : nullptr;
    }
    /// Makes one program of a formula and all those on its grid that it stands on.
    class Builder {
    public:
        explicit Builder(FormulaSource &whole) : m_whole(whole) {}
        void build()
        {
            countUses(m_whole);
            append(m_whole);
        }

    private:
        void countUses(const FormulaSource &formula)
        {
            for (const Formula::Step &step : formula.m_own) {
                if (step.kind != Formula::Step::Kind::name) continue;
                const SourcePtr &channel = formula.m_channels[step.index];
                const FormulaSource *inner = m_whole.inner(channel);
                if (++m_uses[channel.get()] == 1 && inner) countUses(*inner);
            }
        }
        void append(const FormulaSource &formula)
        {
            for (const Formula::Step &step : formula.m_own) {
                if (step.kind == Formula::Step::Kind::constant)
                    m_whole.m_steps.push_back({Step::Kind::constant, step.constant, 0});
                else if (step.kind == Formula::Step::Kind::call)
                    m_whole.m_steps.push_back({Step::Kind::call, 0, step.index});
                else
                    use(formula.m_channels[step.index]);
            }
        }
        void appendInner(const FormulaSource &inner)
        {
            append(inner);
            if (inner.m_gaps) m_whole.m_steps.push_back({Step::Kind::clean});
        }
        /// A channel's values onto the stack: of an inner formula by its own steps, or as they were kept.
        void use(const SourcePtr &channel)
        {
            auto &steps = m_whole.m_steps;
            const FormulaSource *inner = m_whole.inner(channel);
            if (!inner) {
                auto &leaves = m_whole.m_leaves;
                const auto known = std::find(leaves.begin(), leaves.end(), channel);
                steps.push_back({Step::Kind::leaf, 0, std::size_t(known - leaves.begin())});
                if (known == leaves.end()) leaves.push_back(channel);
            } else if (m_uses[inner] == 1) {
                appendInner(*inner);
            } else if (const auto kept = m_slots.find(inner); kept != m_slots.end()) {
                steps.push_back({Step::Kind::kept, 0, kept->second});
            } else {
                appendInner(*inner);
                m_slots[inner] = m_whole.m_kept;
                steps.push_back({Step::Kind::keep, 0, m_whole.m_kept++});
            }
        }
        FormulaSource &m_whole;
        std::map<const SampleSource *, int> m_uses;
        std::map<const SampleSource *, std::size_t> m_slots;
    };

    TimeAxis m_axis;
    std::vector<Formula::Step> m_own;    ///< as written, over m_channels
    std::vector<SourcePtr> m_channels;   ///< by name index; null for parameters, which became constants
    std::vector<Step> m_steps;           ///< with those of inner formulas, over m_leaves
    std::vector<SourcePtr> m_leaves;     ///< file channels, and what lies on another grid
    std::size_t m_depth = 0, m_kept = 0; ///< buffers of the stack, and of what is kept
    bool m_gaps = false;
    double m_effort = 0;
};

} // namespace

SourcePtr Formula::evaluate(const std::function<SourcePtr(const std::string &)> &channelOf,
                            const std::map<std::string, double> &parameters) const
{
    std::vector<SourcePtr> channels;
    std::vector<TimeAxis> axes;
    std::vector<Step> steps = m_steps;
    for (std::size_t i = 0; i < m_names.size(); ++i) {
        channels.push_back(channelOf(m_names[i]));
        if (channels.back()) {
            axes.push_back(channels.back()->axis());
            continue;
        }
        const auto parameter = parameters.find(m_names[i]);
        if (parameter == parameters.end())
            throw Error("", "no channel or parameter has the id \"" + m_names[i] + "\"",
                        "add it, or correct the formula");
        for (Step &step : steps) {
            if (step.kind == Step::Kind::name && step.index == i) step = {Step::Kind::constant, parameter->second, 0};
        }
    }
    if (axes.empty()) throw Error("", "the formula names no channel", "name at least one, so that it has a time axis");
    const TimeAxis axis = commonAxis(axes);
    if (axis.count == 0) throw Error("", "its channels have no time in common", "check their starts and delays");
    for (SourcePtr &channel : channels) {
        if (channel) channel = resampled(channel, axis);
    }
    auto made = std::make_shared<const FormulaSource>(axis, std::move(steps), std::move(channels));
    constexpr double most = 1000; // readings of a file's samples for one sample of the channel
    if (made->readEffort() > most)
        throw Error(
            "",
            "stands on formulas over channels of different sample grids, which would all be computed more than " +
                std::to_string(int(most)) + " times a sample",
            "keep a copy of a channel on the way, or bring the captures to one grid");
    return made;
}

} // namespace fulvex
