#pragma once

#include "workbench.h"

#include <QAbstractTableModel>

namespace fulvex {

/// The captures of a run as a table, the worst first: a small eye, the name, its verdict, what masks saw, and rows of
/// the Ledger.
class RunModel final : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { capture, verdict, failures, margin, firstRow };
    enum Role { sortRole = Qt::UserRole };
    explicit RunModel(Workbench &bench, QObject *parent);
    /// Rows of the Ledger that have a column.
    void setRows(std::vector<std::string> rows);
    const std::vector<std::string> &rows() const { return m_rows; }
    void refresh();
    int rowCount(const QModelIndex &parent = {}) const override { return parent.isValid() ? 0 : int(m_lines.size()); }
    int columnCount(const QModelIndex &parent = {}) const override
    {
        return parent.isValid() ? 0 : firstRow + int(m_rows.size());
    }
    QVariant data(const QModelIndex &index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    const std::string &nameAt(int row) const { return m_lines[std::size_t(row)].line.capture; }
    bool isLeftOut(int row) const { return !m_lines[std::size_t(row)].leftOut.empty(); }
    int rowOf(const std::string &name) const; ///< -1: it is not there

private:
    struct Line {
        RunLine line;
        std::string leftOut; ///< why it does not count
        bool waits = false;  ///< it is not counted yet
    };
    /// Where a row of the Ledger is among the document's measurements, and how its values are told.
    struct Told {
        std::size_t index = 0;
        QString words;
        std::string unit;
        std::optional<double> digit;
    };
    /// How long the folders are that all names begin with.
    static std::size_t sharedFolders(const std::vector<Line> &lines);
    /// How long the ending is that all names have.
    static std::size_t sharedEnding(const std::vector<Line> &lines);
    QString cell(const Line &line, int column) const;
    Workbench &m_bench;
    std::vector<std::string> m_rows;
    std::vector<std::optional<Told>> m_told; ///< by m_rows
    std::vector<Line> m_lines;
    std::size_t m_shared = 0, m_sharedEnd = 0; ///< letters of folders and endings that all names have
    std::shared_ptr<const RunSnapshot> m_shown;
};

} // namespace fulvex
