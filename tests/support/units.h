#pragma once

namespace fulvex::test {

constexpr double ns = 1e-9, ps = 1e-12; ///< s

} // namespace fulvex::test
