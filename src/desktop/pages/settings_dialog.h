#pragma once

#include "user_settings.h"
#include "workbench.h"

#include <QDialog>
#include <QFormLayout>
#include <QLabel>

namespace fulvex {

/// What a user sets once for all projects; applied and kept as it is changed.
class SettingsDialog final : public QDialog {
    Q_OBJECT
public:
    explicit SettingsDialog(Workbench &bench, QWidget *parent = nullptr);

private:
    QFormLayout *section(const QString &title, const QString &words);
    void choice(QFormLayout *form, const QString &label, const char *name,
                const std::vector<std::pair<QString, QVariant>> &choices, const QVariant &now,
                const std::function<void(const QVariant &)> &set);
    void number(QFormLayout *form, const QString &label, const char *name, const std::string &unit, double least,
                double most, double &value);
    /// `value` is one of m_settings.
    void words(QFormLayout *form, const QString &label, const char *name, std::string &value);
    void addCache();
    void changed(); ///< keeps and applies
    void showCache();

    Workbench &m_bench;
    UserSettings m_settings;
    QLabel *m_cached, *m_said;
};

} // namespace fulvex
