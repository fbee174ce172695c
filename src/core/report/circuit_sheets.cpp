// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/circuit_sheets.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/base/text.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic {
namespace {

constexpr double page_w = 842, page_h = 595;  // A4 in points
constexpr double row = 14, top = 74, part_w = 150, middle = page_w / 2;
constexpr std::size_t rows_a_sheet = 34;

class Sheets {
  public:
    Sheets(const TraceAnalysis& a, const Dossier& d, const PartLibrary& library)
        : a_(a), d_(d), library_(library) {
        const auto n = a.view->board.points.size();
        seen_.assign(n, -1);
        claimed_.assign(n, -1);
        for (std::size_t k = 0; k < a.scan_nets.nets.size(); ++k)
            for (const int p : a.scan_nets.nets[k].points)
                seen_[static_cast<std::size_t>(p)] = static_cast<int>(k);
        if (const auto* reference = d.trace->reference())
            for (std::size_t k = 0; k < reference->nets.size(); ++k)
                for (const auto& point : reference->nets[k].points)
                    if (const int p = a.view->board.table.find(point); p >= 0)
                        claimed_[static_cast<std::size_t>(p)] = static_cast<int>(k);
        for (std::size_t p = 0; p < n; ++p)
            if (!point(static_cast<int>(p)).ref.empty())
                by_ref_[point(static_cast<int>(p)).ref].push_back(static_cast<int>(p));
        for (auto& [ref, list] : by_ref_)
            std::sort(list.begin(), list.end(),
                      [&](int x, int y) { return natural_less(a_.name(x), a_.name(y)); });
    }

    std::vector<CircuitSheet> draw() {
        std::vector<std::string> refs;
        for (const auto& [ref, list] : by_ref_) refs.push_back(ref);
        // Connectors first, then the parts with many pins.
        std::sort(refs.begin(), refs.end(), [&](const auto& x, const auto& y) {
            const bool cx = is_port(x), cy = is_port(y);
            return cx != cy ? cx : natural_less(x, y);
        });
        for (const auto& ref : refs)
            if (by_ref_[ref].size() > 3) draw_part(ref);
        draw_rails();
        draw_small(refs);
        return std::move(out_);
    }

  private:
    [[nodiscard]] const BoardPoint& point(int p) const {
        return a_.view->board.points[static_cast<std::size_t>(p)];
    }
    [[nodiscard]] bool is_port(const std::string& ref) const { return d_.find_port(ref) != nullptr; }
    [[nodiscard]] static bool rail(PinKind k) { return k == PinKind::ground || k == PinKind::supply; }
    [[nodiscard]] std::string title_of(const std::string& ref) const {
        if (const auto* port = d_.find_port(ref)) return ref + " · " + port->name;
        const auto* part = d_.trace->find_part(ref);
        const auto* type = part == nullptr ? nullptr : library_.find(part->type);
        return type == nullptr ? ref : fmt::format("{} · {} · {}", ref, type->id, type->name);
    }

    /// What a pin is joined to, with the evidence of each.
    [[nodiscard]] std::vector<std::pair<int, JoinEvidence>> partners(int p) const {
        std::vector<std::pair<int, JoinEvidence>> out;
        std::set<int> met;
        const auto take = [&](int q) {
            if (q == p || !met.insert(q).second) return;
            const auto e = join_evidence(a_, seen_, claimed_, p, q);
            if (e != JoinEvidence::none) out.emplace_back(q, e);
        };
        for (const int q :
             a_.state.nets[static_cast<std::size_t>(a_.state.net_of[static_cast<std::size_t>(p)])])
            take(q);
        if (const int k = seen_[static_cast<std::size_t>(p)]; k >= 0)
            for (const int q : a_.scan_nets.nets[static_cast<std::size_t>(k)].points) take(q);
        if (const int k = claimed_[static_cast<std::size_t>(p)]; k >= 0)
            for (const auto& name : d_.trace->reference()->nets[static_cast<std::size_t>(k)].points)
                if (const int q = a_.view->board.table.find(name); q >= 0) take(q);
        return out;
    }

