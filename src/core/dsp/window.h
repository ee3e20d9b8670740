#pragma once

#include <string>

namespace fulvex {

/// How samples are weighed before a transform. Source: F. J. Harris, "On the use of windows for harmonic analysis with
/// the discrete Fourier transform" (1978); the flat top's terms: IEEE Std 1057.
/// The one of seven terms, side lobes below -180 dB: H.-H. Albrecht, "A family of cosine-sum windows for
/// high-resolution measurements", IEEE ICASSP (2001).
enum class Window { hann, rectangular, flatTop, blackmanHarris, sevenTerms };
Window windowNamed(const std::string &word);  ///< hann for a word that names none
double windowAt(Window window, double share); ///< share 0 … 1 of its length

} // namespace fulvex
