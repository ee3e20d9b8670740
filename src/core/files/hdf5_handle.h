#pragma once

#include <hdf5.h>
#include <mutex>

namespace fulvex {

/// An id of the HDF5 library that closes itself.
class Hdf5Handle {
public:
    Hdf5Handle(hid_t id, herr_t (*close)(hid_t)) : m_id(id), m_close(close) {}
    ~Hdf5Handle()
    {
        if (m_id >= 0) m_close(m_id);
    }
    Hdf5Handle(const Hdf5Handle &) = delete;
    Hdf5Handle &operator=(const Hdf5Handle &) = delete;
    explicit operator bool() const { return m_id >= 0; }
    hid_t id() const { return m_id; }

private:
    hid_t m_id;
    herr_t (*m_close)(hid_t);
};

/// The library is not made for several threads: one at a time, MAT-files of level 7.3 included. Also keeps it from
/// printing on stderr.
std::unique_lock<std::mutex> lockHdf5();

} // namespace fulvex
