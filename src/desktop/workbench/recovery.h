#pragma once

#include "document.h"
#include "errands.h"

#include <QObject>
#include <QString>
#include <QTimer>
#include <memory>
#include <vector>

namespace fulvex {

class Workbench;

/// Keeps what is not saved where it can be found after the program ended without being asked: a copy of the document,
/// a moment after each change, in the user's data folder. It goes when the project is saved or the window closed.
class Recovery final : public QObject {
    Q_OBJECT
public:
    explicit Recovery(Workbench &bench);
    ~Recovery() override;

    struct Left {
        QString file, project; ///< the copy; the project it was (empty: never saved)
        Document document;     ///< its captures by absolute paths
    };
    /// Copies that programs left that run no more, newest first. A copy that cannot be read is passed over.
    static std::vector<Left> left();
    static void discard(const Left &left);

private:
    void keep();
    void forget();
    Workbench &m_bench;
    std::unique_ptr<Errands> m_errands; ///< its own: a long export does not keep it waiting
    QTimer m_soon;
    QString m_file;
};

} // namespace fulvex
