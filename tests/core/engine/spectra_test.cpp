// Spectra as results: of a file's channels and formulas, of regions, first answers, several captures, and reasons.

#include "engine.h"
#include "error.h"
#include "evidence.h"
#include "npy_header.h"
#include "results_board.h"
#include "results_json.h"
#include "signals.h"
#include "spectrum_file.h"
#include "temporary_folder.h"
#include "turn.h"
#include "two_columns.h"
#include "units.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace fulvex;
using testing::HasSubstr;

namespace {

using test::ns;

/// Channels a (a tone of 100.03 MHz of 1 V, from the middle on one of 211 MHz and 0.2 V, noise) and b (half of a, 4 ns
/// late).
class SpectraOf : public testing::Test {
protected:
    explicit SpectraOf(std::size_t count = 1 << 17) : document(test::twoColumns(ns))
    {
        folder.write("a.npy", columns(count, 3));
    }
    static std::string columns(std::size_t count, std::uint64_t seed, double frequency = 100.03e6)
    {
        test::Gaussian random(seed);
        std::vector<double> a, both;
        for (std::size_t i = 0; i < count; ++i) {
            const double t = double(i) * ns;
            a.push_back(std::sin(turn * frequency * t) + (2 * i >= count ? 0.2 * std::sin(turn * 211e6 * t) : 0) +
                        0.01 * random());
        }
        for (std::size_t i = 0; i < count; ++i) {
            both.push_back(a[i]);
            both.push_back(i < 4 ? 0 : a[i - 4] / 2);
        }
        return npyHeader("<f8", std::int64_t(count), 2) + test::bytesOf(both);
    }
    SpectrumEntry &add(const std::string &kind, const std::string &source = "a", const std::string &to = {})
    {
        SpectrumEntry entry;
        entry.id = kind + std::to_string(document.spectra.size());
        entry.kind = kind;
        entry.source = source;
        entry.to = to;
        return document.spectra.emplace_back(entry);
    }
    Results evaluate()
    {
        validate(document);
        Progress progress;
        return engine.evaluate(document, folder.path(), {}, progress);
    }
    const test::TemporaryFolder folder;
    Engine engine{FULVEX_SHIPPED_MASKS};
    Document document;
};

} // namespace

TEST_F(SpectraOf, ChannelsHoldTheirLinesAndSayHowTheyWereMade)
{
    add("spectrum").resolution = 1e6;
    add("spectrum").region = "first";
    document.regions.push_back({"first", 0, 60e-6});
    add("transfer", "a", "b");
    add("autocorrelation").longest = 1e-6;
    add("spectrogram");
    const Results results = evaluate();
    for (const SpectrumResult &result : results.spectra) EXPECT_TRUE(result.made()) << result.id << result.reason;
    const Spectrum &whole = *results.spectra[0].spectrum;
    EXPECT_LE(whole.power.resolution(), 1e6);
    ASSERT_GE(whole.lines.size(), 2u);
    EXPECT_NEAR(whole.lines[0].frequency, 100.03e6, 1e3);
    EXPECT_NEAR(whole.lines[0].rms(), std::sqrt(0.5), 1e-3);
    EXPECT_NEAR(whole.lines[1].frequency, 211e6, 1e4);
    EXPECT_NEAR(whole.lines[1].power, 0.01, 2e-4);            // there in half of the segments
    ASSERT_EQ(results.spectra[1].spectrum->lines.size(), 1u); // the other tone comes later
    const TransferFunction &transfer = *results.spectra[2].transfer;
    const auto line = std::size_t(std::lround(100.03e6 / transfer.step));
    EXPECT_NEAR(std::abs(transfer.response(line)), 0.5, 1e-3);
    EXPECT_NEAR(transfer.delay().seconds, 4e-9, 5e-12 + 5 * transfer.delay().uncertainty);
    EXPECT_EQ(results.spectra[3].autocorrelation->coefficients.size(), 1001u);
    EXPECT_EQ(results.spectra[4].spectrogram->share, 1);

    const std::string json = resultsJson(results, {});
    EXPECT_THAT(json, HasSubstr("\"spectra\": ["));
    EXPECT_THAT(json, HasSubstr("\"noise_floor\""));
    EXPECT_THAT(json, HasSubstr("\"window\": \"Hann\""));
    EXPECT_THAT(spectrumCsv(results.spectra[0]), HasSubstr("frequency_Hz,density_V2_per_Hz,rms_V\n0,"));
    EXPECT_THAT(spectrumCsv(results.spectra[2]), HasSubstr("magnitude_dB,phase_deg,coherence\n"));
    EXPECT_THAT(spectrumCsv(results.spectra[3]), HasSubstr("lag_s,coefficient\n0,1\n"));
    EXPECT_EQ(spectrumCsv(results.spectra[4]), "");
}

