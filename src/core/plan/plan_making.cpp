#include "plan_making.h"

#include <algorithm>
#include <set>

namespace fulvex {

PlanSetup setupOf(const Document &document, const std::string &id)
{
    PlanSetup setup{id, document};
    Document &its = setup.document;
    its.report = {};
    its.device = {};
    its.comparisons.clear();
    its.plans.clear();
    its.attempts.clear();
    its.keptOut.clear(); // of other captures
    its.notes.clear();
    its.markers.clear();
    for (CaptureEntry &capture : its.captures) {
        capture.file = unfilledFile;
        capture.sha256.clear();
        capture.bytes.reset();
        capture.run = {};
        capture.live = {};
    }
    for (SheetEntry &sheet : its.sheets) {
        std::erase_if(sheet.tiles, [](const TileEntry &tile) {
            return tile.kind.starts_with("compared_") || tile.kind == "plan" || tile.kind.starts_with("run");
        });
    }
    std::erase_if(its.sheets, [](const SheetEntry &sheet) { return sheet.tiles.empty(); });
    return setup;
}

std::string freeName(const std::vector<std::string> &taken, const std::string &wish)
{
    Document names; // which knows how to make them
    for (const std::string &one : taken) names.regions.push_back({.id = one});
    return freeId(names, wish);
}

void addSlots(const Plan &plan, PlanStep &step, const Document &setup)
{
    std::vector<std::string> taken;
    for (const PlanStep &one : plan.steps)
        if (one.id != step.id)
            for (const PlanSlot &slot : one.captures) taken.push_back(slot.id);
    for (const PlanSlot &slot : step.captures) taken.push_back(slot.id);
    for (const CaptureEntry &capture : setup.captures) {
        if (std::ranges::any_of(step.captures, [&](const PlanSlot &slot) { return slot.capture() == capture.id; }))
            continue;
        PlanSlot slot;
        slot.id = freeName(taken, capture.id);
        if (slot.id != capture.id) slot.as = capture.id;
        int channels = 0;
        for (const ChannelEntry &channel : setup.channels)
            if (const int *column = channel.capture == capture.id ? std::get_if<int>(&channel.column) : nullptr)
                channels = std::max(channels, *column + 1);
        if (channels > 0) slot.wants.channels = channels;
        taken.push_back(slot.id);
        step.captures.push_back(std::move(slot));
    }
}

void addTests(PlanStep &step, const Document &setup)
{
    std::vector<std::string> taken;
    std::set<std::string> tested;
    for (const PlanTest &test : step.tests) taken.push_back(test.id), tested.insert(test.of);
    const auto add = [&](const std::string &of, const LimitEntry &limit) {
        if (!tested.insert(of).second) return;
        PlanTest test;
        test.id = freeName(taken, of);
        test.of = of;
        test.limit = limit;
        taken.push_back(test.id);
        step.tests.push_back(std::move(test));
    };
    for (const MeasurementEntry &row : setup.measurements)
        if (row.limit.isSet()) add(row.id, row.limit);
    for (const MaskEntry &mask : setup.masks) add(mask.id, {});
    for (const BudgetEntry &budget : setup.budgets)
        if (budget.limit) add(budget.id, {});
    for (const PhaseNoiseEntry &noise : setup.phaseNoise)
        if (!noise.limitLevels.empty()) add(noise.id, {});
}

Plan planOf(const Document &document)
{
    Plan plan;
    plan.title = document.title.empty() ? "Acceptance" : document.title;
    plan.id = freeName({}, plan.title);
    plan.revision = "A";
    plan.setups.push_back(setupOf(document, "setup"));
    PlanStep step;
    step.id = "first";
    step.title = "First step";
    step.setup = "setup";
    addSlots(plan, step, document);
    addTests(step, document);
    plan.steps.push_back(std::move(step));
    return plan;
}

} // namespace fulvex
