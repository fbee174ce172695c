// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of any pixels, references and strokes of any place: reading a scan ends, and gives a board whose
// holes and pads lie where numbers can be.
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <cstring>

#include "core/trace/scan.hpp"

namespace {

using namespace grayrelic;

class Bytes {
  public:
    Bytes(const std::uint8_t* data, std::size_t size) : at_(data), left_(size) {}
    std::uint8_t next() { return left_ == 0 ? std::uint8_t{0} : (--left_, *at_++); }
    double place(double most) { return most * (next() + 256.0 * next()) / 65535.0; }

  private:
    const std::uint8_t* at_;
    std::size_t left_;
};

ScanPicture picture(Bytes& in, BoardSide side) {
    ScanPicture out;
    out.pixels.width = 16 + in.next() % 48;
    out.pixels.height = 16 + in.next() % 48;
    std::vector<ScanReference> references;
    for (int i = 2 + in.next() % 3; i > 0; --i)
        references.push_back({in.place(60), in.place(60), in.place(50), in.place(50)});
    for (int i = in.next() % 4; i > 0; --i)
        out.strokes.push_back({static_cast<StrokeKind>(in.next() % 3),
                               in.place(100) - 25,
                               in.place(100) - 25,
                               in.place(100),
                               in.place(100),
                               in.place(9),
                               {}});
    for (int i = in.next() % 4; i > 0; --i)
        out.clicks.push_back({static_cast<ClickKind>(in.next() % 5), in.place(100) - 25, in.place(100) - 25});
    out.pixels.rgb.resize(static_cast<std::size_t>(out.pixels.width) *
                          static_cast<std::size_t>(out.pixels.height) * 3);
    std::uint8_t held = 0;
    for (auto& b : out.pixels.rgb) {
        const auto x = in.next();
        if (x != 0) held = x;
        b = held;
    }
    auto placed = place_scan(references, side);
    if (!placed) {
        out.pixels.rgb.clear();
        return out;
    }
    out.placement = *placed;
    return out;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    Bytes in(data, size);
    const bool both = in.next() % 2 == 1;
    const auto front = picture(in, BoardSide::front);
    const auto back = both ? picture(in, BoardSide::back) : ScanPicture{};
    if (front.pixels.rgb.empty() || (both && back.pixels.rgb.empty())) return 0;
    Progress progress;
    const auto read = read_scans(front, both ? &back : nullptr, progress);
    if (!read) return 0;
    for (const auto& h : read->holes)
        if (!std::isfinite(h.x_mm) || !std::isfinite(h.y_mm) || !(h.diameter_mm >= 0)) std::abort();
    for (const auto& p : read->pads)
        if (!std::isfinite(p.width_mm) || !std::isfinite(p.height_mm)) std::abort();
    (void)scan_svg(*read);
    (void)scan_csv(*read);
    for (const auto& l : read->layers) {
        (void)copper_along(l, 0, 0, 40, 40);
        (void)l.piece_near(5, 5, 2);
    }
    (void)read->net_at({5, 5, std::nullopt});
    return 0;
}
