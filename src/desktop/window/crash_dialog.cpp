#include "crash_dialog.h"

#include "atomic_file.h"
#include "axis_painter.h"
#include "crash_note.h"
#include "error.h"

#include <QDialog>
#include <QFileDialog>
#include <QFontDatabase>
#include <QLabel>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace fulvex {

void showCrashNotes(QWidget *window)
{
    QStringList all;
    for (const CrashNote &note : crashNotes()) all << text(note.text);
    auto *dialog = new QDialog(window);
    dialog->setObjectName("crashDialog");
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(QObject::tr("What the program noted when it ended"));
    auto *layout = new QVBoxLayout(dialog);
    auto *said =
        new QLabel(QObject::tr("Version, where in the program, and what was done last, by name: nothing of your "
                               "data. It goes nowhere unless you save it and pass it on yourself."));
    said->setWordWrap(true);
    layout->addWidget(said);
    auto *words = new QPlainTextEdit(all.join("\n\n"));
    words->setObjectName("crashText");
    words->setReadOnly(true);
    words->setLineWrapMode(QPlainTextEdit::NoWrap);
    words->setFont(QFontDatabase::systemFont(QFontDatabase::FixedFont));
    layout->addWidget(words, 1);
    auto *buttons = new QHBoxLayout;
    auto *away = new QPushButton(QObject::tr("Throw it away"));
    away->setObjectName("crashAway");
    auto *save = new QPushButton(QObject::tr("Save as…"));
    save->setObjectName("crashSave");
    auto *close = new QPushButton(QObject::tr("Close"));
    close->setDefault(true);
    buttons->addWidget(away);
    buttons->addStretch(1);
    buttons->addWidget(save);
    buttons->addWidget(close);
    layout->addLayout(buttons);
    QObject::connect(close, &QPushButton::clicked, dialog, &QDialog::close);
    QObject::connect(away, &QPushButton::clicked, dialog, [dialog] {
        discardCrashNotes();
        dialog->close();
    });
    QObject::connect(save, &QPushButton::clicked, dialog, [dialog, words] {
        const QString path = QFileDialog::getSaveFileName(dialog, QObject::tr("Save the note"), "fulvex-note.txt",
                                                          QObject::tr("Text (*.txt)"));
        if (path.isEmpty()) return;
        try {
            writeFileAtomically(path.toStdString(), words->toPlainText().toStdString());
        } catch (const Error &failure) {
            QMessageBox::warning(dialog, QObject::tr("Save the note"), text(failure.what()));
        }
    });
    dialog->resize(760, 460);
    dialog->show();
}

} // namespace fulvex
