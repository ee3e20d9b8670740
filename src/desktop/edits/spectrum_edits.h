#pragma once

#include "workbench.h"

#include <string>

namespace fulvex {

/// Spectra, each with a tile. What is made is selected; its id comes back, or an empty one where the document did not
/// take it.

/// Of a channel, with a tile of it; `to`: of a transfer function the output.
std::string addSpectrum(Workbench &bench, const std::string &kind, const std::string &channel,
                        const std::string &to = {});
/// A transfer function with coherence from a channel to a row's trend, which becomes a channel for it.
std::string addTransferToRow(Workbench &bench, const std::string &channel, const std::string &row);
/// The spectrum of a row's values over time.
std::string addSpectrumOfRow(Workbench &bench, const std::string &row);

} // namespace fulvex
