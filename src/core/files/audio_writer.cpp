#include "audio_writer.h"

#include "atomic_file.h"
#include "error.h"
#include "interleaved_blocks.h"
#include "number_text.h"

#include <cmath>
#include <sndfile.h>

namespace fulvex {

void writeAudio(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
                Progress &progress)
{
    const double rate = 1 / writtenAxis(channels, range).interval, whole = std::round(rate);
    if (std::abs(rate - whole) > 1e-9 * rate || whole < 1 || whole > 2147483647)
        throw Error(path.string(),
                    "an audio file holds whole sample rates up to 2.147 GS/s, this channel has " +
                        quantityText(rate, "S/s", {}, 9),
                    "choose another format, for example .h5 or .sigmf-meta");
    AtomicFile file(path);
    SF_INFO facts{};
    facts.samplerate = int(whole);
    facts.channels = int(channels.size());
    // RF64 becomes a plain RIFF file where that can hold it.
    facts.format = SF_FORMAT_RF64 | SF_FORMAT_DOUBLE;
    std::unique_ptr<SNDFILE, int (*)(SNDFILE *)> sound(sf_open(file.temporary().c_str(), SFM_WRITE, &facts), sf_close);
    if (!sound) throw Error(path.string(), std::string("cannot be written: ") + sf_strerror(nullptr));
    sf_command(sound.get(), SFC_RF64_AUTO_DOWNGRADE, nullptr, SF_TRUE);
    interleavedBlocks(channels, range, progress, [&](std::int64_t, std::span<const double> block) {
        const auto frames = sf_count_t(block.size() / channels.size());
        if (sf_writef_double(sound.get(), block.data(), frames) != frames)
            throw Error(path.string(), std::string("writing failed: ") + sf_strerror(sound.get()), "make room");
    });
    sf_write_sync(sound.get());
    sound.reset(); // its header is complete now
    file.commit();
}

} // namespace fulvex
