#pragma once

#include "npy_header.h"
#include "signals.h"

#include <filesystem>
#include <fstream>
#include <string>
#include <vector>

namespace fulvex::test {

/// An NPY file of one column of doubles.
inline std::string npyOf(const std::vector<double> &values)
{
    return npyHeader("<f8", std::int64_t(values.size())) + test::bytesOf(values);
}

inline void writeNpy(const std::filesystem::path &path, const std::vector<double> &values)
{
    std::ofstream(path, std::ios::binary) << npyOf(values);
}

} // namespace fulvex::test
