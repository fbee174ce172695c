// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/board_model.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

std::string bare(std::string_view name) {
    std::string out;
    for (const char c : name)
        if (c != ' ' && c != '_') out += c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
    return out;
}

PinKind kind_of(const Pin& pin) {
    if (pin.function.value == "ground" || names_ground(pin.name.value)) return PinKind::ground;
    if (pin.function.value == "supply" || pin.driver.value == Driver::supply || names_supply(pin.name.value))
        return PinKind::supply;
    if (pin.function.value == "unused" || pin.driver.value == Driver::nobody) return PinKind::unconnected;
    return PinKind::connector;
}

}  // namespace

bool names_ground(std::string_view function) {
    const auto n = bare(function);
    return n == "GND" || n == "VSS" || n == "0V" || n == "AGND" || n == "DGND" || n == "GROUND";
}

bool names_supply(std::string_view function) {
    const auto n = bare(function);
    if (n == "VCC" || n == "VDD" || n == "VPP" || n == "VBB" || n == "VEE") return n != "VPP";
    const auto begin = n.starts_with('+') || n.starts_with('-') ? 1U : 0U;
    if (n.size() < begin + 2 || n.find('V', begin) == std::string::npos) return false;
    return std::all_of(n.begin() + begin, n.end(),
                       [](char c) { return (c >= '0' && c <= '9') || c == '.' || c == 'V'; }) &&
           n[begin] >= '0' && n[begin] <= '9' && n != "0V";
}

int BoardModel::add(std::string_view name) {
    const int n = table.add(name);
    if (n < static_cast<int>(points.size())) return n;
    BoardPoint p;
    const auto parts_of_name = split_point(table.name(n));
    p.ref = parts_of_name.ref;
    p.pin = parts_of_name.pin;
    if (p.ref.empty()) p.pin.clear();
    points.push_back(std::move(p));
    return n;
}

BoardModel BoardModel::build(const Dossier& dossier, const PartLibrary& library) {
    BoardModel m;
    const auto& trace = *dossier.trace;
    if (auto table = PointTable::with_aliases(trace.aliases))
        m.table = std::move(*table);
    else
        m.problems.push_back(
            fmt::format("found {}, expected {}", table.error().found, table.error().expected));
    for (const auto& port : *dossier.ports) {
        if (port.side != Side::relic) continue;
        for (const auto& pin : port.pins) {
            auto& p = m.points[static_cast<std::size_t>(m.add(port.id + "." + pin.number))];
            p.function = pin.name.value;
            p.kind = kind_of(pin);
            p.part_function = "port";
        }
    }
    for (const auto& part : trace.parts) {
        const auto* type = library.find(part.type);
        if (type == nullptr && !part.type.empty())
            m.problems.push_back(fmt::format("{}: no part {} is known", part.ref, in_quotes(part.type)));
        const auto package = !part.package.empty() ? part.package : type == nullptr ? "" : type->package;
        if (type != nullptr)
            for (const auto& pin : type->pins) {
                auto& p = m.points[static_cast<std::size_t>(m.add(part.ref + "." + pin.number))];
                p.function = pin.name;
                p.kind = pin.kind;
                p.part_function = type->function;
            }
        for (const auto& pin : placed_pins(part, package))
            m.points[static_cast<std::size_t>(m.add(part.ref + "." + pin.number))].place =
                BoardPlace{pin.x_mm, pin.y_mm, pin.side};
    }
    for (const auto& spot : trace.spots)
        m.points[static_cast<std::size_t>(m.add(spot.name))].place = BoardPlace{spot.x_mm, spot.y_mm, {}};
    for (const auto& r : *dossier.readings) {
        (void)m.add(r.a);
        (void)m.add(r.b);
    }
    return m;
}

std::vector<PackagePin> placed_pins(const BoardPart& part, std::string_view package) {
    auto pins = package_pins(package);
    if (!pins || !part.x_mm || !part.y_mm) return {};
    const double turn = part.turn_deg * std::numbers::pi / 180.0;
    const double c = std::cos(turn), s = std::sin(turn);
    for (auto& p : *pins) {
        const double x = part.side == BoardSide::back ? -p.x_mm : p.x_mm;
        const double y = p.y_mm;
        if (p.side && part.side == BoardSide::back)
            p.side = *p.side == BoardSide::front ? BoardSide::back : BoardSide::front;
        p.x_mm = *part.x_mm + c * x - s * y;
        p.y_mm = *part.y_mm + s * x + c * y;
    }
    return std::move(*pins);
}

}  // namespace grayrelic
