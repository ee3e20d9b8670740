// Makes docs/formulas/: what each function does, as pictures of an example. A line of the table below for each
// function; the program fails where one is missing.

#include "formula.h"
#include "look.h"
#include "signals.h"

#include <QDir>
#include <QGuiApplication>
#include <QImage>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <numbers>
#include <set>

using namespace fulvex;

namespace {

constexpr int samples = 600;
constexpr double interval = 1e-6, turn = 2 * std::numbers::pi;

struct Picture {
    const char *function, *formula;
    const char *inputs; ///< names of signals, shown above (or behind) what is made
    bool apart = false; ///< in a lane of its own: of another unit, or of another size
};

struct Page {
    const char *name;
    std::vector<Picture> pictures;
};

const Page pages[] = {
    {"sample-by-sample",
     {{"abs", "abs(sine)", "sine"},
      {"negated", "negated(ramp)", "ramp"},
      {"sqrt", "sqrt(ramp)", "ramp", true},
      {"exp", "exp(2 * ramp / 1 V)", "ramp", true},
      {"ln", "ln(ramp / 1 V)", "ramp", true},
      {"log10", "20 * log10(ramp / 1 V)", "ramp", true},
      {"sin", "sin(20 * ramp / 1 V)", "ramp", true},
      {"cos", "cos(20 * ramp / 1 V)", "ramp", true},
      {"atan2", "atan2(sine, quarter)", "sine quarter", true},
      {"min", "min(sine, quarter)", "sine quarter"},
      {"max", "max(sine, quarter)", "sine quarter"},
      {"clip", "clip(sine, -0.5 V, 0.8 V)", "sine"},
      {"choose", "choose(data > 0.5 V, sine, 0)", "data sine"},
      {"gate", "gate(sine, data > 0.5 V)", "data sine"},
      {"common", "common(p, n)", "p n"}}},
    {"slopes-sums-windows",
     {{"derivative", "derivative(data)", "data", true},
      {"integral", "integral(detrend(data, mean))", "data", true},
      {"detrend", "detrend(drifting)", "drifting"},
      {"smooth", "smooth(noisy, 20 us)", "noisy"},
      {"rms", "rms(burst, 30 us)", "burst"},
      {"median", "median(spiky, 5 us)", "spiky"},
      {"envelope", "envelope(burst, 20 us, upper)", "burst"}}},
    {"filters",
     {{"lowpass", "lowpass(noisy, 30 kHz, 4, bessel)", "noisy"},
      {"highpass", "highpass(drifting, 10 kHz)", "drifting"},
      {"bandpass", "bandpass(burst, 60 kHz, 100 kHz, 3)", "burst"},
      {"bandstop", "bandstop(hum, 18 kHz, 22 kHz, 2, zerophase)", "hum"},
      {"equalise", "equalise(dull, 20 kHz, 200 kHz, 300 kHz)", "dull"},
      {"taps", "taps(data, 20 us, 1.2, -0.2)", "data"},
      {"emphasise", "emphasise(data, 20 us, 6 dB)", "data"}}},
    {"other-times",
     {{"delay", "delay(data, 25 us)", "data"},
      {"resample", "resample(sine, 60 kHz)", "sine"},
      {"interpolate", "interpolate(coarse, 8)", "coarse"},
      {"average", "average(repeating, 100 us)", "repeating"}}},
    {"over-time",
     {{"frequency", "frequency(drift)", "drift", true},
      {"period", "period(drift)", "drift", true},
      {"phase", "phase(drift)", "drift", true},
      {"trend", "trend(widths)", "pulses", true},
      {"am", "am(burst, 80 kHz, 30 kHz)", "burst"},
      {"fm", "fm(warble, 80 kHz, 20 kHz)", "warble", true}}},
};

SourcePtr made(double (*of)(double t))
{
    std::vector<double> values;
    for (int i = 0; i < samples; ++i) values.push_back(of(i * interval));
    return makeMemorySource(std::move(values), interval);
}

/// Bits of 60 µs, edges of a few.
double data(double t)
{
    static constexpr int bits[] = {0, 1, 1, 0, 1, 0, 0, 1, 1, 0, 0, 0};
    double value = bits[0];
    for (int k = 1; k < 12; ++k)
        value += (bits[k] - bits[k - 1]) * (0.5 + 0.5 * std::tanh((t - k * 60e-6 + 30e-6) / 3e-6));
    return value;
}

double noise(double t)
{
    static test::Gaussian random(4);
    (void)t;
    return 0.1 * random();
}

double burst(double t)
{
    return (0.3 + 0.7 * std::exp(-std::pow((t - 300e-6) / 120e-6, 2))) * std::sin(turn * 80e3 * t);
}

double drift(double t) ///< a clock whose rate swings
{
    const double phase = turn * (40e3 * t + 0.5 * std::sin(turn * 3.4e3 * t));
    return 0.5 + 0.5 * std::tanh(6 * std::sin(phase));
}

Formula::Inputs inputs()
{
    static const std::map<std::string, SourcePtr> signals_{
        {"sine", made([](double t) { return std::sin(turn * 5e3 * t); })},
        {"quarter", made([](double t) { return std::cos(turn * 5e3 * t); })},
        {"ramp", made([](double t) { return 0.02 + t / 600e-6; })},
        {"data", made(data)},
        {"p", made([](double t) { return data(t) / 2 + 0.1 * std::sin(turn * 6e3 * t); })},
        {"n", made([](double t) { return 0.5 - data(t) / 2 + 0.1 * std::sin(turn * 6e3 * t); })},
        {"noisy", made([](double t) { return data(t) + noise(t); })},
        {"drifting", made([](double t) { return 0.2 * std::sin(turn * 20e3 * t) + 2e3 * t; })},
        {"spiky", made([](double t) { return data(t) + (int(t / interval) % 97 == 5 ? 0.8 : 0); })},
        {"burst", made(burst)},
        {"hum", made([](double t) { return data(t) + 0.3 * std::sin(turn * 20e3 * t); })},
        {"dull", made([](double t) {
             double sum = 0;
             for (int k = 0; k < 60; ++k) sum += data(t - k * 1e-6) * std::exp(-k / 8.0);
             return sum / 8.5;
         })},
        {"repeating", made([](double t) { return 0.5 + 0.4 * std::sin(turn * 10e3 * t) + 3 * noise(t); })},
        {"drift", made(drift)},
        {"pulses", made([](double t) {
             const double place = std::fmod(t, 50e-6), width = 15e-6 + 8e-6 * std::sin(t / 90e-6);
             return 0.5 * (std::tanh((place - 5e-6) / 1e-6) - std::tanh((place - 5e-6 - width) / 1e-6));
         })},
        {"warble", made([](double t) { return std::sin(turn * 80e3 * t + 2.5 * std::sin(turn * 4e3 * t)); })},
    };
    Formula::Inputs from;
    from.channelOf = [](const std::string &name) -> SourcePtr {
        if (name == "coarse") {
            std::vector<double> values;
            for (int i = 0; i < samples / 25; ++i) values.push_back(std::sin(turn * 5e3 * i * 25 * interval + 0.3));
            return makeMemorySource(std::move(values), 25 * interval);
        }
        const auto found = signals_.find(name);
        return found == signals_.end() ? nullptr : found->second;
    };
    from.momentsOf = [](const std::string &name) -> std::optional<FormulaMoments> {
        if (name != "widths") return {};
        FormulaMoments moments;
        moments.source = signals_.at("pulses");
        moments.axis = moments.source->axis();
        for (int k = 0; k < 12; ++k) {
            moments.positions.push_back(5 + 50.0 * k);
            moments.values.push_back(15e-6 + 8e-6 * std::sin((k * 50e-6 + 20e-6) / 90e-6));
        }
        return moments;
    };
    return from;
}

struct Curve {
    QColor ink;
    double width;
    SourcePtr source;
};

void paintCurves(QPainter &painter, const QRectF &place, const std::vector<Curve> &curves)
{
    double low = INFINITY, high = -INFINITY;
    std::vector<std::vector<double>> all;
    for (const Curve &curve : curves) {
        std::vector<double> values(std::size_t(curve.source->axis().count));
        curve.source->read(0, values);
        for (const double v : values)
            if (v == v) low = std::min(low, v), high = std::max(high, v);
        all.push_back(std::move(values));
    }
    if (!(high > low)) low -= 1, high += 1;
    for (std::size_t k = 0; k < curves.size(); ++k) {
        const TimeAxis &axis = curves[k].source->axis();
        painter.setPen(QPen(curves[k].ink, curves[k].width));
        QPolygonF line;
        const auto flush = [&] {
            painter.drawPolyline(line);
            line.clear();
        };
        const bool few = axis.count < 100;
        for (std::size_t i = 0; i < all[k].size(); ++i) {
            if (all[k][i] != all[k][i]) {
                flush();
                continue;
            }
            const QPointF at(place.left() + axis.timeOf(double(i)) / (samples * interval) * place.width(),
                             place.bottom() - (all[k][i] - low) / (high - low) * place.height());
            if (few) painter.drawEllipse(at, 1.6, 1.6);
            line << at;
        }
        flush();
    }
}

void paint(QPainter &painter, const QRectF &cell, const Picture &picture, const Look &look)
{
    painter.setPen(QPen(look.hairline, 1));
    painter.setBrush(look.tile);
    painter.drawRoundedRect(cell, 4, 4);
    painter.setBrush(Qt::NoBrush);
    painter.setFont(look.font(11));
    painter.setPen(look.ink);
    painter.drawText(cell.adjusted(8, 4, -8, 0), Qt::AlignTop | Qt::AlignLeft, picture.formula);
    Progress progress;
    const Formula::Inputs from = inputs();
    const SourcePtr result = Formula::parse(picture.formula).evaluate(from, progress);
    std::vector<Curve> given;
    for (const QString &name : QString(picture.inputs).split(' '))
        given.push_back({look.quiet, 0.9, from.channelOf(name.toStdString())});
    const Curve made{look.accent, 1.5, result};
    const QRectF room = cell.adjusted(8, 24, -8, -8);
    if (picture.apart) {
        paintCurves(painter, QRectF(room.topLeft(), QSizeF(room.width(), room.height() * 0.44)), given);
        paintCurves(painter, QRectF(room.left(), room.top() + room.height() * 0.54, room.width(), room.height() * 0.46),
                    {made});
    } else {
        given.push_back(made);
        paintCurves(painter, room, given);
    }
}

} // namespace

