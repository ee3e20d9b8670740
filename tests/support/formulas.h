#pragma once

#include "formula.h"

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

} // namespace fulvex::test
