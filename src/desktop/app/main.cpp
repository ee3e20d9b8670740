// fulvex: the desktop application. `fulvex [PROJECT|CAPTURE…]`

#include "fulvex_version.h"
#include "main_window.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QStyleFactory>

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    app.setOrganizationName("Fulvex");
    app.setApplicationName("Fulvex");
    app.setApplicationVersion(fulvex::fulvexVersion);
    app.setStyle(QStyleFactory::create("Fusion"));
    QCommandLineParser parser;
    parser.setApplicationDescription("Workbench for captured waveforms.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("files", "project (.fulvex, .fulvexpack) or captures to open", "[PROJECT|CAPTURE…]");
    parser.process(app);
    fulvex::MainWindow window;
    window.show();
    if (!parser.positionalArguments().isEmpty()) window.openFiles(parser.positionalArguments());
    window.offerRecovery();
    return app.exec();
}
