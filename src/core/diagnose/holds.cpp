// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/holds.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"
#include "core/diagnose/bench_reading.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

/// A rail below this is taken for a short, whatever it feeds.
constexpr double least_rail_ohm = 30, meter_share = 0.02, rail_share = 0.05, setting_share = 0.03;
constexpr double low_most_v = 0.8, high_least_v = 2.0;

HoldPoint question(std::string id, std::string what, std::string because = {}) {
    HoldPoint p;
    p.id = std::move(id);
    p.what = std::move(what);
    p.expected = "yes";
    p.yes_no = true;
    p.because = std::move(because);
    return p;
}

HoldPoint band(std::string id, std::string what, Unit unit, std::optional<double> least,
               std::optional<double> most, std::string because) {
    HoldPoint p;
    p.id = std::move(id);
    p.what = std::move(what);
    p.unit = unit;
    p.least = least;
    p.most = most;
    p.because = std::move(because);
    p.expected = least && most
                     ? fmt::format("{} to {}", print_number(*least, unit), print_number(*most, unit))
                 : least ? "above " + print_number(*least, unit)
                 : most  ? "at most " + print_number(*most, unit)
                         : "note it";
    return p;
}

class HoldList {
  public:
    HoldList(const Analysis& a, const BenchBoard& b) : a_(a), b_(b), exercise_(b) {}

    std::vector<Hold> make() {
        cold();
        if (b_.problem.empty()) {
            warm();
            signals();
        }
        back();
        return std::move(out_);
    }

  private:
    Hold& add(std::string id, std::string name, std::string why, bool powered) {
        out_.push_back({std::move(id), std::move(name), std::move(why), powered, false, {}});
        return out_.back();
    }

    struct Rail {
        std::string name, lead;
        double volts = 0;
    };
    std::vector<Rail> rails() const {
        std::vector<Rail> out;
        for (const auto& n : b_.nets)
            if (n.volts && *n.volts != 0 && !n.leads.empty()) {
                std::string lead = n.leads.front();
                for (const auto& s : b_.supplies)
                    if (b_.net_of(s.lead) && &b_.nets[static_cast<std::size_t>(*b_.net_of(s.lead))] == &n)
                        lead = s.lead;
                out.push_back({n.name, lead, *n.volts});
            }
        return out;
    }
    std::string ground() const {
        for (const auto& s : b_.supplies)
            if (s.volts == 0) return s.lead;
        for (const auto& n : b_.nets)
            if (n.volts && *n.volts == 0 && !n.leads.empty()) return n.leads.front();
        return {};
    }
    const RailFigures* figures(const std::string& rail) const {
        if (a_.wire && !a_.wire->rails.modes.empty())
            for (const auto& r : a_.wire->rails.modes.front().rails)
                if (r.name == rail) return &r;
        return nullptr;
    }

    void cold() {
        auto& incoming = add("incoming", "Incoming inspection",
                             "A wrong part or a bad board is cheapest to find before it is soldered.", false);
        incoming.points.push_back(question("board",
                                           "The bare board is the one that was drawn: its side, "
                                           "its holes, no copper that bridges two tracks"));
        for (const auto& t : b_.things)
            if (t.kind == ThingKind::resistor || t.kind == ThingKind::capacitor) {
                const double wide = t.tolerance + meter_share;
                incoming.points.push_back(
                    band("part " + t.ref, t.ref + ", beside the board",
                         t.kind == ThingKind::resistor ? Unit::ohm : Unit::farad, t.value * (1 - wide),
                         t.value * (1 + wide),
                         fmt::format("its value, ± {:.0f} % and 2 % for the meter", t.tolerance * 100)));
            }
        auto& joints = add("joints", "Joints", "Each joint and no bridge, before anything is fed.", false);
        joints.points.push_back(question("sheet", "All lines of the joint sheet are as they should be"));
        const auto minus = ground();
        if (rails().empty() || minus.empty()) return;
        auto& ohms = add("rails-cold", "Resistance of each rail",
                         "A shorted rail is found with no power on; with power on it finds you.", false);
        ohms.firm = true;
        for (const auto& r : rails()) {
            const auto drawn =
                predict(b_, exercise_, {{ReadingKind::ohms, r.lead, minus}}, {}).values.front();
            auto least = std::min(least_rail_ohm, drawn * 0.8);
            std::string because = "below it a rail is taken for a short";
            if (drawn < 1e6)
                because += fmt::format("; {} through what is drawn, less through chips",
                                       print_number(drawn, Unit::ohm));
            auto p = band("ohms " + r.name, fmt::format("{} to ground, at {} and {}", r.name, r.lead, minus),
                          Unit::ohm, least, std::nullopt, because);
            p.lead = r.lead;
            p.to = minus;
            ohms.points.push_back(std::move(p));
        }
    }

