#include "plan_run.h"

#include "error.h"
#include "quantity_table.h"
#include "references.h"
#include "run_gathering.h"
#include "word_list.h"

#include <algorithm>

namespace fulvex {

namespace {

/// Of a test's limit, as far as the setup tells it before anything is measured.
std::string unitOf(const Document &setup, const PlanTest &test)
{
    if (!test.unit.empty()) return test.unit;
    const MeasurementEntry *row = findEntry(setup.measurements, test.of);
    const Quantity *quantity = row ? findQuantity(row->quantity) : nullptr;
    if (!quantity) return {};
    if (quantity->unit) return quantity->unit;
    const EyeEntry *eye = findEntry(setup.eyes, row->eye);
    const ChannelEntry *channel = findEntry(setup.channels, eye ? eye->source : row->source);
    return channel && !channel->unit.empty() ? channel->unit + quantity->per : std::string();
}

std::vector<TestOutcome> openTests(const Plan &plan, const PlanStep &step, const std::set<std::string> &without)
{
    const PlanSetup *known = findEntry(plan.setups, step.setup);
    const Document setup = known ? known->document : Document();
    std::vector<TestOutcome> tests;
    for (const PlanTest &test : step.tests) {
        TestOutcome open;
        open.id = test.id;
        open.title = test.title;
        open.unit = unitOf(setup, test);
        open.ofMask = findEntry(setup.masks, test.of) != nullptr;
        open.least = test.limit.min;
        open.most = test.limit.max;
        open.wanted = !without.contains(test.id);
        tests.push_back(std::move(open));
    }
    return tests;
}

/// Tests' rows and masks alone, where some are not to be run: no time is spent on those.
Document withoutUnwanted(Document document, const PlanStep &step, const std::set<std::string> &without)
{
    if (without.empty()) return document;
    std::set<std::string> unwanted, wanted;
    for (const PlanTest &test : step.tests) (without.contains(test.id) ? unwanted : wanted).insert(test.of);
    std::erase_if(unwanted, [&](const std::string &id) {
        const auto users = usersOf(document, id);
        return wanted.contains(id) || std::ranges::any_of(users, [&](const std::string &user) {
                   return EntryIndex(document).kindOf(user) != EntryKind::tile;
               });
    });
    const auto drop = [&](auto &entries) {
        std::erase_if(entries, [&](const auto &entry) { return unwanted.contains(entry.id); });
    };
    drop(document.measurements);
    drop(document.masks);
    drop(document.budgets);
    drop(document.phaseNoise);
    document.sheets.clear(); // which may show what is gone
    return document;
}

/// All captures of a step that has several, added up.
Results addedUp(const Document &document, const std::filesystem::path &base, const std::filesystem::path &masks,
                Progress &progress)
{
    std::vector<std::string> unread;
    std::optional<Results> all = gathered(document, base, masks, progress, unread);
    if (!unread.empty()) throw Error("", unread.front());
    return std::move(*all);
}

double durationOf(const Results &results)
{
    double duration = 0;
    for (const CaptureResult &capture : results.captures)
        duration = std::max(duration, double(capture.samples) * capture.sampleInterval);
    return duration * std::max<double>(1, double(results.counted.size()));
}

int rank(TestVerdict verdict)
{
    switch (verdict) {
    case TestVerdict::pass:
        return 0;
    case TestVerdict::open:
        return 1;
    case TestVerdict::undecidable:
        return 2;
    case TestVerdict::unmeasurable:
        return 3;
    case TestVerdict::fail:
        break;
    }
    return 4;
}

} // namespace

const char *stateName(StepOutcome::State state)
{
    switch (state) {
    case StepOutcome::State::refused:
        return "refused";
    case StepOutcome::State::done:
        return "done";
    case StepOutcome::State::skipped:
        return "skipped";
    case StepOutcome::State::open:
        break;
    }
    return "open";
}

TestVerdict StepOutcome::verdict() const
{
    if (state != State::done) return TestVerdict::open;
    TestVerdict worst = TestVerdict::pass;
    for (const TestOutcome &test : tests)
        if (test.wanted && rank(test.verdict) > rank(worst)) worst = test.verdict;
    return worst;
}

TestVerdict verdictOf(const std::vector<StepOutcome> &steps)
{
    TestVerdict worst = TestVerdict::pass;
    for (const StepOutcome &step : steps) {
        if (step.state == StepOutcome::State::skipped) continue;
        if (rank(step.verdict()) > rank(worst)) worst = step.verdict();
    }
    return worst;
}

Document documentOf(const Plan &plan, const PlanStep &step, const SlotFiles &files)
{
    Document document = findEntry(plan.setups, step.setup)->document;
    for (const PlanSlot &slot : step.captures) {
        CaptureEntry &capture = *findEntry(document.captures, slot.capture());
        capture.sha256.clear();
        const auto given = files.find(slot.id);
        if (given == files.end() || given->second.empty()) continue;
        capture.file = given->second.front();
        capture.run = {};
        if (given->second.size() > 1) capture.run.files = given->second;
    }
    return document;
}

StepOutcome openStep(const Plan &plan, const PlanStep &step, const SlotFiles &files,
                     const std::set<std::string> &without)
{
    StepOutcome outcome;
    outcome.id = step.id;
    outcome.tests = openTests(plan, step, without);
    for (const PlanSlot &slot : step.captures) {
        const auto given = files.find(slot.id);
        const int have = given == files.end() ? 0 : int(std::set(given->second.begin(), given->second.end()).size());
        if (given != files.end())
            for (const std::string &file : given->second) outcome.captures.push_back({slot.id, file, {}, {}});
        if (have >= slot.count) continue;
        enlist(outcome.reason, slot.id);
        if (slot.count > 1) outcome.reason += " (" + std::to_string(have) + " of " + std::to_string(slot.count) + ")";
    }
    if (!outcome.reason.empty()) outcome.reason = "waits for " + outcome.reason;
    return outcome;
}

StepOutcome doStep(const Plan &plan, const PlanStep &step, const SlotFiles &files, const std::filesystem::path &base,
                   const std::set<std::string> &without, Engine &engine, Progress &progress,
                   const std::function<void(const StepOutcome &)> &told)
{
    StepOutcome outcome = openStep(plan, step, files, without);
    bool whole = outcome.reason.empty(), good = true;
    for (const PlanSlot &slot : step.captures) { // what is there is checked at once
        for (StepOutcome::Capture &capture : outcome.captures) {
            if (capture.slot != slot.id) continue;
            Document one = documentOf(plan, step, {{slot.id, {capture.file}}});
            capture.checks = fitOf(slot, one, base, engine, progress);
            good = good && fits(capture.checks);
            if (told) told(outcome);
        }
    }
    if (!good) outcome.state = StepOutcome::State::refused;
    if (!good || !whole) return outcome;

    const Document document = withoutUnwanted(documentOf(plan, step, files), step, without);
    const std::set<std::string> shown = channelsUnderMasks(document); // where what fails is seen
    const Engine::Options options{.pyramids = !shown.empty(), .traces = shown, .fingerprints = true, .check = true};
    Results results = hasRun(document) ? addedUp(document, base, engine.masks(), progress)
                                       : engine.evaluate(document, base, options, progress);
    for (StepOutcome::Capture &capture : outcome.captures) {
        const std::string id = findEntry(step.captures, capture.slot)->capture();
        for (const CaptureResult &one : results.captures)
            if (one.id == id && (one.file == capture.file || !hasRun(document))) capture.sha256 = one.sha256;
    }
    if (const std::string error = results.firstError(); !error.empty()) {
        outcome.state = StepOutcome::State::refused;
        outcome.reason = error;
        return outcome;
    }
    const double duration = durationOf(results);
    for (std::size_t i = 0; i < step.tests.size(); ++i) {
        if (!outcome.tests[i].wanted) continue;
        outcome.tests[i] = judged(step.tests[i], results, duration);
    }
    outcome.state = StepOutcome::State::done;
    outcome.results = std::make_shared<const Results>(std::move(results));
    return outcome;
}

} // namespace fulvex
