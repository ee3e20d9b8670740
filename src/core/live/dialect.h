#pragma once

#include "sample_type.h"

#include <filesystem>
#include <string>
#include <vector>

namespace fulvex {

/// What an instrument is told and asked, in its words: a JSON file that people read and write, see docs/live.md.
struct Dialect {
    std::string id, title;
    std::string identity;             ///< asks who it is
    std::vector<std::string> begin;   ///< told once a connection
    std::vector<std::string> acquire; ///< told to take one capture
    std::string done;                 ///< asked then; answered with 1 once it is taken
    std::vector<std::string> abort;   ///< told when it is not waited for any more
    std::string error;                ///< asks whether it took offence; empty: nothing does. 0 at its begin: it did not
    std::vector<std::string> channels; ///< their names, which stand for {channel}
    /// A question and what its answer holds, commas between: samples, sample_interval (s), start (s), scale (the
    /// channel's unit a count), offset, skip.
    struct Description {
        std::string ask;
        std::vector<std::string> fields;
    };
    std::vector<Description> describe; ///< asked of each channel
    std::string read;                  ///< asks for a channel's samples, a block of definite length
    SampleType samples = SampleType::i16;
    bool bigEndian = false;
    std::string unit = "V";
    int patience = 5000; ///< ms, for an answer
};

/// Throws Error: what is wrong, and where in the file.
Dialect parseDialect(const std::string &text, const std::string &where);
/// A shipped one by its id, or a file. `shipped`: the folder of those.
Dialect findDialect(const std::string &idOrFile, const std::filesystem::path &shipped,
                    const std::filesystem::path &base);
/// Ids of those that are shipped.
std::vector<std::string> shippedDialects(const std::filesystem::path &shipped);

} // namespace fulvex
