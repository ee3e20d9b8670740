#pragma once

#include <QPushButton>

namespace fulvex {

/// A button that breaks its words into lines where one has no room.
class WrappedButton final : public QPushButton {
    Q_OBJECT
public:
    explicit WrappedButton(const QString &words, QWidget *parent = nullptr);
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

protected:
    void resizeEvent(QResizeEvent *event) override;
    void changeEvent(QEvent *event) override;

private:
    void wrap();
    QSize around() const; ///< what a button takes besides its text
    QString linesIn(int width) const;
    QString m_words;
};

} // namespace fulvex
