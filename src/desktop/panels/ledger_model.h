#pragma once

#include "figure_worker.h"
#include "ledger_extras.h"
#include "table_text.h"
#include "workbench.h"

#include <QAbstractTableModel>
#include <QSortFilterProxyModel>
#include <QStyledItemDelegate>

namespace fulvex {

/// Columns of the Ledger, in their order.
struct LedgerColumn {
    enum Id {
        quantity,
        of,
        mean,
        uncertainty,
        median,
        spread,
        min,
        max,
        last,
        count,
        allMean,
        allSpread,
        allMin,
        allMax,
        allCount,
        limit,
        verdict,
        allVerdict,
        inView
    };
    const char *words;
    int width;       ///< pixels, usually
    bool shown;      ///< where nobody chose
    bool shownOfRun; ///< the same while there is a run
    bool left;       ///< words, not numbers
    const char *tip;
};
std::span<const LedgerColumn> ledgerColumns();

enum class LedgerGroups { none, byChannel, byKind };

/// The rows of the Ledger as a table model, on wish under headings; a mask is a row like any other.
class LedgerModel final : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Role { groupRole = Qt::UserRole, headingRole };
    explicit LedgerModel(Workbench &bench, QObject *parent);
    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex &index) const override;
    /// A limit, as it is typed.
    bool setData(const QModelIndex &index, const QVariant &value, int role) override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Selection selectionAt(int row) const; ///< nothing for a heading
    int pending() const;                  ///< lines that are not the last word
    int lines() const { return int(m_lines.size()) - m_headings; }
    int rowOf(const Selection &selection) const;
    /// Why a row has no number; empty where it has one.
    QString reasonAt(int row) const;
    LedgerGroups groups() const { return m_groups; }
    void setGroups(LedgerGroups groups);
    /// Whether medians, and what is in view, are shown: they are found beside the interface, and only then.
    void setExtras(bool medians, bool inView);

private:
    struct Shown {
        LedgerLine line;
        int group = 0;
        bool heading = false;
        bool operator==(const Shown &) const = default;
    };
    void refresh();
    void wantExtras();
    void grouped(std::vector<Shown> &lines) const;
    QString groupOf(const LedgerLine &line) const;
    QString cell(const Shown &shown, int column) const;
    void takeRun();
    const LedgerLine *ofAll(const std::string &id) const; ///< of all captures of a run; null: none is there
    Workbench &m_bench;
    LedgerLines m_words, m_wordsOfAll;
    std::map<std::string, LedgerLine> m_all;
    std::vector<Shown> m_lines;
    int m_headings = 0;
    LedgerGroups m_groups = LedgerGroups::none;
    bool m_medians = false, m_inView = false;
    Drawn<LedgerExtras> m_extras;
};

/// Sorts within groups, and keeps the heading of a group of which a row passes the filter.
class LedgerProxy final : public QSortFilterProxyModel {
    Q_OBJECT
public:
    using QSortFilterProxyModel::QSortFilterProxyModel;

protected:
    bool lessThan(const QModelIndex &left, const QModelIndex &right) const override;
    bool filterAcceptsRow(int row, const QModelIndex &parent) const override;
};

/// Results come while a limit is typed: what was typed stays.
class LimitDelegate final : public QStyledItemDelegate {
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void setEditorData(QWidget *editor, const QModelIndex &index) const override;
};

} // namespace fulvex
