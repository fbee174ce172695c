// SPDX-License-Identifier: GPL-3.0-or-later
// Boards for the tests of diagnosis: a circuit's text, or a demo dossier, analysed.
#pragma once

#include <memory>
#include <string>

#include "core/checks/analyse.hpp"
#include "core/diagnose/bench_board.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/library/data_library.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic::test {

inline std::shared_ptr<const Analysis> analysed(const Dossier& d, const std::filesystem::path& folder = {}) {
    static const auto data = DataLibrary::load_installed();
    CaptureStore store;
    Progress progress;
    return analyse(d, folder, store, progress, nullptr, data).value();
}

/// Wire's circuit is this text.
inline Dossier with_circuit(const std::string& text) {
    Dossier d;
    d = edit(d, &Dossier::timing, [&](Timing& t) { t.networks.push_back({"n", "a board", text, {}, {}}); });
    return edit(d, &Dossier::wire, [](Wire& w) { w.network = "n"; });
}

struct DemoBoard {
    std::shared_ptr<const Analysis> analysis;
    std::shared_ptr<const BenchBoard> board;
};
inline DemoBoard demo_board(const std::string& name, const std::string& board) {
    const auto folder = source_folder() / "demos" / name;
    DemoBoard out;
    out.analysis = analysed(load_dossier(folder).value(), folder);
    if (auto made = bench_board(*out.analysis, board))
        out.board = std::make_shared<const BenchBoard>(std::move(*made));
    return out;
}
inline std::shared_ptr<const BenchBoard> board_of(const std::string& text) {
    const auto a = analysed(with_circuit(text));
    auto made = bench_board(*a, "");
    return made ? std::make_shared<const BenchBoard>(std::move(*made)) : nullptr;
}

}  // namespace grayrelic::test
