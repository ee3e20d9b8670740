#include "quantity_drawing.h"

#include <QPainter>
#include <cmath>
#include <numbers>
#include <span>
#include <vector>

namespace fulvex {

namespace {

/// What is drawn stands in a box of 1 by 1, y upwards.
enum class Wave {
    pulse,
    ringing,
    ahead,
    train,
    wavy,
    bursts,
    runt,
    runtDown,
    pair,
    sines,
    eye,
    drifting,
    lines,
    bell,
    humps,
    skirt
};

/// What is marked on it: a length across or up, a level all along, a place, a slope, an area below a pulse.
struct Mark {
    enum Kind { across, up, level, place, slope, area } kind;
    double x = 0, y = 0, to = 0; ///< to: the other x of a length across, the other y of one up
};

struct Drawing {
    const char *quantity;
    Wave wave;
    std::vector<Mark> marks;
};

constexpr double low = 0.18, high = 0.8, mid = (low + high) / 2;
constexpr double rise = 0.3, fall = 0.68, half = 0.07; ///< mid crossings of the pulse, and half a ramp

QPolygonF ramps(std::span<const double> edges, double bottom, double top, double halfRamp)
{
    QPolygonF line{QPointF(0, bottom)};
    bool up = true;
    for (const double edge : edges) {
        line << QPointF(edge - halfRamp, up ? bottom : top) << QPointF(edge + halfRamp, up ? top : bottom);
        up = !up;
    }
    return line << QPointF(1, up ? bottom : top);
}

template <typename Function>
QPolygonF curve(double from, double to, const Function &f)
{
    QPolygonF line;
    constexpr int steps = 80;
    for (int i = 0; i <= steps; ++i) {
        const double x = from + (to - from) * i / steps;
        line << QPointF(x, f(x));
    }
    return line;
}

double rung(double t) ///< a step that rings, t from its beginning
{
    return t <= 0 ? 0 : 1 - std::exp(-9 * t) * std::cos(28 * t);
}

std::vector<QPolygonF> linesOf(Wave wave)
{
    constexpr double pi = std::numbers::pi;
    const double pulse[] = {rise, fall}, train[] = {0.16, 0.38, 0.66, 0.88};
    switch (wave) {
    case Wave::pulse:
        return {ramps(pulse, low, high, half)};
    case Wave::ringing:
        return {
            curve(0, 1, [](double x) { return low + 0.05 + (high - low - 0.15) * (rung(x - 0.16) - rung(x - 0.62)); })};
    case Wave::ahead: // a bump before each edge, to the other side
        return {curve(0, 1, [](double x) {
            const auto bump = [x](double at) { return 0.12 * std::exp(-std::pow((x - at) / 0.045, 2)); };
            const double up = 0.5 * (std::tanh(28 * (x - 0.3)) - std::tanh(28 * (x - 0.72)));
            return 0.25 + 0.45 * up - bump(0.2) + bump(0.62);
        })};
    case Wave::train:
        return {ramps(train, low, high, 0.03)};
    case Wave::wavy:
        return {curve(0, 1, [](double x) { return mid + 0.2 * std::sin(4 * pi * x) + 0.1 * std::sin(11 * x + 1); })};
    case Wave::bursts: {
        const double edges[] = {0.1, 0.14, 0.18, 0.22, 0.26, 0.3, 0.34, 0.38, 0.7, 0.74, 0.78, 0.82, 0.86, 0.9};
        return {ramps(edges, low, high, 0.01)};
    }
    case Wave::runt:
    case Wave::runtDown: {
        QPolygonF line{{0, low},     {0.08, low}, {0.12, high}, {0.28, high}, {0.32, low}, {0.46, low}, {0.5, 0.44},
                       {0.54, 0.44}, {0.58, low}, {0.7, low},   {0.74, high}, {0.9, high}, {0.94, low}, {1, low}};
        for (QPointF &point : line) point.setY(wave == Wave::runt ? point.y() : low + high - point.y());
        return {line};
    }
    case Wave::pair: {
        const double first[] = {0.24, 0.62}, second[] = {0.42, 0.8};
        return {ramps(first, 0.58, 0.88, 0.04), ramps(second, 0.12, 0.42, 0.04)};
    }
    case Wave::lines: { // of a spectrum: a sine, its harmonics, noise below
        QPolygonF spectrum{QPointF(0, 0.14)};
        for (const auto &[x, top] : {std::pair(0.22, 0.92), {0.44, 0.5}, {0.66, 0.36}, {0.88, 0.26}})
            spectrum << QPointF(x - 0.1, 0.2) << QPointF(x - 0.05, 0.12) << QPointF(x - 0.02, 0.16) << QPointF(x, top)
                     << QPointF(x + 0.02, 0.13) << QPointF(x + 0.06, 0.18);
        return {spectrum << QPointF(1, 0.14)};
    }
    case Wave::sines:
        return {curve(0, 1, [](double x) { return 0.5 + 0.36 * std::sin(3.2 * pi * x); }),
                curve(0, 1, [](double x) { return 0.5 + 0.2 * std::sin(3.2 * pi * x - 1.1); })};
    case Wave::eye: {
        std::vector<QPolygonF> lines;
        for (const double side : {0.0, 0.03, -0.03})
            for (const double up : {1.0, -1.0})
                lines.push_back(curve(0, 1, [=](double x) {
                    return 0.5 + up * 0.32 * std::tanh(9 * (x - 0.2 - side)) * std::tanh(9 * (0.8 - side - x));
                }));
        return lines;
    }
    case Wave::bell: // of where edges lie
        return {curve(0, 1, [](double x) { return low + 0.66 * std::exp(-std::pow((x - 0.5) / 0.14, 2) / 2); })};
    case Wave::humps:
        return {curve(0, 1, [](double x) {
            const auto hump = [x](double at) { return 0.55 * std::exp(-std::pow((x - at) / 0.09, 2) / 2); };
            return low + hump(0.32) + hump(0.68);
        })};
    case Wave::skirt: // of a carrier, with a line
        return {curve(0, 1, [](double x) {
            const double line = 0.5 * std::exp(-std::pow((x - 0.66) / 0.012, 2));
            return 0.22 + 0.7 * std::exp(-5 * x) + line;
        })};
    case Wave::drifting: {
        const double edges[] = {0.1, 0.27, 0.48, 0.62, 0.82, 0.95};
        return {ramps(edges, low, high, 0.02)};
    }
    }
    return {};
}

const std::vector<Drawing> &drawings()
{
    using enum Mark::Kind;
    static const std::vector<Drawing> all{
        {"maximum", Wave::wavy, {{level, 0, 0.8}}},
        {"minimum", Wave::wavy, {{level, 0, 0.2}}},
        {"peak_to_peak", Wave::wavy, {{up, 0.5, 0.2, 0.8}, {level, 0, 0.2}, {level, 0, 0.8}}},
        {"mean", Wave::wavy, {{level, 0, mid}}},
        {"rms", Wave::wavy, {{up, 0.5, 0.06, 0.62}, {level, 0, 0.06}}},
        {"ac_rms", Wave::wavy, {{up, 0.5, mid, 0.64}, {level, 0, mid}}},
        {"high", Wave::pulse, {{level, 0, high}}},
        {"low", Wave::pulse, {{level, 0, low}}},
        {"amplitude", Wave::pulse, {{up, 0.49, low, high}}},
        {"amplitude_level", Wave::runt, {{level, 0, high}, {level, 0, 0.44}, {level, 0, low}}},
        {"overshoot_rising", Wave::ringing, {{up, 0.27, 0.7, 0.88}, {level, 0, 0.7}}},
        {"overshoot_falling", Wave::ringing, {{up, 0.73, 0.05, 0.23}, {level, 0, 0.23}}},
        {"preshoot_rising", Wave::ahead, {{up, 0.2, 0.13, 0.25}, {level, 0, 0.25}}},
        {"preshoot_falling", Wave::ahead, {{up, 0.62, 0.7, 0.82}, {level, 0, 0.7}}},
        {"sample_values",
         Wave::wavy,
         {{across, 0.3, 0.9, 0.7}, {across, 0.3, 0.6, 0.7}, {up, 0.3, 0.6, 0.9}, {up, 0.7, 0.6, 0.9}}},
        {"crossing_times", Wave::drifting, {{up, 0.2, 0.3, 0.7}, {up, 0.6, 0.3, 0.7}, {level, 0, mid}}},
        {"rise_time",
         Wave::pulse,
         {{across, rise - 0.056, mid, rise + 0.056}, {place, rise - 0.056, 0.24}, {place, rise + 0.056, 0.74}}},
        {"fall_time",
         Wave::pulse,
         {{across, fall - 0.056, mid, fall + 0.056}, {place, fall - 0.056, 0.74}, {place, fall + 0.056, 0.24}}},
        {"positive_width", Wave::pulse, {{across, rise, mid, fall}}},
        {"negative_width", Wave::train, {{across, 0.38, mid, 0.66}}},
        {"period", Wave::train, {{across, 0.16, mid, 0.66}}},
        {"frequency", Wave::train, {{across, 0.16, mid, 0.66}, {place, 0.16, mid}, {place, 0.66, mid}}},
        {"duty_cycle", Wave::train, {{across, 0.16, 0.38, 0.38}, {across, 0.16, 0.6, 0.66}}},
        {"slew_rate_rising", Wave::pulse, {{slope, rise, mid, 4.4}}},
        {"slew_rate_falling", Wave::pulse, {{slope, fall, mid, -4.4}}},
        {"edge_count", Wave::train, {{place, 0.16, mid}, {place, 0.38, mid}, {place, 0.66, mid}, {place, 0.88, mid}}},
        {"burst_width", Wave::bursts, {{across, 0.1, 0.92, 0.38}}},
        {"pulses_per_burst",
         Wave::bursts,
         {{place, 0.12, 0.92}, {place, 0.2, 0.92}, {place, 0.28, 0.92}, {place, 0.36, 0.92}}},
        {"settling_time", Wave::ringing, {{level, 0, 0.64}, {level, 0, 0.76}, {across, 0.2, 0.1, 0.45}}},
        {"peak_time", Wave::ringing, {{across, 0.2, 0.93, 0.27}, {place, 0.27, 0.86}}},
        {"pulse_area", Wave::pulse, {{area}}},
        {"slope_at_mid", Wave::pulse, {{slope, rise, mid, 4.4}, {place, rise, mid}}},
        {"rising_runts", Wave::runt, {{place, 0.52, 0.44}, {level, 0, mid}}},
        {"falling_runts", Wave::runtDown, {{place, 0.52, low + high - 0.44}, {level, 0, mid}}},
        {"counted_frequency", Wave::train, {{place, 0.16, mid}, {place, 0.66, mid}, {level, 0, mid}}},
        {"symbol_rate", Wave::drifting, {{across, 0.48, mid, 0.62}}},
        {"bit_errors", Wave::runt, {{place, 0.52, 0.44}, {level, 0, mid}}},
        {"bit_error_ratio", Wave::runt, {{place, 0.52, 0.44}, {level, 0, mid}, {across, 0.06, 0.08, 0.94}}},
        {"time_interval_error", Wave::drifting, {{across, 0.27, mid, 0.32}, {place, 0.27, mid}}},
        {"period_jitter", Wave::drifting, {{across, 0.1, 0.92, 0.48}, {across, 0.48, 0.92, 0.82}}},
        {"cycle_to_cycle_jitter", Wave::drifting, {{across, 0.1, 0.6, 0.48}, {across, 0.48, 0.4, 0.82}}},
        {"one_level", Wave::eye, {{level, 0, 0.82}}},
        {"zero_level", Wave::eye, {{level, 0, 0.18}}},
        {"eye_amplitude", Wave::eye, {{up, 0.5, 0.18, 0.82}}},
        {"eye_height", Wave::eye, {{up, 0.5, 0.24, 0.76}}},
        {"eye_width", Wave::eye, {{across, 0.24, 0.5, 0.76}}},
        {"crossing_level", Wave::eye, {{level, 0, 0.5}, {place, 0.2, 0.5}, {place, 0.8, 0.5}}},
        {"one_noise", Wave::eye, {{up, 0.5, 0.74, 0.9}}},
        {"zero_noise", Wave::eye, {{up, 0.5, 0.1, 0.26}}},
        {"q_factor", Wave::eye, {{up, 0.5, 0.18, 0.82}, {up, 0.4, 0.74, 0.9}, {up, 0.4, 0.1, 0.26}}},
        {"signal_to_noise", Wave::eye, {{up, 0.5, 0.18, 0.82}, {up, 0.4, 0.74, 0.9}}},
        {"eye_jitter_rms", Wave::eye, {{across, 0.15, 0.5, 0.25}}},
        {"eye_jitter_pp", Wave::eye, {{across, 0.12, 0.5, 0.28}}},
        {"eye_rise_time", Wave::eye, {{level, 0, 0.31}, {level, 0, 0.69}, {across, 0.14, 0.31, 0.26}}},
        {"eye_fall_time", Wave::eye, {{level, 0, 0.31}, {level, 0, 0.69}, {across, 0.14, 0.69, 0.26}}},
        {"eye_box_levels",
         Wave::eye,
         {{across, 0.4, 0.9, 0.6}, {across, 0.4, 0.7, 0.6}, {up, 0.4, 0.7, 0.9}, {up, 0.6, 0.7, 0.9}}},
        {"eye_box_times",
         Wave::eye,
         {{across, 0.1, 0.6, 0.3}, {across, 0.1, 0.4, 0.3}, {up, 0.1, 0.4, 0.6}, {up, 0.3, 0.4, 0.6}}},
        {"sine_signal_to_noise", Wave::lines, {{up, 0.3, 0.16, 0.92}, {level, 0, 0.16}}},
        {"sine_signal_to_noise_and_distortion",
         Wave::lines,
         {{up, 0.3, 0.16, 0.92}, {place, 0.44, 0.5}, {level, 0, 0.16}}},
        {"total_harmonic_distortion", Wave::lines, {{place, 0.44, 0.5}, {place, 0.66, 0.36}, {up, 0.3, 0.5, 0.92}}},
        {"delay", Wave::pair, {{across, 0.24, 0.5, 0.42}}},
        {"phase", Wave::sines, {{across, 0.31, 0.5, 0.42}}},
        {"gain", Wave::sines, {{up, 0.15, 0.14, 0.86}, {up, 0.27, 0.3, 0.7}}},
        {"gain_db", Wave::sines, {{up, 0.15, 0.14, 0.86}, {up, 0.27, 0.3, 0.7}}},
        {"setup_time", Wave::pair, {{across, 0.24, 0.5, 0.42}, {place, 0.42, 0.27}}},
        {"hold_time", Wave::pair, {{across, 0.42, 0.5, 0.62}, {place, 0.42, 0.27}}},
        {"trigger_jitter", Wave::pair, {{place, 0.24, 0.73}, {across, 0.36, 0.27, 0.48}}},
        {"random_jitter", Wave::bell, {{across, 0.36, 0.58, 0.64}}},
        {"deterministic_jitter", Wave::humps, {{across, 0.32, 0.85, 0.68}}},
        {"deterministic_jitter_pp", Wave::humps, {{across, 0.2, 0.42, 0.8}}},
        {"periodic_jitter", Wave::sines, {{up, 0.16, 0.14, 0.86}}},
        {"data_dependent_jitter", Wave::drifting, {{across, 0.27, mid, 0.32}, {across, 0.62, mid, 0.56}}},
        {"duty_cycle_distortion", Wave::pulse, {{across, rise, mid, rise + 0.08}, {across, fall - 0.08, mid, fall}}},
        {"bounded_uncorrelated_jitter", Wave::humps, {{across, 0.32, 0.3, 0.68}}},
        {"total_jitter", Wave::humps, {{across, 0.06, 0.1, 0.94}}},
        {"eye_opening", Wave::eye, {{across, 0.27, 0.5, 0.73}}},
        {"phase_noise_at", Wave::skirt, {{place, 0.4, 0.315}}},
        {"integrated_jitter", Wave::skirt, {{across, 0.2, 0.1, 0.9}}},
        {"half_period_jitter", Wave::train, {{across, 0.16, 0.92, 0.38}, {across, 0.38, 0.92, 0.66}}},
        {"accumulated_jitter", Wave::drifting, {{across, 0.1, 0.92, 0.82}, {place, 0.48, mid}}},
        {"n_cycle_jitter", Wave::drifting, {{across, 0.1, 0.7, 0.48}, {across, 0.48, 0.3, 0.82}}},
        {"time_deviation", Wave::wavy, {{across, 0.2, 0.1, 0.5}, {across, 0.5, 0.1, 0.8}}},
        {"allan_deviation", Wave::wavy, {{across, 0.2, 0.1, 0.5}, {across, 0.5, 0.1, 0.8}, {level, 0, mid}}},
        {"phase_error", Wave::sines, {{across, 0.31, 0.5, 0.42}, {place, 0.31, 0.5}}},
        {"phase_error_ui", Wave::drifting, {{across, 0.27, mid, 0.32}, {across, 0.48, 0.92, 0.62}}},
        {"wander", Wave::wavy, {{level, 0, mid}, {up, 0.12, mid, 0.78}}},
        {"jitter_above", Wave::drifting, {{across, 0.27, 0.6, 0.32}, {across, 0.62, 0.4, 0.56}}},
        {"device_rise_time", Wave::pair, {{across, 0.2, 0.73, 0.28}, {across, 0.38, 0.27, 0.46}}},
    };
    return all;
}

/// Paints into a box, in its pixels.
class Pen {
public:
    Pen(QPainter &painter, QSizeF size, const Look &look) : m_painter(painter), m_size(size), m_look(look) {}
    QPointF at(double x, double y) const { return {x * m_size.width(), (1 - y) * m_size.height()}; }
    void line(QPolygonF points)
    {
        for (QPointF &point : points) point = at(point.x(), point.y());
        m_painter.setPen(QPen(m_look.quiet, 1.1));
        m_painter.drawPolyline(points);
    }
    void mark(const Mark &mark)
    {
        m_painter.setPen(QPen(m_look.ink, 1.4));
        switch (mark.kind) {
        case Mark::across:
            return measure(at(mark.x, mark.y), at(mark.to, mark.y), {0, 3});
        case Mark::up:
            return measure(at(mark.x, mark.y), at(mark.x, mark.to), {3, 0});
        case Mark::level:
            m_painter.setPen(QPen(m_look.ink, 1, Qt::DotLine));
            return m_painter.drawLine(at(0, mark.y), at(1, mark.y));
        case Mark::place:
            m_painter.setBrush(m_look.tile);
            m_painter.drawEllipse(at(mark.x, mark.y), 2, 2);
            return;
        case Mark::slope: {
            constexpr double reach = 0.11;
            return m_painter.drawLine(at(mark.x - reach, mark.y - reach * mark.to),
                                      at(mark.x + reach, mark.y + reach * mark.to));
        }
        case Mark::area: {
            QPolygonF below;
            for (const QPointF &point : {QPointF(rise - half, low), QPointF(rise + half, high),
                                         QPointF(fall - half, high), QPointF(fall + half, low)})
                below << at(point.x(), point.y());
            m_painter.setPen(Qt::NoPen);
            m_painter.setBrush(QBrush(m_look.ink, Qt::BDiagPattern));
            return m_painter.drawPolygon(below);
        }
        }
    }

private:
    void measure(QPointF from, QPointF to, QPointF tick)
    {
        m_painter.drawLine(from, to);
        for (const QPointF &end : {from, to}) m_painter.drawLine(end - tick, end + tick);
    }
    QPainter &m_painter;
    QSizeF m_size;
    const Look &m_look;
};

} // namespace

QImage quantityDrawing(std::string_view quantity, QSize size, const Look &look)
{
    for (const Drawing &drawing : drawings()) {
        if (drawing.quantity != quantity) continue;
        QImage image(size * 2, QImage::Format_ARGB32_Premultiplied);
        image.setDevicePixelRatio(2);
        image.fill(Qt::transparent);
        QPainter painter(&image);
        painter.setRenderHint(QPainter::Antialiasing);
        Pen pen(painter, size, look);
        for (const QPolygonF &line : linesOf(drawing.wave)) pen.line(line);
        for (const Mark &mark : drawing.marks) pen.mark(mark);
        return image;
    }
    return {};
}

} // namespace fulvex
