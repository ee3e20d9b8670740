#pragma once

#include <cstdint>
#include <filesystem>
#include <string>

namespace fulvex {

/// A folder for what can be made again, in the user's cache ($XDG_CACHE_HOME, else ~/.cache; XDG Base Directory
/// Specification); made where it is missing. Throws Error where none can be had.
std::filesystem::path cacheFolder(const std::string &name);

/// Another place for all such folders (empty: the usual one), in a folder of our own there, and how large they may grow
/// together, bytes.
void setCache(const std::filesystem::path &folder, std::uintmax_t most);
/// What the folders of a kind may hold of that: a fifth is for pyramids, the rest for unpacked projects.
std::uintmax_t cacheShare(double share);
/// The place of all of them, and what they hold, bytes.
std::filesystem::path cachePlace();
std::uintmax_t cachedBytes();
/// Removes what is in them, but for the entry that `used` lies in, and for what running programs may be at work on.
void emptyCache(const std::filesystem::path &used = {});

/// A folder for what the user has decided, in the user's configuration ($XDG_CONFIG_HOME, else ~/.config); as above.
std::filesystem::path configFolder(const std::string &name);

/// A folder for what the program notes of itself ($XDG_STATE_HOME, else ~/.local/state); as above.
std::filesystem::path stateFolder();

/// Marks an entry of such a folder as used now.
void touchCached(const std::filesystem::path &entry);

/// Removes the entries of such a folder that were used longest ago until at most `bytes` are left. What another
/// program removes meanwhile is passed over.
void trimCache(const std::filesystem::path &folder, std::uintmax_t bytes);

} // namespace fulvex
