// SPDX-License-Identifier: GPL-3.0-or-later
#include <benchmark/benchmark.h>
#ifdef GRAY_RELIC_BENCH_APP
#include <QApplication>

#include "app/paint/theme.hpp"
#endif

int main(int argc, char** argv) {
#ifdef GRAY_RELIC_BENCH_APP
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    grayrelic::app::apply_theme(application, false);
#endif
    benchmark::Initialize(&argc, argv);
    if (benchmark::ReportUnrecognizedArguments(argc, argv)) return 2;
    benchmark::RunSpecifiedBenchmarks();
    benchmark::Shutdown();
    return 0;
}
