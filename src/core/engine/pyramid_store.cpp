#include "pyramid_store.h"

#include "atomic_file.h"
#include "cache_folder.h"
#include "error.h"
#include "mapped_file.h"

#include <cstring>

namespace fulvex {

namespace {

constexpr char magic[8] = {'F', 'V', 'X', 'P', 'Y', 'R', '0', '1'};
constexpr std::uintmax_t keptBytes = std::uintmax_t(4) << 30;

std::filesystem::path placeOf(const std::string &key)
{
    return cacheFolder("pyramids") / key;
}

} // namespace

std::optional<Pyramid> PyramidStore::find(const std::string &key, std::int64_t samples)
{
    if (samples < leastSamples) return {};
    try {
        const auto path = placeOf(key);
        if (!std::filesystem::exists(path)) return {};
        const auto file = MappedFile::open(path);
        const auto bytes = file->bytes();
        const auto blocks = std::size_t((samples + Pyramid::finest - 1) / Pyramid::finest);
        if (bytes.size() != sizeof magic + blocks * sizeof(Extent) ||
            std::memcmp(bytes.data(), magic, sizeof magic) != 0)
            return {};
        std::vector<Extent> ground(blocks);
        std::memcpy(ground.data(), bytes.data() + sizeof magic, blocks * sizeof(Extent));
        touchCached(path);
        return Pyramid::over(std::move(ground));
    } catch (const Error &) {
        return {};
    }
}

void PyramidStore::keep(const std::string &key, const Pyramid &pyramid)
{
    if (std::int64_t(pyramid.ground().size()) * Pyramid::finest < leastSamples || pyramid.isSketch()) return;
    try {
        AtomicFile file(placeOf(key));
        file.write(std::string_view(magic, sizeof magic));
        file.write({reinterpret_cast<const char *>(pyramid.ground().data()), pyramid.ground().size() * sizeof(Extent)});
        file.commit();
        trimCache(cacheFolder("pyramids"), keptBytes);
    } catch (const Error &) {
        // it is built again the next time
    }
}

} // namespace fulvex
