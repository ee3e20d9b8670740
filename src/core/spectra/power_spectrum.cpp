#include "power_spectrum.h"

#include "parallel.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

void put(std::vector<double> &sums, std::size_t line, double value, bool highest)
{
    sums[line] = highest ? std::max(sums[line], value) : sums[line] + value;
}

} // namespace

PowerSpectrum powerSpectrum(const SampleSource &source, SampleRange range, const SpectrumRule &rule, Progress &progress)
{
    const Segments segments(range, rule);
    PowerSpectrum spectrum;
    spectrum.window = rule.window;
    spectrum.highest = rule.highest;
    spectrum.step = 1 / (source.axis().interval * double(rule.length));
    spectrum.noiseBandwidth = windowNoiseBandwidth(rule.window);
    spectrum.share = segments.share();
    if (segments.count() == 0) return spectrum;
    // Parts by the range alone, each one after the other: the same bits on any number of cores.
    const auto parts = std::int64_t(std::clamp<std::size_t>((std::size_t(1) << 23) / rule.length, 1, 16));
    const std::int64_t each = (segments.count() + parts - 1) / parts;
    spectrum.parts = inChunks<PowerSpectrum::Part>(
        {0, segments.count()}, each, progress, [&](SampleRange mine, PowerSpectrum::Part &part) {
            FourierBuffer buffer({}, segments.length());
            for (std::int64_t k = mine.first; k < mine.last; ++k) {
                progress.advance(0);
                if (!segments.transform(source, k, buffer)) {
                    ++part.leftOut;
                    continue;
                }
                part.sums.resize(segments.lines());
                const auto *lines = buffer.lines();
                for (std::size_t line = 0; line < segments.lines(); ++line)
                    put(part.sums, line, std::norm(lines[line]), rule.highest);
                ++part.segments;
            }
            source.release(segments.samples(mine));
            for (std::size_t line = 0; line < part.sums.size(); ++line)
                part.sums[line] *= segments.densityScale(line, source.axis().interval);
        });
    spectrum.density = spectrum.densityWithout(spectrum.parts.size());
    for (const PowerSpectrum::Part &part : spectrum.parts) {
        spectrum.segments += part.segments;
        spectrum.leftOut += part.leftOut;
    }
    return spectrum;
}

std::vector<double> PowerSpectrum::densityWithout(std::size_t without) const
{
    std::vector<double> sums;
    std::int64_t count = 0;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (i == without || parts[i].segments == 0) continue;
        sums.resize(parts[i].sums.size());
        for (std::size_t k = 0; k < sums.size(); ++k) put(sums, k, parts[i].sums[k], highest);
        count += parts[i].segments;
    }
    if (!highest) {
        for (double &one : sums) one /= double(count);
    }
    return sums;
}

PowerSpectrum PowerSpectrum::upTo(std::size_t lines) const
{
    PowerSpectrum some;
    some.window = window;
    some.highest = highest;
    some.step = step;
    some.noiseBandwidth = noiseBandwidth;
    some.segments = segments;
    some.leftOut = leftOut;
    some.share = share;
    some.density.assign(density.begin(), density.begin() + std::ptrdiff_t(std::min(lines, density.size())));
    return some;
}

double PowerSpectrum::power(std::size_t first, std::size_t last) const
{
    double sum = 0;
    for (std::size_t k = first; k <= last && k < density.size(); ++k) sum += density[k];
    return sum * step;
}

PowerSpectrum PowerSpectrum::merged(std::span<const PowerSpectrum *const> records)
{
    PowerSpectrum all;
    for (const PowerSpectrum *record : records) {
        if (record->segments == 0) continue;
        const bool first = all.segments == 0;
        const bool alike = record->step == all.step && record->window == all.window && record->highest == all.highest &&
                           record->density.size() == all.density.size();
        if (!first && !alike) return {};
        if (first) {
            all = *record;
            all.parts.resize(1);
            all.parts[0] = {0, 0, std::vector<double>(all.density.size())};
        } else {
            all.segments += record->segments;
            all.leftOut += record->leftOut;
            all.share = std::min(all.share, record->share);
        }
        Part &part = all.parts[0];
        part.segments += record->segments;
        part.leftOut += record->leftOut;
        for (std::size_t line = 0; line < part.sums.size(); ++line)
            put(part.sums, line, record->density[line] * (record->highest ? 1 : double(record->segments)),
                record->highest);
    }
    if (all.segments > 0) all.density = all.densityWithout(all.parts.size());
    return all;
}

} // namespace fulvex
