#pragma once

#include "mask_geometry.h"

#include <cmath>
#include <numbers>
#include <random>

namespace fulvex::test {

/// Areas of all kinds, at random.
class AnyArea {
public:
    explicit AnyArea(unsigned seed) : m_engine(seed) {}
    double between(double low, double high) { return std::uniform_real_distribution(low, high)(m_engine); }
    int below(int count) { return int(m_engine() % unsigned(count)); }
    /// A star about a middle, so that it is a simple polygon, also one with vertical sides; or an open one.
    MaskShape shape()
    {
        const int kind = below(4);
        std::vector<MaskPoint> points;
        if (kind < 2) {
            const MaskPoint middle{between(0, 1), between(-0.5, 0.5)};
            const int corners = 3 + below(6);
            for (int i = 0; i < corners; ++i) {
                const double angle = 2 * std::numbers::pi * i / corners, far = between(0.02, 0.4);
                points.push_back({middle.x + far * std::cos(angle), middle.y + far * std::sin(angle)});
            }
            if (kind == 1) // a box
                points = {{middle.x, middle.y},
                          {middle.x + 0.3, middle.y},
                          {middle.x + 0.3, middle.y + 0.2},
                          {middle.x, middle.y + 0.2}};
            return {MaskArea::Kind::closed, points};
        }
        double x = between(-0.5, 0.2);
        const double level = kind == 2 ? 0.6 : -0.6;
        for (int i = 0, last = 2 + below(4); i < last; ++i, x += between(0.05, 0.4))
            points.push_back({x, level + between(-0.2, 0.2)});
        return {kind == 2 ? MaskArea::Kind::above : MaskArea::Kind::below, points};
    }

private:
    std::mt19937 m_engine;
};

} // namespace fulvex::test
