#include "shipped_names.h"

#include <algorithm>

namespace fulvex {

std::vector<std::string> shippedNames(const std::filesystem::path &folder, std::string_view ending)
{
    std::vector<std::string> names;
    std::error_code failure;
    for (std::filesystem::directory_iterator one(folder, failure), end; !failure && one != end;
         one.increment(failure)) {
        const std::string name = one->path().filename().string();
        if (name.ends_with(ending)) names.push_back(name.substr(0, name.size() - ending.size()));
    }
    std::sort(names.begin(), names.end());
    return names;
}

} // namespace fulvex
