#pragma once

#include <filesystem>

namespace fulvex {

/// The folder of shipped data (masks, plans, dialects, docs, demo): FULVEX_SHARE, or share/fulvex beneath the nearest
/// folder above the program that has one: the prefix that it is installed in (/usr of /usr/bin/fulvex), the folder of
/// a portable copy, or that of a build.
std::filesystem::path shareFolder();

/// Where programs lie that only this one starts: libexec/fulvex beneath the same folder.
std::filesystem::path helperFolder();

} // namespace fulvex
