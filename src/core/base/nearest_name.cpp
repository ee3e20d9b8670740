#include "nearest_name.h"

#include "word_list.h"

#include <algorithm>
#include <vector>

namespace fulvex {

static std::size_t distance(const std::string &a, const std::string &b)
{
    std::vector<std::size_t> row(b.size() + 1);
    for (std::size_t j = 0; j < row.size(); ++j) row[j] = j;
    for (std::size_t i = 1; i <= a.size(); ++i) {
        std::size_t diagonal = row[0]++;
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const std::size_t changed = diagonal + (a[i - 1] != b[j - 1]);
            diagonal = row[j];
            row[j] = std::min({row[j] + 1, row[j - 1] + 1, changed});
        }
    }
    return row.back();
}

std::string remedyForName(const std::string &name, std::span<const std::string> known)
{
    const std::string *nearest = nullptr;
    std::size_t off = std::min<std::size_t>(4, (name.size() + 1) / 2); // that would be too far
    for (const std::string &one : known)
        if (const std::size_t by = distance(one, name); by < off) nearest = &one, off = by;
    return nearest ? "did you mean \"" + *nearest + "\"?" : "there are: " + listed(known);
}

} // namespace fulvex
