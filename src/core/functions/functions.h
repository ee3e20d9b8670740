#pragma once

#include "formula_function.h"

namespace fulvex {

// What the table's functions over time are made by. Each gives a source on its first signal's grid, unless it says
// otherwise. Throws Error for constants that do not do.

/// (a[i + 1] - a[i - 1]) / (2 interval), exact for parabolas; at the ends and beside gaps the slope to the one
/// neighbour; a gap where there is a gap or no neighbour. Of a sine at f it is sin(2 pi f T) / (2 pi f T) of the true
/// one.
SourcePtr derivativeOf(const FormulaOver &of);

/// The sum of (a[i - 1] + a[i]) / 2 * interval from the first sample on, without those that touch a gap; exact for
/// straight lines. Scans the record for sums at fixed places, from which each block goes on.
SourcePtr integralOf(const FormulaOver &of);

/// The straight line of least squares taken away, or the mean alone; gaps left out. Scans the record.
SourcePtr detrendOf(const FormulaOver &of);

/// What was so long before: whole samples as they are, else by band-limited interpolation (SincKernel). Gaps where that
/// reaches beyond the record.
SourcePtr delayOf(const FormulaOver &of);

// Over a window of time about each sample: those that lie within half of it to either side, an odd number of them, and
// fewer at the ends. Gaps are left out and stay gaps. Error for a time that is no number, below 0, or too long.

/// The mean. Of n samples its gain at f is sin(pi f n T) / (n sin(pi f T)), its delay 0.
SourcePtr smoothOf(const FormulaOver &of);
/// The root of the mean square.
SourcePtr movingRmsOf(const FormulaOver &of);
/// The middle one by value; of an even number, at the ends and beside gaps, the mean of the middle two.
SourcePtr medianOf(const FormulaOver &of);
/// The largest or the smallest.
SourcePtr envelopeOf(const FormulaOver &of);

// Filters. What is known of the past is that the first value (and the first behind a gap) had been there for ever;
// where they look ahead as well ("zerophase"), the last is there for ever. At each corner the gain is 1 / sqrt 2. Error
// for a corner or an order that cannot be.

/// Butterworth and Bessel forward, or forward and then backward; windowed FIR forward, with its delay, or centred.
SourcePtr lowpassOf(const FormulaOver &of);
SourcePtr highpassOf(const FormulaOver &of);
SourcePtr bandpassOf(const FormulaOver &of);
SourcePtr bandstopOf(const FormulaOver &of);
/// (1 + s / zero) / ((1 + s / pole) (1 + s / pole)): gain 1 at 0.
SourcePtr equaliseOf(const FormulaOver &of);

/// Sum of c[k] a(t - k spacing), whole spacings as they are, else by band-limited interpolation. Gaps where that
/// reaches beyond the record.
SourcePtr tapsOf(const FormulaOver &of);
/// (1 + r) / 2 a(t) + (1 - r) / 2 a(t - spacing): a step that comes within a spacing of the one before is `ratio`
/// times as large as what stays.
SourcePtr emphasiseOf(const FormulaOver &of);

// On another grid.

/// At a rate: by band-limited interpolation, behind a zero-phase filter that stops from half the rate on, where that
/// is below the source's.
SourcePtr resampleOf(const FormulaOver &of);
/// At a whole multiple of the source's rate, its own samples as they are.
SourcePtr interpolateOf(const FormulaOver &of);

// Of a clock waveform, from its rising passages of the middle between its states (hysteresis 10 % of the amplitude), by
// straight lines between what is told at instants; gaps beyond the first and last passage. Error without two passages.

/// 1 / period, at the middle of each.
SourcePtr frequencyOf(const FormulaOver &of);
SourcePtr periodOf(const FormulaOver &of);
/// By how far each passage is ahead of the straight line of least squares through all, or of a frequency's (its mean
/// 0), rad.
SourcePtr phaseOf(const FormulaOver &of);

// Of a carrier at a frequency: turned back to 0 Hz and passed through a zero-phase Bessel low pass of order 4.

/// Its amplitude.
SourcePtr amOf(const FormulaOver &of);
/// How far its frequency lies above the carrier's, from the phases of the neighbouring samples, Hz.
SourcePtr fmOf(const FormulaOver &of);

/// A row's values, a straight line from the begin of each occurrence to the next, on the grid of its channel; gaps
/// before the first and behind the last. Error for a row without several.
SourcePtr trendOf(const FormulaOver &of);

/// The mean of all repeats, in the place of each: they begin at whole periods from the first sample on, at a trigger's
/// rising passages of its middle, at a clock's unit intervals or a row's occurrences; of these every so many. Where
/// repeats have unlike lengths, of those that reach as far. Gaps before the first, and behind the last as far as the
/// longest. Noise becomes less by the root of their number. Error for fewer than two repeats, or such of more than 4
/// million samples.
SourcePtr averageOf(const FormulaOver &of);

} // namespace fulvex
