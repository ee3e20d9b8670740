#pragma once

#include "document.h"
#include "errands.h"

#include <QObject>
#include <QString>
#include <QTimer>
#include <memory>
#include <optional>
#include <vector>

namespace fulvex {

class Workbench;

/// Keeps what is not saved where it can be found after the program ended without being asked: a copy of the document,
/// within a second of each change, in the user's data folder. It goes when the project is saved or the window closed.
///
/// What was left by a crash stays there until this window's own copy of it is written and one evaluation has come to
/// its end: a document that brings the program down is lost by no try. After such a try it says so (`tried`).
class Recovery final : public QObject {
    Q_OBJECT
public:
    explicit Recovery(Workbench &bench);
    ~Recovery() override;

    struct Left {
        QString file, project; ///< the copy; the project it was (empty: never saved)
        Document document;     ///< its captures by absolute paths
        bool tried = false;    ///< going on with it ended the program once already
    };
    /// Copies that programs left that run no more, newest first. A copy that cannot be read is passed over.
    static std::vector<Left> left();
    static void discard(const Left &left);
    /// Goes on with it in this window; with `held` nothing is computed before the user asks for it.
    void goOnWith(const Left &left, bool held);

signals:
    void failed(const QString &message); ///< no copy could be kept; told again only after one could

private:
    void keep();
    void forget();
    void settle();
    static QString triedMark(const QString &file) { return file + ".tried"; }
    Workbench &m_bench;
    std::unique_ptr<Errands> m_errands; ///< its own: a long export does not keep it waiting
    QTimer m_soon;
    QString m_file;
    std::optional<Left> m_from;                 ///< what this session goes on with, while it still lies there
    bool m_copied = false, m_evaluated = false; ///< since then
    bool m_due = false;                         ///< another copy, when the one that is being written is done
    bool m_failing = false;
};

} // namespace fulvex
