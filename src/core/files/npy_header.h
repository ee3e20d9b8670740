#pragma once

#include <cstdint>
#include <string>

namespace fulvex {

/// The header of a .npy file in C order, version 1: `descr` such as "<i2"; of one dimension where there is one channel.
/// A multiple of 64 bytes long, as the format asks for.
std::string npyHeader(const std::string &descr, std::int64_t samples, std::int64_t channels = 1);

} // namespace fulvex
