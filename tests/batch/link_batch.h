#pragma once

#include "batch_program.h"
#include "signals.h"

#include <gtest/gtest.h>

namespace fulvex {

/// The command-line program in a folder with a link's project.
class LinkBatch : public testing::Test {
protected:
    test::Outcome run(const std::string &arguments) { return test::runBatch(folder, arguments); }
    /// Two-level data as a table, and a project over it.
    void makeLink(const std::string &name = "link.csv", std::uint64_t seed = 1)
    {
        test::DataSpec spec;
        spec.unitIntervals = 3000;
        spec.noise = 0.004;
        spec.seed = seed;
        std::string table = "t,v\n";
        const test::Data data = test::makeData(spec);
        for (std::size_t i = 0; i < data.volts.size(); ++i)
            table += std::to_string(double(i) / 10) + "," + std::to_string(data.volts[i]) + "\n";
        folder.write(name, table);
        folder.write("link.fulvex", R"({"fulvex": 1, "title": "Link",
  "captures": [{"id": "run1", "file": "link.csv"}],
  "channels": [{"id": "d", "capture": "run1", "column": 0}, {"id": "g", "formula": "d * k"}],
  "parameters": [{"id": "k", "value": 2, "min": 1, "max": 10}],
  "clocks": [{"id": "loop", "source": "d", "method": "pll", "order": 2, "bandwidth": 5e-3, "rate": null}],
  "eyes": [{"id": "eye1", "source": "d", "clock": "loop"}],
  "masks": [{"id": "mask1", "eye": "eye1", "mask": "ieee-802.3-1000base-x", "margin": 0.0}],
  "measurements": [{"id": "tr", "quantity": "rise_time", "source": "d", "limit": {"min": null, "max": 1.0}},
                   {"id": "pp", "quantity": "peak_to_peak", "source": "g"},
                   {"id": "bj", "quantity": "bounded_uncorrelated_jitter", "source": "d", "clock": "loop"}]})");
    }
    test::TemporaryFolder folder;
};

} // namespace fulvex
