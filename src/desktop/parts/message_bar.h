#pragma once

#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
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
    /// The bar goes before an action acts. The first action has the keyboard, as what most want; with `careful` it is
    /// Dismiss, so that a key pressed in haste consents to nothing.
    void show(const QString &message, std::vector<Action> actions = {}, bool careful = false);

private:
    QLabel *m_message;
    QHBoxLayout *m_actions;
    QPushButton *m_dismiss;
};

} // namespace fulvex