    CircuitSheet& new_sheet(const std::string& id, const std::string& title) {
        out_.push_back({id, title, Svg(page_w, page_h, title), 0, 0});
        auto& s = out_.back();
        s.picture.set_paper(297, 210);
        s.picture.rect(0, 0, page_w, page_h, paper::sheet);
        s.picture.text(36, 40, title, paper::ink, Svg::Anchor::start, 16, true);
        s.picture.line(36, 50, page_w - 36, 50, paper::hairline);
        s.picture.line(page_w - 250, 34, page_w - 226, 34, paper::ink, 1.4);
        s.picture.text(page_w - 222, 38, "proven by readings", paper::ink2, Svg::Anchor::start, 9);
        s.picture.line(page_w - 130, 34, page_w - 106, 34, paper::ink, 1.2, "4 3");
        s.picture.text(page_w - 102, 38, "not proven", paper::ink2, Svg::Anchor::start, 9);
        return s;
    }

    struct Pin {
        int point;
        std::vector<std::pair<int, JoinEvidence>> partners;
        std::string rail;  ///< the rail's name when it goes there
    };

    [[nodiscard]] static bool left_side(PinKind k) {
        return k == PinKind::input || k == PinKind::supply || k == PinKind::ground || k == PinKind::unknown;
    }

    void draw_part(const std::string& ref) {
        std::vector<Pin> left, right;
        for (const int p : by_ref_[ref]) {
            Pin pin{p, partners(p), {}};
            for (const auto& [q, e] : pin.partners)
                if (rail(point(q).kind) && !rail(point(p).kind)) pin.rail = point(q).function;
            if (rail(point(p).kind)) pin.rail = point(p).function;
            const bool odd = is_port(ref) || !left_side(point(p).kind);
            // A connector's contacts are shared out evenly, a part's by what they do.
            const bool to_left = is_port(ref) ? left.size() <= right.size() : !odd;
            (to_left ? left : right).push_back(std::move(pin));
        }
        const auto by_function = [&](const Pin& x, const Pin& y) {
            const auto key = [&](const Pin& p) {
                return std::pair(rail(point(p.point).kind), point(p.point).function);
            };
            const auto kx = key(x), ky = key(y);
            if (kx.first != ky.first) return kx.first < ky.first;
            return kx.second != ky.second ? natural_less(kx.second, ky.second)
                                          : natural_less(a_.name(x.point), a_.name(y.point));
        };
        std::sort(left.begin(), left.end(), by_function);
        std::sort(right.begin(), right.end(), by_function);
        if (left.size() + 6 < right.size())
            while (left.size() + 1 < right.size()) {
                left.push_back(std::move(right.back()));
                right.pop_back();
            }
        for (std::size_t page = 0; page * rows_a_sheet < std::max(left.size(), right.size()); ++page) {
            auto& s = new_sheet(
                ref, page == 0 ? title_of(ref) : fmt::format("{} (sheet {})", title_of(ref), page + 1));
            const auto slice = [&](const std::vector<Pin>& list) {
                const auto from = std::min(list.size(), page * rows_a_sheet),
                           to = std::min(list.size(), from + rows_a_sheet);
                return std::vector<Pin>(list.begin() + static_cast<std::ptrdiff_t>(from),
                                        list.begin() + static_cast<std::ptrdiff_t>(to));
            };
            const auto l = slice(left), r = slice(right);
            const double height = row * static_cast<double>(std::max(l.size(), r.size())) + 10;
            s.picture.rect(middle - part_w / 2, top - 12, part_w, height, "none", paper::ink, 2);
            draw_side(s, l, false);
            draw_side(s, r, true);
        }
    }

