#include "comparing.h"

#include "alignment.h"
#include "axis_painter.h"
#include "formula.h"
#include "formula_check.h"
#include "number_text.h"
#include "tile_edits.h"

#include <algorithm>

namespace fulvex {

static void addTraces(Document &document, int sheet, std::vector<std::string> of)
{
    addTile(document, sheet, {.kind = "traces", .of = std::move(of)});
}

void overlay(Workbench &bench, const std::string &channel, const std::string &other)
{
    bench.change(QObject::tr("%1 and %2 in one tile").arg(text(channel), text(other)), [&](Document &document) {
        addTraces(document, bench.sheet(), {channel, other});
    });
}

static void addDifference(Workbench &bench, const std::string &channel, const std::string &other,
                          const std::string &formula)
{
    bench.make(QObject::tr("subtract %1 from %2").arg(text(other), text(channel)), Selection::Kind::channel,
               [&](Document &document) {
                   const std::string id = freeId(document, channel + "_less_" + other);
                   document.channels.push_back({.id = id, .formula = formula});
                   addTraces(document, bench.sheet(), {channel, other, id});
                   return id;
               });
}

void subtract(Workbench &bench, const std::string &channel, const std::string &other)
{
    addDifference(bench, channel, other, channel + " - " + other);
}

void subtractAligned(Workbench &bench, const std::string &channel, const std::string &other, bool byEdges)
{
    const auto use = [=, &bench](const Alignment &found) {
        // Where its uncertainty is known, to a tenth of that; and written so that a formula reads it.
        const std::string by = found.uncertainty && *found.uncertainty > 0
                                   ? quantityText(-found.lag, "s", *found.uncertainty / 10)
                                   : plainText(-found.lag) + " s";
        addDifference(bench, channel, other,
                      channel + (found.inverted ? " + " : " - ") + "delay(" + other + ", " + by + ")");
        emit bench.told(QObject::tr("%1 is taken later by %2%3 (correlation %4).")
                            .arg(text(other), text(quantityText(-found.lag, "s", found.uncertainty)),
                                 found.inverted ? QObject::tr(" and turned over") : QString(),
                                 text(fixedText(found.likeness, 3))));
    };
    bench.withAlignment(QObject::tr("aligning %1").arg(text(other)), other, channel, byEdges, use);
}

std::string formulaIsOf(const Document &document, const std::string &channel)
{
    const ChannelEntry *entry = findEntry(document.channels, channel);
    if (!entry || entry->formula.empty()) return {};
    std::string of;
    for (const std::string &name : Formula::namesIn(entry->formula)) {
        if (!findEntry(document.channels, name)) continue;
        if (!of.empty()) return {};
        of = name;
    }
    return of;
}

void computeOfOthers(Workbench &bench, const std::string &channel, const std::vector<std::string> &others)
{
    const std::string of = formulaIsOf(bench.document(), channel);
    if (of.empty() || others.empty()) return;
    bench.make(QObject::tr("the same as %1 of others").arg(text(channel)), Selection::Kind::channel,
               [&](Document &document) {
                   const ChannelEntry pattern = *findEntry(document.channels, channel);
                   for (const std::string &other : others) {
                       ChannelEntry entry = pattern;
                       entry.id = freeId(document, channel + "_of_" + other);
                       entry.label.clear();
                       entry.formula = Formula::renamed(pattern.formula, of, other);
                       document.channels.push_back(entry);
                   }
                   return document.channels.back().id;
               });
}

} // namespace fulvex
