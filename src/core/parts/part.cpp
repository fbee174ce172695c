// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/part.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <set>

#include "core/base/data_files.hpp"
#include "core/base/text.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

struct KindWord {
    PinKind kind;
    std::string_view word;
};
constexpr std::array<KindWord, 12> kind_words{{{PinKind::unknown, "unknown"},
                                               {PinKind::input, "in"},
                                               {PinKind::output, "out"},
                                               {PinKind::three_state, "tri"},
                                               {PinKind::both, "io"},
                                               {PinKind::open_collector, "oc"},
                                               {PinKind::supply, "supply"},
                                               {PinKind::ground, "ground"},
                                               {PinKind::passive, "passive"},
                                               {PinKind::connector, "connector"},
                                               {PinKind::unconnected, "nc"},
                                               {PinKind::source, "source"}}};

/// Shapes whose pins this file places; other packages stand in data/packages only.
constexpr std::array<std::string_view, 8> placed_shapes{"dip",    "soic", "sip",   "axial",
                                                        "radial", "edge", "edge2", "edgel"};

bool is_placed(std::string_view package) {
    const auto shape = package.substr(0, package.find('-'));
    return std::find(placed_shapes.begin(), placed_shapes.end(), shape) != placed_shapes.end();
}

bool is_package_name(std::string_view t) {
    return !t.empty() && t.size() <= 40 && std::all_of(t.begin(), t.end(), [](char c) {
        return (c >= '0' && c <= '9') || (c >= 'a' && c <= 'z') || c == '-' || c == '.';
    });
}

PartElectrical read_electrical(JsonNode n) {
    n.require_object();
    PartElectrical e;
    e.family = n.text_or("family");
    const auto figure = [&](const char* key) -> std::optional<double> {
        const auto child = n.member(key);
        if (!child) return std::nullopt;
        const double v = child->number();
        if (!(v >= 0 && v <= 1e6)) child->fault(child->shown(), "a number from 0 to 1,000,000");
        return v;
    };
    e.drop_min_v = figure("drop_min_v");
    e.drop_max_v = figure("drop_max_v");
    e.volts_max = figure("volts_max");
    e.current_max_a = figure("current_max_a");
    e.ohm = figure("ohm");
    e.gate_min_v = figure("gate_min_v");
    e.gate_full_v = figure("gate_full_v");
    e.supply_a = figure("supply_a");
    e.dropout_v = figure("dropout_v");
    e.output_v = figure("output_v");
    e.theta_k_per_w = figure("theta_k_per_w");
    e.farad = figure("farad");
    e.efficiency = figure("efficiency");
    if (e.efficiency && *e.efficiency > 1) n.fault("efficiency above 1", "a share from 0 to 1");
    return e;
}

PartPin read_pin(const JsonNode& n) {
    // [number, name, kind], perhaps the supply pin it stands on and its family: one line for each pin.
    const auto cells = n.elements(5);
    if (cells.size() < 3) n.fault(n.shown(), "[number, name, kind] or [number, name, kind, supply, family]");
    PartPin pin;
    pin.number = cells[0].text(16);
    pin.name = cells[1].text(40);
    const auto kind = pin_kind(cells[2].text(16));
    if (!kind)
        cells[2].fault(cells[2].shown(),
                       "in, out, tri, io, oc, supply, ground, passive, connector, nc, source or unknown");
    pin.kind = *kind;
    if (cells.size() >= 4) pin.supply = cells[3].text(40);
    if (cells.size() == 5) pin.family = cells[4].text(64);
    return pin;
}

void check_package(JsonNode& root, const PartType& p, const std::string& package) {
    if (!is_package_name(package) || (is_placed(package) && !package_pins(package)))
        root.required("package").fault(in_quotes(package),
                                       "a package such as dip-20, dip-28-15.24, axial-10.16 or sip-9");
    if (is_placed(package) && package_pins(package)->size() != p.pins.size())
        root.required("package").fault(fmt::format("{} with {} pins", package, p.pins.size()),
                                       "a package with as many pins as the part");
}

PartType read_part(JsonNode& root) {
    PartType p;
    p.id = root.required("id").text(64);
    p.name = root.required("name").text(200);
    p.function = root.required("function").text(40);
    p.source = root.required("source").text(1000);
    p.package = root.text_or("package");
    std::set<std::string> seen;
    const auto pins = root.required("pins");
    for (auto& n : pins.elements(2000)) {
        auto pin = read_pin(n);
        if (!seen.insert(pin.number).second)
            n.fault("pin " + in_quotes(pin.number) + " a second time", "each pin once");
        p.pins.push_back(std::move(pin));
    }
    if (p.pins.empty()) pins.fault("no pins", "a list of pins");
    if (!p.package.empty()) {
        check_package(root, p, p.package);
        p.packages.push_back(p.package);
    }
    if (const auto more = root.member("packages"))
        for (const auto& n : more->elements(40)) {
            const auto name = n.text(40);
            if (!is_package_name(name)) n.fault(n.shown(), "a package such as soic-16");
            if (name != p.package) p.packages.push_back(name);
        }
    if (const auto instead = root.member("instead"))
        for (const auto& n : instead->elements(20)) p.instead.push_back(n.text(64));
    if (const auto e = root.member("electrical")) p.electrical = read_electrical(*e);
    for (const auto& pin : p.pins)
        if (!pin.supply.empty() && p.find_name(pin.supply) == nullptr)
            pins.fault("supply " + in_quotes(pin.supply), "the name of a pin of this part");
    if (auto uses = root.member("uses"))
        for (const auto& use : uses->keys())
            for (const auto& n : uses->required(use).elements(200)) {
                p.uses[use].push_back(n.text(40));
                if (p.find_name(p.uses[use].back()) == nullptr)
                    n.fault(n.shown(), "the name of a pin of this part");
            }
    if (const auto logic = root.member("logic")) p.logic = logic->dump();
    if (const auto alike = root.member("alike"))
        for (const auto& group : alike->elements(200)) {
            std::vector<std::string> out;
            for (const auto& number : group.elements(200)) {
                out.push_back(number.text(16));
                if (seen.count(out.back()) == 0) number.fault(number.shown(), "a pin of this part");
            }
            p.alike.push_back(std::move(out));
        }
    return p;
}