    /// Pins of one side, each with a wire to its partners' boxes: a box for each part, pins in the order of
    /// the wires, each net on a lane of its own.
    void draw_side(CircuitSheet& s, const std::vector<Pin>& pins, bool right) {
        const double edge = middle + (right ? part_w / 2 : -part_w / 2), way = right ? 1.0 : -1.0;
        struct Target {
            int point;
            std::size_t pin;
            JoinEvidence evidence;
        };
        std::vector<std::pair<std::string, std::vector<Target>>> boxes;
        for (std::size_t i = 0; i < pins.size(); ++i) {
            const double y = top + row * static_cast<double>(i);
            const auto& pt = point(pins[i].point);
            s.picture.text(edge - way * 6, y + 4, shortened(pt.function.empty() ? "·" : pt.function, 14),
                           paper::ink, right ? Svg::Anchor::end : Svg::Anchor::start, 9);
            s.picture.text(edge + way * 3, y - 2, pt.pin, paper::ink2,
                           right ? Svg::Anchor::start : Svg::Anchor::end, 7);
            if (!pins[i].rail.empty()) {
                const bool proven =
                    std::any_of(pins[i].partners.begin(), pins[i].partners.end(),
                                [](const auto& x) { return x.second == JoinEvidence::measured; });
                s.picture.line(edge, y, edge + way * 22, y, paper::ink2, 1.0, proven ? "" : "3 2");
                s.picture.line(edge + way * 22, y - 4, edge + way * 22, y + 4, paper::ink2, 1.6);
                s.picture.text(edge + way * 27, y + 3, pins[i].rail, paper::ink2,
                               right ? Svg::Anchor::start : Svg::Anchor::end, 8);
                ++s.wires;
                s.unproven += proven ? 0 : 1;
                continue;
            }
            if (pins[i].partners.empty()) {
                s.picture.line(edge, y, edge + way * 8, y, paper::hairline);
                continue;
            }
            for (const auto& [q, e] : pins[i].partners) {
                const auto name = point(q).ref.empty() ? a_.name(q) : point(q).ref;
                auto it =
                    std::find_if(boxes.begin(), boxes.end(), [&](const auto& b) { return b.first == name; });
                if (it == boxes.end()) it = boxes.insert(boxes.end(), {name, {}});
                it->second.push_back({q, i, e});
            }
        }
        std::size_t rows = 0;
        for (const auto& [name, list] : boxes) rows += list.size();
        // Boxes share the height; with many partners their rows come closer.
        const double room = page_h - top - 40;
        const double gap = 16;
        const double pitch =
            std::min(row, std::max(4.5, (room - gap * static_cast<double>(boxes.size())) /
                                            std::max<double>(1.0, static_cast<double>(rows))));
        const double box_at = right ? page_w - 36 - 96 : 36 + 96;
        const double lane_from = edge + way * 30, lane_to = box_at - way * 8;
        double y_box = top - 4;
        std::map<std::size_t, std::vector<std::pair<double, JoinEvidence>>> ends;
        for (const auto& [name, list] : boxes) {
            const double h = pitch * static_cast<double>(list.size()) + 4;
            s.picture.rect(right ? box_at : box_at - 96, y_box - pitch / 2 - 2, 96, h, "none",
                           paper::hairline, 2);
            s.picture.text(right ? box_at + 90 : box_at - 90, y_box - pitch / 2 - 4, name, paper::ink,
                           right ? Svg::Anchor::end : Svg::Anchor::start, 9, true);
            for (const auto& t : list) {
                const auto& pt = point(t.point);
                const auto label =
                    pt.ref.empty() ? std::string() : shortened(fmt::format("{} {}", pt.pin, pt.function), 18);
                s.picture.text(right ? box_at + 6 : box_at - 6, y_box + 3, label, paper::ink,
                               right ? Svg::Anchor::start : Svg::Anchor::end, pitch < 9 ? 6 : 8);
                ends[t.pin].emplace_back(y_box, t.evidence);
                y_box += pitch;
            }
            y_box += gap;
        }
        const double lanes = static_cast<double>(std::max<std::size_t>(1, ends.size()));
        double k = 0.5;
        for (const auto& [pin, list] : ends) {
            const double y = top + row * static_cast<double>(pin),
                         x = lane_from + (lane_to - lane_from) * k / lanes;
            k += 1.0;
            const bool any_proven = std::any_of(
                list.begin(), list.end(), [](const auto& e) { return e.second == JoinEvidence::measured; });
            s.picture.line(edge, y, x, y, paper::ink, 0.9, any_proven ? "" : "4 3");
            for (const auto& [to, e] : list) {
                const bool proven = e == JoinEvidence::measured;
                s.picture.line(x, y, x, to, paper::ink, 0.9, proven ? "" : "4 3");
                s.picture.line(x, to, box_at, to, paper::ink, 0.9, proven ? "" : "4 3");
                ++s.wires;
                s.unproven += proven ? 0 : 1;
            }
            if (list.size() > 1) s.picture.circle(x, y, 1.8, paper::ink);
        }
    }

