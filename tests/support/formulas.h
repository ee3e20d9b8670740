#pragma once

#include "formula.h"

#include <functional>
#include <initializer_list>
#include <map>
#include <string>
#include <vector>

namespace fulvex::test {

using Channels = std::map<std::string, SourcePtr>;

/// What a formula makes of channels and parameters. Throws as it does.
SourcePtr made(const std::string &formula, const Channels &channels,
               const std::map<std::string, double> &parameters = {}, const decltype(Formula::Inputs::keep) &keep = {});

/// The same of samples, as channel "x", all of them.
std::vector<double> madeOf(const std::string &formula, std::vector<double> values, double interval = 1);

std::vector<double> allOf(const SourcePtr &source);

/// Formulas that cannot be made, where they go wrong and what is said of it.
struct Refused {
    const char *formula, *where, *says;
};
/// Each is an error there, that says so and what would mend it, when `make` makes it.
void expectRefused(std::initializer_list<Refused> formulas, const std::function<void(const std::string &)> &make);

} // namespace fulvex::test
