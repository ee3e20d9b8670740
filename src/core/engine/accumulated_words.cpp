#include "accumulated_words.h"

#include <algorithm>
#include <map>

namespace fulvex {

Provenance sharedBy(const std::vector<const Provenance *> &some)
{
    constexpr const char *own = "of each capture its own";
    Provenance shared;
    std::map<std::string, std::size_t> times;
    for (const Provenance *one : some) {
        for (const auto &[what, how] : *one) {
            if (++times[what] == 1) {
                shared.emplace_back(what, how);
                continue;
            }
            auto &known = std::find_if(shared.begin(), shared.end(), [&](const auto &fact) {
                              return fact.first == what;
                          })->second;
            if (known != how) known = own;
        }
    }
    for (auto &[what, how] : shared)
        if (times[what] < some.size()) how = own;
    return shared;
}

void sayTogether(Provenance &provenance, std::string captures)
{
    std::erase_if(provenance, [](const auto &fact) { return fact.first == "captures"; });
    provenance.emplace_back("captures", std::move(captures));
}

std::string unlike(const std::string &units)
{
    return units.find(',') == std::string::npos
               ? ""
               : "the captures give it in " + units + ": leave out those that are of something else";
}

} // namespace fulvex
