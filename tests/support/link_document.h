#pragma once

#include "document_json.h"

namespace fulvex::test {

/// A link of two legs, a clock, an eye with a mask, rows of each.
inline Document linkDocument()
{
    return parseDocument(R"json({"fulvex": 1,
        "captures": [{"id": "r", "file": "a.npy", "import": {"sample_interval": 1e-10}}],
        "channels": [{"id": "p", "capture": "r", "column": 0}, {"id": "n", "capture": "r", "column": 1},
                     {"id": "link", "formula": "lowpass(p - n, fc)"}, {"id": "other", "capture": "r", "column": 2}],
        "parameters": [{"id": "fc", "value": 2e7, "unit": "Hz"}],
        "regions": [{"id": "start_up", "start": 1e-6, "stop": 2e-6}],
        "levels": [{"id": "fine", "kind": "percent", "low": 20, "mid": 50, "high": 80, "states": "histogram"}],
        "clocks": [{"id": "loop", "source": "link", "method": "pll", "order": 2, "bandwidth": 1.5e6}],
        "eyes": [{"id": "eye", "source": "link", "clock": "loop"}],
        "masks": [{"id": "mask", "eye": "eye", "mask": "ieee-802.3-1000base-x"}],
        "measurements": [{"id": "tr", "quantity": "rise_time", "source": "link", "levels": "fine"},
            {"id": "tie", "quantity": "time_interval_error", "source": "link", "clock": "loop"},
            {"id": "eh", "quantity": "eye_height", "eye": "eye"},
            {"id": "pp", "quantity": "peak_to_peak", "source": "other", "region": "start_up"}]})json",
                         "test");
}

} // namespace fulvex::test
