#pragma once

#include "waveform.h"

#include <memory>
#include <string>
#include <vector>

namespace fulvex {

/// An array of numbers as it lies in bytes: of any number of dimensions, real or complex.
struct ArrayShape {
    SampleType type = SampleType::f64;
    bool swapped = false;
    std::size_t offset = 0;            ///< bytes before the first element
    std::vector<std::int64_t> sizes;   ///< elements along each dimension; none: one number
    std::vector<std::int64_t> strides; ///< bytes from one element to the next along each
    std::int64_t imaginary = 0;        ///< bytes from an element's real part to its imaginary one; 0: it has none

    /// Strides of elements that follow each other without space, the last dimension fastest, or the first.
    void packed(std::int64_t elementBytes, bool firstIsFastest);
    double elements() const;          ///< may be beyond any integer
    std::size_t samplesAlong() const; ///< the dimension that runs along time: the longest, of equal ones the first
    std::int64_t samples() const;
    std::int64_t columns() const; ///< that it is read as; at most mostColumns + 1
    static constexpr std::int64_t mostColumns = 4096;
};

/// Its columns, of which each holds the samples along the longest dimension: one for each index of the others, named
/// "[i]" or "[i,j]" where there are several, and of complex numbers two, "real" and "imaginary" behind that. All of the
/// array must lie within `bytes`, which `owner` keeps.
std::vector<Waveform> columnsOf(const ArrayShape &shape, const std::shared_ptr<const void> &owner,
                                std::span<const std::byte> bytes);
/// The same in a file, which they stay mapped from.
std::vector<Waveform> columnsOf(const ArrayShape &shape, const std::shared_ptr<const MappedFile> &file);

} // namespace fulvex
