#include "comparison_model.h"

#include "axis_painter.h"
#include "compared_eyes_figure.h"
#include "difference_scale.h"
#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

QColor inkOf(const Look &look, int column)
{
    return look.trace(column == 1 ? ComparedInks::first : ComparedInks::second);
}

QString listed(const std::vector<std::string> &ids)
{
    QStringList words;
    for (const std::string &id : ids) words << text(id);
    return words.join(", ");
}

} // namespace

void ComparedSettingsModel::show(std::shared_ptr<const Comparison> comparison)
{
    if (comparison == m_comparison) return;
    beginResetModel();
    m_comparison = std::move(comparison);
    m_moves.clear();
    for (std::size_t i = 0; m_comparison && i < m_comparison->settings.size(); ++i) {
        const std::vector<std::string> moved = m_comparison->movedBy(m_comparison->settings[i]);
        m_moves.push_back(moved.empty() ? tr("nothing") : listed(moved));
    }
    endResetModel();
}

int ComparedSettingsModel::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() || !m_comparison ? 0 : int(m_comparison->settings.size());
}

QVariant ComparedSettingsModel::data(const QModelIndex &index, int role) const
{
    const SettingDifference &one = at(index.row());
    if (role == Qt::DisplayRole) {
        switch (index.column()) {
        case setting:
            return tr("%1 of %2").arg(text(one.setting), text(one.of));
        case first:
            return text(one.first);
        case second:
            return text(one.second);
        default:
            return m_moves[std::size_t(index.row())];
        }
    }
    if (role == Qt::ToolTipRole)
        return one.judges ? tr("Verdicts follow from it, and no number.")
                          : tr("Stands behind: %1").arg(listed(one.rows));
    if (role == Qt::ForegroundRole) {
        if (index.column() == first || index.column() == second) return inkOf(m_bench.look(), index.column());
        if (index.column() == moves) return m_bench.look().quiet;
    }
    if (role == Qt::FontRole && index.column() == setting) return m_bench.look().font(11, true);
    return {};
}

QVariant ComparedSettingsModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
    const QString words[columns] = {tr("setting"), tr("the other"), tr("this project"), tr("moves")};
    return words[section];
}

void ComparedNumbersModel::show(std::shared_ptr<const Comparison> comparison)
{
    if (comparison == m_comparison) return;
    beginResetModel();
    m_comparison = std::move(comparison);
    m_shown.clear();
    for (std::size_t i = 0; m_comparison && i < m_comparison->pairs.size(); ++i)
        if (m_comparison->pairs[i].matters) m_shown.push_back(i);
    endResetModel();
}

int ComparedNumbersModel::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(m_shown.size());
}

QVariant ComparedNumbersModel::data(const QModelIndex &index, int role) const
{
    const Comparison::Pair &pair = at(index.row());
    const int column = index.column();
    const auto changed = [&] {
        return pair.verdictDiffers()
                   ? tr("%1 → %2").arg(verdictName(pair.first.verdict), verdictName(pair.second.verdict))
                   : QString();
    };
    if (role == Qt::DisplayRole) {
        switch (column) {
        case number: {
            const bool several = std::ranges::count_if(m_shown, [&](std::size_t other) {
                                     const ComparedNumber &one = m_comparison->pairs[other].second;
                                     return one.title == pair.second.title && one.part == pair.second.part;
                                 }) > 1;
            return text(titleOf(pair.second)) + (several ? " · " + text(pair.second.id) : QString());
        }
        case first:
            return text(comparedText(pair.first));
        case second:
            return text(comparedText(pair.second));
        case difference:
            return text(differenceText(pair));
        case verdict:
            return changed();
        default:
            return {};
        }
    }
    if (role == sortRole) {
        switch (column) {
        case number:
            return index.row();
        case first:
            return pair.first.value.value_or(INFINITY);
        case second:
            return pair.second.value.value_or(INFINITY);
        case verdict:
            return pair.verdictDiffers() ? 1 : 0;
        default:
            return std::abs(pair.times.value_or(pair.differs() ? INFINITY : 0));
        }
    }
    if (role == Qt::ToolTipRole) {
        QStringList lines;
        for (const ComparedNumber *one : {&pair.first, &pair.second})
            if (!one->reason.empty()) lines << text(one->reason);
        if (pair.times) lines << tr("%1 times its uncertainty").arg(text(fixedText(*pair.times, 1)));
        if (pair.differs() && pair.setDifferently)
            lines << tr("A setting that it follows from differs: this says nothing about the device.");
        return lines.isEmpty() ? QVariant() : lines.join("\n");
    }
    if (role == Qt::TextAlignmentRole && column >= first && column <= difference)
        return int(Qt::AlignRight | Qt::AlignVCenter);
    if (role == Qt::ForegroundRole) {
        if (column == first || column == second) return inkOf(m_bench.look(), column);
        if (column == verdict) return pair.second.verdict == Verdict::fail ? m_bench.look().fail : m_bench.look().pass;
        if (!pair.isOther()) return m_bench.look().quiet;
    }
    if (role == Qt::FontRole && (column == number || column == verdict)) return m_bench.look().font(11, pair.isOther());
    if (role == Qt::AccessibleTextRole && column == scale)
        return pair.times ? tr("%1 uncertainties").arg(text(fixedText(*pair.times, 1))) : tr("not known");
    return {};
}

QVariant ComparedNumbersModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::TextAlignmentRole && section >= first && section <= difference)
        return int(Qt::AlignRight | Qt::AlignVCenter);
    if (role != Qt::DisplayRole) return {};
    const QString words[columns] = {tr("quantity"), tr("the other"),  tr("this project"),
                                    tr("change"),   tr("in u, ± 20"), tr("verdict")};
    return words[section];
}

} // namespace fulvex
