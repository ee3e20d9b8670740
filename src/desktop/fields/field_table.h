#pragma once

#include "field.h"

#include <QAbstractTableModel>
#include <QStyledItemDelegate>

namespace fulvex {

/// A list of things that are made of fields as a table to be typed in: a row each, a column for each field that has
/// words.
class FieldTable final : public QAbstractTableModel {
    Q_OBJECT
public:
    /// What it asks whoever has the list.
    struct Of {
        std::function<EntryList()> list; ///< as it is now
        std::function<std::string(std::size_t row, const Field &)> unit = {};
        std::function<std::vector<std::string>(std::size_t row, const Field &)> choices = {}; ///< words to choose from
        /// Changes the list: `act` is to be called, with what is changed in words.
        std::function<void(const QString &what, const std::function<void()> &act)> change = {};
    };
    FieldTable(Of of, QObject *parent);
    void refresh(); ///< the list is another, or changed
    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    bool setData(const QModelIndex &index, const QVariant &value, int role) override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex &index) const override;
    std::vector<std::string> choicesAt(const QModelIndex &index) const;

signals:
    void refused(const QString &why); ///< what was typed is not taken

private:
    Field fieldAt(const QModelIndex &index) const;
    std::string unitAt(const QModelIndex &index, const Field &field) const;
    Of m_of;
    std::vector<std::size_t> m_columns; ///< places of fields with words
    std::vector<QString> m_headings;
    int m_rows = 0;
};

/// Offers the words that a cell may be, where there are some.
class FieldDelegate final : public QStyledItemDelegate {
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QWidget *createEditor(QWidget *parent, const QStyleOptionViewItem &option, const QModelIndex &index) const override;
    void setEditorData(QWidget *editor, const QModelIndex &index) const override;
    void setModelData(QWidget *editor, QAbstractItemModel *model, const QModelIndex &index) const override;
};

} // namespace fulvex
