// SPDX-License-Identifier: GPL-3.0-or-later
// Map in an empty window, and which files it leaves to other stages.
#include "app/stages/map/map_page.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

class EmptyMap : public WindowTest {};

TEST_F(EmptyMap, BeginsFromAnEmptyWindowAndTakesWhatIsDroppedThere) {
    window->show_stage(Stage::map);
    settle();
    auto& page = window->page<MapPage>();
    EXPECT_FALSE(page.device_view().isVisible());
    for (auto* b : page.findChildren<QPushButton*>())
        if (b->text() == "Begin with the keys") b->click();
    settle();
    ASSERT_TRUE(page.device_view().isVisible()) << "no dead end without a dossier";
    type_into(&page.device_view().walk(), "A 0x1C");
    ASSERT_EQ(dossier().map->keys.size(), 1U);
    EXPECT_EQ(dossier().map->keys.front().legend, "A");
}

TEST_F(EmptyMap, OtherStagesKeepTheirFiles) {
    test::write_file(folder / "samples.bin", std::string(4096, '\x5A'));
    test::write_file(folder / "image.hex", ":10000000000102030405060708090A0B0C0D0E0F78\n");
    test::write_file(folder / "d.bin", std::string("\x05\x01\x09\x04\xA1\x01\xC0", 7));
    auto& page = window->page<MapPage>();
    EXPECT_EQ(page.claim(QFileInfo(path("samples.bin"))), Claim::none) << "packed samples are Listen's";
    EXPECT_EQ(page.claim(QFileInfo(path("image.hex"))), Claim::none);
    EXPECT_EQ(page.claim(QFileInfo(path("d.bin"))), Claim::by_content);
}

}  // namespace
}  // namespace grayrelic::app
