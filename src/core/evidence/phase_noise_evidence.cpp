#include "phase_noise_evidence.h"

#include "line_strength.h"
#include "number_text.h"

#include <algorithm>
#include <numbers>

namespace fulvex {

Evidence ofPhaseNoise(const PhaseNoiseResult &noise, const Question &question, std::size_t wanted, Progress &progress)
{
    Evidence found;
    found.title = "phase noise of " + noise.source;
    found.none = !noise.reason.empty() ? noise.reason
                 : !noise.found        ? ""
                 : !noise.edges        ? "These are several captures: ask one by itself when a line is strongest."
                                       : "Click a line: when it is strongest appears here.";
    if (!noise.found || !noise.edges || !noise.by || !question.part || *question.part >= noise.found->lines.size())
        return found;
    const double offset = noise.found->lines[*question.part].offset;
    constexpr std::size_t most = 200;
    std::vector<LineStrength> parts = lineStrength(*noise.edges, noise.edges->errors, offset, most, progress);
    found.of = Evidence::Of::strongest;
    found.title = "when the " + quantityText(offset, "Hz", {}, 4) + " line is strongest";
    found.unit = "s";
    found.order = question.byTime ? "in time" : "strongest first";
    found.count = found.all = std::int64_t(parts.size());
    if (!question.byTime)
        std::stable_sort(parts.begin(), parts.end(),
                         [](const LineStrength &a, const LineStrength &b) { return a.amplitude > b.amplitude; });
    const TimeAxis &axis = noise.by->map.axis();
    const auto timeOf = [&](double place) {
        return axis.timeOf(noise.by->map.positionOf(place + double(noise.edges->first)));
    };
    for (std::size_t i = 0; i < std::min(wanted, parts.size()); ++i) {
        Evidence::Item item;
        item.place.from = timeOf(parts[i].from);
        item.place.to = timeOf(parts[i].to);
        item.place.channel = noise.source;
        item.time = (item.place.from + item.place.to) / 2;
        item.value = parts[i].amplitude / std::numbers::sqrt2; // rms, as of a band
        found.items.push_back(std::move(item));
    }
    return found;
}

} // namespace fulvex
