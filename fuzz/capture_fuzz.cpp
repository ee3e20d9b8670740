// Whatever a file holds, reading it gives a capture or an Error: no crash, no hang, no memory out of proportion.

#include "capture_reader.h"
#include "error.h"

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <unistd.h>

using namespace fulvex;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t *bytes, std::size_t size)
{
    static const std::string base = "/dev/shm/fulvex-fuzz-" + std::to_string(getpid());
    std::string path = base + ".in";
    if (std::string(FULVEX_FORMAT) == "sigmf") { // the metadata is what is read; samples lie beside it
        path = base + ".sigmf-meta";
        static const bool made = std::ofstream(base + ".sigmf-data") << std::string(1000, 'x') ? true : false;
        if (!made) std::abort();
    }
    std::ofstream(path, std::ios::binary).write(reinterpret_cast<const char *>(bytes), std::streamsize(size));
    static const bool cleaned = std::atexit([] {
        for (const char *ending : {".in", ".sigmf-meta", ".sigmf-data"}) ::unlink((base + ending).c_str());
    });
    (void)cleaned;
    ImportOptions options;
    options.format = FULVEX_FORMAT;
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
