#pragma once

#include "workbench.h"

#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSlider>
#include <QWidget>
#include <functional>
#include <optional>

namespace fulvex {

/// Words for people, and the word of the document that each means.
using Choices = std::vector<std::pair<QString, std::string>>;

/// Fields over the document: each shows what the document says and changes it as it is edited. A field that has the
/// focus is not overwritten while one types.
class InspectorForm final : public QWidget {
    Q_OBJECT
public:
    InspectorForm(Workbench &bench, QWidget *parent = nullptr);

    void heading(const QString &words);
    /// The rows that follow are fields of such an entry ("clock"): terms explain them.
    void explain(const std::string &kind) { m_kind = kind; }
    /// `none`: what an empty field means.
    void textField(const QString &label, const QString &name, std::function<QString(const Document &)> get,
                   std::function<void(Document &, const QString &)> set, const QString &none = {});
    /// A number with unit; typed with or without SI prefix. The unit is asked for when it is needed, since it may be
    /// known, or change, only after the field was made. `none`: what an empty field means, where one is allowed.
    void quantityField(const QString &label, const QString &name, std::function<std::string()> unit,
                       const std::optional<QString> &none, std::function<std::optional<double>(const Document &)> get,
                       std::function<void(Document &, std::optional<double>)> set);
    /// A slider over decades between low and high; drags of one `entry` are one undo step.
    void decadeSlider(const QString &name, const std::string &entry, double low, double high,
                      std::function<double(const Document &)> get, std::function<void(Document &, double)> set);
    void choiceField(const QString &label, const QString &name, const Choices &choices,
                     std::function<std::string(const Document &)> get,
                     std::function<void(Document &, const std::string &)> set);
    void toggleField(const QString &label, const QString &name, std::function<bool(const Document &)> get,
                     std::function<void(Document &, bool)> set);
    /// A line of words that follows the results.
    void fact(const QString &label, std::function<QString()> get);
    void widget(QWidget *widget);
    /// `possible`: whether there is anything to do now; nothing: always.
    void button(const QString &words, const QString &name, std::function<void()> pressed,
                std::function<bool()> possible = {});

    /// Shows what the document and the results say now.
    void refresh();

private:
    void addRow(const QString &label, QWidget *field);
    Workbench &m_bench;
    QFormLayout *m_layout;
    std::string m_kind;
    QString m_label; ///< of the row before
    std::vector<std::function<void()>> m_refreshers;
};

} // namespace fulvex
