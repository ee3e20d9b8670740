#pragma once

#include "document.h"

#include <QObject>
#include <QUndoStack>
#include <cstdint>
#include <functional>

namespace fulvex {

/// The document, changed by commands that can be undone. Every change makes a revision; no two have the same number.
class DocumentStore final : public QObject {
    Q_OBJECT
public:
    explicit DocumentStore(QObject *parent = nullptr) : QObject(parent) {}
    const Document &document() const { return m_document; }
    std::uint64_t revision() const { return m_revision; }
    QUndoStack &undoStack() { return m_undo; }
    /// Puts another one in its place, which is told by whoever does so; what was done before cannot be undone any more.
    void begin(Document document);
    /// Applies `edit` as one undoable step; steps with the same non-empty `mergeKey` in a row become one. An edit that
    /// leaves the document invalid is not taken: `refused` tells why and false comes back.
    bool change(const QString &what, const std::function<void(Document &)> &edit, const QString &mergeKey);

signals:
    /// `sameNumbers`: only of words, notes, markers, tiles; what was computed is of this document as well.
    void changed(bool sameNumbers);
    void refused(const QString &why);

private:
    friend class DocumentCommand;
    void put(const Document &document);
    Document m_document;
    std::uint64_t m_revision = 0;
    QUndoStack m_undo;
};

} // namespace fulvex
