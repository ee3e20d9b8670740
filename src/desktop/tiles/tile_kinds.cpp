#include "tile_kinds.h"

#include "budget_tile.h"
#include "comparison_tile.h"
#include "eye_tile.h"
#include "histogram_tile.h"
#include "level_bathtub_tile.h"
#include "phase_noise_tile.h"
#include "plan_tile.h"
#include "run_tile.h"
#include "run_trend_tile.h"
#include "scatter_tile.h"
#include "spectral_tile.h"
#include "spectrogram_tile.h"
#include "spectrum_tile.h"
#include "trace_tile.h"
#include "trend_tile.h"
#include "words_tile.h"

#include <algorithm>

namespace fulvex {

namespace {

template <typename Tile>
TileFrame *make(Workbench &bench, int index, QWidget *parent)
{
    return new Tile(bench, index, parent);
}

constexpr TileKind kinds[] = {
    {"traces", QT_TRANSLATE_NOOP("TileKinds", "Add a traces tile of %1"), Selection::Kind::channel, make<TraceTile>},
    {"eye", QT_TRANSLATE_NOOP("TileKinds", "Add a tile of the eye %1"), Selection::Kind::eye, make<EyeTile>},
    {"histogram", QT_TRANSLATE_NOOP("TileKinds", "Add a histogram of %1"), Selection::Kind::measurement,
     make<HistogramTile>},
    {"trend", QT_TRANSLATE_NOOP("TileKinds", "Add a trend of %1"), Selection::Kind::measurement, make<TrendTile>},
    {"spectrum", QT_TRANSLATE_NOOP("TileKinds", "Add the spectrum of the trend of %1"), Selection::Kind::measurement,
     make<SpectrumTile>},
    {"scatter", QT_TRANSLATE_NOOP("TileKinds", "Add %1 against another row"), Selection::Kind::measurement,
     make<ScatterTile>},
    {"channel_spectrum", QT_TRANSLATE_NOOP("TileKinds", "Add a tile of the spectrum %1"), Selection::Kind::spectrum,
     make<ChannelSpectrumTile>, "spectrum"},
    {"spectrogram", QT_TRANSLATE_NOOP("TileKinds", "Add a tile of the spectrogram %1"), Selection::Kind::spectrum,
     make<SpectrogramTile>, "spectrogram"},
    {"transfer", QT_TRANSLATE_NOOP("TileKinds", "Add a tile of the transfer function %1"), Selection::Kind::spectrum,
     make<TransferTile>, "transfer"},
    {"autocorrelation", QT_TRANSLATE_NOOP("TileKinds", "Add a tile of the autocorrelation %1"),
     Selection::Kind::spectrum, make<AutocorrelationTile>, "autocorrelation"},
    {"budget", QT_TRANSLATE_NOOP("TileKinds", "Add a tile of the jitter budget %1"), Selection::Kind::budget,
     make<BudgetTile>},
    {"bathtub", QT_TRANSLATE_NOOP("TileKinds", "Add the bathtub of %1"), Selection::Kind::budget, make<BudgetPlotTile>},
    {"jitter_histogram", QT_TRANSLATE_NOOP("TileKinds", "Add the histogram of %1 with its parts"),
     Selection::Kind::budget, make<BudgetPlotTile>},
    {"jitter_tails", QT_TRANSLATE_NOOP("TileKinds", "Add the tails of %1"), Selection::Kind::budget,
     make<BudgetPlotTile>},
    {"jitter_pattern", QT_TRANSLATE_NOOP("TileKinds", "Add what the pattern does in %1"), Selection::Kind::budget,
     make<BudgetPlotTile>},
    {"level_bathtub", QT_TRANSLATE_NOOP("TileKinds", "Add the bathtub over level of %1"), Selection::Kind::eye,
     make<LevelBathtubTile>},
    {"line_strength", QT_TRANSLATE_NOOP("TileKinds", "Add when a line of %1 is strong"), Selection::Kind::budget,
     make<BudgetPlotTile>},
    {"phase_noise", QT_TRANSLATE_NOOP("TileKinds", "Add a tile of the phase noise %1"), Selection::Kind::phaseNoise,
     make<PhaseNoiseTile>},
    {"accumulated_jitter", QT_TRANSLATE_NOOP("TileKinds", "Add the accumulated jitter of %1"),
     Selection::Kind::phaseNoise, make<StabilityTile>},
    {"run", QT_TRANSLATE_NOOP("TileKinds", "Add an overview of the run of %1"), Selection::Kind::capture, make<RunTile>,
     "", true},
    {"run_trend", QT_TRANSLATE_NOOP("TileKinds", "Add %1 capture by capture"), Selection::Kind::measurement,
     make<RunTrendTile>, "", true},
    {"time_deviation", QT_TRANSLATE_NOOP("TileKinds", "Add the time deviation of %1"), Selection::Kind::phaseNoise,
     make<StabilityTile>},
    {"plan", QT_TRANSLATE_NOOP("TileKinds", "Add the steps of the plan %1"), Selection::Kind::plan, make<PlanTile>},
    {"words", QT_TRANSLATE_NOOP("TileKinds", "Add words to the sheet"), Selection::Kind::nothing, make<WordsTile>},
    {"compared_settings", QT_TRANSLATE_NOOP("TileKinds", "Add what is set differently in %1"),
     Selection::Kind::comparison, make<ComparedSettingsTile>},
    {"compared_numbers", QT_TRANSLATE_NOOP("TileKinds", "Add the numbers side by side of %1"),
     Selection::Kind::comparison, make<ComparedNumbersTile>},
    {"compared_eyes", QT_TRANSLATE_NOOP("TileKinds", "Lay the eye %1 over the other result's"), Selection::Kind::eye,
     make<ComparedEyesTile>, "", false, true},
    {"compared_curves", QT_TRANSLATE_NOOP("TileKinds", "Lay the spectrum %1 over the other result's"),
     Selection::Kind::spectrum, make<ComparedCurvesTile>, "spectrum", false, true},
    {"compared_curves", QT_TRANSLATE_NOOP("TileKinds", "Lay the phase noise %1 over the other result's"),
     Selection::Kind::phaseNoise, make<ComparedCurvesTile>, "", false, true},
    {"compared_curves", QT_TRANSLATE_NOOP("TileKinds", "Lay the spectrum of the trend of %1 over the other result's"),
     Selection::Kind::measurement, make<ComparedCurvesTile>, "", false, true},
};

} // namespace

std::span<const TileKind> tileKinds()
{
    return kinds;
}

TileFrame *makeTile(Workbench &bench, int index, QWidget *parent)
{
    const auto &tiles = bench.document().sheets[std::size_t(bench.sheet())].tiles;
    const std::string &kind = tiles[std::size_t(index)].kind;
    const auto known =
        std::find_if(std::begin(kinds), std::end(kinds), [&](const TileKind &k) { return k.kind == kind; });
    return (known == std::end(kinds) ? kinds[0] : *known).make(bench, index, parent);
}

} // namespace fulvex
