#include "raw_guess.h"

#include "mapped_columns.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fulvex {

namespace {

constexpr std::int64_t samplesLooked = 1 << 14; ///< samples a channel

/// Letters and line ends from the first byte on, and zeros behind them; 0 where that is shorter than a word.
std::size_t headerOf(std::span<const std::byte> bytes)
{
    constexpr std::size_t most = 1 << 16;
    std::size_t end = 0;
    const auto at = [&](std::size_t i) { return std::uint8_t(bytes[i]); };
    const std::size_t limit = std::min(bytes.size(), most);
    while (end < limit && ((at(end) >= 32 && at(end) < 127) || at(end) == '\t' || at(end) == '\n' || at(end) == '\r'))
        ++end;
    std::size_t zeros = end;
    while (zeros < limit && at(zeros) == 0) ++zeros;
    if (end < 8) return 0;
    if (zeros == end) { // what follows the last line may be samples that happen to be letters
        while (end > 0 && at(end - 1) != '\n') --end;
        return end;
    }
    // Zeros fill a header up to a round length; those behind it are samples.
    const std::size_t round = (end + 63) / 64 * 64;
    return std::min(zeros, std::max(round, zeros / 64 * 64));
}

/// Of all channels, the roughest; nothing where a reading is no signal: not finite, of absurd size, or constant.
std::optional<double> roughnessOf(const std::vector<Waveform> &columns)
{
    constexpr double absurd = 1e15;
    double roughest = 0;
    bool changes = false;
    std::vector<double> values;
    for (const Waveform &column : columns) {
        // From the middle, where a signal is under way.
        const std::int64_t count = std::min(column.count, samplesLooked), first = (column.count - count) / 2;
        values.resize(std::size_t(count));
        column.read(first, values);
        double sum = 0, differences = 0, squares = 0;
        for (const double v : values) {
            if (!(std::abs(v) < absurd)) return {};
            sum += v;
        }
        const double mean = sum / double(count);
        for (std::size_t i = 0; i < values.size(); ++i) {
            squares += (values[i] - mean) * (values[i] - mean);
            if (i > 0) differences += (values[i] - values[i - 1]) * (values[i] - values[i - 1]);
        }
        if (!(squares > 0)) continue;
        changes = true;
        roughest = std::max(roughest, differences / squares);
    }
    return changes ? std::optional(roughest) : std::nullopt;
}

} // namespace

std::vector<RawGuess> guessRaw(std::span<const std::byte> bytes, std::size_t wanted)
{
    using enum SampleType;
    struct Reading {
        SampleType type;
        bool big;
    };
    static constexpr Reading readings[] = {{i16, false}, {i8, false}, {f32, false}, {i16, true},  {u8, false},
                                           {u16, false}, {u16, true}, {i32, false}, {f64, false}, {i32, true},
                                           {f32, true},  {f64, true}, {i24, false}};
    std::vector<RawGuess> guesses;
    std::vector<double> ranks;
    const std::size_t header = headerOf(bytes);
    for (const Reading &reading : readings) {
        for (const int channels : {1, 2, 4}) {
            SampleLayout layout;
            layout.type = reading.type;
            layout.swapped = isSwapped(reading.big) && sampleSize(reading.type) > 1;
            layout.offset = header;
            layout.channels = channels;
            const std::size_t set = sampleSize(reading.type) * std::size_t(channels);
            const std::size_t left = bytes.size() - header;
            if (left < 16 * set) continue;
            layout.samples = std::int64_t(left / set);
            const auto roughness = roughnessOf(columnsIn(nullptr, bytes, layout));
            if (!roughness) continue;
            RawGuess &guess = guesses.emplace_back();
            guess.roughness = *roughness;
            guess.options.format = "raw";
            // Two narrow samples in turn read as a wide one show the second alone, which is as smooth; where both are,
            // they are what was captured. And a file is of whole samples, as a rule.
            ranks.push_back(guess.roughness * (1 + 0.5 * std::log2(double(sampleSize(reading.type)))) +
                            (left % set ? 0.5 : 0));
            guess.options.sampleType = reading.type;
            guess.options.bigEndian = reading.big;
            guess.options.headerBytes = std::int64_t(header);
            guess.options.interleave = channels;
        }
    }
    std::vector<std::size_t> order(guesses.size());
    std::iota(order.begin(), order.end(), std::size_t(0));
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return ranks[a] < ranks[b]; });
    std::vector<RawGuess> best;
    for (std::size_t i = 0; i < std::min(order.size(), wanted); ++i) best.push_back(std::move(guesses[order[i]]));
    return best;
}

} // namespace fulvex
