// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/package.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/data_files.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

constexpr int most_pins = 400;

double millimetres(JsonNode& n, const char* key, double least) {
    const auto child = n.required(key);
    const double v = child.number();
    if (!(v >= least && v <= 500)) child.fault(child.shown(), fmt::format("{} to 500 mm for {}", least, key));
    return v;
}

template <Vocabulary E>
E word_in(JsonNode& n, const char* key) {
    const auto child = n.required(key);
    const auto v = named<E>(child.text(40));
    if (!v) child.fault(child.shown(), one_of<E>());
    return *v;
}

PackageSize read_size(JsonNode& n) {
    n.require_object();
    PackageSize s;
    s.id = n.required("id").text(40);
    s.pins = static_cast<int>(n.required("pins").whole(1, most_pins));
    s.length = millimetres(n, "length_mm", 0.1);
    s.width = millimetres(n, "width_mm", 0.1);
    s.row = millimetres(n, "row_mm", 0);
    return s;
}

PackageShape read_shape(JsonNode& root) {
    PackageShape p;
    p.id = root.required("id").text(40);
    p.name = root.required("name").text(200);
    p.source = root.required("source").text(1000);
    p.mount = word_in<PackageMount>(root, "mount");
    p.form = word_in<PinForm>(root, "form");
    p.pitch = millimetres(root, "pitch_mm", 0);
    p.height = millimetres(root, "height_mm", 0.05);
    auto pad = root.required("pad_mm");
    pad.require_object();
    p.pad_length = millimetres(pad, "length", 0.05);
    p.pad_width = millimetres(pad, "width", 0.05);
    if (p.mount == PackageMount::hole) p.hole = millimetres(root, "hole_mm", 0.1);
    p.first_pin = root.required("pin_1").text(200);
    if (root.member("belly_pad_mm")) p.belly = millimetres(root, "belly_pad_mm", 0.1);
    p.solder = word_in<SolderClass>(root, "solder");
    p.bench = root.required("bench").text(40);
    std::set<std::string> seen;
    const auto sizes = root.required("sizes");
    for (auto& n : sizes.elements(200)) {
        p.sizes.push_back(read_size(n));
        const int pins = p.sizes.back().pins;
        if ((p.form == PinForm::four_sides && pins % 4 != 0) || (p.form == PinForm::two_ends && pins != 2) ||
            (p.form == PinForm::three && pins != 3))
            n.fault(fmt::format("{} pins", pins), fmt::format("a number that {} can have", word(p.form)));
        if (!seen.insert(p.sizes.back().id).second)
            n.fault(in_quotes(p.sizes.back().id) + " a second time", "each size once");
    }
    if (p.sizes.empty()) sizes.fault("no sizes", "at least one size");
    return p;
}

std::optional<double> number_in(std::string_view text) {
    const auto v = parse_number(text, Unit::none);
    return v ? std::optional(*v) : std::nullopt;
}

}  // namespace

Result<PackageShape> package_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "a package as JSON", read_shape);
}

PackageLibrary PackageLibrary::load(FileSystem& files, const std::vector<std::filesystem::path>& folders) {
    PackageLibrary out;
    out.problems = read_data_files(
        files, folders, "packages", [&](const std::string& text, const std::string& path) -> Status {
            return package_from_json(text, path).map([&](PackageShape p) {
                std::erase_if(out.shapes, [&](const PackageShape& old) { return old.id == p.id; });
                out.shapes.push_back(std::move(p));
            });
        });
    return out;
}

std::optional<Package> PackageLibrary::find(std::string_view name) const {
    for (const auto& shape : shapes)
        for (const auto& size : shape.sizes)
            if (size.id == name) return Package{&shape, size};
    // Another row or length of a shape: "dip-28-15.24", "axial-12.7".
    const auto words = split(name, '-');
    if (words.size() < 2) return std::nullopt;
    const auto last = number_in(words.back());
    for (const auto& shape : shapes) {
        if (!last || *last <= 0 || *last > 500) break;
        if (shape.form == PinForm::two_ends && words.size() == 2 && words[0] == shape.id &&
            shape.mount == PackageMount::hole) {
            auto size = shape.sizes.front();
            size.id = std::string(name);
            size.row = *last;
            return Package{&shape, size};
        }
        if (words.size() != 3) continue;
        for (auto size : shape.sizes)
            if (size.id == std::string(words[0]) + "-" + std::string(words[1])) {
                size.width += *last - size.row;
                size.row = *last;
                size.id = std::string(name);
                return size.width > 0 ? std::optional(Package{&shape, size}) : std::nullopt;
            }
    }
    return std::nullopt;
}

namespace {

Pad pad_at(int number, double x, double y, const PackageShape& s, bool across) {
    // Pads lie along the direction of their pin: across for rows at the sides.
    return {std::to_string(number),
            x,
            y,
            across ? s.pad_length : s.pad_width,
            across ? s.pad_width : s.pad_length,
            false};
}

std::vector<Pad> four_sides(const PackageShape& s, const PackageSize& size) {
    std::vector<Pad> out;
    const int side = size.pins / 4;
    const double first = -s.pitch * (side - 1) / 2.0, far = size.row / 2;
    for (int i = 0; i < size.pins; ++i) {
        const double along = first + s.pitch * (i % side);
        switch (i / std::max(side, 1)) {
            case 0: out.push_back(pad_at(i + 1, -far, along, s, true)); break;
            case 1: out.push_back(pad_at(i + 1, along, far, s, false)); break;
            case 2: out.push_back(pad_at(i + 1, far, -along, s, true)); break;
            default: out.push_back(pad_at(i + 1, -along, -far, s, false)); break;
        }
    }
    return out;
}

}  // namespace

std::vector<Pad> pads_of(const Package& package) {
    const auto& s = *package.shape;
    const auto& size = package.size;
    std::vector<Pad> out;
    const int n = size.pins;
    if (s.form == PinForm::four_sides) out = four_sides(s, size);
    for (int i = 0; i < n && s.form != PinForm::four_sides; ++i) {
        switch (s.form) {
            case PinForm::two_rows: {
                const int left = n - n / 2;
                const bool on_left = i < left;
                const int at = on_left ? i : n - 1 - i;
                out.push_back(pad_at(i + 1, on_left ? -size.row / 2 : size.row / 2,
                                     s.pitch * (at - (left - 1) / 2.0), s, true));
                break;
            }
            case PinForm::pairs: {
                const int rows = n / 2, at = i / 2;
                out.push_back(pad_at(i + 1, i % 2 == 0 ? -size.row / 2 : size.row / 2,
                                     s.pitch * (at - (rows - 1) / 2.0), s, true));
                break;
            }
            case PinForm::two_ends:
                out.push_back(pad_at(i + 1, i == 0 ? -size.row / 2 : size.row / 2, 0, s, true));
                break;
            case PinForm::three:
                out.push_back(i < 2
                                  ? pad_at(i + 1, -size.row / 2, i == 0 ? -s.pitch / 2 : s.pitch / 2, s, true)
                                  : pad_at(i + 1, size.row / 2, 0, s, true));
                break;
            default: out.push_back(pad_at(i + 1, 0, s.pitch * (i - (n - 1) / 2.0), s, true)); break;
        }
    }
    if (s.belly) out.push_back({std::to_string(n + 1), 0, 0, *s.belly, *s.belly, true});
    return out;
}

}  // namespace grayrelic