int main(int argc, char **argv)
{
    QGuiApplication app(argc, argv);
    if (argc != 2) {
        std::fprintf(stderr, "usage: fulvex-formula-pictures FOLDER\n");
        return 2;
    }
    QDir().mkpath(argv[1]);
    const Look &look = Look::light();
    std::set<std::string> shown;
    for (const Page &page : pages) {
        constexpr int columns = 3;
        constexpr QSizeF cell(286, 104), gap(10, 10);
        const int rows = (int(page.pictures.size()) + columns - 1) / columns;
        QImage image(QSize(int(columns * (cell.width() + gap.width()) + gap.width()),
                           int(rows * (cell.height() + gap.height()) + gap.height())),
                     QImage::Format_RGB32);
        image.fill(look.paper);
        QPainter painter(&image);
        painter.setRenderHint(QPainter::Antialiasing);
        for (std::size_t i = 0; i < page.pictures.size(); ++i) {
            const double column = double(i % columns), row = double(i / columns);
            paint(painter,
                  QRectF(QPointF(gap.width() + column * (cell.width() + gap.width()),
                                 gap.height() + row * (cell.height() + gap.height())),
                         cell),
                  page.pictures[i], look);
            shown.insert(page.pictures[i].function);
        }
        painter.end();
        if (!image.save(QDir(argv[1]).filePath(QString(page.name) + ".png"))) return 1;
    }
    for (const FormulaFunction &function : formulaFunctions()) {
        if (!std::isalpha(static_cast<unsigned char>(function.name[0])) || shown.contains(function.name)) continue;
        std::fprintf(stderr, "no picture of %s\n", function.name);
        return 1;
    }
    return 0;
}
