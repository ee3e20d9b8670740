#pragma once

namespace fulvex {

/// A straight line of least squares through points that come one by one: sums of deviations from running means, so that
/// far places lose no digits. Mergeable.
struct LineFit {
    double count = 0, x = 0, y = 0; ///< points, and their means
    double square = 0, product = 0; ///< of deviations in x, and in both
    void add(double atX, double atY)
    {
        count += 1;
        const double apart = atX - x;
        x += apart / count;
        square += apart * (atX - x);
        y += (atY - y) / count;
        product += apart * (atY - y);
    }
    void merge(const LineFit &other)
    {
        if (other.count == 0) return;
        const double all = count + other.count, apart = other.x - x, off = other.y - y;
        const double weight = count * other.count / all;
        square += other.square + apart * apart * weight;
        product += other.product + apart * off * weight;
        x += apart * other.count / all;
        y += off * other.count / all;
        count = all;
    }
    double slope() const { return square > 0 ? product / square : 0; }
    double at(double place) const { return y + slope() * (place - x); }
};

} // namespace fulvex
