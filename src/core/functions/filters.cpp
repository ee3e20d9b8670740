#include "convolution.h"
#include "error.h"
#include "functions.h"
#include "number_text.h"
#include "recursive_filter.h"
#include "windowed_taps.h"

#include <cmath>

namespace fulvex {

namespace {

/// A corner as a share of the sample rate.
double cornerOf(const FormulaOver &of, std::size_t constant)
{
    const double rate = 1 / of.sources[0]->axis().interval, corner = of.constants[constant];
    if (!(corner > 1e-6 * rate && corner < rate / 2))
        throw Error("",
                    "a corner at " + quantityText(corner, "Hz", {}, 4) + " of samples at " +
                        quantityText(rate, "Hz", {}, 4),
                    "put it between a millionth and a half of the sample rate");
    return corner / rate;
}

SourcePtr filterOf(const FormulaOver &of, FilterPass pass)
{
    const SourcePtr &source = of.sources[0];
    const bool band = pass == FilterPass::band || pass == FilterPass::stop;
    const double low = cornerOf(of, 0), high = band ? cornerOf(of, 1) : 0, order = of.constants.back();
    if (band && !(low < high))
        throw Error("", "a band whose lower corner does not lie below its upper one", "name the lower one first");
    if (order != std::round(order) || !(order >= 1 && order <= FilterCascade::mostOrder))
        throw Error("", "a filter's order is a whole number from 1 to " + std::to_string(FilterCascade::mostOrder),
                    "4 falls by 24 dB an octave");
    const bool zeroPhase = of.words[1] == "zerophase";
    if (of.words[0] == "fir") {
        const double transition = std::min({low, band ? high - low : low, 0.5 - (band ? high : low)}) / order;
        constexpr double most = 1 << 18;
        if (!(tapsFor(transition) <= most))
            throw Error("", "a filter of more than " + fixedText(most, 0) + " taps",
                        "take a lower order, a recursive filter, or a resampled channel");
        std::vector<double> taps = windowedTaps(pass, low, high, transition);
        const auto ahead = std::int64_t(zeroPhase ? taps.size() / 2 : 0);
        return convolved(source, std::move(taps), ahead);
    }
    const auto kind = of.words[0] == "bessel" ? FilterCascade::Kind::bessel : FilterCascade::Kind::butterworth;
    const FilterCascade filter = FilterCascade::made({kind, pass, int(order), low, high, zeroPhase});
    const SourcePtr forward = recursivelyFiltered(source, filter, of);
    return zeroPhase ? filteredBackward(forward, filter, of) : forward;
}

} // namespace

SourcePtr lowpassOf(const FormulaOver &of)
{
    return filterOf(of, FilterPass::low);
}

SourcePtr highpassOf(const FormulaOver &of)
{
    return filterOf(of, FilterPass::high);
}

SourcePtr bandpassOf(const FormulaOver &of)
{
    return filterOf(of, FilterPass::band);
}

SourcePtr bandstopOf(const FormulaOver &of)
{
    return filterOf(of, FilterPass::stop);
}

SourcePtr equaliseOf(const FormulaOver &of)
{
    const double zero = cornerOf(of, 0), pole = cornerOf(of, 1), second = cornerOf(of, 2);
    return recursivelyFiltered(of.sources[0], FilterCascade::leadLag(zero, pole, second), of);
}

} // namespace fulvex
