// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures by way of a file, whatever they are: as many pixels as it says, or one message; a small one is
// written and read again the same.
#include "render/picture.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const fuzz::MemoryFile file(fuzz::text_of(data, size));
    const auto picture = render::read_picture(file.path());
    if (!picture) return 0;
    if (picture->rgb.size() !=
        static_cast<std::size_t>(picture->width) * static_cast<std::size_t>(picture->height) * 3)
        std::abort();
    if (picture->width > 64 || picture->height > 64) return 0;
    const auto copy = fuzz::data_folder() / "copy.png";
    if (!render::write_png(*picture, copy)) std::abort();
    const auto again = render::read_picture(copy);
    if (!again || again->rgb != picture->rgb) std::abort();
    return 0;
}
