#include "desktop_support.h"

#include <QApplication>
#include <QLocale>
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
    // What the program keeps for its user, a part of the tests that runs beside others keeps by itself.
    app.setApplicationName("fulvex-desktop-tests-" + qEnvironmentVariable("GTEST_SHARD_INDEX", "all"));
    QSettings().clear(); // what a run before this one remembered
    QLocale::setDefault(QLocale::c());
    app.setStyle(QStyleFactory::create("Fusion"));
    fulvex::test::failOnQtMessages();
    return RUN_ALL_TESTS();
}