TEST_F(SpectraOf, TheSameIsComputedOnceAndWhatDiffersIsNot)
{
    add("spectrum");
    const auto first = evaluate().spectra[0].spectrum;
    EXPECT_EQ(evaluate().spectra[0].spectrum, first);
    document.spectra[0].window = "flat_top";
    EXPECT_NE(evaluate().spectra[0].spectrum, first);
    document.spectra[0].window = "hann";
    EXPECT_EQ(evaluate().spectra[0].spectrum, first);
    document.channels[0].scale = 2;
    EXPECT_NEAR(evaluate().spectra[0].spectrum->lines[0].power, 4 * first->lines[0].power, 1e-9);
}

/// What is in view is answered first of segments spread over all of it, then in full; what it says of its share is
/// true.
TEST_F(SpectraOf, AreAnsweredFirstOfAFewSegments)
{
    for (const char *kind : {"spectrum", "spectrogram", "autocorrelation"}) {
        SpectrumEntry &entry = add(kind);
        entry.resolution = entry.kind == "spectrogram" ? 50e6 : 2e6; // many more segments than columns
        if (entry.kind == "autocorrelation") entry.longest = 0.1e-6;
    }
    add("transfer", "a", "b").resolution = 2e6;
    ResultsBoard board;
    Progress progress;
    std::vector<SpectrumResult> before;
    Engine::Options options;
    for (const SpectrumEntry &entry : document.spectra) options.first.push_back(entry.id);
    options.answered = [&] { before = board.all().spectra; };
    validate(document);
    engine.evaluate(document, folder.path(), options, progress, &board);
    ASSERT_EQ(before.size(), 3u); // all but the autocorrelation, whose few blocks are all there are
    for (const SpectrumResult &result : before) {
        EXPECT_TRUE(result.pending) << result.id;
        EXPECT_TRUE(result.made());
        EXPECT_LT(result.share, 1) << result.id;
        EXPECT_GT(result.share, 0);
    }
    EXPECT_NEAR(before[0].spectrum->lines[0].rms(), std::sqrt(0.5), 5e-3);
    for (const SpectrumResult &result : board.all().spectra) {
        EXPECT_FALSE(result.pending);
        EXPECT_EQ(result.share, 1);
    }
}

TEST_F(SpectraOf, WhatCannotBeMadeSaysWhyAndWhatWouldHelp)
{
    const auto reason = [&] {
        const Results results = evaluate();
        EXPECT_FALSE(results.spectra[0].made());
        return results.spectra[0].reason;
    };
    add("spectrum").resolution = 0.5;
    EXPECT_THAT(reason(), HasSubstr("ask for"));
    document.spectra[0].resolution = 1e3;
    EXPECT_THAT(reason(), HasSubstr("takes 1.50 ms of signal, and 131 µs are there"));
    document.spectra[0].resolution.reset();
    document.regions.push_back({"short", 0, 20e-9});
    document.spectra[0].region = "short";
    EXPECT_THAT(reason(), HasSubstr("64 samples at least, and 21 are there"));
    document.regions[0] = {"short", 1, 2};
    EXPECT_THAT(reason(), HasSubstr("no sample lies in region"));
    document.spectra.clear();
    document.channels.push_back({});
    document.channels.back().id = "nothing";
    document.channels.back().formula = "a / 0";
    for (const char *kind : {"spectrum", "autocorrelation", "transfer"}) {
        document.spectra.clear();
        add(kind, "nothing", kind == std::string("transfer") ? "a" : "");
        EXPECT_THAT(reason(), testing::AnyOf(HasSubstr("without gaps"), HasSubstr("all gaps"))) << kind;
    }
    document.spectra.clear();
    add("autocorrelation").longest = 1;
    EXPECT_THAT(reason(), HasSubstr("has to be shorter"));
}

TEST_F(SpectraOf, DocumentsThatSayNothingSensibleAreRefused)
{
    const auto refused = [&] {
        try {
            validate(document);
        } catch (const Error &error) {
            return std::string(error.what());
        }
        return std::string();
    };
    add("spectrum", "nobody");
    EXPECT_THAT(refused(), HasSubstr("spectra[0].source: no channel has the id \"nobody\""));
    document.spectra[0].source = "a";
    document.spectra[0].kind = "colours";
    EXPECT_THAT(refused(), HasSubstr("use spectrum, spectrogram, transfer, autocorrelation"));
    document.spectra[0].kind = "transfer";
    EXPECT_THAT(refused(), HasSubstr("spectra[0].to"));
    document.spectra[0].kind = "spectrum";
    document.spectra[0].resolution = -1;
    EXPECT_THAT(refused(), HasSubstr("resolution"));
}

