#include "window.h"

#include <array>
#include <cmath>
#include <numbers>

namespace fulvex {

Window windowNamed(const std::string &word)
{
    return word == "rectangular"       ? Window::rectangular
           : word == "flat_top"        ? Window::flatTop
           : word == "blackman_harris" ? Window::blackmanHarris
                                       : Window::hann;
}

double windowAt(Window window, double share)
{
    static constexpr std::array<double, 7> terms[] = {
        {0.5, -0.5, 0, 0, 0},
        {1, 0, 0, 0, 0},
        {0.21557895, -0.41663158, 0.277263158, -0.083578947, 0.006947368},
        {0.35875, -0.48829, 0.14128, -0.01168, 0},
        {0.27105140069342, -0.43329793923448, 0.21812299954311, -0.06592544638803, 0.01081174209837, -0.00077658482522,
         0.00001388721735},
    };
    double sum = 0;
    for (std::size_t k = 0; k < 7; ++k)
        sum += terms[int(window)][k] * std::cos(2 * std::numbers::pi * double(k) * share);
    return sum;
}

} // namespace fulvex
