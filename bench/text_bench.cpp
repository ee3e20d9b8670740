// Reading a text table: fulvex-bench-text FILE makes FILE (time and two channels, 2 million rows) where it is missing,
// reads it, and prints seconds, bytes, and a sum over all bits of all values, which the NumPy twin must give too.

#include "capture_reader.h"

#include <bit>
#include <charconv>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>

using namespace fulvex;

namespace {

void makeTable(const std::string &file)
{
    if (std::filesystem::exists(file)) return;
    std::string text = "time,p,n\n";
    std::uint64_t state = 1;
    const auto number = [&](double value, char after) {
        char digits[32];
        const auto end = std::to_chars(digits, digits + sizeof digits, value, std::chars_format::scientific, 8).ptr;
        text.append(digits, end);
        text += after;
    };
    for (int row = 0; row < 2000000; ++row) {
        state = state * 6364136223846793005u + 1442695040888963407u;
        number(row * 1.25e-10, ',');
        number(std::sin(row * 0.01) + double(state >> 40) * 1e-9, ',');
        number(std::cos(row * 0.01), '\n');
    }
    std::ofstream(file, std::ios::binary) << text;
}

} // namespace

int main(int argc, char **argv)
{
    const std::string file = argc > 1 ? argv[1] : "table.csv";
    makeTable(file);
    Progress progress;
    double best = 1e9;
    std::uint64_t sum = 0;
    for (int run = 0; run < 3; ++run) {
        const auto start = std::chrono::steady_clock::now();
        const Capture capture = readCapture(file, {}, progress);
        best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
        sum = 0;
        std::vector<double> values(std::size_t(capture.axis.count));
        for (const Waveform &column : capture.columns) {
            column.read(0, values);
            for (const double v : values) sum += std::bit_cast<std::uint64_t>(v);
        }
    }
    std::printf("%.4f %ju %ju\n", best, std::uintmax_t(std::filesystem::file_size(file)), std::uintmax_t(sum));
}
