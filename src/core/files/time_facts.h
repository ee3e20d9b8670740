#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fulvex {

/// What a plainly named number says about a capture's time axis.
struct TimeFact {
    enum class Kind { interval, start } kind;
    double value; ///< s
};

/// "sample interval", "dt", "sample_rate", "start time" and their like, in any case and with any separators; `value` is
/// in s or Hz, or in the unit that the name carries in brackets or that is given. Nothing where the name means
/// something else, or an interval is not above 0.
std::optional<TimeFact> timeFact(std::string_view name, double value, std::string_view unit = {});

/// Whether a column's name says that it is time: t, x, time …
bool namesTime(std::string_view name);
/// A running number is no time, though it rises evenly.
bool namesIndex(std::string_view name);
/// Whether each step is positive and within a tenth of the mean: what a column of times looks like, and no signal.
bool risesEvenly(const std::vector<double> &values);

/// The factor of a unit's prefix and the plain unit: "mV" gives 0.001 and "V"; what is not known, itself.
std::pair<double, std::string> plainUnit(std::string_view unit);

/// "Time (us)", "CH1 [V]" or "time/s" into name and unit; `unit` stays as it was where there is none.
void splitNameAndUnit(std::string_view text, std::string &name, std::string &unit);
/// Whether it is a unit of time, voltage, current or the like with an SI prefix, bare or in brackets.
bool isUnit(std::string_view text);
/// Without the brackets around it.
std::string_view withoutBrackets(std::string_view text);

} // namespace fulvex
