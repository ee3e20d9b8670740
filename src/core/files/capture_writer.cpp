#include "capture_writer.h"

#include "audio_writer.h"
#include "csv_writer.h"
#include "error.h"
#include "hdf5_writer.h"
#include "npy_writer.h"
#include "sigmf_writer.h"
#include "word_list.h"

namespace fulvex {

static constexpr CaptureWriter writers[] = {
    {"csv", "text table", ".csv", writeCsv},
    {"npy", "NumPy array", ".npy", writeNpy},
    {"wav", "audio file", ".wav", writeAudio},
    {"hdf5", "HDF5 file", ".h5", writeHdf5},
    {"sigmf", "SigMF recording", ".sigmf-meta", writeSigmf},
};

std::span<const CaptureWriter> captureWriters()
{
    return writers;
}

void writeCapture(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
                  Progress &progress)
{
    if (channels.empty() || range.size() == 0) throw Error(path.string(), "there is no sample to write");
    for (const WrittenChannel &channel : channels) {
        if (!(channel.source->axis() == channels[0].source->axis()))
            throw Error(path.string(),
                        "\"" + channel.name + "\" and \"" + channels[0].name + "\" do not lie on the same instants",
                        "write them to files of their own");
    }
    for (const CaptureWriter &writer : writers)
        if (path.extension() == writer.ending) return writer.write(path, channels, range, progress);
    throw Error(path.string(), "its ending names no format that is written",
                "end its name in " + listed(writers, &CaptureWriter::ending));
}

} // namespace fulvex
