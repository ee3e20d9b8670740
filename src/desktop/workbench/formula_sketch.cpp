#include "formula_sketch.h"

#include "error.h"
#include "failure_text.h"
#include "formula_moments.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::int64_t mostSamples = 1 << 18; ///< of a channel: a formula of any kind takes a moment then

/// Some of a source's samples, as a record of their own.
class Stretch final : public SampleSource {
public:
    Stretch(SourcePtr source, SampleRange range)
        : m_source(std::move(source)), m_axis(m_source->axis()), m_first(range.first)
    {
        m_axis.shift += double(range.first) * m_axis.interval;
        m_axis.count = range.size();
    }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return m_source->mayHaveGaps(); }
    double resolution() const override { return m_source->resolution(); }
    double readEffort() const override { return m_source->readEffort(); }
    void read(std::int64_t first, std::span<double> out) const override { m_source->read(first + m_first, out); }

private:
    SourcePtr m_source;
    TimeAxis m_axis;
    std::int64_t m_first;
};

const ChannelResult *channelOf(const FormulaSketch::From &from, const std::string &name)
{
    const ChannelResult *found = from.results ? findEntry(from.results->channels, name) : nullptr;
    return found && found->source ? found : nullptr;
}

/// The samples in view and as many about them as there is room for: filters settle there.
SourcePtr stretchOf(const SourcePtr &source, double start, double stop)
{
    const TimeAxis &axis = source->axis();
    const double middle = axis.positionOf((start + stop) / 2), wide = 2 * (stop - start) / axis.interval + 2000;
    const double half = std::min(wide, double(mostSamples)) / 2;
    const auto clamped = [&](double position) { return std::int64_t(std::clamp(position, 0.0, double(axis.count))); };
    const SampleRange range{clamped(std::floor(middle - half)), clamped(std::ceil(middle + half))};
    return range.size() > 0 ? std::make_shared<Stretch>(source, range) : nullptr;
}

std::optional<FormulaMoments> momentsNamed(const FormulaSketch::From &from, const std::string &name)
{
    if (const Row *row = from.results ? findEntry(from.results->rows, name) : nullptr) {
        const ChannelResult *channel = channelOf(from, row->source);
        return channel && row->measured ? momentsOf(*row->measured, channel->source) : FormulaMoments();
    }
    if (const EyeResult *eye = from.results ? findEntry(from.results->eyes, name) : nullptr)
        return eye->by ? momentsOf(eye->by->map, eye->rule) : FormulaMoments();
    const ClockResult *clock = from.results ? findEntry(from.results->clocks, name) : nullptr;
    if (!clock || !clock->clock) return {};
    return momentsOf(clock->clock->map);
}

Formula::Type typeOf(const FormulaSketch::From &from, const std::string &name)
{
    if (const ChannelResult *channel = channelOf(from, name))
        return {.unit = Unit(channel->unit), .assumed = !channel->unitStated, .changes = true};
    if (from.regions.contains(name)) return {.unit = Unit(), .changes = true};
    if (const Row *row = from.results ? findEntry(from.results->rows, name) : nullptr)
        return {.unit = Unit(row->unit), .changes = true};
    const auto unit = from.parameterUnits.find(name);
    if (unit == from.parameterUnits.end() || unit->second.empty()) return {};
    return {.unit = Unit(unit->second)};
}

/// Samples into columns of pixels.
void fill(FormulaSketch &sketch, const SampleSource &source, int columns)
{
    const TimeAxis &axis = source.axis();
    sketch.rate = 1 / axis.interval;
    sketch.start = std::max(sketch.start, axis.timeOf(0));
    sketch.stop = std::min(sketch.stop, axis.timeOf(double(axis.count - 1)));
    const SampleRange range = samplesWithin(axis, sketch.start, sketch.stop);
    if (range.size() == 0 || columns <= 0) return;
    std::vector<double> values(std::size_t(range.size()));
    source.read(range.first, values);
    if (range.size() < 2 * columns) {
        for (std::size_t i = 0; i < values.size(); ++i)
            sketch.samples.emplace_back(axis.timeOf(double(range.first) + double(i)), values[i]);
        return;
    }
    for (int column = 0; column < columns; ++column) {
        const auto place = [&](int of) { return std::size_t(double(values.size()) * of / columns); };
        const std::size_t first = std::min(place(column), values.size() - 1),
                          last = std::max(first + 1, place(column + 1));
        sketch.columns.push_back(extentOf(std::span(values).subspan(first, last - first)));
    }
}

} // namespace

Extent FormulaSketch::whole() const
{
    Extent all = Extent::nothing();
    for (const Extent &column : columns)
        if (!column.empty()) all = {std::min(all.low, column.low), std::max(all.high, column.high)};
    for (const auto &[time, value] : samples) {
        if (value != value) continue;
        const Extent one = Extent::of(value, value);
        all = {std::min(all.low, one.low), std::max(all.high, one.high)};
    }
    return all;
}

FormulaSketch FormulaSketch::of(const From &from)
{
    FormulaSketch sketch;
    sketch.formula = from.formula;
    sketch.start = from.start;
    sketch.stop = from.stop;
    try {
        const Formula formula = Formula::parse(from.formula, from.own);
        const Formula::Type type = formula.typeOf([&](const std::string &name) { return fulvex::typeOf(from, name); });
        sketch.unit = type.unit ? type.unit->text() : "V";
        Formula::Inputs inputs;
        inputs.parameters = from.parameters;
        inputs.regions = from.regions;
        inputs.momentsOf = [&](const std::string &name) { return momentsNamed(from, name); };
        std::map<std::string, SourcePtr> stretches;
        inputs.channelOf = [&](const std::string &name) -> SourcePtr {
            const ChannelResult *channel = channelOf(from, name);
            if (!channel) return nullptr;
            SourcePtr &stretch = stretches[name];
            if (!stretch) stretch = stretchOf(channel->source, from.start, from.stop);
            if (!stretch)
                throw Error("", "nothing of \"" + name + "\" is in view", "show a part of the record where it is");
            return stretch;
        };
        inputs.run = [&](const std::string &, const std::vector<Formula> &, const std::vector<SourcePtr> &sources,
                         const std::vector<double> &) {
            sketch.byProgram = true;
            return sources.front(); // on whose grid it gives something
        };
        Progress progress;
        const SourcePtr made = formula.evaluate(inputs, progress);
        if (sketch.byProgram)
            sketch.rate = 1 / made->axis().interval;
        else
            fill(sketch, *made, from.columns);
    } catch (const Error &error) {
        sketch.where = error.where();
        sketch.found = error.found();
        sketch.remedy = error.remedy();
    } catch (const std::exception &) { // as long as it is being typed: too little memory, say
        sketch.found = failureText();
    }
    return sketch;
}

} // namespace fulvex
