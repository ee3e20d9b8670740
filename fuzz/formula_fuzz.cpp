// A formula as text, with own functions behind it, a line each: parsed, its unit found, and what it makes of a short
// record read. Whatever is wrong must be an Error.

#include "error.h"
#include "formula.h"

#include <cmath>
#include <sstream>

using namespace fulvex;

namespace {

std::vector<double> samples(double turn)
{
    std::vector<double> values;
    for (int i = 0; i < 700; ++i) values.push_back(i % 97 == 5 ? NAN : std::sin(turn * i) + (i > 300 ? 1e6 : 0));
    return values;
}

const SourcePtr a = makeMemorySource(samples(0.3), 1e-9), b = makeMemorySource(samples(1.7), 1.3e-9, 5e-8);

std::optional<FormulaMoments> momentsOf(const std::string &name)
{
    if (name != "row") return {};
    return FormulaMoments{a->axis(), a, {3, 90.5, 90.5, 400}, {1, 2, 3, 4}};
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const unsigned char *bytes, std::size_t count)
{
    if (count > 2000) return 0;
    std::istringstream lines(std::string(reinterpret_cast<const char *>(bytes), count));
    std::string formula, body;
    std::getline(lines, formula);
    Formula::OwnFunctions own;
    for (int i = 0; i < 3 && std::getline(lines, body); ++i) own["f" + std::to_string(i)] = {{"p", "q"}, body};
    own["its"] = {{"p", "q"}, {}, 1, "A"}; // a program of the user's, which gives what it is given
    try {
        (void)Formula::renamed(formula, "a", "longer");
        const Formula parsed = Formula::parse(formula, own);
        (void)parsed.typeOf([](const std::string &name) -> Formula::Type {
            if (name == "k") return {};
            return {.unit = Unit(name == "a" ? "V" : name == "b" ? "A" : ""), .assumed = name == "c", .changes = true};
        });
        Progress progress;
        const SourcePtr made = parsed.evaluate(
            {[](const std::string &name) { return name == "a"   ? a
                                                  : name == "b" ? b
                                                                : nullptr; },
             {{"k", 3}},
             {{"region", {1e-7, 2e-7}}},
             {},
             momentsOf,
             [](const std::string &, const std::vector<Formula> &, const std::vector<SourcePtr> &sources,
                const std::vector<double> &) { return sources.at(0); }},
            progress);
        if (made->axis().count > 1'000'000) return 0; // a thousand times the rate
        std::vector<double> all(std::size_t(made->axis().count)), part(std::min<std::size_t>(all.size(), 33));
        made->read(0, all);
        const std::size_t from = (all.size() - part.size()) / 2;
        made->read(std::int64_t(from), part);
        for (std::size_t i = 0; i < part.size(); ++i) {
            const bool same = part[i] == all[from + i] || (part[i] != part[i] && all[from + i] != all[from + i]);
            if (!same || std::isinf(part[i])) __builtin_trap(); // blocks give the same, and nothing that is not finite
        }
    } catch (const Error &) {
    }
    return 0;
}
