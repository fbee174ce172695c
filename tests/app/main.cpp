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
#include "core/base/long_work.hpp"

namespace {

/// Whatever a test does: the window's thread must not walk a capture, plan or search.
class NothingLongInTheWindow : public testing::EmptyTestEventListener {
    void OnTestEnd(const testing::TestInfo&) override {
        for (const auto& what : grayrelic::take_long_work())
            ADD_FAILURE() << what << " ran on the thread that paints";
    }
};

}  // namespace

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
    testing::UnitTest::GetInstance()->listeners().Append(new NothingLongInTheWindow);
    return RUN_ALL_TESTS();
}
