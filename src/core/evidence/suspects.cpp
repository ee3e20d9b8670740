#include "suspects.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// By what a window makes of a line it is told between the lines of a transform.
constexpr double ofStep = 0.1;

std::vector<SeenLine> allLines(const Results &results)
{
    std::vector<SeenLine> all;
    for (const BudgetResult &budget : results.budgets) {
        if (!budget.found) continue;
        for (const PeriodicLine &line : budget.found->lines)
            all.push_back({budget.id, budget.source, line.frequency, line.frequencyUncertainty,
                           quantityText(line.peakToPeak(), "s", {}, 3) + " pp"});
    }
    for (const PhaseNoiseResult &noise : results.phaseNoise) {
        if (!noise.found) continue;
        for (const PhaseNoise::Line &line : noise.found->lines) {
            const auto &pieces = noise.found->pieces;
            const auto piece = std::find_if(pieces.begin(), pieces.end(),
                                            [&](const PhaseNoise::Piece &one) { return line.offset < one.to; });
            const double step = piece == pieces.end() ? 0 : piece->power.step;
            all.push_back({noise.id, noise.source, line.offset, ofStep * step, fixedText(line.level, 1) + " dBc"});
        }
    }
    for (const SpectrumResult &spectrum : results.spectra) {
        if (!spectrum.spectrum) continue;
        for (const SpectralLine &line : spectrum.spectrum->lines)
            all.push_back({spectrum.id, spectrum.source, line.frequency, ofStep * spectrum.spectrum->power.step,
                           quantityText(line.rms(), spectrum.unit, {}, 3) + " rms"});
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const SeenLine &a, const SeenLine &b) { return a.frequency < b.frequency; });
    return all;
}

bool isSame(const SeenLine &a, const SeenLine &b)
{
    constexpr double rounding = 1e-6;
    return std::abs(a.frequency - b.frequency) <=
           std::max(3 * std::hypot(a.uncertainty, b.uncertainty), rounding * a.frequency);
}

} // namespace

std::vector<Suspect> suspects(const Results &results)
{
    std::vector<Suspect> found;
    const std::vector<SeenLine> all = allLines(results);
    std::vector<bool> taken(all.size());
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (taken[i]) continue;
        Suspect one{all[i].frequency, {all[i]}};
        // A line of each other result, of those that are near enough the nearest.
        for (std::size_t k = i + 1; k < all.size() && all[k].frequency < 1.1 * all[i].frequency; ++k) {
            if (taken[k] || !isSame(all[i], all[k])) continue;
            const bool known = std::any_of(one.seen.begin(), one.seen.end(),
                                           [&](const SeenLine &line) { return line.in == all[k].in; });
            if (known) continue;
            taken[k] = true;
            one.seen.push_back(all[k]);
        }
        const bool shared = std::any_of(one.seen.begin(), one.seen.end(),
                                        [&](const SeenLine &line) { return line.source != one.seen[0].source; });
        if (shared) found.push_back(std::move(one));
    }
    return found;
}

std::vector<SeenLine> linesElsewhere(const std::vector<Suspect> &suspects, const std::string &in, double frequency)
{
    std::vector<SeenLine> found;
    for (const Suspect &suspect : suspects) {
        const auto own = std::find_if(suspect.seen.begin(), suspect.seen.end(), [&](const SeenLine &line) {
            return line.in == in && std::abs(line.frequency - frequency) < 1e-6 * frequency;
        });
        if (own == suspect.seen.end()) continue;
        for (const SeenLine &line : suspect.seen)
            if (line.source != own->source) found.push_back(line);
    }
    return found;
}

std::string seenElsewhere(const Results &results, const std::string &in, double frequency)
{
    std::string words;
    for (const SeenLine &line : linesElsewhere(suspects(results), in, frequency))
        words += (words.empty() ? "also in " : ", in ") + line.in + ": " + line.level + " at " +
                 quantityText(line.frequency, "Hz", {}, 5);
    return words;
}

} // namespace fulvex
