#pragma once

#include "document.h"

namespace fulvex {

/// What a user sets once for all projects, kept in the program's settings ($XDG_CONFIG_HOME).
struct UserSettings {
    bool dark = false;
    std::optional<int> timeExponent; ///< of times along a record: 10^this s; empty: as fits
    // A new project begins with these.
    LevelsEntry levels;                              ///< its default set
    ReportEntry report;                              ///< paper, who measured, where, picture
    int loopOrder = 2;                               ///< of a new clock
    double loopDivider = 1667, loopDamping = 0.7071; ///< symbol rate over bandwidth
    QString cache;                                   ///< folder; empty: the user's cache folder
    double cacheGigabytes = 20;
    bool operator==(const UserSettings &) const = default;
};

/// What was kept; what is missing or makes no sense is as it was shipped.
UserSettings userSettings();
void keepUserSettings(const UserSettings &settings);

/// Lets the engine and what shows numbers go by them.
void applyUserSettings(const UserSettings &settings);

/// What a new project holds from its beginning.
Document newDocument(const UserSettings &settings);

} // namespace fulvex
