#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <QEvent>
#include <algorithm>
#include <functional>
#include <string>
#include <vector>

namespace fulvex::bench {

/// Times each event.
class TimedApplication final : public QApplication {
public:
    using QApplication::QApplication;
    bool notify(QObject *receiver, QEvent *event) override
    {
        if (m_inside) return QApplication::notify(receiver, event);
        m_inside = true;
        const char *name = receiver->metaObject()->className(); // it may be gone afterwards
        const int kind = event->type();
        QElapsedTimer timer;
        timer.start();
        const bool taken = QApplication::notify(receiver, event);
        const double took = double(timer.nsecsElapsed()) / 1e6;
        if (stalls.empty() || took > *std::max_element(stalls.begin(), stalls.end()))
            longest = std::string(name) + ", event " + std::to_string(kind);
        stalls.push_back(took);
        m_inside = false;
        if (kind == QEvent::UpdateRequest && painted) painted();
        return taken;
    }
    std::vector<double> stalls;    ///< ms
    std::string longest;           ///< of them: for whom, and what kind of event it was
    std::function<void()> painted; ///< after each painting of the window

private:
    bool m_inside = false;
};

/// The value that a share of them lies below.
inline double at(std::vector<double> values, double share)
{
    if (values.empty()) return 0;
    std::sort(values.begin(), values.end());
    return values[std::min(values.size() - 1, std::size_t(share * double(values.size())))];
}

} // namespace fulvex::bench
