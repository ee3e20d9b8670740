#include "hdf5_handle.h"

namespace fulvex {

std::unique_lock<std::mutex> lockHdf5()
{
    static std::mutex mutex;
    std::unique_lock lock(mutex);
    H5Eset_auto2(H5E_DEFAULT, nullptr, nullptr);
    return lock;
}

} // namespace fulvex
