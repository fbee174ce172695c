// SPDX-License-Identifier: GPL-3.0-or-later
// The window with the page card's board open at Trace.
#pragma once

#include "app/stages/trace/trace_page.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {

class TraceWindow : public WindowTest {
  protected:
    void open_card() {
        ASSERT_TRUE(window->files().open(copy_demo("calder-page-card")));
        settle();
        window->show_stage(Stage::trace);
        settle();
    }
    TracePage& page() { return window->page<TracePage>(); }
    ProbeView& probe() { return page().probe_view(); }
    std::size_t readings() { return dossier().readings->size(); }
};

}  // namespace grayrelic::app
