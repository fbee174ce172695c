// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/all_stages.hpp"

#include "app/stages/board/board_page.hpp"
#include "app/stages/build/build_page.hpp"
#include "app/stages/listen/listen_page.hpp"
#include "app/stages/log/log_page.hpp"
#include "app/stages/map/map_page.hpp"
#include "app/stages/plan/plan_page.hpp"
#include "app/stages/port/port_page.hpp"
#include "app/stages/timing/timing_page.hpp"
#include "app/stages/trace/trace_page.hpp"
#include "app/stages/wire/wire_page.hpp"

namespace grayrelic::app {

std::vector<StageEntry> all_stages() {
    return {make_stage<PlanPage>,   make_stage<PortPage>, make_stage<TracePage>, make_stage<ListenPage>,
            make_stage<TimingPage>, make_stage<WirePage>, make_stage<MapPage>,   make_stage<BoardPage>,
            make_stage<BuildPage>,  make_stage<LogPage>};
}

}  // namespace grayrelic::app
