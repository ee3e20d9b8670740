#include "desktop_support.h"

#include <QApplication>
#include <QSettings>
#include <QStandardPaths>
#include <QStyleFactory>
#include <gtest/gtest.h>

int main(int argc, char **argv)
{
    testing::InitGoogleTest(&argc, argv);
    QApplication app(argc, argv);
    QStandardPaths::setTestModeEnabled(true);
    app.setAttribute(Qt::AA_DontUseNativeDialogs);
    app.setOrganizationName("Fulvex");
    app.setApplicationName("fulvex-desktop-tests");
    QSettings().clear(); // what a run before this one remembered
    app.setStyle(QStyleFactory::create("Fusion"));
    fulvex::test::failOnQtMessages();
    return RUN_ALL_TESTS();
}
