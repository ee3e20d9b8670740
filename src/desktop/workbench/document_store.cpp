#include "document_store.h"

#include "axis_painter.h"
#include "document_json.h"
#include "error.h"

#include <QUndoCommand>
#include <utility>

namespace fulvex {

/// Before and after, as whole documents: they are small, and nothing can be forgotten.
class DocumentCommand final : public QUndoCommand {
public:
    DocumentCommand(DocumentStore &store, const QString &what, Document before, Document after, const QString &mergeKey)
        : QUndoCommand(what), m_store(store), m_before(std::move(before)), m_after(std::move(after)),
          m_mergeKey(mergeKey)
    {
    }
    void undo() override { m_store.put(m_before); }
    void redo() override { m_store.put(m_after); }
    int id() const override { return m_mergeKey.isEmpty() ? -1 : 1; }
    bool mergeWith(const QUndoCommand *other) override
    {
        const auto *next = static_cast<const DocumentCommand *>(other);
        if (next->m_mergeKey != m_mergeKey) return false;
        m_after = next->m_after;
        return true;
    }

private:
    DocumentStore &m_store;
    Document m_before, m_after;
    QString m_mergeKey;
};

void DocumentStore::begin(Document document)
{
    m_undo.clear();
    m_document = std::move(document);
    ++m_revision;
}

void DocumentStore::put(const Document &document)
{
    const bool sameNumbers = sameComputation(document, m_document);
    m_document = document;
    ++m_revision;
    emit changed(sameNumbers);
}

bool DocumentStore::change(const QString &what, const std::function<void(Document &)> &edit, const QString &mergeKey)
{
    Document after = m_document;
    edit(after);
    nameTiles(after);
    if (after == m_document) return true;
    try {
        validate(after);
    } catch (const Error &error) {
        emit refused(text(error.what()));
        return false;
    }
    m_undo.push(new DocumentCommand(*this, what, m_document, std::move(after), mergeKey));
    return true;
}

} // namespace fulvex
