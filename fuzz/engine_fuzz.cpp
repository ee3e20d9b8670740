// A document with everything, of any numbers, over any samples: refused with an Error, or evaluated; what comes of it
// can be written and read back, twice gives the same, and no number that is told is anything but finite.

#include "document_json.h"
#include "engine.h"
#include "error.h"
#include "program_folders.h"
#include "quantity_table.h"
#include "results_json.h"
#include "table_text.h"

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <fuzzer/FuzzedDataProvider.h>
#include <nlohmann/json.hpp>
#include <unistd.h>

using namespace fulvex;
namespace fs = std::filesystem;

namespace {

using Any = FuzzedDataProvider;

const fs::path &folder()
{
    static const fs::path made = [] {
        const fs::path path = "/dev/shm/fulvex-fuzz-engine-" + std::to_string(getpid());
        fs::create_directories(path / "cache");
        setenv("XDG_CACHE_HOME", (path / "cache").c_str(), 1);
        return path;
    }();
    static const bool cleaned = std::atexit([] { fs::remove_all(folder()); }) == 0;
    (void)cleaned;
    return made;
}

/// Most often what is usual: one absurd number in a hundred fields is enough to be refused for.
double number(Any &any, double usual)
{
    static constexpr double some[] = {0,    1,    -1,    0.5,    2,      1e-9,  1e-10, 1e-12, 1e6, 5e6,  1e9,
                                      1e14, 1e20, 1e300, 1e-300, 5e-324, -1e-9, 1.7e9, 50,    100, 1e308};
    switch (any.ConsumeIntegralInRange<int>(0, 15)) {
    case 13:
    case 14:
        return any.PickValueInArray(some);
    case 15:
        return any.ConsumeFloatingPoint<double>();
    default:
        return usual * any.PickValueInArray({1.0, 1.0, 0.5, 2.0, 0.1, 3.0, 10.0});
    }
}

bool rarely(Any &any, int inSoMany = 8)
{
    return any.ConsumeIntegralInRange<int>(1, inSoMany) == inSoMany;
}

std::optional<double> perhaps(Any &any, double usual)
{
    return any.ConsumeBool() ? std::optional(number(any, usual)) : std::nullopt;
}

std::string one(Any &any, std::initializer_list<const char *> words)
{
    return *(words.begin() + any.ConsumeIntegralInRange<std::size_t>(0, words.size() - 1));
}

/// The id of one that is there, and now and then none.
template <typename Entry>
std::string idOf(Any &any, const std::vector<Entry> &entries)
{
    if (entries.empty() || rarely(any, 100)) return any.ConsumeBool() ? "" : "nobody";
    return entries[any.ConsumeIntegralInRange<std::size_t>(0, entries.size() - 1)].id;
}

/// Two levels and what else the input says, so that there are edges, clocks and eyes to be had.
std::string samples(Any &any)
{
    const std::size_t count = rarely(any) ? any.ConsumeIntegralInRange<std::size_t>(0, 40)
                                          : any.ConsumeIntegralInRange<std::size_t>(1000, 4000);
    const int period = any.ConsumeIntegralInRange<int>(rarely(any) ? 1 : 5, 60);
    std::uint32_t state = any.ConsumeIntegral<std::uint32_t>() | 1;
    const bool noisy = any.ConsumeBool();
    std::vector<float> values;
    bool up = false;
    for (std::size_t i = 0; i < count; ++i) {
        state = state * 1664525u + 1013904223u;
        if (i % std::size_t(period) == 0) up = state >> 31;
        values.push_back((up ? 0.4f : -0.4f) + (noisy ? float(state >> 16) * 1e-7f : 0.0f));
    }
    std::string bytes(reinterpret_cast<const char *>(values.data()), values.size() * sizeof(float));
    if (rarely(any, 4)) { // anything at all in the middle of it
        const std::vector<std::uint8_t> own =
            any.ConsumeBytes<std::uint8_t>(any.ConsumeIntegralInRange<std::size_t>(1, 64));
        const std::size_t at = any.ConsumeIntegralInRange<std::size_t>(0, bytes.size());
        bytes.insert(bytes.begin() + std::ptrdiff_t(at), own.begin(), own.end());
    }
    return bytes;
}

Document documentOf(Any &any)
{
    Document document;
    document.title = one(any, {"", "title", "=1+1", "µ <b>", "\x1b[31m"});
    if (rarely(any)) document.timeOrigin = number(any, 1.7e9);
    const auto upTo = [&](int most) { return any.ConsumeIntegralInRange<int>(0, most); };
    for (int i = 0; i < 2; ++i) {
        CaptureEntry capture{"r" + std::to_string(i), "r" + std::to_string(i) + ".raw", "", {}};
        std::ofstream(folder() / capture.file, std::ios::binary) << samples(any);
        capture.import.format = "raw";
        capture.import.sampleType = rarely(any) ? SampleType(upTo(int(SampleType::f64))) : SampleType::f32;
        capture.import.sampleInterval = number(any, 1e-10);
        capture.import.start = perhaps(any, 1e-6);
        if (rarely(any)) capture.import.interleave = 1 + upTo(5);
        document.captures.push_back(capture);
    }
    for (int i = 0, count = 1 + upTo(4); i < count; ++i) {
        ChannelEntry channel;
        channel.id = "c" + std::to_string(i);
        if (i > 0 && any.ConsumeBool() && !rarely(any, 100)) {
            const std::string a = idOf(any, document.channels), b = idOf(any, document.channels);
            channel.formula =
                one(any, {"", "2*", "-", "k*", "1e300*"}) + a + one(any, {" + ", " - ", "/", "*", "^"}) + b;
            if (rarely(any, 4)) channel.formula = one(any, {"sqrt", "abs", "ln", "exp", "log10"}) + "(" + a + ")";
            if (rarely(any, 4)) channel.formula = one(any, {"min", "max"}) + "(" + a + ", " + b + ")";
        } else {
            channel.capture = idOf(any, document.captures);
        }
        if (any.ConsumeBool()) channel.scale = number(any, 1);
        if (any.ConsumeBool()) channel.offset = number(any, 0.1);
        if (any.ConsumeBool()) channel.delay = number(any, 1e-10);
        channel.unit = one(any, {"", "V", "A", "=1+1", "µV"});
        document.channels.push_back(channel);
    }
    document.parameters.push_back({"k", number(any, 2), {}, {}, "V"});
    document.regions.push_back({"part", number(any, 1e-8), number(any, 2e-7)});
    if (any.ConsumeBool()) {
        LevelsEntry levels;
        levels.kind = one(any, {"percent", "absolute"});
        const double unit = levels.kind == "percent" ? 1 : 0.01;
        levels.low = number(any, 10 * unit), levels.mid = number(any, 50 * unit), levels.high = number(any, 90 * unit);
        levels.states = one(any, {"histogram", "extremes", "fixed"});
        if (levels.states == "fixed") levels.stateLow = number(any, -0.4), levels.stateHigh = number(any, 0.4);
        levels.hysteresis = perhaps(any, 0.05);
        document.levels.push_back(levels);
    }
    for (int i = 0, count = 1 + upTo(2); i < count; ++i) {
        ClockEntry clock;
        clock.id = "k" + std::to_string(i + 1);
        clock.source = idOf(any, document.channels);
        clock.method = one(any, {"fixed", "pll"});
        clock.rate = perhaps(any, 1e9);
        clock.order = 1 + upTo(1);
        clock.bandwidth = number(any, 5e6);
        if (rarely(any)) clock.damping = number(any, 1);
        clock.bandwidthOf = one(any, {"transfer", "error"});
        clock.interpolate = one(any, {"auto", "linear", "sinc"});
        document.clocks.push_back(clock);
    }
    for (int i = 0, count = 1 + upTo(1); i < count; ++i)
        document.eyes.push_back({"e" + std::to_string(i), idOf(any, document.channels), idOf(any, document.clocks),
                                 rarely(any, 4) ? "part" : "", one(any, {"auto", "none", "sinc"})});
    for (int i = 0, count = upTo(2); i < count; ++i) {
        std::string mask = one(any, {"brackwater-camera-link", "ieee-802.3-1000base-x", "own.mask.json"});
        if (mask == "own.mask.json") {
            auto corners = nlohmann::json::array();
            for (int k = 0, most = 2 + upTo(4); k < most; ++k) corners.push_back({number(any, 0.5), number(any, 0.5)});
            const nlohmann::json own = {
                {"fulvex_mask", 1},
                {"id", "own"},
                {"title", "own"},
                {"source", "none"},
                {"x", "ui"},
                {"y", one(any, {"normalised", "volts"})},
                {"areas", {{{"name", "a"}, {"kind", one(any, {"closed", "above", "below"})}, {"points", corners}}}}};
            std::ofstream(folder() / mask) << own;
        }
        document.masks.push_back(
            {"m" + std::to_string(i), idOf(any, document.eyes), mask, rarely(any, 4) ? number(any, 0.1) : 0});
    }
    const auto known = quantities();
    for (int i = 0, count = 1 + upTo(5); i < count; ++i) {
        const Quantity &quantity = known[any.ConsumeIntegralInRange<std::size_t>(0, known.size() - 1)];
        MeasurementEntry row;
        row.id = "q" + std::to_string(i);
        row.quantity = quantity.name;
        if (quantity.needs == Needs::source) row.source = idOf(any, document.channels);
        if (quantity.needs == Needs::clock || rarely(any)) row.clock = idOf(any, document.clocks);
        if (quantity.needs == Needs::eye) row.eye = idOf(any, document.eyes);
        if (quantity.takes("to")) row.to = idOf(any, document.channels);
        if (quantity.takes("to_edge")) row.toEdge = one(any, {"", "rising", "falling", "both"});
        if (quantity.takes("gap")) row.gap = number(any, 1e-8);
        if (quantity.takes("level")) row.level = 1 + upTo(3);
        if (quantity.takes("band")) row.band = number(any, 2);
        if (quantity.takes("of") && rarely(any, 2)) row.of = "amplitude";
        if (rarely(any, 4)) row.region = "part";
        row.edge = one(any, {"", "rising", "falling", "both"});
        if (rarely(any, 4)) row.limit = LimitEntry{perhaps(any, 0.1), perhaps(any, 1)};
        document.measurements.push_back(row);
    }
    for (int i = 0, count = upTo(2); i < count; ++i) {
        SpectrumEntry spectrum;
        spectrum.id = "f" + std::to_string(i);
        spectrum.kind = one(any, {"spectrum", "spectrogram", "transfer", "autocorrelation"});
        spectrum.source = idOf(any, document.channels);
        if (spectrum.kind == "transfer")
            spectrum.to = idOf(any, document.channels);
        else if (rarely(any, 3))
            spectrum.source.clear(), spectrum.row = idOf(any, document.measurements);
        spectrum.window = one(any, {"hann", "rectangular", "flat_top", "blackman_harris"});
        if (rarely(any, 2)) spectrum.resolution = number(any, 1e8);
        if (rarely(any, 2)) spectrum.longest = number(any, 1e-8);
        spectrum.highest = any.ConsumeBool();
        if (rarely(any, 4)) spectrum.region = "part";
        document.spectra.push_back(spectrum);
    }
    if (any.ConsumeBool() && !document.clocks.empty()) {
        BudgetEntry budget;
        budget.id = "j";
        budget.clock = idOf(any, document.clocks);
        budget.ber = std::pow(10, -1 - upTo(17));
        budget.method = one(any, {"spectral", "tail"});
        if (any.ConsumeBool()) budget.pattern = upTo(40) + 1;
        if (any.ConsumeBool()) budget.data = any.ConsumeBool();
        if (rarely(any, 4)) budget.opening = upTo(3);
        if (rarely(any, 2)) budget.without.push_back(std::abs(number(any, 1e8)) + 1);
        if (rarely(any, 4)) budget.region = "part";
        document.budgets.push_back(budget);
    }
    if (any.ConsumeBool()) {
        PhaseNoiseEntry noise;
        noise.id = "pn";
        if (any.ConsumeBool() && !document.clocks.empty())
            noise.clock = idOf(any, document.clocks);
        else
            noise.source = idOf(any, document.channels);
        if (rarely(any, 3)) noise.from = std::abs(number(any, 1e6)) + 1;
        if (rarely(any, 3)) noise.to = std::abs(number(any, 1e9)) + 1;
        noise.lines = any.ConsumeBool();
        if (rarely(any, 2)) noise.except.push_back(std::abs(number(any, 1e8)) + 1);
        if (rarely(any, 3)) noise.lowest = std::abs(number(any, 1e3)) + 1e-3;
        if (any.ConsumeBool())
            noise.limitOffsets = {1e5, 1e8}, noise.limitLevels = {number(any, 100), number(any, 100)};
        if (rarely(any, 4)) noise.region = "part";
        document.phaseNoise.push_back(noise);
    }
    if (any.ConsumeBool()) {
        NoteEntry note;
        note.id = "n", note.channel = idOf(any, document.channels), note.time = number(any, 1e-8),
        note.level = number(any, 0.1);
        document.notes.push_back(note);
    }
    if (any.ConsumeBool())
        document.markers.push_back({"mark", idOf(any, document.channels), perhaps(any, 1e-8), perhaps(any, 0.1)});
    SheetEntry sheet;
    sheet.id = "s";
    if (any.ConsumeBool()) sheet.from = number(any, 1e-8), sheet.to = number(any, 2e-7);
    for (int i = 0, count = upTo(3); i < count; ++i) {
        TileEntry tile;
        tile.kind = one(any, {"traces", "eye", "histogram"});
        tile.of.push_back(tile.kind == "eye"      ? idOf(any, document.eyes)
                          : tile.kind == "traces" ? idOf(any, document.channels)
                                                  : idOf(any, document.measurements));
        tile.row = rarely(any, 50) ? any.ConsumeIntegral<int>() : i;
        tile.rowSpan = rarely(any, 50) ? any.ConsumeIntegral<int>() : 1;
        sheet.tiles.push_back(tile);
    }
    document.sheets.push_back(sheet);
    nameTiles(document);
    return document;
}

void check(bool holds, const char *what)
{
    if (holds) return;
    std::fprintf(stderr, "does not hold: %s\n", what);
    std::abort();
}

/// Throws where it is no JSON; numbers in JSON are finite, so what is not shows as null where a number belongs.
void readBack(const Results &results, const Document &document)
{
    const auto json = nlohmann::json::parse(resultsJson(results, {}));
    check(json.at("measurements").size() == document.measurements.size(), "a row for each measurement");
    for (const auto &row : json.at("measurements")) {
        const std::string status = row.at("status");
        check(status == "ok" || status == "unmeasurable", "a status");
        check((status == "ok") == row.at("mean").is_number(), "a mean where it is measurable, and nowhere else");
        if (status != "ok") check(!row.at("reason").get<std::string>().empty(), "a reason");
    }
    check(json.at("masks").size() == document.masks.size(), "a verdict for each mask");
    check(json.at("spectra").size() == document.spectra.size(), "a spectrum for each entry");
    for (const auto &spectrum : json.at("spectra"))
        check((spectrum.at("status") == "ok") == spectrum.at("reason").get<std::string>().empty(),
              "a spectrum, or why there is none");
    check(json.at("budgets").size() == document.budgets.size(), "a budget for each entry");
    for (const auto &budget : json.at("budgets"))
        check(budget.contains("reason") || budget.at("total").is_number(), "a budget, or why there is none");
    for (const auto &noise : json.at("phase_noise"))
        check(noise.contains("reason") || noise.at("jitter").is_number(), "phase noise, or why there is none");
    const std::string csv = measurementsCsv(results);
    check(csv.find(",inf") == std::string::npos && csv.find("nan,") == std::string::npos,
          "finite numbers in the table");
    check(ledgerLines(results).size() == document.measurements.size() + document.masks.size(), "a line for each row");
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t *bytes, std::size_t size)
{
    folder();
    Any any(bytes, size);
    Progress progress;
    try {
        const Document made = documentOf(any);
        const Document document = parseDocument(documentText(made), "document");
        check(documentText(document) == documentText(made), "a document is read as it was written");
        Engine engine(shareFolder() / "masks");
        const Engine::Options all{.pyramids = true, .fingerprints = true, .check = true};
        const Results results = engine.evaluate(document, folder(), all, progress);
        readBack(results, document);
        const std::string told = resultsJson(results, {});
        check(resultsJson(engine.evaluate(document, folder(), all, progress), {}) == told, "warm as cold");
        if (any.ConsumeBool()) readBack(accumulated({results, results}), document);
    } catch (const Error &) {
    }
    std::error_code ignored;
    fs::remove_all(folder() / "cache/fulvex", ignored);
    return 0;
}