std::optional<double> number_of(std::string_view text) {
    double v = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (code != std::errc() || end != text.data() + text.size() || !std::isfinite(v)) return std::nullopt;
    return v;
}

std::string digits(std::size_t n) {
    return std::to_string(n);
}

}  // namespace

std::string_view word(PinKind k) {
    for (const auto& w : kind_words)
        if (w.kind == k) return w.word;
    return "unknown";
}

std::optional<PinKind> pin_kind(std::string_view text) {
    for (const auto& w : kind_words)
        if (w.word == text) return w.kind;
    return std::nullopt;
}

bool drives(PinKind k) {
    return k == PinKind::output || k == PinKind::three_state || k == PinKind::both;
}

const PartPin* PartType::find_pin(std::string_view number) const {
    for (const auto& p : pins)
        if (p.number == number) return &p;
    return nullptr;
}

const PartPin* PartType::find_name(std::string_view name) const {
    for (const auto& p : pins)
        if (p.name == name) return &p;
    return nullptr;
}

bool PartType::is_passive() const {
    return pins.size() == 2 && pins[0].kind == PinKind::passive && pins[1].kind == PinKind::passive;
}

std::optional<BusBit> bus_bit(std::string_view name) {
    auto digits_from = name.size();
    while (digits_from > 0 && name[digits_from - 1] >= '0' && name[digits_from - 1] <= '9') --digits_from;
    if (digits_from == 0 || digits_from == name.size() || name.size() - digits_from > 2) return std::nullopt;
    for (const char c : name.substr(0, digits_from))
        if (!((c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || c == '/' || c == '_')) return std::nullopt;
    int bit = 0;
    for (const char c : name.substr(digits_from)) bit = bit * 10 + (c - '0');
    return BusBit{std::string(name.substr(0, digits_from)), bit};
}

Result<PartType> part_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "a part as JSON", read_part);
}

PartLibrary PartLibrary::load(FileSystem& files, const std::vector<std::filesystem::path>& folders) {
    PartLibrary out;
    out.problems = read_data_files(
        files, folders, "parts", [&](const std::string& text, const std::string& path) -> Status {
            return part_from_json(text, path).map([&](PartType p) {
                std::erase_if(out.parts, [&](const PartType& old) { return old.id == p.id; });
                out.parts.push_back(std::move(p));
            });
        });
    return out;
}

const PartType* PartLibrary::find(std::string_view id) const {
    for (const auto& p : parts)
        if (p.id == id) return &p;
    return nullptr;
}

namespace {

/// Along a line: a single row, or the fingers of a card's edge.
std::optional<std::vector<PackagePin>> pins_in_line(std::string_view shape, std::size_t n, double pitch) {
    const bool two = shape == "edge2" || shape == "edgel";
    constexpr std::string_view letters = "ABCDEFHJKLMNPRSTUVWXYZ";
    if (shape == "edgel" && n > 2 * letters.size()) return std::nullopt;
    if (two && n % 2 != 0) return std::nullopt;
    std::vector<PackagePin> out;
    for (std::size_t i = 0; i < n; ++i) {
        PackagePin p{digits(i + 1), pitch * static_cast<double>(two ? i % (n / 2) : i), 0, {}};
        if (shape == "edgel" && i >= n / 2) p.number = letters[i - n / 2];
        if (shape != "sip") p.side = two && i >= n / 2 ? BoardSide::back : BoardSide::front;
        out.push_back(std::move(p));
    }
    return out;
}

}  // namespace

std::optional<std::vector<PackagePin>> package_pins(std::string_view package) {
    const auto words = split(package, '-');
    if (words.size() < 2 || words.size() > 3) return std::nullopt;
    const auto first = number_of(words[1]);
    const bool has_second = words.size() == 3;
    const double second = has_second ? number_of(words[2]).value_or(-1.0) : 0.0;
    if (!first || second < 0.0) return std::nullopt;
    if (words[0] == "axial" || words[0] == "radial") {
        if (has_second || *first <= 0 || *first > 200) return std::nullopt;
        return std::vector<PackagePin>{{"1", 0, 0, {}}, {"2", *first, 0, {}}};
    }
    const double n_real = *first;
    if (n_real < 2 || n_real > 400 || n_real != std::floor(n_real)) return std::nullopt;
    const auto n = static_cast<std::size_t>(n_real);
    if (words[0] == "sip" || words[0] == "edge" || words[0] == "edge2" || words[0] == "edgel")
        return pins_in_line(words[0], n, has_second ? second : 2.54);
    const bool small = words[0] == "soic";
    if ((words[0] != "dip" && !small) || n % 2 != 0) return std::nullopt;
    // Pin 1 at the origin, pins counted down the left side and up the right one.
    std::vector<PackagePin> out;
    const double pitch = small ? 1.27 : 2.54, row = has_second ? second : small ? 5.4 : 7.62;
    for (std::size_t i = 0; i < n; ++i) {
        const bool left = i < n / 2;
        out.push_back({digits(i + 1), left ? 0.0 : row, pitch * static_cast<double>(left ? i : n - 1 - i),
                       small ? std::optional(BoardSide::front) : std::nullopt});
    }
    return out;
}

}  // namespace grayrelic
