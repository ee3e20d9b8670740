#pragma once

#include "workbench.h"

#include <QAbstractTableModel>

namespace fulvex {

/// What is set differently in two results: a line for each setting.
class ComparedSettingsModel final : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { setting, first, second, moves, columns };
    ComparedSettingsModel(Workbench &bench, QObject *parent) : QAbstractTableModel(parent), m_bench(bench) {}
    void show(std::shared_ptr<const Comparison> comparison);
    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override { return parent.isValid() ? 0 : columns; }
    QVariant data(const QModelIndex &index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    const SettingDifference &at(int row) const { return m_comparison->settings[std::size_t(row)]; }

private:
    Workbench &m_bench;
    std::shared_ptr<const Comparison> m_comparison;
    std::vector<QString> m_moves; ///< what each setting moves
};

/// Numbers of two results side by side, with the difference in units of its uncertainty.
class ComparedNumbersModel final : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { number, first, second, difference, scale, verdict, columns };
    enum Role { sortRole = Qt::UserRole };
    ComparedNumbersModel(Workbench &bench, QObject *parent) : QAbstractTableModel(parent), m_bench(bench) {}
    void show(std::shared_ptr<const Comparison> comparison);
    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override { return parent.isValid() ? 0 : columns; }
    QVariant data(const QModelIndex &index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    const Comparison::Pair &at(int row) const { return m_comparison->pairs[m_shown[std::size_t(row)]]; }

private:
    Workbench &m_bench;
    std::shared_ptr<const Comparison> m_comparison;
    std::vector<std::size_t> m_shown; ///< places of the pairs that matter
};

} // namespace fulvex
