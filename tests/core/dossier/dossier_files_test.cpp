// SPDX-License-Identifier: GPL-3.0-or-later
// The one walk over the files that a dossier names.
#include <gmock/gmock.h>

#include "core/dossier/dossier_files.hpp"
#include "core/dossier/dossier_json.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::ElementsAre;

Dossier everything() {
    return *dossier_from_json(
        test::read_file(test::source_folder() / "tests/data/dossiers/v1-everything.json"), "everything");
}

TEST(DossierFiles, EachIsSeenOnceWithItsNameAndFolder) {
    std::vector<std::string> seen;
    const auto same = visit_files(everything(), [&](const DossierFile& f) {
        seen.push_back(f.key + " " + f.folder + " " + f.file + " " + f.placeholder);
    });
    EXPECT_THAT(seen, ElementsAre("k captures captures/k.vcd captures/k.outside",
                                  "photo:J1/0 photos photos/a.png photos/0.outside",
                                  "scan:f scans scans/f.png scans/f.outside"));
    EXPECT_EQ(same, everything());
}

TEST(DossierFiles, OnlySectionsThatChangedAreNew) {
    const auto d = everything();
    const auto changed = visit_files(d, [](const DossierFile& f) {
        if (f.folder == "scans") f.outside = "/elsewhere/f.png";
    });
    EXPECT_TRUE(changed.captures.same_version(d.captures));
    EXPECT_TRUE(changed.ports.same_version(d.ports));
    EXPECT_FALSE(changed.trace.same_version(d.trace));
    EXPECT_EQ(changed.trace->scans[0].outside, "/elsewhere/f.png");
    EXPECT_EQ(d.trace->scans[0].outside, "");
}

}  // namespace
}  // namespace grayrelic
