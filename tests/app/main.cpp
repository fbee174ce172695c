// SPDX-License-Identifier: GPL-3.0-or-later
// Own main(): listing the tests needs no QApplication; running them needs one, its own settings and no
// screen.
#include <QApplication>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>

#include <gmock/gmock.h>

#include <cstring>

#include "app/paint/theme.hpp"

int main(int argc, char** argv) {
    for (int i = 1; i < argc; ++i)
        if (std::strcmp(argv[i], "--gtest_list_tests") == 0) {
            testing::InitGoogleMock(&argc, argv);
            return RUN_ALL_TESTS();
        }
    testing::InitGoogleMock(&argc, argv);
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    QTemporaryDir home;
    home.setAutoRemove(true);
    QFile(home.path())
        .setPermissions(QFileDevice::ReadOwner | QFileDevice::WriteOwner | QFileDevice::ExeOwner);
    qputenv("XDG_RUNTIME_DIR", home.path().toLocal8Bit());
    qputenv("XDG_CONFIG_HOME", home.path().toLocal8Bit());
    qputenv("XDG_STATE_HOME", home.path().toLocal8Bit());
    qputenv("XDG_CACHE_HOME", home.path().toLocal8Bit());
    qputenv("XDG_DATA_HOME", home.path().toLocal8Bit());
    QApplication application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("gray-relic-tests"));
    QApplication::setOrganizationName(QStringLiteral("gray-relic-tests"));
    grayrelic::app::apply_theme(application, false);
    return RUN_ALL_TESTS();
}
