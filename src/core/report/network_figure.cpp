// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/network_figure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace grayrelic {
namespace {

constexpr double pin_height = 15, head = 34, gap = 18, part_width = 156;

struct PartBox {
    double x = 0, y = 0, h = 0;
    std::vector<std::pair<std::string, int>> left, right;  ///< pins that are joined, and their nets
};

}  // namespace

Drawing draw_network(const Network& n, const NetworkDrawingOptions& o) {
    Drawing d;
    d.width = o.width;
    if (n.parts.empty()) {
        d.height = 40;
        d.texts.push_back({12, 24, "No part in the net list yet.", Ink::ink2});
        return d;
    }
    const auto stages = stages_of(n);
    const int last = *std::max_element(stages.begin(), stages.end());
    std::vector<PartBox> boxes(n.parts.size());
    const double left = 126, right_margin = 84;
    const double column = std::max(part_width + 46.0, (o.width - left - right_margin) / (last + 1));
    d.width = std::max(o.width, left + column * (last + 1) + right_margin);
    std::map<int, double> fill;
    for (std::size_t p = 0; p < n.parts.size(); ++p) {
        auto& b = boxes[p];
        const auto& part = n.parts[p];
        for (std::size_t i = 0; i < part.inputs.size(); ++i)
            if (part.inputs[i]) b.left.emplace_back(part.logic->inputs[i], *part.inputs[i]);
        for (std::size_t i = 0; i < part.outputs.size(); ++i)
            if (part.outputs[i]) b.right.emplace_back(part.logic->outputs[i].pin, *part.outputs[i]);
        auto& y = fill.try_emplace(stages[p], 14).first->second;
        b.x = left + column * stages[p] + (column - part_width) / 2;
        b.y = y;
        b.h = head + pin_height * static_cast<double>(std::max(b.left.size(), b.right.size())) + 4;
        y += b.h + gap;
    }
    double height = 0;
    for (const auto& [s, y] : fill) height = std::max(height, y);
    const auto mark = [&](int net, double x, double y, Drawing::Anchor anchor) {
        if (!o.level) return;
        const Level l = o.level(net);
        d.texts.push_back({x, y, std::string(1, letter(l)),
                           l == Level::one    ? Ink::holds
                           : l == Level::zero ? Ink::ink
                                              : Ink::doubt,
                           anchor, 12, true, true});
    };
    // Where each net begins: its outputs, or its place on the left.
    std::map<int, std::pair<double, double>> source;
    for (std::size_t p = 0; p < n.parts.size(); ++p) {
        const auto& b = boxes[p];
        for (std::size_t i = 0; i < b.right.size(); ++i)
            source.try_emplace(b.right[i].second, b.x + part_width,
                               b.y + head + pin_height * (static_cast<double>(i) + 0.5));
    }
    double in_y = 22;
    for (const auto& in : n.inputs) {
        const bool held = in.from == NetworkInput::From::level;
        const auto& name = n.net_name(in.net);
        d.texts.push_back({10, in_y + 4,
                           held ? fmt::format("{} = {}", name, in.level ? 1 : 0)
                           : in.from == NetworkInput::From::bit ? fmt::format("{} = bit {}", name, in.bit)
                                                                : name,
                           held ? Ink::ink2 : Ink::relic, Drawing::Anchor::start, 12, !held, true});
        source.try_emplace(in.net, left - 12, in_y);
        mark(in.net, left - 10, in_y - 3, Drawing::Anchor::start);
        in_y += 18;
    }
    height = std::max(height, in_y);
    // Parts.
    for (std::size_t p = 0; p < n.parts.size(); ++p) {
        const auto& b = boxes[p];
        const auto& part = n.parts[p];
        d.boxes.push_back({b.x, b.y, part_width, b.h, Ink::bridge});
        d.texts.push_back({b.x + 8, b.y + 14, part.ref, Ink::bridge, Drawing::Anchor::start, 12, true, true});
        d.texts.push_back({b.x + part_width - 8, b.y + 14, part.logic->id + " " + part.family, Ink::ink,
                           Drawing::Anchor::end, 11, false, true});
        if (o.note)
            d.texts.push_back(
                {b.x + 8, b.y + 27, o.note(static_cast<int>(p)), Ink::ink2, Drawing::Anchor::start, 11});
        d.places.push_back({part.ref, b.x, b.y, part_width, b.h});
        for (std::size_t i = 0; i < b.left.size(); ++i)
            d.texts.push_back({b.x + 6, b.y + head + pin_height * (static_cast<double>(i) + 0.5) + 4,
                               b.left[i].first, Ink::ink2, Drawing::Anchor::start, 11, false, true});
        for (std::size_t i = 0; i < b.right.size(); ++i) {
            const double y = b.y + head + pin_height * (static_cast<double>(i) + 0.5);
            d.texts.push_back({b.x + part_width - 6, y + 4, b.right[i].first, Ink::ink2, Drawing::Anchor::end,
                               11, false, true});
            mark(b.right[i].second, b.x + part_width + 3, y - 2, Drawing::Anchor::start);
        }
    }
    // Lines run down a bus of their own in front of each column, so that they can be followed.
    std::map<int, int> used;  // verticals per column
    const auto join = [&](std::pair<double, double> from, double x, double y, int stage, Ink ink) {
        const double bus = x - 8 - 5.0 * (used[stage]++ % 6);
        d.lines.push_back({from.first, from.second, bus, from.second, ink, 1});
        d.lines.push_back({bus, from.second, bus, y, ink, 1});
        d.lines.push_back({bus, y, x, y, ink, 1});
    };
    for (std::size_t p = 0; p < n.parts.size(); ++p)
        for (std::size_t i = 0; i < boxes[p].left.size(); ++i) {
            const int net = boxes[p].left[i].second;
            const double y = boxes[p].y + head + pin_height * (static_cast<double>(i) + 0.5);
            const auto& item = n.nets[static_cast<std::size_t>(net)];
            const auto from = source.find(net);
            if (item.held || from == source.end() ||
                (item.input &&
                 n.inputs[static_cast<std::size_t>(*item.input)].from == NetworkInput::From::level)) {
                // A level is written at the pin: a line for it would say nothing.
                d.lines.push_back({boxes[p].x - 8, y, boxes[p].x, y, Ink::hairline, 1});
                d.texts.push_back(
                    {boxes[p].x - 10, y + 4, item.name, Ink::ink2, Drawing::Anchor::end, 11, false, true});
                continue;
            }
            join(from->second, boxes[p].x, y, stages[p], item.input ? Ink::relic : Ink::bridge);
        }
    double out_y = 22;
    for (const int net : n.outputs) {
        const auto from = source.find(net);
        const double x = d.width - right_margin + 16;
        if (from != source.end()) join(from->second, x, from->second.second, last + 1, Ink::bridge);
        const double y = from == source.end() ? out_y : from->second.second;
        d.texts.push_back(
            {x + 6, y + 4, n.net_name(net), Ink::bridge, Drawing::Anchor::start, 12, true, true});
        out_y += 18;
    }
    d.height = height + 8;
    return d;
}

}  // namespace grayrelic
