#pragma once

#include "eye_fold.h"

#include <memory>
#include <span>

namespace fulvex {

/// The picture of several records' eyes in which each counts half as much as the one after it: for looking at, no
/// number is made of it. `newestFirst`: at least one, 16 at most.
EyeFold fadingEye(std::span<const std::shared_ptr<const EyeFold>> newestFirst);

} // namespace fulvex
