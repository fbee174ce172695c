// SPDX-License-Identifier: GPL-3.0-or-later
// A stage as the shell is given it: how its page is made.
#pragma once

#include <functional>
#include <vector>

#include "app/shell/file_flow.hpp"
#include "app/shell/stage_page.hpp"

namespace grayrelic::app {

struct StageContext {
    Document& document;
    FileFlow& files;
};

/// The page says which stage it is of; the shell puts them into their order.
using StageEntry = std::function<StagePage*(const StageContext&)>;

template <class Page>
StagePage* make_stage(const StageContext& context) {
    return new Page(context);
}

}  // namespace grayrelic::app
