#pragma once

#include "mask_edits.h"

#include <QTableWidget>

namespace fulvex {

/// The corners of the project's own mask as numbers, in what it is measured in: typed over, removed by Delete.
class MaskTable final : public QTableWidget {
    Q_OBJECT
public:
    MaskTable(Workbench &bench, const std::string &mask, QWidget *parent = nullptr);
    /// Shows what the document says now.
    void refresh();
    std::size_t chosenArea() const;

protected:
    void keyPressEvent(QKeyEvent *event) override;

private:
    std::optional<MaskPlace> placeOf(int row) const;
    void take(int row, int column);
    MaskMirror mirror() const;
    Workbench &m_bench;
    std::string m_mask;
    std::vector<MaskArea> m_shown;
};

} // namespace fulvex
