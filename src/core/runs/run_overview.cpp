#include "run_overview.h"

#include "engine.h"
#include "run_entries.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>

namespace fulvex {

namespace {

using Lines = std::map<std::string, RunLine>;

void judge(RunLine &line, Verdict verdict)
{
    if (verdict == Verdict::none) return;
    line.failures += verdict == Verdict::fail;
    if (line.verdict != Verdict::fail) line.verdict = verdict;
}

/// A row's value of each capture, judged as it would be alone.
void addRow(Lines &lines, const Row &row, std::size_t index, const LimitEntry &limit)
{
    if (!row.total) return;
    Moments spread;
    for (const PopulationTotal::Record &record : row.total->records)
        if (record.reason.empty()) spread.add(record.mean);
    for (const PopulationTotal::Record &record : row.total->records) {
        const auto at = lines.find(record.capture);
        if (at == lines.end()) continue;
        RunLine &line = at->second;
        Row alone;
        alone.reason = record.reason;
        if (record.reason.empty()) line.values[index] = alone.statistics.mean = record.mean;
        judge(line, line.verdicts[index] = verdictOf(alone, limit));
        const double sigma = spread.std();
        if (record.reason.empty() && sigma > 0)
            line.strangeness = std::max(line.strangeness, std::abs(record.mean - spread.mean) / sigma);
    }
}

void addMask(Lines &lines, const MaskRun &mask)
{
    for (const MaskRun::OfCapture &one : mask.captures) {
        const auto at = lines.find(one.files);
        if (at == lines.end()) continue;
        RunLine &line = at->second;
        line.failedUnitIntervals += one.failedUnitIntervals;
        if (one.margin) line.margin = std::min(line.margin.value_or(*one.margin), *one.margin);
        judge(line, one.reason.empty() && one.failedUnitIntervals == 0 ? Verdict::pass : Verdict::fail);
    }
}

} // namespace

std::vector<RunLine> overviewOf(const Results &all)
{
    const std::size_t rows = all.rows.size();
    const std::set<std::string> same = sameEachTime(*all.document, all.varied);
    Lines lines;
    for (const CountedCapture &capture : all.counted) {
        RunLine &line = lines[capture.name];
        line.capture = capture.name;
        line.values.resize(rows);
        line.verdicts.resize(rows, Verdict::none);
        for (const std::string &id : capture.failed)
            if (!same.contains(id)) judge(line, Verdict::fail);
    }
    for (std::size_t i = 0; i < rows; ++i)
        if (!same.contains(all.rows[i].id)) addRow(lines, all.rows[i], i, all.document->measurements[i].limit);
    for (const MaskRun &mask : all.masks)
        if (!same.contains(mask.id)) addMask(lines, mask);
    for (const CaptureResult &capture : all.captures) {
        if (capture.error.empty()) continue;
        RunLine &line = lines[capture.file];
        line.capture = capture.file;
        line.error = capture.error;
        line.values.resize(rows);
        line.verdicts.resize(rows, Verdict::none);
    }
    std::vector<RunLine> list;
    for (auto &[name, line] : lines) list.push_back(std::move(line));
    return list;
}

bool isWorse(const RunLine &a, const RunLine &b)
{
    const auto badness = [](const RunLine &line) {
        return std::tuple(line.error.empty() ? 0 : 1, line.failures, line.failedUnitIntervals,
                          line.margin ? -*line.margin : -1e300, line.strangeness);
    };
    return badness(a) > badness(b);
}

} // namespace fulvex
