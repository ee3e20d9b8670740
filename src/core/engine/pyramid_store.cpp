#include "pyramid_store.h"

#include "atomic_file.h"
#include "cache_folder.h"
#include "error.h"
#include "fingerprint.h"
#include "mapped_file.h"

#include <cstring>

namespace fulvex {

namespace {

constexpr char magic[8] = {'F', 'V', 'X', 'P', 'Y', 'R', '0', '3'};
constexpr std::size_t digestSize = 64;
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
        std::error_code missing;
        if (!std::filesystem::exists(path, missing)) return {};
        const auto file = MappedFile::open(path);
        const auto bytes = file->bytes();
        const auto blocks = std::size_t((samples + Pyramid::finest - 1) / Pyramid::finest);
        if (bytes.size() != sizeof magic + digestSize + blocks * (sizeof(Extent) + Pyramid::picked * sizeof(float)) ||
            std::memcmp(bytes.data(), magic, sizeof magic) != 0)
            return {};
        const auto stored = bytes.subspan(sizeof magic + digestSize);
        if (std::memcmp(bytes.data() + sizeof magic, sha256(stored).data(), digestSize) != 0) return {}; // damaged
        std::vector<Extent> ground(blocks);
        std::memcpy(ground.data(), stored.data(), blocks * sizeof(Extent));
        std::vector<float> picks(blocks * Pyramid::picked);
        std::memcpy(picks.data(), stored.data() + blocks * sizeof(Extent), picks.size() * sizeof(float));
        if (!file->disturbance().empty()) return {};
        touchCached(path);
        return Pyramid::over(std::move(ground), std::move(picks));
    } catch (const Error &) {
        return {};
    }
}

void PyramidStore::keep(const std::string &key, const Pyramid &pyramid)
{
    if (std::int64_t(pyramid.blocks()) * Pyramid::finest < leastSamples || pyramid.isSketch()) return;
    try {
        std::string stored;
        const auto append = [&](const auto &values) {
            stored.append(reinterpret_cast<const char *>(values.data()), values.size() * sizeof(values[0]));
        };
        append(pyramid.ground());
        append(pyramid.picks());
        AtomicFile file(placeOf(key));
        file.write(std::string_view(magic, sizeof magic));
        file.write(sha256(std::string_view(stored)));
        file.write(stored);
        file.commit();
        trimCache(cacheFolder("pyramids"), keptBytes);
    } catch (const Error &) {
        // it is built again the next time
    }
}

} // namespace fulvex
