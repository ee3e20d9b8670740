#pragma once

#include <cstddef>
#include <string>
#include <vector>

namespace fulvex {

/// How samples are weighed before a transform. Source: F. J. Harris, "On the use of windows for harmonic analysis with
/// the discrete Fourier transform" (1978); the flat top's terms: IEEE Std 1057.
/// The one of seven terms, side lobes below -180 dB: H.-H. Albrecht, "A family of cosine-sum windows for
/// high-resolution measurements", IEEE ICASSP (2001).
enum class Window { hann, rectangular, flatTop, blackmanHarris, sevenTerms };
Window windowNamed(const std::string &word);  ///< hann for a word that names none
double windowAt(Window window, double share); ///< share 0 … 1 of its length
/// The weights of so many samples, each at the middle of its share of the length. On all cores.
std::vector<double> windowWeights(Window window, std::size_t length);
/// What a long one makes of a sine so many lines beside a line, relative to one that lies on it: its transform, real
/// since it is even about its middle.
double windowResponse(Window window, double lines);
double windowNoiseBandwidth(Window window); ///< lines: what it adds up of white noise
/// As how many independent segments each of many counts that overlap by half. Source: Welch (1967), of the variance of
/// averaged periodograms.
double windowIndependence(Window window);
int windowLobe(Window window); ///< lines to either side that a sine's main lobe reaches

} // namespace fulvex
