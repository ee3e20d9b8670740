#include "painted_from.h"

#include <utility>

namespace fulvex {

bool PaintedFrom::changes(const Workbench &bench, With with)
{
    const Document &document = bench.document();
    Inputs now{{}, document.channels, document.regions, document.markers, document.notes, document.sheets};
    now.results.push_back(bench.results() ? &m_inputs : nullptr); // whether there are any
    if (const Results *results = bench.results()) {
        for (const ChannelResult &channel : results->channels) {
            now.results.push_back(channel.source.get());
            now.results.push_back(channel.pyramid.get());
        }
        if (bench.selection().kind == Selection::Kind::measurement) {
            const Row *row = findEntry(results->rows, bench.selection().id);
            now.results.push_back(row ? row->measured.get() : nullptr);
        }
        if (with == With::clocksAndMasks) {
            for (const ClockResult &clock : results->clocks) {
                now.results.push_back(clock.clock.get());
                now.results.push_back(clock.samples.get());
            }
            for (const Row &row : results->rows)
                if (row.quantity == "bit_errors") now.results.push_back(row.measured.get());
            for (const MaskRun &mask : results->masks) now.results.push_back(mask.result.get());
        }
    }
    return std::exchange(m_inputs, now) != now;
}

} // namespace fulvex
