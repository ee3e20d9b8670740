#pragma once

#include "tile_frame.h"

namespace fulvex {

/// A tile of one entry of the document, the first that it names: a click chooses that.
class EntryTile : public TileFrame {
    Q_OBJECT
public:
    EntryTile(Workbench &bench, int index, QWidget *parent, Selection::Kind kind)
        : TileFrame(bench, index, parent), m_kind(kind)
    {
    }
    void choose() override
    {
        if (!entryId().empty()) bench().select({m_kind, entryId()});
    }

protected:
    std::string entryId() const { return entry().of.empty() ? std::string() : entry().of.front(); }
    bool selected() const override { return bench().selection() == Selection{m_kind, entryId()}; }
    /// Chooses it, and asks Evidence that of it.
    void ask(const Question &question) { bench().select({m_kind, entryId()}, question); }

private:
    Selection::Kind m_kind;
};

} // namespace fulvex
