#pragma once

#include "report_entry.h"

#include <QImage>

namespace fulvex {

/// The picture on a report's first page; null where there is none, or none that can be read.
QImage logoOf(const ReportEntry &entry);

/// A picture as a document keeps it: no larger than a first page shows it sharply.
std::string logoText(const QImage &picture);

} // namespace fulvex
