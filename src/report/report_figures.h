#pragma once

#include "report_content.h"

namespace fulvex {

using ReportFigures = std::vector<ReportContent::Figure>;

/// What a tile of a sheet shows, as the project was saved; none where there is nothing to draw, or where it is a list.
/// Throws Cancelled.
ReportFigures figuresOfTile(const Results &results, const SheetEntry &sheet, const TileEntry &tile, Progress &progress);

/// An eye or overlay with its mask, the bits that failed it among their like.
ReportFigures figuresOfEye(const Results &results, const std::string &eye);
/// The distribution of a row's values; none of one that is a single number.
ReportFigures figuresOfRow(const Results &results, const std::string &row, Progress &progress);
/// All that a jitter budget, or phase noise, can be told by.
ReportFigures figuresOfBudget(const Results &results, const std::string &budget, Progress &progress);
ReportFigures figuresOfPhaseNoise(const Results &results, const std::string &noise, Progress &progress);
/// A span of traces with a moment in it that stands out; none where they are not at hand.
ReportFigures figuresOfMoment(const Results &results, const std::string &channel, double at, double lasts,
                              const QString &title);

/// A kind of tile that tells a part of a budget or of phase noise alone.
ReportFigures figuresOfJitterTile(const Results &results, const TileEntry &tile, Progress &progress);

/// How a clock, the levels and a filter behind a channel were made.
ReportContent::Making makingOf(const Results &results, const std::string &id);

} // namespace fulvex
