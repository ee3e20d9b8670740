#include "formulas.h"

namespace fulvex::test {

SourcePtr made(const std::string &formula, const Channels &channels, const std::map<std::string, double> &parameters,
               const decltype(Formula::Inputs::keep) &keep)
{
    Progress progress;
    const auto channelOf = [&](const std::string &name) {
        const auto found = channels.find(name);
        return found == channels.end() ? nullptr : found->second;
    };
    return Formula::parse(formula).evaluate({channelOf, parameters, {}, keep, {}}, progress);
}

std::vector<double> madeOf(const std::string &formula, std::vector<double> values, double interval)
{
    return allOf(made(formula, {{"x", makeMemorySource(std::move(values), interval)}}, {{"fc", 0.1}, {"k", 3}}));
}

std::vector<double> allOf(const SourcePtr &source)
{
    std::vector<double> values(std::size_t(source->axis().count));
    source->read(0, values);
    return values;
}

} // namespace fulvex::test
