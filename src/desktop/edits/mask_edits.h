#pragma once

#include "mask_definition.h"
#include "mask_edit.h"
#include "workbench.h"

namespace fulvex {

/// Edits of masks that several views offer, each one undoable step.

/// Selects a mask and makes it the project's own, where it is not yet, so that it can be edited.
void editMask(Workbench &bench, const std::string &id);
/// One that is shipped or lies in a file, on an eye in place of what lies there; selects it and gives its id.
std::string addMask(Workbench &bench, const std::string &eye, const std::string &mask);
/// A new one of the project's own on an eye, in place of what lies there; selects it and gives its id.
std::string drawMask(Workbench &bench, const std::string &eye);
/// Another one, that is shipped or lies in a file, in place of what an entry tests against.
void exchangeMask(Workbench &bench, const std::string &id, const std::string &mask);

/// Where a mask lies now: the unit interval and the levels that it was tested with; none as long as it was not.
std::optional<MaskGround> groundOf(const Workbench &bench, const std::string &id);
MaskScale scaleOf(const MaskEntry &entry);
/// About what the entry's areas stay alike, in their own scale.
MaskMirror mirrorOf(const MaskEntry &entry, const MaskGround &ground);
/// From the entry's scale to unit intervals and the channel's unit, and back.
MaskPoint onEye(const MaskEntry &entry, const MaskGround &ground, MaskPoint point);
MaskPoint fromEye(const MaskEntry &entry, const MaskGround &ground, MaskPoint point);

/// Changes the areas of the project's own mask; what would leave one that cannot be tested is not done, and false comes
/// back: a hand that drags goes on.
bool editAreas(Workbench &bench, const std::string &id, const QString &what,
               const std::function<void(std::vector<MaskArea> &)> &edit, const QString &mergeKey = {});
/// A small one at the eye's middle.
void addArea(Workbench &bench, const std::string &id);
/// All but the last one.
void removeArea(Workbench &bench, const std::string &id, std::size_t area);
/// Measures it in another scale, where it lies; of a shipped one a copy of the project's own. As part of a change.
void rescaleMask(const Workbench &bench, Document &document, const std::string &id, MaskScale scale);

/// Writes a mask as a file, which other projects may name.
void saveMask(Workbench &bench, const std::string &id, const QString &path);

} // namespace fulvex
