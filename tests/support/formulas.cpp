#include "formulas.h"

#include "error.h"

#include <gtest/gtest.h>

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

void expectRefused(std::initializer_list<Refused> formulas, const std::function<void(const std::string &)> &make)
{
    for (const Refused &refused : formulas) {
        try {
            make(refused.formula);
            ADD_FAILURE() << refused.formula << " is taken";
        } catch (const Error &error) {
            EXPECT_EQ(error.where(), refused.where) << refused.formula << ": " << error.what();
            EXPECT_NE(error.found().find(refused.says), std::string::npos) << refused.formula << ": " << error.found();
            EXPECT_FALSE(error.remedy().empty()) << refused.formula;
        }
    }
}

} // namespace fulvex::test
