// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/wiring_card.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/port/cable.hpp"
#include "core/report/card_pages.hpp"
#include "core/report/connector_figure.hpp"

namespace grayrelic {
namespace {

constexpr double margin = CardPages::margin;

Svg face(const Port& port, const Connector& connector, Viewpoint seen, double width) {
    return drawing_figure(face_drawing(port, connector, seen, {width, 200, true}), connector.name, false);
}

class CardWriter {
  public:
    CardWriter(const Analysis& a, Paper paper) : a_(a), pages_(a, paper) {}

    void cable(const Cable& cable, const CableView& v) {
        pages_.begin(cable.name, fmt::format("{} · {} · {} wires", a_.dossier.about->name,
                                             word(lay_of(cable.wires, v)), cable.wires.size()));
        const double half = (pages_.width() - 2 * margin - 12) / 2;
        const auto side = [&](const CableSide& s, const CableEnd& end, double x) {
            const Port blank;
            const Port& port = s.port != nullptr ? *s.port : blank;
            const auto seen = soldering_view(s.half);
            pages_.page().place(x, pages_.y() + 16, face(port, s.connector, seen, half));
            pages_.page().text(x + 2, pages_.y() + 8, end_title(s, end), paper::ink, Svg::Anchor::start, 11,
                               true);
        };
        side(v.a, cable.a, margin);
        side(v.b, cable.b, margin + half + 12);
        pages_.advance(230);
        if (!cable.stripe.empty())
            pages_.line(fmt::format("Stripe: the wire of pin {} at the first end, pin {} at the second.",
                                    cable.stripe, other_end(cable, cable.stripe)));
        pages_.columns({{margin, "done", 4},
                        {margin + 40, "from", 5},
                        {margin + 80, "signal", 18},
                        {margin + 190, "to", 5},
                        {margin + 230, "signal", 18},
                        {margin + 340, "colour", 14},
                        {margin + 420, "note", 18}});
        for (const auto& w : cable.wires)
            pages_.row({"", w.a, name_at(v.a, w.a), w.b, name_at(v.b, w.b), w.colour, w.note});
        pages_.cautions(Stage::port, "plug", v.a.port);
        pages_.end();
    }

    void port(const Port& port, const Connector& connector) {
        pages_.begin(fmt::format("{} · {}", port.id, port.name),
                     fmt::format("{} · {}", a_.dossier.about->name, connector.name));
        const double half = (pages_.width() - 2 * margin - 12) / 2;
        const auto seen = viewpoint_named(port.viewpoint);
        pages_.page().place(margin, pages_.y(), face(port, connector, seen, half));
        pages_.page().place(margin + half + 12, pages_.y(), face(port, connector, counterpart(seen), half));
        pages_.advance(214);
        pages_.columns({{margin, "done", 4},
                        {margin + 40, "pin", 5},
                        {margin + 80, "name", 22},
                        {margin + 210, "driven by", 10},
                        {margin + 290, "level", 16},
                        {margin + 390, "colour", 14},
                        {margin + 460, "evidence", 10}});
        for (const auto& p : port.pins) {
            auto level = p.family.value;
            if (p.volts_max.value) level += (level.empty() ? "" : " ") + print(*p.volts_max.value);
            pages_.row({"", p.number, p.name.value.empty() ? "not known" : p.name.value,
                        std::string(word(p.driver.value)), level, p.colour.value,
                        p.name.value.empty() ? std::string() : std::string(word(p.name.evidence.kind))});
        }
        pages_.cautions(Stage::port, "plug", &port);
        pages_.end();
    }

    [[nodiscard]] Card take() { return pages_.take(); }

  private:
    static std::string end_title(const CableSide& s, const CableEnd& end) {
        auto title = end.label.empty() ? (s.port != nullptr ? s.port->name : s.connector.name) : end.label;
        return fmt::format("{}: {} of {}", title,
                           s.half == Half::plug ? s.connector.plug_name : s.connector.socket_name,
                           s.connector.id);
    }

    /// What the port does not say, its cables may.
    [[nodiscard]] std::string name_at(const CableSide& s, const std::string& number) const {
        if (s.port == nullptr) return {};
        const auto known = known_through_cables(*s.port, a_.dossier, a_.data->connectors);
        const auto* pin = known.find_pin(number);
        return pin == nullptr ? std::string() : pin->name.value;
    }

    static std::string other_end(const Cable& cable, const std::string& a) {
        for (const auto& w : cable.wires)
            if (w.a == a) return w.b;
        return "none";
    }

    const Analysis& a_;
    CardPages pages_;
};

}  // namespace

Viewpoint soldering_view(Half half) {
    return half == Half::plug ? Viewpoint::plug_solder : Viewpoint::socket_solder;
}

Result<Card> wiring_card(const Analysis& a, const std::string& id, Paper paper) {
    if (!a.data) return fail_usage("no data files", "the folder of connectors");
    CardWriter writer(a, paper);
    const auto& d = a.dossier;
    bool any = false;
    for (const auto& cable : *d.cables) {
        if (!id.empty() && cable.id != id) continue;
        const auto view = view_cable(d, cable, a.data->connectors);
        if (!view) return fail(view.error());
        writer.cable(cable, *view);
        any = true;
    }
    if (!any)
        for (const auto& port : *d.ports) {
            if (!id.empty() && port.id != id) continue;
            const auto connector = a.data->connectors.find(port.connector);
            if (!connector) return fail(connector.error());
            writer.port(port, *connector);
            any = true;
        }
    if (!any)
        return fail_usage(id.empty() ? std::string("no port and no cable") : in_quotes(id),
                          "a cable or a port of the dossier");
    return writer.take();
}

}  // namespace grayrelic
