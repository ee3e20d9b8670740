#pragma once

#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <functional>
#include <vector>

namespace fulvex {

/// One message at a time, under the menus, until it is dismissed; with buttons for what can be done about it.
class MessageBar final : public QFrame {
    Q_OBJECT
public:
    struct Action {
        QString name, words; ///< of the object; on the button
        std::function<void()> act;
    };
    explicit MessageBar(QWidget *parent = nullptr);
    /// The bar goes before an action acts.
    void show(const QString &message, std::vector<Action> actions = {});

private:
    QLabel *m_message;
    QHBoxLayout *m_actions;
};

} // namespace fulvex
