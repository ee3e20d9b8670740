#pragma once

#include "sample_source.h"
#include "sample_type.h"

#include <cstdint>
#include <string>

namespace fulvex::bench {

/// Makes the legs of a data link as FILE-p.npy and FILE-n.npy, 16-bit integers, jitter of 0.02 UI rms and noise, when
/// they are not there yet; its symbols take so many levels, evenly. Ends the program where the name is an option.
void makeLinkRecord(const std::string &file, std::int64_t samples, int symbols = 2, int samplesPerUi = 4);

/// p - n of such a record, mapped.
SourcePtr openLinkRecord(const std::string &file);

/// What a link is stored as: the same signal, written from such a record as FILE-KIND-*.npy.
struct LinkKind {
    const char *name;
    SampleType type;
    bool legs;   ///< two, that are subtracted; else their difference alone
    double gain; ///< of the record's codes; of a difference of floats 2e-5
};
constexpr LinkKind linkKinds[] = {{"wide", SampleType::i16, true, 5}, // whose difference leaves 16 bits
                                  {"one", SampleType::i16, false, 2},
                                  {"bytes", SampleType::i8, false, 0.009},
                                  {"float", SampleType::f32, false, 2e-5},
                                  {"floats", SampleType::f32, true, 2e-5}};

/// The link of a kind, mapped.
SourcePtr openLinkKind(const std::string &file, const LinkKind &kind);

} // namespace fulvex::bench