/// Segments of all captures count alike; a spectrogram is of one.
TEST_F(SpectraOf, SeveralCapturesAddUp)
{
    add("spectrum").resolution = 2e6;
    add("spectrogram");
    std::vector<Results> runs{evaluate()};
    folder.write("a.npy", columns(1 << 16, 9, 120e6));
    runs.push_back(evaluate());
    const Results all = accumulated(runs);
    ASSERT_TRUE(all.spectra[0].spectrum) << all.spectra[0].reason;
    const PowerSpectrum &sum = all.spectra[0].spectrum->power, &one = runs[0].spectra[0].spectrum->power,
                        &two = runs[1].spectra[0].spectrum->power;
    EXPECT_EQ(sum.segments, one.segments + two.segments);
    for (const std::size_t line : {std::size_t(10), std::size_t(60), std::size_t(70)})
        EXPECT_NEAR(sum.density[line] * double(sum.segments),
                    one.density[line] * double(one.segments) + two.density[line] * double(two.segments),
                    1e-9 * sum.density[line] * double(sum.segments));
    EXPECT_FALSE(all.spectra[1].made());
    EXPECT_THAT(all.spectra[1].reason, HasSubstr("of one capture"));
    Progress progress;
    const Evidence none = evidenceFor(all, {.id = "spectrum0", .frequencies = {{1e8, 1.1e8}}}, 5, progress);
    EXPECT_THAT(none.none, HasSubstr("added up"));
}

/// Of a row's values over time: the periods of a tone whose phase swings by 0.2 rad at 400 kHz.
TEST_F(SpectraOf, RowsHaveSpectraOfTheirValues)
{
    std::vector<double> both;
    for (int i = 0; i < 1 << 17; ++i) {
        const double t = i * ns;
        both.push_back(std::sin(turn * 20e6 * t + 0.2 * std::sin(turn * 400e3 * t)));
        both.push_back(0);
    }
    folder.write("a.npy", npyHeader("<f8", 1 << 17, 2) + test::bytesOf(both));
    MeasurementEntry row;
    row.id = "periods";
    row.quantity = "period";
    row.source = "a";
    document.measurements.push_back(row);
    row.id = "one";
    row.quantity = "mean";
    document.measurements.push_back(row);
    SpectrumEntry &entry = add("spectrum");
    entry.source.clear();
    entry.row = "periods";
    entry.resolution = 30e3;
    const SpectrumResult result = evaluate().spectra[0];
    ASSERT_TRUE(result.spectrum) << result.reason;
    EXPECT_EQ(result.source, "a");
    EXPECT_EQ(result.unit, "s");
    ASSERT_FALSE(result.spectrum->lines.empty());
    EXPECT_NEAR(result.spectrum->lines[0].frequency, 400e3, 1e3);
    // A period is off by T times the phase's slope over 2 pi f0, averaged over it: 50 ns * 0.2 * 400 kHz / 20 MHz.
    EXPECT_NEAR(result.spectrum->lines[0].rms(), 50e-9 * 0.2 * 0.02 / std::sqrt(2), 0.02 * 50e-9 * 0.2 * 0.02);
    document.spectra[0].row = "one";
    EXPECT_THAT(evaluate().spectra[0].reason, HasSubstr("one number"));
    document.spectra[0].source = "a";
    EXPECT_THROW(validate(document), Error);
}

/// The second tone is there in the second half alone: all that is strongest lies there.
TEST_F(SpectraOf, EvidenceSaysWhenABandIsStrongest)
{
    add("spectrum");
    const Results results = evaluate();
    Progress progress;
    const Evidence found = evidenceFor(results, {.id = "spectrum0", .frequencies = {{205e6, 217e6}}}, 20, progress);
    EXPECT_EQ(found.of, Evidence::Of::strongest);
    ASSERT_EQ(found.items.size(), 20u);
    for (const Evidence::Item &item : found.items) {
        EXPECT_GT(item.time, 65e-6);
        EXPECT_NEAR(item.value, 0.2 / std::sqrt(2), 5e-3);
        EXPECT_EQ(item.place.channel, "a");
    }
    const Evidence early =
        evidenceFor(results, {.id = "spectrum0", .times = {{0, 50e-6}}, .frequencies = {{205e6, 217e6}}}, 20, progress);
    ASSERT_FALSE(early.items.empty());
    for (const Evidence::Item &item : early.items) EXPECT_LT(item.value, 0.01);
    Progress cancelled;
    cancelled.cancel();
    EXPECT_THROW(evidenceFor(results, {.id = "spectrum0", .frequencies = {{205e6, 217e6}}}, 20, cancelled), Cancelled);
}
