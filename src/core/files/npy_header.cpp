#include "npy_header.h"

namespace fulvex {

std::string npyHeader(const std::string &descr, std::int64_t samples, std::int64_t channels)
{
    const std::string shape =
        channels == 1 ? std::to_string(samples) + "," : std::to_string(samples) + ", " + std::to_string(channels);
    std::string dictionary = "{'descr': '" + descr + "', 'fortran_order': False, 'shape': (" + shape + "), }";
    dictionary.append(63 - (10 + dictionary.size()) % 64, ' ');
    dictionary += '\n';
    std::string header("\x93NUMPY\x01\x00", 8);
    header += char(dictionary.size() & 255);
    header += char(dictionary.size() >> 8);
    return header + dictionary;
}

} // namespace fulvex
