#include "desktop_support.h"

#include "program_folders.h"
#include "tile_frame.h"

#include <QDialog>
#include <QElapsedTimer>
#include <QFileDialog>
#include <QMenu>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QSettings>
#include <gtest/gtest.h>
#include <utility>

namespace fulvex::test {

Desk::ShippedSettings::ShippedSettings()
{
    QSettings().remove("settings");
}

static std::shared_ptr<Engine> sharedEngine()
{
    static const auto engine = std::make_shared<Engine>(shareFolder() / "masks");
    return engine;
}

Desk::Desk(QSize size) : m_window(sharedEngine())
{
    m_window.resize(size);
    m_window.show();
    (void)QTest::qWaitForWindowExposed(&m_window);
}

void Desk::openDemo()
{
    m_window.openFiles({QString(FULVEX_DEMO) + "/tests-brackwater.fulvex"});
    EXPECT_TRUE(settled());
}

void Desk::showSheet(const QString &title)
{
    auto *tabs = find<QTabBar>("sheetTabs");
    for (int i = 0; i < tabs->count(); ++i) {
        if (tabs->tabText(i) == title) return tabs->setCurrentIndex(i);
    }
    ADD_FAILURE() << "no sheet is called " << title.toStdString();
}

void Desk::key(Qt::Key key, Qt::KeyboardModifiers modifiers)
{
    m_window.activateWindow();
    (void)QTest::qWaitForWindowActive(&m_window);
    QTest::keyClick(&m_window, key, modifiers);
}

void Desk::drop(const QStringList &files)
{
    QMimeData data;
    QList<QUrl> urls;
    for (const QString &file : files) urls << QUrl::fromLocalFile(file);
    data.setUrls(urls);
    QDragEnterEvent enter(QPoint(500, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&m_window, &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent drop(QPointF(500, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&m_window, &drop);
}

bool Desk::importShown()
{
    const bool shown =
        waitFor([this] { return find<QWidget>("importPage")->isVisible() && !bench().errands().busy(); });
    EXPECT_TRUE(shown) << message().toStdString();
    return shown;
}

void Desk::takeImport()
{
    ASSERT_TRUE(importShown());
    auto *add = find<QPushButton>("importAdd");
    ASSERT_TRUE(add->isEnabled());
    QTest::mouseClick(add, Qt::LeftButton);
    ASSERT_FALSE(find<QWidget>("importPage")->isVisible());
}

bool Desk::settled()
{
    const bool came = waitFor([this] {
        return bench().upToDate() && !bench().waiting() && !bench().evaluator().busy() && !bench().errands().busy();
    });
    return came && drawn();
}

bool Desk::drawn()
{
    QTest::qWait(40); // painted, and what it needs to be drawn is asked for
    const bool came = waitFor([this] { return !bench().figures().busy(); });
    QTest::qWait(20); // painted again: hands reach for what is seen
    return came;
}

void Desk::ask(const QString &words)
{
    auto *box = find<QLineEdit>("ask");
    box->setFocus();
    QTest::keyClicks(box, words);
    QTest::keyClick(box, Qt::Key_Return);
}

QString Desk::message()
{
    auto *label = find<QLabel>("message");
    return label->isVisible() ? label->text() : QString();
}

int Desk::ledgerRow(const QString &quantity, const QString &of)
{
    const auto *table = find<QTableView>("ledgerTable");
    for (int row = 0; row < table->model()->rowCount(); ++row) {
        if (ledgerCell(row, 0) == quantity && ledgerCell(row, 1) == of) return row;
    }
    return -1;
}

QString Desk::ledgerCell(int row, int column)
{
    return find<QTableView>("ledgerTable")->model()->index(row, column).data().toString();
}

QString Desk::ledgerCell(int row, const QString &heading)
{
    const auto *model = find<QTableView>("ledgerTable")->model();
    for (int column = 0; column < model->columnCount(); ++column) {
        if (model->headerData(column, Qt::Horizontal, Qt::DisplayRole).toString() == heading)
            return ledgerCell(row, column);
    }
    return "no column is called " + heading;
}

void Desk::addFormula(const QString &words)
{
    ask("channel by formula");
    auto *typed = find<QPlainTextEdit>("formulaText");
    ASSERT_TRUE(typed && typed->isVisible());
    typed->setPlainText(words);
    QTest::keyClick(typed, Qt::Key_Return);
}

/// Acts on what opens, once it is there and whole. Where nothing opens the test fails.
static void whenOpen(QObject *owner, QWidget *(*open)(), std::function<void(QWidget &)> act)
{
    constexpr int often = 50, patience = 30000; // ms; a dialog that nobody answers would stay for ever
    auto *timer = new QTimer(owner);
    QElapsedTimer waited;
    waited.start();
    QObject::connect(timer, &QTimer::timeout, [=, act = std::move(act), seen = false]() mutable {
        QWidget *widget = open();
        if (!widget && waited.elapsed() < patience) return;
        if (widget && !std::exchange(seen, true)) return; // once more, so that it is whole
        timer->stop();
        timer->deleteLater();
        ASSERT_NE(widget, nullptr) << "nothing opens";
        act(*widget);
    });
    timer->start(often);
}

void Desk::whenAsked(std::function<void(QDialog &)> answer)
{
    whenOpen(&m_window, QApplication::activeModalWidget, [answer = std::move(answer)](QWidget &widget) {
        auto *dialog = qobject_cast<QDialog *>(&widget);
        ASSERT_NE(dialog, nullptr) << "no dialog is open";
        answer(*dialog);
    });
}

void Desk::whenMenuOpens(std::function<void(QMenu &)> take)
{
    whenOpen(&m_window, QApplication::activePopupWidget, [take = std::move(take)](QWidget &widget) {
        auto *menu = qobject_cast<QMenu *>(&widget);
        ASSERT_NE(menu, nullptr) << "no menu is open";
        take(*menu);
    });
}

void Desk::chooseFile(const QString &path)
{
    whenAsked([path](QDialog &dialog) {
        auto *files = qobject_cast<QFileDialog *>(&dialog);
        ASSERT_NE(files, nullptr) << "no files are asked for";
        files->setDirectory(QFileInfo(path).absolutePath());
        files->findChild<QLineEdit *>()->setText(path);
        QMetaObject::invokeMethod(files, "accept");
    });
}

void Desk::answer(const QString &words)
{
    whenAsked([words](QDialog &dialog) {
        auto *edit = dialog.findChild<QLineEdit *>();
        ASSERT_NE(edit, nullptr);
        edit->setText(words);
        QTest::keyClick(edit, Qt::Key_Return);
    });
}

void typeInto(QWidget *field, const QString &words)
{
    auto *edit = qobject_cast<QLineEdit *>(field);
    ASSERT_NE(edit, nullptr);
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, words);
    QTest::keyClick(edit, Qt::Key_Return);
}

QRectF bodyOf(const QWidget *tile)
{
    return QRectF(tile->rect()).adjusted(4, TileFrame::headHeight, -4, -4);
}

void dragAcross(QWidget *widget, QPoint from, QPoint to)
{
    QTest::mousePress(widget, Qt::LeftButton, {}, from);
    QTest::mouseMove(widget, (from + to) / 2);
    QTest::mouseMove(widget, to);
    QTest::mouseRelease(widget, Qt::LeftButton, {}, to);
}

void failOnQtMessages()
{
    qInstallMessageHandler([](QtMsgType type, const QMessageLogContext &, const QString &message) {
        if (type == QtDebugMsg || type == QtInfoMsg) return;
        if (message.contains("XDG_RUNTIME_DIR") || message.contains("This plugin does not support"))
            return; // the platform's, not ours
        ADD_FAILURE() << "Qt says: " << message.toStdString();
    });
}

} // namespace fulvex::test
