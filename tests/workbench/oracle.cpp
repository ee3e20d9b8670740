#include "oracle.h"

#include "engine.h"
#include "fingerprint.h"
#include "program_folders.h"
#include "results_json.h"

#include <bit>
#include <fcntl.h>
#include <gtest/gtest.h>
#include <sstream>
#include <unistd.h>

namespace fulvex::test {

namespace fs = std::filesystem;

namespace {

/// A short text that differs where one bit does.
template <typename Values>
std::string digest(const Values &values)
{
    std::uint64_t sum = values.size();
    for (std::size_t i = 0; i < values.size(); ++i) {
        const auto value = values[i];
        sum = (std::rotl(sum, 5) ^ std::bit_cast<std::uint64_t>(value)) * 0x9E3779B97F4A7C15u;
    }
    return std::to_string(sum);
}

} // namespace

std::string everyBit(const Results &results)
{
    std::ostringstream out;
    out << resultsJson(results, {}) << "\n";
    for (const Row &row : results.rows) {
        if (!row.measured) continue;
        const Population &all = row.measured->population;
        out << row.id << " " << digest(all.position) << " " << digest(all.span) << " " << digest(all.value) << "\n";
    }
    for (const EyeResult &eye : results.eyes) {
        if (!eye.fold) continue;
        std::vector<double> sums;
        for (const EyeFold::Part &part : eye.fold->parts) {
            for (const Moments &moments : part.levels)
                sums.insert(sums.end(), {moments.count, moments.mean, moments.squares, moments.min, moments.max});
            for (const EyeFold::Trace &trace : part.traces) {
                for (const auto &bin : trace.bins) sums.insert(sums.end(), {bin.count, bin.phase, bin.value});
            }
        }
        out << eye.id << " " << digest(eye.fold->picture.counts) << " " << digest(sums) << "\n";
    }
    for (const MaskRun &mask : results.masks) {
        if (!mask.result) continue;
        std::vector<double> failures;
        for (const auto *list : {&mask.result->failures, &mask.result->worst}) {
            for (const MaskFailure &one : *list)
                failures.insert(failures.end(), {one.time, one.deepest, one.worstTime, double(one.unitInterval)});
        }
        out << mask.id << " " << mask.result->hits << " " << digest(failures) << " "
            << digest(mask.result->spread.counts) << "\n";
    }
    return out.str();
}

void Oracle::write(const std::string &path, const std::string &bytes, bool inPlace)
{
    m_held[sha256(bytes)] = bytes;
    const std::string to = inPlace ? path : path + ".new";
    const int file = ::open(to.c_str(), O_WRONLY | O_CREAT | (inPlace ? 0 : O_TRUNC), 0644);
    EXPECT_EQ(::write(file, bytes.data(), bytes.size()), ssize_t(bytes.size()));
    EXPECT_EQ(inPlace ? ::ftruncate(file, off_t(bytes.size())) : 0, 0);
    ::close(file);
    if (!inPlace) fs::rename(to, path);
}

void Oracle::expectTrue(const Results &shown)
{
    Document document = *shown.document;
    bool whole = true;
    for (const CaptureResult &capture : shown.captures) {
        if (!capture.error.empty()) {
            whole = false;
            continue;
        }
        const auto held = m_held.find(capture.sha256);
        ASSERT_TRUE(held != m_held.end()) << capture.file << " never held what its results are said to be of";
        const fs::path folder = m_folder.path() / capture.sha256;
        const fs::path file = folder / fs::path(capture.file).filename();
        if (!fs::exists(file)) {
            fs::create_directory(folder);
            std::ofstream(file, std::ios::binary) << held->second;
        }
        findEntry(document.captures, capture.id)->file = file.string();
    }
    if (!whole) {
        for (const Row &row : shown.rows) EXPECT_NE(row.measurable(), row.reason.size() > 0);
        return;
    }
    Engine engine(shareFolder() / "masks");
    Progress progress;
    Results fresh = engine.evaluate(document, m_folder.path(), {.fingerprints = true, .check = true}, progress);
    fresh.document = shown.document;
    ASSERT_EQ(fresh.captures.size(), shown.captures.size());
    for (std::size_t i = 0; i < fresh.captures.size(); ++i) fresh.captures[i].file = shown.captures[i].file;
    EXPECT_EQ(everyBit(fresh), everyBit(shown));
    ++m_compared;
}

} // namespace fulvex::test
