// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/wiring_card.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/port/cable.hpp"
#include "core/report/connector_figure.hpp"

namespace grayrelic {
namespace {

constexpr double points_per_mm = 72.0 / 25.4;
constexpr double margin = 42.0;   // points
constexpr double card_line = 18;  // points

std::vector<std::string> wrapped(const std::string& text, std::size_t width) {
    std::vector<std::string> out(1);
    for (const auto word : split(text, ' ')) {
        if (!out.back().empty() && out.back().size() + word.size() + 1 > width) out.emplace_back();
        out.back() += (out.back().empty() ? "" : " ") + std::string(word);
    }
    return out;
}

struct Column {
    double x;
    std::string heading;
    std::size_t most;  // characters
};

class CardWriter {
  public:
    CardWriter(const Analysis& a, Paper paper) : a_(a) {
        card_.width_mm = paper == Paper::a4 ? 210.0 : 215.9;
        card_.height_mm = paper == Paper::a4 ? 297.0 : 279.4;
        width_ = card_.width_mm * points_per_mm;
        height_ = card_.height_mm * points_per_mm;
    }

    void cable(const Cable& cable, const CableView& v) {
        begin(cable.name, fmt::format("{} · {} · {} wires", a_.dossier.about->name,
                                      word(lay_of(cable.wires, v)), cable.wires.size()));
        const double half = (width_ - 2 * margin - 12) / 2;
        const auto side = [&](const CableSide& s, const CableEnd& end, double x) {
            const Port blank;
            const Port& port = s.port != nullptr ? *s.port : blank;
            const auto seen = soldering_view(s.half);
            page_->place(x, y_ + 16, face_figure(port, s.connector, seen, {half, 200, true}));
            page_->text(x + 2, y_ + 8, end_title(s, end), paper::ink, Svg::Anchor::start, 11, true);
        };
        side(v.a, cable.a, margin);
        side(v.b, cable.b, margin + half + 12);
        y_ += 230;
        if (!cable.stripe.empty())
            line(fmt::format("Stripe: the wire of pin {} at the first end, pin {} at the second.",
                             cable.stripe, other_end(cable, cable.stripe)));
        columns_ = {{margin, "done", 4},       {margin + 40, "from", 5},     {margin + 80, "signal", 18},
                    {margin + 190, "to", 5},   {margin + 230, "signal", 18}, {margin + 340, "colour", 14},
                    {margin + 420, "note", 18}};
        heading();
        for (const auto& w : cable.wires)
            row({"", w.a, name_at(v.a, w.a), w.b, name_at(v.b, w.b), w.colour, w.note});
        cautions("plug", v.a.port);
        end();
    }

    void port(const Port& port, const Connector& connector) {
        begin(fmt::format("{} · {}", port.id, port.name),
              fmt::format("{} · {}", a_.dossier.about->name, connector.name));
        const double half = (width_ - 2 * margin - 12) / 2;
        const auto seen = viewpoint_named(port.viewpoint);
        page_->place(margin, y_, face_figure(port, connector, seen, {half, 200, true}));
        page_->place(margin + half + 12, y_,
                     face_figure(port, connector, counterpart(seen), {half, 200, true}));
        y_ += 214;
        columns_ = {{margin, "done", 4},           {margin + 40, "pin", 5},
                    {margin + 80, "name", 22},     {margin + 210, "driven by", 10},
                    {margin + 290, "level", 16},   {margin + 390, "colour", 14},
                    {margin + 460, "evidence", 10}};
        heading();
        for (const auto& p : port.pins) {
            auto level = p.family.value;
            if (p.volts_max.value) level += (level.empty() ? "" : " ") + print(*p.volts_max.value);
            row({"", p.number, p.name.value.empty() ? "not known" : p.name.value,
                 std::string(word(p.driver.value)), level, p.colour.value,
                 p.name.value.empty() ? std::string() : std::string(word(p.name.evidence.kind))});
        }
        cautions("plug", &port);
        end();
    }

    [[nodiscard]] Card take() { return std::move(card_); }

  private:
    static std::string end_title(const CableSide& s, const CableEnd& end) {
        auto title = end.label.empty() ? (s.port != nullptr ? s.port->name : s.connector.name) : end.label;
        return fmt::format("{}: {} of {}", title,
                           s.half == Half::plug ? s.connector.plug_name : s.connector.socket_name,
                           s.connector.id);
    }

    static std::string name_at(const CableSide& s, const std::string& number) {
        const auto* pin = s.port == nullptr ? nullptr : s.port->find_pin(number);
        return pin == nullptr ? std::string() : pin->name.value;
    }

    static std::string other_end(const Cable& cable, const std::string& a) {
        for (const auto& w : cable.wires)
            if (w.a == a) return w.b;
        return "none";
    }

    void begin(const std::string& title, const std::string& about) {
        title_ = title;
        about_ = about;
        new_page();
    }

    void new_page() {
        end();
        page_.emplace(width_, height_, title_);
        page_->set_paper(card_.width_mm, card_.height_mm);
        page_->rect(0, 0, width_, height_, "#FFFFFF");
        page_->text(margin, margin + 12, shortened(title_, 60), paper::ink, Svg::Anchor::start, 18, true);
        page_->text(margin, margin + 28, shortened(about_, 100), paper::ink2, Svg::Anchor::start, 11);
        page_->line(margin, margin + 36, width_ - margin, margin + 36, paper::hairline);
        y_ = margin + 46;
    }

    void end() {
        if (page_) card_.pages.push_back(page_->finish());
        page_.reset();
    }

    void line(const std::string& text) {
        page_->text(margin, y_ + 10, text, paper::ink, Svg::Anchor::start, 11);
        y_ += card_line;
    }

    void heading() {
        for (const auto& c : columns_)
            page_->text(c.x, y_ + 10, c.heading, paper::ink2, Svg::Anchor::start, 10);
        y_ += card_line;
        page_->line(margin, y_ - 4, width_ - margin, y_ - 4, paper::hairline);
    }

    void row(const std::vector<std::string>& cells) {
        if (y_ + card_line > height_ - margin) {
            new_page();
            heading();
        }
        page_->rect(margin + 2, y_, 11, 11, "#FFFFFF", paper::ink);
        for (std::size_t i = 1; i < cells.size(); ++i)
            page_->text(columns_[i].x, y_ + 10, shortened(cells[i], columns_[i].most), paper::ink,
                        Svg::Anchor::start, 11);
        y_ += card_line;
    }

    void cautions(std::string_view step, const Port* port) {
        const auto list =
            cautions_for(a_.data->cautions, a_.data->families, a_.dossier, Stage::port, step, port);
        if (list.empty()) return;
        y_ += 8;
        for (const auto* c : list) {
            const auto lines = wrapped(c->says + " " + c->defer, 100);
            if (y_ + 16 + 13 * static_cast<double>(lines.size()) > height_ - margin) new_page();
            page_->text(margin, y_ + 10, c->title, paper::oxide, Svg::Anchor::start, 11, true);
            y_ += 15;
            for (const auto& l : lines) {
                page_->text(margin, y_ + 9, l, paper::ink, Svg::Anchor::start, 10);
                y_ += 13;
            }
            y_ += 5;
        }
    }

    const Analysis& a_;
    Card card_;
    double width_ = 0, height_ = 0, y_ = 0;
    std::string title_, about_;
    std::vector<Column> columns_;
    std::optional<Svg> page_;
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
