#pragma once

#include <QLineEdit>
#include <QListWidget>
#include <functional>

namespace fulvex {

/// Every action, found by its words and by the names of what it acts on, in any order: "rise d", "loop link", "fit".
/// Several at once with commas: "rise, fall, frequency link". Ctrl+Space comes here from anywhere.
class AskBox final : public QLineEdit {
    Q_OBJECT
public:
    struct Offer {
        QString words;    ///< what it does, as shown
        QString shortcut; ///< may be empty
        std::function<void()> act;
        QString also = {}; ///< further words that find it
        int distance = 3;  ///< of what it acts on: 0 it is selected, 3 in view or of no matter, 6 elsewhere
    };
    /// Comes to the box, its words chosen so that others can be typed at once.
    void begin();
    /// `offers` is asked anew with the first letter after somebody came here or outdate() was called: of a large
    /// project they take longer than a letter. `answers`: where the manual tells of what was typed, for questions and
    /// for what no action does.
    AskBox(std::function<std::vector<Offer>()> offers, std::function<std::vector<Offer>(const QString &typed)> answers,
           QWidget *parent = nullptr);
    QListWidget *list() { return m_list; }
    void outdate(); ///< what can be done may be something else now

protected:
    void focusInEvent(QFocusEvent *event) override;
    void focusOutEvent(QFocusEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    /// Of m_offers, those that have all words; best first.
    std::vector<int> found(const QStringList &words) const;
    /// Of several requests set apart by commas the best offer each; empty where one finds none. What the last is of
    /// counts for those before as well.
    std::vector<int> foundOfEach(const QString &typed) const;
    /// Of a question: actions that have its words, all but one of them where there are several and none has all.
    std::vector<int> foundOfQuestion(const QStringList &words) const;
    void renew();
    void match();
    void addAnswers(const QString &typed);
    void show(const QString &words, const std::vector<int> &offers);
    void accept();
    std::function<std::vector<Offer>()> m_source;
    std::function<std::vector<Offer>(const QString &)> m_answers;
    struct Found { // an offer's words in small letters
        QStringList words, also;
    };
    std::vector<Offer> m_offers;
    std::vector<Found> m_found; ///< of the first of them; what answers is not searched
    bool m_outdated = true;
    QListWidget *m_list;
};

} // namespace fulvex
