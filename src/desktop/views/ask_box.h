#pragma once

#include <QLineEdit>
#include <QListWidget>
#include <functional>

namespace fulvex {

/// Every action, found by its words: type "rise d", "eye", "fit". Ctrl+Space comes here from anywhere.
class AskBox final : public QLineEdit {
    Q_OBJECT
public:
    struct Offer {
        QString words;    ///< what it does, as shown
        QString shortcut; ///< may be empty
        std::function<void()> act;
    };
    /// `offers` is asked anew with every letter, so that it never offers what is gone.
    AskBox(std::function<std::vector<Offer>()> offers, QWidget *parent = nullptr);
    QListWidget *list() { return m_list; }

protected:
    void focusInEvent(QFocusEvent *event) override;
    void focusOutEvent(QFocusEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void match();
    void accept();
    std::function<std::vector<Offer>()> m_source;
    std::vector<Offer> m_offers;
    QListWidget *m_list;
};

} // namespace fulvex
