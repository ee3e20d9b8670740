#include "evidence_list.h"

#include "axis_painter.h"
#include "number_text.h"
#include "trace_figure.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fulvex {

namespace {

/// Decimals of a time so that a picosecond-scale moment can be told from the next: a tenth of the sample interval.
QString momentText(double time, double step)
{
    return text(quantityText(time, "s", step));
}

template <typename Worse>
std::vector<std::size_t> worstFirst(std::size_t count, Worse &&worse)
{
    std::vector<std::size_t> order(count);
    std::iota(order.begin(), order.end(), std::size_t(0));
    const std::size_t kept = std::min(count, EvidenceList::kept);
    std::partial_sort(order.begin(), order.begin() + std::ptrdiff_t(kept), order.end(), worse);
    order.resize(kept);
    return order;
}

double intervalOf(const Results &results, const std::string &channel)
{
    const ChannelResult *result = findEntry(results.channels, channel);
    return result && result->source ? result->source->axis().interval : 0;
}

EvidenceList ofMask(const Results &results, const MaskRun &mask)
{
    EvidenceList list;
    list.heading = "what failed the mask";
    list.columns = {"moment", "unit interval", "area", "deepest"};
    if (!mask.result) {
        list.empty = text(mask.reason);
        return list;
    }
    const auto &failures = mask.result->worst;
    list.facts = QString("%1 of %2").arg(mask.result->failedUnitIntervals).arg(mask.result->unitIntervals);
    list.empty = "Nothing failed: every unit interval stays clear of the mask.";
    const EyeResult *eye = findEntry(results.eyes, mask.eye);
    if (!eye) return list;
    const double step = intervalOf(results, eye->source) / 10;
    for (const MaskFailure &f : failures) {
        list.items.push_back(
            {{momentText(f.worstTime, step), QString::number(f.unitInterval),
              text(mask.definition.areas[std::size_t(f.area)].name), text(fixedText(f.deepest, 2)) + " of area"},
             {f.worstTime - eye->unitInterval / 2, f.worstTime + eye->unitInterval / 2, eye->source, true}});
    }
    return list;
}

EvidenceList ofRow(const Results &results, const Row &row)
{
    EvidenceList list;
    list.heading = text(row.title);
    list.columns = {"moment", "value", "off the mean", "sigma"};
    if (!row.measurable()) {
        list.empty = text(row.reason);
        return list;
    }
    if (row.measured->single) {
        list.empty = "One number for the whole record: select a quantity with occurrences, or a mask, to step through "
                     "its moments.";
        return list;
    }
    const Population &all = row.measured->population;
    const double mean = row.statistics.mean.value_or(0), spread = row.statistics.std.value_or(0);
    list.facts = QString("%1, farthest first").arg(all.size());
    const double step = intervalOf(results, row.source) / 10;
    const std::optional<double> digit = spread > 0 ? std::optional(spread / 20) : std::nullopt;
    const double margin = 8 * intervalOf(results, row.source);
    for (const std::size_t i : worstFirst(all.size(), [&](std::size_t a, std::size_t b) {
             return std::abs(all.value[a] - mean) > std::abs(all.value[b] - mean);
         })) {
        const double off = all.value[i] - mean;
        list.items.push_back(
            {{momentText(all.time(i), step), text(quantityText(all.value[i], row.unit, digit)),
              text(quantityText(off, row.unit, digit)), spread > 0 ? text(fixedText(off / spread, 1)) : QString("—")},
             {all.time(i) - (all.span[i] > 0 ? 0 : margin / 2), all.end(i) + (all.span[i] > 0 ? 0 : margin / 2),
              row.source, false}});
    }
    return list;
}

} // namespace

namespace {

EvidenceList ofCapture(const Results &results, const CaptureResult &capture)
{
    EvidenceList list;
    list.heading = QString("the check of %1").arg(text(capture.id));
    list.columns = {"finding"};
    list.empty =
        text(capture.error.empty() ? "Nothing to remark: no clipping, gaps, skew or hum, edges have samples enough."
                                   : capture.error);
    for (const bool warning : {true, false}) {
        for (const Finding &finding : capture.findings) {
            if ((finding.level == "warning") != warning) continue;
            const QString place = finding.channel.empty() ? QString() : text(finding.channel + ": ");
            // What is of the whole channel leads to all of it.
            const auto whole =
                wholeSpan(results, finding.channel.empty() ? std::vector<std::string>() : std::vector{finding.channel});
            const auto [from, to] = whole.value_or(std::pair(0.0, 0.0));
            list.items.push_back({{(warning ? QString("▲ ") : QString("· ")) + place + text(finding.text)},
                                  {finding.from.value_or(from), finding.to.value_or(to), finding.channel, false}});
        }
    }
    return list;
}

} // namespace

bool isPending(const Results &results, const Selection &selection)
{
    const auto pends = [](const auto *result) { return result && result->pending; };
    if (selection.kind == Selection::Kind::capture) return pends(findEntry(results.captures, selection.id));
    if (selection.kind == Selection::Kind::measurement) return pends(findEntry(results.rows, selection.id));
    return std::any_of(results.masks.begin(), results.masks.end(), [&](const MaskRun &mask) {
        return mask.pending && (mask.id == selection.id || mask.eye == selection.id);
    });
}

EvidenceList evidenceOf(const Results &results, const Selection &selection)
{
    EvidenceList nothing;
    nothing.heading = "nothing selected";
    nothing.empty = "Select a row of the Ledger, an eye or a mask: the moments behind it appear here, worst first.";
    if (selection.kind == Selection::Kind::capture) {
        if (const CaptureResult *capture = findEntry(results.captures, selection.id))
            return ofCapture(results, *capture);
    }
    if (selection.kind == Selection::Kind::measurement) {
        if (const Row *row = findEntry(results.rows, selection.id)) return ofRow(results, *row);
    }
    for (const MaskRun &mask : results.masks) {
        const bool asked = (selection.kind == Selection::Kind::mask && mask.id == selection.id) ||
                           (selection.kind == Selection::Kind::eye && mask.eye == selection.id);
        if (asked) return ofMask(results, mask);
    }
    return nothing;
}

} // namespace fulvex
