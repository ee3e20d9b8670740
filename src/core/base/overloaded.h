#pragma once

namespace fulvex {

/// One function of several, for std::visit.
template <typename... Use>
struct Overloaded : Use... {
    using Use::operator()...;
};
template <typename... Use>
Overloaded(Use...) -> Overloaded<Use...>;

} // namespace fulvex
