#include "error.h"
#include "formula.h"
#include "resampled_source.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <memory>

namespace fulvex {

namespace {

/// Runs the steps over one block at a time on a stack of buffers that stay in the cache.
class FormulaSource final : public SampleSource {
public:
    FormulaSource(TimeAxis axis, std::vector<Formula::Step> steps, std::vector<SourcePtr> channels)
        : m_axis(axis), m_steps(std::move(steps)), m_channels(std::move(channels))
    {
        const auto table = formulaFunctions();
        std::size_t depth = 0;
        for (const Formula::Step &step : m_steps) {
            if (step.kind == Formula::Step::Kind::call)
                depth -= std::size_t(table[step.index].arguments - 1);
            else
                m_depth = std::max(m_depth, ++depth);
            const bool total = step.kind != Formula::Step::Kind::call ||
                               std::string_view("+-*").find(table[step.index].name) != std::string_view::npos;
            m_gaps |= !total;
        }
        for (const SourcePtr &channel : m_channels) m_gaps |= channel && channel->mayHaveGaps();
    }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return m_gaps; }
    void release(SampleRange range) const override
    {
        for (const SourcePtr &channel : m_channels) {
            if (channel) channel->release(range);
        }
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        // The lowest of the stack is `out`; every level is written before it is read.
        const auto buffer = std::make_unique_for_overwrite<double[]>(out.size() * (m_depth - 1));
        const auto at = [&](std::size_t level) {
            return level == 0 ? out : std::span(buffer.get() + (level - 1) * out.size(), out.size());
        };
        std::size_t depth = 0;
        for (const Formula::Step &step : m_steps) {
            switch (step.kind) {
            case Formula::Step::Kind::constant:
                std::fill_n(at(depth).begin(), out.size(), step.constant), ++depth;
                break;
            case Formula::Step::Kind::name:
                m_channels[step.index]->read(first, at(depth)), ++depth;
                break;
            case Formula::Step::Kind::call: {
                const FormulaFunction &function = formulaFunctions()[step.index];
                depth -= std::size_t(function.arguments - 1);
                function.apply(at(depth - 1), function.arguments > 1 ? at(depth) : std::span<double>());
            }
            }
        }
        if (!m_gaps) return;
        for (double &value : out) {
            if (!std::isfinite(value)) value = std::numeric_limits<double>::quiet_NaN();
        }
    }

private:
    TimeAxis m_axis;
    std::vector<Formula::Step> m_steps;
    std::vector<SourcePtr> m_channels; ///< by name index; null for parameters, which became constants
    std::size_t m_depth = 0;
    bool m_gaps = false;
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
    return std::make_shared<FormulaSource>(axis, std::move(steps), std::move(channels));
}

} // namespace fulvex
