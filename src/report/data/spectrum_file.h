#pragma once

#include "results.h"

#include <string>

namespace fulvex {

/// A spectrum's curve for other programs to go on with, as CSV with a line of headings: of a spectrum frequency (Hz),
/// density (unit² / Hz) and a line's rms (unit); of a transfer function frequency, magnitude (dB), phase (deg) and
/// coherence; of an autocorrelation lag (s) and coefficient. Empty where there is none, and for a spectrogram.
std::string spectrumCsv(const SpectrumResult &result);

} // namespace fulvex