    void draw_rails() {
        std::map<int, std::vector<int>> rails;
        for (std::size_t p = 0; p < a_.view->board.points.size(); ++p)
            if (rail(point(static_cast<int>(p)).kind))
                rails[a_.state.net_of[p]].push_back(static_cast<int>(p));
        if (rails.empty()) return;
        std::vector<std::vector<std::string>> lines;
        for (const auto& [net, list] : rails) {
            const auto& all = a_.state.nets[static_cast<std::size_t>(net)];
            std::string text;
            for (const int p : all) text += (text.empty() ? "" : "  ") + a_.name(p);
            lines.push_back(
                {fmt::format("{} · {} points joined", point(list.front()).function, all.size()), text});
        }
        draw_list("rails", "Rails and the pins that readings join to them", lines);
    }

    void draw_small(const std::vector<std::string>& refs) {
        std::vector<std::vector<std::string>> lines;
        for (const auto& ref : refs) {
            const auto& pins = by_ref_[ref];
            if (pins.size() > 3 || is_port(ref)) continue;
            std::string text;
            for (const int p : pins) {
                text += (text.empty() ? "" : "     ") + point(p).pin + ":";
                const auto list = partners(p);
                if (list.empty()) text += " nothing yet";
                for (std::size_t i = 0; i < std::min<std::size_t>(3, list.size()); ++i)
                    text += fmt::format(" {}{}", a_.name(list[i].first),
                                        list[i].second == JoinEvidence::measured ? "" : " (not proven)");
                if (list.size() > 3) text += fmt::format(" and {} more", list.size() - 3);
            }
            lines.push_back({title_of(ref), text});
        }
        if (!lines.empty()) draw_list("small-parts", "Small parts", lines);
    }

    void draw_list(const std::string& id, const std::string& title,
                   const std::vector<std::vector<std::string>>& lines) {
        CircuitSheet* s = nullptr;
        double y = page_h;
        for (const auto& line : lines) {
            std::vector<std::string> wrapped;
            std::string rest = line[1];
            while (rest.size() > 150) {
                auto at = rest.rfind("  ", 150);
                if (at == std::string::npos || at == 0) at = 150;
                wrapped.push_back(rest.substr(0, at));
                rest.erase(0, at);
            }
            wrapped.push_back(rest);
            if (y + 20 + 12 * static_cast<double>(wrapped.size()) > page_h - 30) {
                s = &new_sheet(id, title);
                y = top;
            }
            s->picture.text(36, y, line[0], paper::ink, Svg::Anchor::start, 10, true);
            for (const auto& w : wrapped) s->picture.text(48, y += 12, w, paper::ink2, Svg::Anchor::start, 9);
            y += 18;
        }
    }

    const TraceAnalysis& a_;
    const Dossier& d_;
    const PartLibrary& library_;
    std::vector<int> seen_, claimed_;
    std::map<std::string, std::vector<int>> by_ref_;
    std::vector<CircuitSheet> out_;
};

}  // namespace

std::vector<CircuitSheet> circuit_sheets(const TraceAnalysis& trace, const Dossier& dossier,
                                         const PartLibrary& parts) {
    long_work("circuit_sheets");
    if (trace.empty()) return {};
    return Sheets(trace, dossier, parts).draw();
}

std::vector<Net> recovered_nets(const TraceAnalysis& trace) {
    std::vector<Net> out;
    std::set<std::string> used;
    for (const auto& net : trace.state.nets) {
        Net n;
        int best_rank = -1;
        for (const int p : net) {
            const auto& pt = trace.view->board.points[static_cast<std::size_t>(p)];
            n.points.push_back(trace.name(p));
            const int rank = pt.function.empty()                                        ? 0
                             : pt.part_function == "port"                               ? 3
                             : pt.kind == PinKind::ground || pt.kind == PinKind::supply ? 2
                                                                                        : 1;
            if (rank > best_rank && pt.kind != PinKind::passive) {
                best_rank = rank;
                n.name = rank == 0   ? trace.name(p)
                         : rank == 1 ? fmt::format("{}_{}", pt.ref, pt.function)
                                     : pt.function;
            }
        }
        if (n.name.empty()) n.name = n.points.front();
        const auto base = n.name;
        for (int k = 2; !used.insert(n.name).second; ++k) n.name = fmt::format("{}_{}", base, k);
        out.push_back(std::move(n));
    }
    return out;
}

}  // namespace grayrelic
