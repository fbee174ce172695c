// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic [DOSSIER | CAPTURE …] [--demo] [--screenshots DIR] [--theme light|dark]
#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QFileInfo>
#include <QIcon>
#include <QSettings>
#include <QTimer>

#include <csignal>
#include <cstdio>

#include "app/paint/theme.hpp"
#include "app/shell/main_window.hpp"
#include "app/shell/screenshots.hpp"
#include "app/stages/all_stages.hpp"

namespace {

QString demo_folder() {
    const auto installed =
        QDir(QCoreApplication::applicationDirPath()).filePath(QStringLiteral("../share/gray-relic/demos"));
    return QFileInfo::exists(installed) ? installed : QStringLiteral(GRAY_RELIC_SOURCE_DEMO);
}

/// Ends the program once the window has been painted.
class FirstPaint : public QObject {
  public:
    bool eventFilter(QObject*, QEvent* event) override {
        // Children are painted within the same round; the timer fires behind it.
        if (event->type() == QEvent::Paint) QTimer::singleShot(0, qApp, [] { QApplication::exit(0); });
        return false;
    }
};

}  // namespace

int main(int argc, char** argv) {
    using namespace grayrelic::app;
    // Pictures and a version need no screen.
    const bool screen =
        !qEnvironmentVariableIsEmpty("DISPLAY") || !qEnvironmentVariableIsEmpty("WAYLAND_DISPLAY");
    for (int i = 1; i < argc; ++i)
        for (const char* plain : {"--screenshots", "--version", "-v", "--help", "-h"})
            if (qstrcmp(argv[i], plain) == 0 && !screen && qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
                qputenv("QT_QPA_PLATFORM", "offscreen");
    std::signal(SIGPIPE, SIG_IGN);
    std::signal(SIGXFSZ, SIG_IGN);
    QApplication application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("gray-relic"));
    QApplication::setOrganizationName(QStringLiteral("gray-relic"));
    QApplication::setApplicationDisplayName(QStringLiteral("Gray Relic"));
    QGuiApplication::setDesktopFileName(QStringLiteral("org.grayrelic.GrayRelic"));
    QApplication::setWindowIcon(QIcon(QStringLiteral(":/signs/gray-relic.svg")));
    QApplication::setApplicationVersion(QStringLiteral(GRAY_RELIC_VERSION));
    QCommandLineParser parser;
    parser.setApplicationDescription(
        QStringLiteral("Facts, timing and verdicts for boards that bridge old ports."));
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption demo(QStringLiteral("demo"), QStringLiteral("Open the shipped example."));
    const QCommandLineOption shots(
        QStringLiteral("screenshots"),
        QStringLiteral("Write pictures of the views into DIR and end: those of the documentation from the "
                       "examples, or every view of FILES in both themes."),
        QStringLiteral("DIR"));
    const QCommandLineOption wanted(QStringLiteral("theme"), QStringLiteral("light or dark."),
                                    QStringLiteral("NAME"));
    const QCommandLineOption size(QStringLiteral("size"),
                                  QStringLiteral("Size of the pictures, 1280x800 if left out."),
                                  QStringLiteral("WxH"), QStringLiteral("1280x800"));
    const QCommandLineOption every(QStringLiteral("every-view"),
                                   QStringLiteral("With --screenshots: every view in both themes."));
    QCommandLineOption first_paint(QStringLiteral("end-after-first-paint"),
                                   QStringLiteral("For measuring the start."));
    first_paint.setFlags(QCommandLineOption::HiddenFromHelp);
    parser.addOptions({demo, shots, every, wanted, size, first_paint});
    parser.addPositionalArgument(QStringLiteral("FILES"), QStringLiteral("A dossier, or captures."),
                                 QStringLiteral("[FILES…]"));
    parser.process(application);

    const bool picturing = parser.isSet(shots);
    // Pictures must not depend on, or change, what the person has set.
    if (picturing) {
        QSettings::setDefaultFormat(QSettings::IniFormat);
        QSettings::setPath(QSettings::IniFormat, QSettings::UserScope,
                           QDir::tempPath() + QStringLiteral("/gray-relic-pictures"));
    }
    bool dark = !picturing && QSettings().value(QStringLiteral("dark"), false).toBool();
    if (parser.isSet(wanted)) dark = parser.value(wanted) == QLatin1String("dark");
    apply_theme(application, dark);
    // The demo's person has a drawer and a bench of their own.
    if (picturing && parser.positionalArguments().isEmpty())
        qputenv("XDG_DATA_HOME", QFile::encodeName(QDir(demo_folder()).filePath(QStringLiteral("person"))));
    MainWindow window(demo_folder(), all_stages());
    if (!picturing) {
        window.resize(1280, 800);
        window.restore_place();
    }
    const auto files = parser.positionalArguments();
    if (parser.isSet(demo) || (picturing && files.isEmpty())) {
        if (!window.files().open_example(window.demo_path())) return 3;
    }
    if (picturing) {
        // Nobody is there to close a message.
        for (const auto& file : files)
            if (!QFileInfo::exists(file)) {
                std::fprintf(stderr, "%s: found nothing, expected a dossier or a capture\n",
                             qPrintable(file));
                return 3;
            }
        window.files().drop(files);
    }
    if (picturing) {
        const auto parts = parser.value(size).split(QLatin1Char('x'));
        const QSize pixels(parts.value(0).toInt(), parts.value(1).toInt());
        if (pixels.width() < 100 || pixels.height() < 100 || pixels.width() > 8000 ||
            pixels.height() > 8000) {
            std::fprintf(stderr, "found \"%s\", expected a size like 1280x800\n",
                         qPrintable(parser.value(size)));
            return 2;
        }
        const auto problem = write_screenshots(
            window, parser.value(shots), {files.isEmpty(), parser.isSet(every) || !files.isEmpty(), pixels});
        if (!problem.isEmpty()) std::fprintf(stderr, "%s\n", qPrintable(problem));
        return problem.isEmpty() ? 0 : 3;
    }
    FirstPaint end_after;
    if (parser.isSet(first_paint)) window.installEventFilter(&end_after);
    window.show();
    if (!files.isEmpty())
        window.files().drop(files);
    else if (!parser.isSet(demo))
        (void)window.files().offer_left_behind();
    return QApplication::exec();
}
