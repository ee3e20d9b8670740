// fulvex: the desktop application. `fulvex [FILE…]`

#include "crash_note.h"
#include "freed_memory.h"
#include "fulvex_version.h"
#include "main_window.h"
#include "program_log.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <QPainter>
#include <QScreen>
#include <QStyle>
#include <QStyleFactory>
#include <QSvgRenderer>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <thread>

/// A closed window is gone within a second, whatever a library still does on another thread. Nothing is lost by not
/// waiting for it: files are written whole or not at all.
static void endSoon(int status)
{
    std::thread([status] {
        std::this_thread::sleep_for(std::chrono::milliseconds(250));
        std::_Exit(status);
    }).detach();
}

/// The program's mark, sharp at the sizes that windows and their switchers ask for.
static QIcon programIcon()
{
    QSvgRenderer mark(QString(":/fulvex.svg"));
    QIcon icon;
    for (const int size : {16, 24, 32, 48, 64, 128, 256}) {
        QPixmap drawn(size, size);
        drawn.fill(Qt::transparent);
        QPainter painter(&drawn);
        mark.render(&painter);
        icon.addPixmap(drawn);
    }
    return icon;
}

int main(int argc, char **argv)
{
    fulvex::keepFreedMemory();
    QApplication app(argc, argv);
    app.setOrganizationName("Fulvex");
    app.setApplicationName("Fulvex");
    app.setApplicationVersion(fulvex::fulvexVersion);
    app.setDesktopFileName("fulvex");
    app.setWindowIcon(programIcon());
    app.setStyle(QStyleFactory::create("Fusion"));
    QCommandLineParser parser;
    parser.setApplicationDescription("Workbench for captured waveforms.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("files", "projects, packs, plans, masks, reports or captures to open", "[FILE…]");
    const QCommandLineOption level("log-level", "what is written to the log in the state folder",
                                   "off|error|warning|info|debug", "info");
    parser.addOption(level);
    parser.process(app);
    const auto wanted = fulvex::logLevelOf(parser.value(level).toStdString());
    if (!wanted) {
        std::fprintf(stderr, "fulvex: --log-level takes off, error, warning, info or debug\n");
        return 2;
    }
    fulvex::startCrashNotes("fulvex", fulvex::fulvexVersion);
    fulvex::startLog("fulvex", *wanted);
    fulvex::logLine(fulvex::LogLevel::info, std::string("version ") + fulvex::fulvexVersion + ", Qt " + qVersion() +
                                                ", " + std::to_string(std::thread::hardware_concurrency()) + " cores");
    fulvex::MainWindow window;
    const QSize frame(2, window.style()->pixelMetric(QStyle::PM_TitleBarHeight));
    window.resize(window.size().boundedTo(window.screen()->availableSize() - frame)); // its foot stays in sight
    window.show();
    if (!parser.positionalArguments().isEmpty()) window.openFiles(parser.positionalArguments());
    window.offerRecovery();
    const int status = app.exec();
    endSoon(status);
    return status;
}
