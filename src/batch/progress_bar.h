#pragma once

#include "progress.h"

#include <chrono>
#include <cstdio>
#include <thread>

namespace fulvex {

/// A bar on stderr, while it is a terminal, about the progress of work done elsewhere.
class ProgressBar {
public:
    ProgressBar(const Progress &progress, bool shown)
    {
        if (!shown) return;
        m_thread = std::jthread([&progress](std::stop_token stop) {
            while (!stop.stop_requested()) {
                const int filled = int(progress.fraction() * 30);
                std::fprintf(stderr, "\r[%.*s%*s] %3d %%", filled, "##############################", 30 - filled, "",
                             int(progress.fraction() * 100));
                std::this_thread::sleep_for(std::chrono::milliseconds(80));
            }
            std::fprintf(stderr, "\r%40s\r", "");
        });
    }

private:
    std::jthread m_thread;
};

} // namespace fulvex
