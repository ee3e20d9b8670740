#pragma once

#include "tile_frame.h"

namespace fulvex {

/// Where an occurrence of a row lies, and what it measures.
RecordSpan occurrenceOf(const Row &row, std::size_t index);

/// A tile of what a measured quantity's values are like, whatever the time: it is selected as its first row is.
class RowTile : public TileFrame {
    Q_OBJECT
public:
    RowTile(Workbench &bench, int index, QWidget *parent)
        : TileFrame(bench, index, parent, Selection::Kind::measurement)
    {
    }

protected:
    /// Shows the moment of one of the row's occurrences.
    void goToOccurrence(std::size_t index);
};

} // namespace fulvex