    void rail_points(Hold& hold, bool loaded) {
        for (const auto& r : rails()) {
            const auto* f = figures(r.name);
            double least = r.volts * (1 - rail_share), most = r.volts * (1 + rail_share);
            std::string because = fmt::format("{} ± 5 %", print_number(r.volts, Unit::volt));
            if (f != nullptr) {
                least = f->least;
                most = f->most;
                because = "Wire's rails, least to most";
            }
            if (!loaded) {
                // Without a load a drop is less and a switch-mode converter may hunt.
                double highest = most;
                for (const auto& other : rails())
                    if (other.volts >= r.volts && other.volts - r.volts < 1)
                        highest =
                            std::max(highest, figures(other.name) == nullptr ? other.volts * (1 + rail_share)
                                                                             : figures(other.name)->most);
                most = highest;
                because += "; nearly without load a diode drops less";
            }
            auto p = band("volts " + r.name, fmt::format("{}, at {}", r.name, r.lead), Unit::volt, least,
                          most, because);
            p.lead = r.lead;
            hold.points.push_back(std::move(p));
        }
        double amps = 0;
        bool known = false;
        for (const auto& s : b_.supplies) {
            const auto net = b_.net_of(s.lead);
            if (s.volts == 0 || !net) continue;
            if (const auto* f = figures(b_.nets[static_cast<std::size_t>(*net)].name)) {
                known = true;
                amps += f->load_a;
            }
        }
        if (known && amps > 0)
            hold.points.push_back(band("amps",
                                       loaded ? "Current of the whole board" : "Current without its chips",
                                       Unit::ampere, loaded ? std::optional(0.0) : std::nullopt,
                                       loaded ? amps * 1.5 : amps, "the loads of Wire's rails"));
    }

    void warm() {
        rail_points(
            add("rails-unloaded", "Rails without chips",
                "Through a supply with a current limit, sockets empty: what is wrong now harms nothing.",
                true),
            false);
        lamps_without_chips();
        if (a_.wire && !a_.wire->settings.empty()) {
            Hold hold{"adjustables",
                      "What a hand sets",
                      "Set and measured with the socket empty.",
                      true,
                      false,
                      {}};
            for (const auto& s : a_.wire->settings)
                if (s.setting.want) {
                    auto p = band("setting " + s.setting.id, s.setting.name, Unit::volt,
                                  *s.setting.want * (1 - setting_share),
                                  *s.setting.want * (1 + setting_share), "what this work needs");
                    if (!s.measure.empty()) p.what += ": " + s.measure;
                    hold.points.push_back(std::move(p));
                }
            if (!hold.points.empty()) out_.push_back(std::move(hold));
        }
        Hold chips{
            "chips", "Chips in, one by one", "Each chip's own pins, before the next goes in.", true, false,
            {}};
        for (const auto& t : b_.things) {
            if (t.kind != ThingKind::logic && t.kind != ThingKind::module) continue;
            for (const auto& p : t.pins) {
                const auto& net = b_.nets[static_cast<std::size_t>(p.net)];
                if (!net.volts || *net.volts == 0) continue;
                const auto* f = figures(net.name);
                auto point = band("supply " + t.ref, fmt::format("{}, supply at its pin {}", t.ref, p.number),
                                  Unit::volt, f != nullptr ? f->least : *net.volts * (1 - rail_share),
                                  f != nullptr ? f->most : *net.volts * (1 + rail_share), net.name);
                point.lead = t.ref + "." + p.number;
                chips.points.push_back(std::move(point));
                break;
            }
        }
        if (!chips.points.empty()) out_.push_back(std::move(chips));
        rail_points(
            add("rails-loaded", "Rails with all chips", "What sags now sags in the machine too.", true),
            true);
    }

    /// Which lamps are lit while the sockets are empty.
    void lamps_without_chips() {
        std::vector<BenchFault> out_of_sockets;
        for (const auto& t : b_.things)
            if (t.kind == ThingKind::logic || t.kind == ThingKind::module)
                out_of_sockets.push_back({FaultKind::missing, t.ref, {}});
        const auto circuit = circuit_with(b_, out_of_sockets);
        const BenchState state(circuit);
        for (std::size_t i = 0; i < b_.watched.size(); ++i)
            if (b_.watched[i].lamp)
                out_.back().points.push_back(
                    question("lamp " + b_.watched[i].name,
                             fmt::format("{} is {} with the sockets empty", b_.watched[i].name,
                                         state.seen(i) == '1' ? "lit" : "dark"),
                             "the circuit without its chips"));
    }

    void signals() {
        Hold clocks{"clocks", "Clocks", "Nothing moves without them.", true, false, {}};
        if (const auto* built = built_board())
            for (const auto& p : built->parts)
                if (p.part.starts_with("oscillator") || p.part.starts_with("crystal"))
                    clocks.points.push_back(
                        question("clock " + p.ref, p.ref + " swings at what is printed on it"));
        if (!clocks.points.empty()) out_.push_back(std::move(clocks));
        idle_levels();
        activity();
        Hold frames{"frames", "First frames", "The original's capture is the measure.", true, false, {}};
        const bool stored = std::any_of(b_.watched.begin(), b_.watched.end(),
                                        [](const BenchWatched& w) { return w.stored && !w.lamp; });
        if (stored)
            frames.points.push_back(question("compare",
                                             "A capture of this unit, held against the original's in Listen, "
                                             "shows the same frames",
                                             "Listen, Compare"));
        if (!frames.points.empty()) out_.push_back(std::move(frames));
        Hold function{"function",
                      "Function by function",
                      "One press after the other; the others stay as they are.",
                      true,
                      false,
                      {}};
        for (const auto& s : exercise_.sights()) {
            const Symptom ok{s.key(b_), "ok"};
            function.points.push_back(question(ok.key, fmt::format("{}, and nothing else moves", says(ok)),
                                               "the circuit, pressed line by line"));
        }
        if (!function.points.empty()) out_.push_back(std::move(function));
        firmware();
    }

