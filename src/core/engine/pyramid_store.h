#pragma once

#include "pyramid.h"

#include <optional>
#include <string>

namespace fulvex {

/// Pyramids of long records in the user's cache folder, by the key of what they were built from: opening a capture
/// again need not read all of it. Only convenience: a folder that cannot be used, or a file that is not whole, is
/// passed over.
class PyramidStore {
public:
    static constexpr std::int64_t leastSamples = 1 << 24; ///< shorter records are read faster than looked up
    static std::optional<Pyramid> find(const std::string &key, std::int64_t samples);
    static void keep(const std::string &key, const Pyramid &pyramid);
};

} // namespace fulvex
