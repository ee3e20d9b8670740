#include "eye_edits.h"

#include "axis_painter.h"
#include "clock_edits.h"
#include "clock_symbols.h"
#include "error.h"
#include "tile_edits.h"

namespace fulvex {

/// `before`: what else is put into the document, first.
static std::string addFold(
    Workbench &bench, const QString &what, EyeEntry entry, const char *name,
    const std::function<void(Document &, EyeEntry &)> &before = [](Document &, EyeEntry &) {})
{
    return bench.make(what, Selection::Kind::eye, [&](Document &document) {
        before(document, entry);
        entry.id = freeId(document, name);
        document.eyes.push_back(entry);
        addTile(document, bench.sheet(), {.kind = "eye", .of = {entry.id}});
        return entry.id;
    });
}

std::string addEye(Workbench &bench, const std::string &clock)
{
    EyeEntry entry;
    entry.clock = clock;
    entry.source = findEntry(bench.document().clocks, clock)->source;
    return addFold(bench, QObject::tr("add eye"), entry, "eye");
}

std::string addEyeOf(Workbench &bench, const std::string &channel)
{
    for (const ClockEntry &clock : bench.document().clocks)
        if (clock.source == channel) return addEye(bench, clock.id);
    EyeEntry entry;
    entry.source = channel;
    return addFold(bench, QObject::tr("add eye"), entry, "eye",
                   [&](Document &document, EyeEntry &eye) { eye.clock = putClock(bench, document, channel, "pll"); });
}

std::string addEdgeOverlay(Workbench &bench, const std::string &channel)
{
    EyeEntry entry;
    entry.source = channel;
    entry.each = "rising";
    return addFold(bench, QObject::tr("add overlay"), entry, "overlay");
}

std::string addPatternOverlay(Workbench &bench, const std::string &clock)
{
    EyeEntry entry;
    entry.clock = clock;
    entry.source = findEntry(bench.document().clocks, clock)->source;
    entry.each = "pattern";
    return addFold(bench, QObject::tr("add overlay"), entry, "overlay");
}

std::string showTemplate(Workbench &bench, const std::string &mask)
{
    const MaskEntry *of = findEntry(bench.document().masks, mask);
    const MaskRun *run = bench.results() ? findEntry(bench.results()->masks, mask) : nullptr;
    if (!of) return {};
    EyeEntry entry;
    entry.source = of->source;
    entry.each = of->edge.empty() ? "rising" : of->edge;
    if (run && !run->definition.areas.empty()) { // a fifth of it about it
        const auto [left, right] = acrossOf(run->definition.areas);
        entry.before = 0.2 * (right - left) - left;
        entry.after = right + 0.2 * (right - left);
    }
    return addFold(bench, QObject::tr("show the template"), entry, "overlay");
}

std::string addAverage(Workbench &bench, const std::string &overlay)
{
    return bench.make(QObject::tr("add averaged trace"), Selection::Kind::channel, [&](Document &document) {
        const std::string source = findEntry(document.eyes, overlay)->source,
                          id = freeId(document, source + "_average");
        document.channels.push_back({.id = id, .formula = "average(" + source + ", " + overlay + ")"});
        addTile(document, bench.sheet(), {.kind = "traces", .of = {source, id}});
        return id;
    });
}

void findSymbols(Workbench &bench, const std::string &eye, const std::string &words)
{
    try {
        placesOf(words, {});
    } catch (const Error &error) {
        emit bench.failed(text(error.what()));
        return;
    }
    Question question;
    question.symbols = words;
    bench.select({Selection::Kind::eye, eye}, question);
}

} // namespace fulvex
