#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace fulvex {

/// What the files of a folder that have an ending are called without it, sorted; of a folder that is not there none.
std::vector<std::string> shippedNames(const std::filesystem::path &folder, std::string_view ending);

} // namespace fulvex