    std::optional<BuildBoard> built_;
    const BuildBoard* built_board() {
        if (!built_) built_ = build_board(a_, b_.id);
        return built_ ? &*built_ : nullptr;
    }

    void idle_levels() {
        const auto healthy = circuit_with(b_, {});
        const BenchState state(healthy);
        Hold hold{"idle",
                  "Levels at rest",
                  "A line that rests wrong is a wrong pull, a short or a wrong side.",
                  true,
                  false,
                  {}};
        for (std::size_t i = 0; i < b_.watched.size(); ++i) {
            const auto& w = b_.watched[i];
            const auto ref = std::string(ref_in(w.lead));
            const Pin* pin = nullptr;
            if (const auto* port = a_.dossier.find_port(ref))
                pin = port->find_pin(w.lead.substr(ref.size() + 1));
            if (w.lamp) {
                hold.points.push_back(question("lamp " + w.name,
                                               w.name + (state.seen(i) == '1' ? " is lit" : " is dark"),
                                               "the circuit, all lines at rest"));
                continue;
            }
            std::optional<double> least, most;
            std::string because = "the circuit, all lines at rest";
            if (pin != nullptr && pin->volts_idle.value) {
                const double v = pin->volts_idle.value->value();
                least = v - 0.3;
                most = v + 0.3;
                because = "the original's, ± 0.3 V";
            } else if (state.unknown(healthy.watched_node[i])) {
                because = "it depends on what was stored before";
            } else if (const auto v = state.volts(healthy.watched_node[i])) {
                if (*v <= low_most_v) {
                    most = low_most_v;
                } else if (*v >= high_least_v) {
                    least = high_least_v;
                } else {
                    least = *v * 0.8;
                    most = *v * 1.2;
                }
            }
            auto p = band("idle " + w.name, fmt::format("{}, at {}", w.name, w.lead), Unit::volt, least, most,
                          because);
            p.lead = w.lead;
            hold.points.push_back(std::move(p));
        }
        if (!hold.points.empty()) out_.push_back(std::move(hold));
    }

    void activity() {
        Hold hold{"activity", "Activity", "The host asks: its lines move, and so do the answers.",
                  true,       false,      {}};
        for (const auto& d : b_.driven)
            if (d.control)
                hold.points.push_back(question("moves " + d.name,
                                               fmt::format("{} moves at {}", d.name, d.lead),
                                               "it clocks or loads a part with storage"));
        if (!hold.points.empty()) out_.push_back(std::move(hold));
    }

    void firmware() {
        Hold hold{"firmware", "Firmware", "A module that was never enabled looks like a bad joint.",
                  true,       false,      {}};
        for (const auto& t : b_.things)
            if (t.kind == ThingKind::module) {
                hold.points.push_back(question("enabled " + t.ref,
                                               t.ref + " runs this version: it says so, or a pin shows it"));
                hold.points.push_back(question("counter " + t.ref, t.ref + ": a counter in its loop moves"));
                hold.points.push_back(question(
                    "sentinel " + t.ref,
                    t.ref + ": what was written into its buffer beforehand, and can't occur, is gone after "
                            "the first frame"));
            }
        if (!hold.points.empty()) out_.push_back(std::move(hold));
    }

    void back() {
        if (b_.problem.empty())
            rail_points(add("installed", "In its place", "The machine's own supply, its own load.", true),
                        true);
        Hold hold{"back", "Put back", "What was changed for the bench.", false, false, {}};
        hold.points.push_back(question("ties", "All temporary ties, resistors and hand-fed sources are off"));
        if (a_.wire)
            for (const auto& s : a_.wire->settings)
                if (s.setting.back)
                    hold.points.push_back(band("back " + s.setting.id, s.setting.name + " is put back",
                                               Unit::volt, *s.setting.back * (1 - setting_share),
                                               *s.setting.back * (1 + setting_share),
                                               "what it is to be put back to"));
        out_.push_back(std::move(hold));
    }

    const Analysis& a_;
    const BenchBoard& b_;
    Exercise exercise_;
    std::vector<Hold> out_;
};

}  // namespace

const HoldPoint* Hold::find(std::string_view point) const {
    for (const auto& p : points)
        if (p.id == point) return &p;
    return nullptr;
}

std::vector<Hold> holds_of(const Analysis& a, const BenchBoard& board) {
    return HoldList(a, board).make();
}

}  // namespace grayrelic
