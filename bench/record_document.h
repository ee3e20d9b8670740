#pragma once

#include "document.h"

namespace fulvex {

/// A document of one channel, `channel`, which is one value a sample of `file`, taken every nanosecond.
inline Document documentOf(const std::string &file, const std::string &channel)
{
    Document document;
    CaptureEntry capture;
    capture.id = "run";
    capture.file = file;
    capture.import.sampleInterval = 1e-9;
    ChannelEntry of;
    of.id = channel;
    of.capture = capture.id;
    document.captures = {capture};
    document.channels = {of};
    return document;
}

} // namespace fulvex
