#pragma once

#include "look.h"
#include "waveform.h"

#include <QAbstractScrollArea>
#include <QByteArray>

namespace fulvex {

/// The beginning of a file as it is: lines of text, or bytes with their offsets. Places where something was read are
/// tinted and numbered.
class FileView final : public QAbstractScrollArea {
    Q_OBJECT
public:
    explicit FileView(QWidget *parent = nullptr);
    void show(const QByteArray &head, std::vector<ReadFact> facts, const Look &look);
    /// Brings a fact's place into view and tints it stronger; -1: none.
    void point(int fact);
    /// Whether a click on a byte says that samples begin there.
    void letBeginBeChosen(bool on);
    /// The number that stands for a fact beside its place.
    static QString badge(int fact);

signals:
    void beginChosen(qsizetype offset); ///< bytes in the file

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    struct Line {
        QString number, words;
        qsizetype offset, length; ///< bytes in the file
    };
    void layOut();
    void fitBars();
    QRectF bytesRect(const QRectF &row, double first, double last) const; ///< of those of a row
    QRectF rowRect(std::size_t line) const;
    QByteArray m_head;
    std::vector<ReadFact> m_facts;
    std::vector<Line> m_lines;
    const Look *m_look = &Look::light();
    QFont m_fixed;
    bool m_bytes = false; ///< shown as bytes, not as lines
    bool m_choosesBegin = false;
    int m_pointed = -1;
};

} // namespace fulvex
