#include "hdf5_writer.h"

#include "atomic_file.h"
#include "error.h"
#include "hdf5_handle.h"
#include "interleaved_blocks.h"

namespace fulvex {

namespace {

void need(bool done, const std::filesystem::path &path, const char *step)
{
    if (!done) throw Error(path.string(), std::string(step) + " failed", "make room, or choose another folder");
}

void addNumber(hid_t object, const char *name, double value)
{
    const Hdf5Handle space(H5Screate(H5S_SCALAR), H5Sclose);
    const Hdf5Handle attribute(H5Acreate2(object, name, H5T_IEEE_F64LE, space.id(), H5P_DEFAULT, H5P_DEFAULT),
                               H5Aclose);
    H5Awrite(attribute.id(), H5T_NATIVE_DOUBLE, &value);
}

void addText(hid_t object, const char *name, const std::string &text)
{
    if (text.empty()) return;
    const Hdf5Handle space(H5Screate(H5S_SCALAR), H5Sclose), type(H5Tcopy(H5T_C_S1), H5Tclose);
    H5Tset_size(type.id(), text.size());
    H5Tset_cset(type.id(), H5T_CSET_UTF8);
    const Hdf5Handle attribute(H5Acreate2(object, name, type.id(), space.id(), H5P_DEFAULT, H5P_DEFAULT), H5Aclose);
    H5Awrite(attribute.id(), type.id(), text.data());
}

/// A slash would make a folder, and two datasets of one name cannot be.
std::string datasetName(std::span<const WrittenChannel> channels, std::size_t index)
{
    std::string name = channels[index].name.empty() ? "channel" : channels[index].name;
    for (char &c : name) c = c == '/' || c == '\0' ? '_' : c;
    const auto same = std::count_if(channels.begin(), channels.end(),
                                    [&](const WrittenChannel &other) { return other.name == channels[index].name; });
    return same > 1 || name == "." ? name + "_" + std::to_string(index + 1) : name;
}

} // namespace

void writeHdf5(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
               Progress &progress)
{
    const auto lock = lockHdf5();
    AtomicFile file(path);
    {
        const Hdf5Handle id(H5Fcreate(file.temporary().c_str(), H5F_ACC_TRUNC, H5P_DEFAULT, H5P_DEFAULT), H5Fclose);
        need(bool(id), path, "making the file");
        const TimeAxis axis = writtenAxis(channels, range);
        for (std::size_t i = 0; i < channels.size(); ++i) {
            const hsize_t count = hsize_t(range.size());
            const Hdf5Handle space(H5Screate_simple(1, &count, nullptr), H5Sclose);
            const Hdf5Handle dataset(H5Dcreate2(id.id(), datasetName(channels, i).c_str(), H5T_IEEE_F64LE, space.id(),
                                                H5P_DEFAULT, H5P_DEFAULT, H5P_DEFAULT),
                                     H5Dclose);
            need(bool(dataset), path, "making a dataset");
            addNumber(dataset.id(), "sample_interval", axis.interval);
            addNumber(dataset.id(), "start", axis.start);
            addText(dataset.id(), "unit", channels[i].unit);
            const auto write = [&](std::int64_t first, std::span<const double> block) {
                const hsize_t start = hsize_t(first - range.first), length = block.size();
                const Hdf5Handle memory(H5Screate_simple(1, &length, nullptr), H5Sclose);
                H5Sselect_hyperslab(space.id(), H5S_SELECT_SET, &start, nullptr, &length, nullptr);
                need(H5Dwrite(dataset.id(), H5T_NATIVE_DOUBLE, memory.id(), space.id(), H5P_DEFAULT, block.data()) >= 0,
                     path, "writing");
            };
            interleavedBlocks(channels.subspan(i, 1), range, progress, write);
        }
        need(H5Fflush(id.id(), H5F_SCOPE_GLOBAL) >= 0, path, "writing");
    }
    file.commit();
}

} // namespace fulvex
