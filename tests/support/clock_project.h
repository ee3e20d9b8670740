#pragma once

#include "document_json.h"
#include "engine.h"
#include "signals.h"
#include "temporary_folder.h"

namespace fulvex::test {

/// Channels d (data) and k (a clock beside them) in files of plain doubles.
struct ClockProject {
    ClockProject() : engine(FULVEX_SHIPPED_MASKS) {}
    void write(const Data &data, const char *id)
    {
        folder.write(std::string(id) + ".raw", bytesOf(data.volts));
        captures += std::string(captures.empty() ? "" : ",") + R"({"id": "file_)" + id + R"(", "file": ")" + id +
                    R"(.raw", "import": {"format": "raw", "sample_type": "f64", "sample_interval": 1e-10}})";
        channels += std::string(channels.empty() ? "" : ",") + R"({"id": ")" + id + R"(", "capture": "file_)" + id +
                    R"(", "column": 0})";
    }
    Results evaluate(const std::string &more)
    {
        const Document document = parseDocument(R"({"fulvex": 1, "captures": [)" + captures + R"(], "channels": [)" +
                                                    channels + "], " + more + "}",
                                                "test");
        Progress progress;
        return engine.evaluate(document, folder.path(), {}, progress);
    }
    TemporaryFolder folder;
    Engine engine;
    std::string captures, channels;
};

inline DataSpec dataSpec(std::uint64_t seed)
{
    DataSpec spec;
    spec.samplesPerUi = 11.3;
    spec.unitIntervals = 20000;
    spec.randomJitter = 0.01;
    spec.noise = 0.008;
    spec.seed = seed;
    return spec;
}

inline const Row &rowOf(const Results &results, const std::string &id)
{
    return *findEntry(results.rows, id);
}

} // namespace fulvex::test
