#include "field_table.h"

#include "axis_painter.h"
#include "field_typing.h"

#include <QComboBox>
#include <algorithm>

namespace fulvex {

FieldTable::FieldTable(Of of, QObject *parent) : QAbstractTableModel(parent), m_of(std::move(of))
{
    refresh();
}

void FieldTable::refresh()
{
    const EntryList list = m_of.list();
    if (!m_columns.empty() && m_rows == int(list.size())) { // an editor may be open
        if (m_rows > 0) emit dataChanged(index(0, 0), index(m_rows - 1, columnCount() - 1));
        return;
    }
    beginResetModel();
    m_rows = int(list.size());
    m_columns.clear();
    m_headings.clear();
    const std::vector<Field> fields = list.standard();
    for (std::size_t i = 0; i < fields.size(); ++i) {
        if (!*fields[i].words) continue;
        m_columns.push_back(i);
        m_headings.push_back(tr(fields[i].words));
    }
    endResetModel();
}

int FieldTable::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : m_rows;
}

int FieldTable::columnCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(m_columns.size());
}

Field FieldTable::fieldAt(const QModelIndex &index) const
{
    return m_of.list().fields(std::size_t(index.row()))[m_columns[std::size_t(index.column())]];
}

std::string FieldTable::unitAt(const QModelIndex &index, const Field &field) const
{
    const std::string given = field.unit;
    if (given != rowUnit && given != channelUnit) return given;
    return m_of.unit ? m_of.unit(std::size_t(index.row()), field) : std::string();
}

QVariant FieldTable::data(const QModelIndex &index, int role) const
{
    if (!index.isValid() || index.row() >= int(m_of.list().size())) return {};
    const Field field = fieldAt(index);
    if (const auto *flag = std::get_if<bool *>(&field.value)) {
        if (role == Qt::CheckStateRole) return **flag ? Qt::Checked : Qt::Unchecked;
        return {};
    }
    if (role != Qt::DisplayRole && role != Qt::EditRole && role != Qt::ToolTipRole) return {};
    const std::string shown = typedText(field, unitAt(index, field));
    if (role == Qt::EditRole) return text(shown);
    for (const Choice &choice : field.choices)
        if (shown == choice.word) return tr(choice.words);
    return text(shown);
}

bool FieldTable::setData(const QModelIndex &index, const QVariant &value, int role)
{
    if (!index.isValid()) return false;
    if (role == Qt::CheckStateRole) {
        m_of.change(m_headings[std::size_t(index.column())],
                    [&] { *std::get<bool *>(fieldAt(index).value) = value.toInt() == Qt::Checked; });
        return true;
    }
    if (role != Qt::EditRole) return false;
    std::string typed = value.toString().trimmed().toStdString();
    const Field before = fieldAt(index);
    const std::string unit = unitAt(index, before);
    for (const Choice &choice : before.choices)
        if (text(typed) == tr(choice.words)) typed = choice.word;
    if (typed == typedText(before, unit)) return true;
    bool taken = false;
    m_of.change(m_headings[std::size_t(index.column())], [&] { taken = takeTyped(fieldAt(index), unit, typed); });
    if (!taken)
        emit refused(tr("%1: \"%2\" is not understood; give a number%3")
                         .arg(m_headings[std::size_t(index.column())], text(typed),
                              unit.empty() ? QString() : tr(" in %1, as 450 p or 4.5e-10").arg(text(unit))));
    return taken;
}

QVariant FieldTable::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (role != Qt::DisplayRole) return {};
    if (orientation == Qt::Vertical) return section + 1;
    return section < int(m_headings.size()) ? m_headings[std::size_t(section)] : QVariant();
}

Qt::ItemFlags FieldTable::flags(const QModelIndex &index) const
{
    if (!index.isValid()) return Qt::NoItemFlags;
    const bool flag = std::holds_alternative<bool *>(fieldAt(index).value);
    return Qt::ItemIsEnabled | Qt::ItemIsSelectable | (flag ? Qt::ItemIsUserCheckable : Qt::ItemIsEditable);
}

std::vector<std::string> FieldTable::choicesAt(const QModelIndex &index) const
{
    const Field field = fieldAt(index);
    std::vector<std::string> words;
    for (const Choice &choice : field.choices) words.push_back(tr(choice.words).toStdString());
    return words.empty() && m_of.choices ? m_of.choices(std::size_t(index.row()), field) : words;
}

QWidget *FieldDelegate::createEditor(QWidget *parent, const QStyleOptionViewItem &option,
                                     const QModelIndex &index) const
{
    const auto *model = qobject_cast<const FieldTable *>(index.model());
    const std::vector<std::string> words = model ? model->choicesAt(index) : std::vector<std::string>();
    if (words.empty()) return QStyledItemDelegate::createEditor(parent, option, index);
    auto *box = new QComboBox(parent);
    box->setEditable(true);
    box->setInsertPolicy(QComboBox::NoInsert);
    for (const std::string &word : words) box->addItem(text(word));
    return box;
}

void FieldDelegate::setEditorData(QWidget *editor, const QModelIndex &index) const
{
    if (auto *box = qobject_cast<QComboBox *>(editor))
        box->setCurrentText(index.data(Qt::DisplayRole).toString());
    else
        QStyledItemDelegate::setEditorData(editor, index);
}

void FieldDelegate::setModelData(QWidget *editor, QAbstractItemModel *model, const QModelIndex &index) const
{
    if (auto *box = qobject_cast<QComboBox *>(editor))
        model->setData(index, box->currentText(), Qt::EditRole);
    else
        QStyledItemDelegate::setModelData(editor, model, index);
}

} // namespace fulvex
