// Whatever a file holds and however it is asked to be read, that gives a capture or an Error: no crash, no hang, no
// memory out of proportion.

#include "capture_reader.h"
#include "error.h"

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <fuzzer/FuzzedDataProvider.h>
#include <unistd.h>

using namespace fulvex;

/// How somebody may have filled in the import page: from the end of the input, so that its beginning is the file.
static ImportOptions optionsOf(FuzzedDataProvider &any)
{
    ImportOptions options;
    const auto maybe = [&](auto &option, auto value) {
        if (any.ConsumeBool()) option = value();
    };
    const auto number = [&] {
        static constexpr double some[] = {0, 1, -1, 1e-9, 1e-300, 1e300, 1e20, -1e-15, 5e-324, 1.7e9};
        return any.ConsumeBool() ? any.PickValueInArray(some) : any.ConsumeFloatingPoint<double>();
    };
    const auto column = [&]() -> ImportOptions::Column {
        if (any.ConsumeBool()) return any.ConsumeIntegralInRange<int>(-2, 9);
        return any.ConsumeBool() ? std::string("time") : any.ConsumeRandomLengthString(8);
    };
    maybe(options.sampleInterval, number);
    maybe(options.start, number);
    maybe(options.timeColumn, [&]() -> std::optional<ImportOptions::Column> {
        if (any.ConsumeBool()) return std::nullopt;
        return column();
    });
    maybe(options.separator, [&] { return any.PickValueInArray({',', ';', '\t', ' ', '.', '1', '"', '\n', '\0'}); });
    maybe(options.decimal, [&] { return any.PickValueInArray({'.', ',', ';', '0', '\n'}); });
    while (any.ConsumeBool() && options.datasets.size() < 4) {
        static const std::string names[] = {"a", "b", "/a", "x/y", "arr_0", ""};
        options.datasets.push_back(any.ConsumeBool() ? any.PickValueInArray(names) : any.ConsumeRandomLengthString(8));
    }
    maybe(options.sampleType, [&] { return SampleType(any.ConsumeIntegralInRange<int>(0, int(SampleType::f64))); });
    maybe(options.bigEndian, [&] { return any.ConsumeBool(); });
    maybe(options.headerBytes, [&] { return any.ConsumeIntegral<std::int64_t>(); });
    maybe(options.interleave, [&] { return any.ConsumeIntegralInRange<int>(-1, 100000); });
    return options;
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t *bytes, std::size_t size)
{
    static const std::string base = "/dev/shm/fulvex-fuzz-" + std::to_string(getpid());
    std::string path = base + ".in";
    if (std::string(FULVEX_FORMAT) == "sigmf") { // the metadata is what is read; samples lie beside it
        path = base + ".sigmf-meta";
        static const bool made = std::ofstream(base + ".sigmf-data") << std::string(1000, 'x') ? true : false;
        if (!made) std::abort();
    }
    ImportOptions options;
    if (size > 0 && bytes[size - 1] % 2) {
        FuzzedDataProvider any(bytes, size);
        (void)any.ConsumeBool();
        options = optionsOf(any);
        size = any.remaining_bytes();
    }
    options.format = FULVEX_FORMAT;
    std::ofstream(path, std::ios::binary).write(reinterpret_cast<const char *>(bytes), std::streamsize(size));
    static const bool cleaned = std::atexit([] {
        for (const char *ending : {".in", ".sigmf-meta", ".sigmf-data"}) ::unlink((base + ending).c_str());
    });
    (void)cleaned;
    Progress progress;
    try {
        const Capture capture = readCapture(path, options, progress);
        if (capture.columns.empty() || capture.axis.count < 1) std::abort();
        for (const Waveform &column : capture.columns) { // all that is promised can be read
            double ends[2];
            column.read(0, std::span(ends, 1));
            column.read(column.count - 1, std::span(ends + 1, 1));
            if (std::isinf(ends[0]) || std::isinf(ends[1])) std::abort();
        }
    } catch (const Error &) {
    }
    return 0;
}
