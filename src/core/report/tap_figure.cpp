// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/tap_figure.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/report/card_pages.hpp"

namespace grayrelic {
namespace {

constexpr double tap_row = 30, taps_top = 44, least_tap_width = 400;

class TapDrawer {
  public:
    TapDrawer(const TapStudy& s, double width, const std::string& chosen)
        : s_(s),
          chosen_(chosen),
          machine_(128),
          device_(machine_ + 0.22 * std::max(width, least_tap_width)),
          channel_(std::max(width, least_tap_width) - (s.runs > 1 ? 78 : 72)) {
        out_.width = std::max(width, least_tap_width);
        out_.height = taps_top + tap_row * static_cast<double>(s.lines.size()) + 12;
    }

    Drawing draw() {
        head(machine_ + 8, "into the machine", Drawing::Anchor::end);
        head(device_ - 8, "from the device", Drawing::Anchor::start);
        head(out_.width - 4, "to the analyser", Drawing::Anchor::end);
        double y = taps_top;
        for (const auto& l : s_.lines) {
            line(l, y + tap_row / 2);
            y += tap_row;
        }
        const double bottom = out_.height - 8;
        for (const double x : {machine_, device_})
            out_.lines.push_back({x, taps_top - 10, x, bottom, Ink::ink, 4});
        return std::move(out_);
    }

  private:
    void head(double x, const std::string& text, Drawing::Anchor anchor) {
        out_.texts.push_back({x, taps_top - 20, text, Ink::ink2, anchor, 11});
    }
    void text(double x, double y, const std::string& t, Drawing::Anchor anchor, Ink ink = Ink::ink,
              bool bold = false) {
        out_.texts.push_back({x, y + 4, t, ink, anchor, 11, bold});
    }

    void line(const TapLine& l, double y) {
        const bool on = "pin " + l.pin == chosen_;
        if (on) out_.boxes.push_back({4, y - tap_row / 2 + 1, out_.width - 8, tap_row - 2, Ink::hairline});
        out_.places.push_back({"pin " + l.pin, 0, y - tap_row / 2, out_.width, tap_row});
        text(machine_ - 14, y, shortened(l.name, 16), Drawing::Anchor::end, Ink::ink, on);
        out_.texts.push_back(
            {machine_ + 10, y - 3, l.pin, Ink::ink2, Drawing::Anchor::start, 10, false, true});
        if (l.way == TapWay::none) return;
        out_.lines.push_back({machine_, y, device_, y, Ink::ink, l.way == TapWay::meter ? 2.5 : 1.5});
        const double tap = machine_ + 0.55 * (device_ - machine_);
        const double from = device_ + 14;
        switch (l.way) {
            case TapWay::ground:
                if (l.pin == s_.ground_pin) {
                    lead(tap, from, channel_, y, Ink::ink);
                    text(channel_ + 8, y, "ground", Drawing::Anchor::start, Ink::ink, true);
                } else {
                    text(from, y, "passed on", Drawing::Anchor::start, Ink::ink2);
                }
                return;
            case TapWay::meter:
                text(from, y, "not tapped: a meter", Drawing::Anchor::start, Ink::ink2);
                return;
            case TapWay::measure_first:
                out_.marks.push_back({from + 5, y, Verdict::stop});
                text(from + 16, y, "measure first", Drawing::Anchor::start, Ink::stop, true);
                return;
            default: break;
        }
        lead(tap, from, channel_, y, Ink::bridge);
        const double middle = (from + channel_) / 2;
        if (l.way == TapWay::divider) {
            part(middle - 30, y, print_number(l.top_ohm, Unit::ohm, 2), false);
            part(middle + 30, y, print_number(l.bottom_ohm, Unit::ohm, 2), true);
        } else if (l.way == TapWay::buffer) {
            out_.boxes.push_back({middle - 24, y - 8, 48, 16, Ink::hairline});
            text(middle, y - 1, "buffer", Drawing::Anchor::middle);
        }
        if (l.verdict != Verdict::holds) out_.marks.push_back({from + 5, y, l.verdict});
        text(
            channel_ + 8, y,
            s_.runs > 1 ? fmt::format("{} · run {}", l.channel, l.run) : fmt::format("channel {}", l.channel),
            Drawing::Anchor::start, Ink::ink, true);
    }

    /// From the dot on the line under the device's contact to the channel.
    void lead(double tap, double from, double to, double y, Ink ink) {
        out_.boxes.push_back({tap - 3, y - 3, 6, 6, ink});
        out_.lines.push_back({tap, y, tap + 8, y + 8, ink, 1.5});
        out_.lines.push_back({tap + 8, y + 8, from - 8, y + 8, ink, 1.5});
        out_.lines.push_back({from - 8, y + 8, from, y, ink, 1.5});
        out_.lines.push_back({from, y, to, y, ink, 1.5});
    }

    /// A resistor in the lead, or from it to ground.
    void part(double x, double y, const std::string& value, bool to_ground) {
        out_.boxes.push_back({x - 28, y - 8, 56, 16, Ink::hairline});
        text(x, y - 1, value, Drawing::Anchor::middle);
        if (!to_ground) return;
        // Its foot stands on ground.
        out_.lines.push_back({x - 8, y + 10, x + 8, y + 10, Ink::ink, 1.5});
        out_.lines.push_back({x - 4, y + 13, x + 4, y + 13, Ink::ink, 1.5});
    }

    const TapStudy& s_;
    std::string chosen_;
    double machine_, device_, channel_;
    Drawing out_;
};

std::string time_of(double seconds) {
    return seconds >= 120 ? fmt::format("{:.0f} min", seconds / 60) : print_number(seconds, Unit::second, 2);
}

}  // namespace

Drawing draw_taps(const TapStudy& study, double width, const std::string& chosen) {
    return TapDrawer(study, width, chosen).draw();
}

Result<Card> tap_card(const Analysis& a, const std::string& id, Paper paper) {
    const auto* port = a.dossier.find_port(id);
    if (port == nullptr) return fail_usage(in_quotes(id), "a port of the dossier");
    if (!a.data) return fail_usage("no data files", "the folder of connectors");
    const auto connector = a.data->connectors.find(port->connector);
    const auto study =
        plan_taps(*port, connector ? &*connector : nullptr, a.data->families, a.data->analysers);
    if (study.analyser == nullptr) return fail_usage("no analyser", "one in data/analysers");
    CardPages pages(a, paper);
    const double m = CardPages::margin;
    pages.begin(fmt::format("{} · how to record it", port->id),
                fmt::format("{} · {} · {}", a.dossier.about->name, port->name, study.analyser->name));
    pages.line(fmt::format(
        "Record {} at {}{}.", time_of(study.seconds), print_number(study.rate_hz, Unit::hertz),
        study.least_rate_hz > 0
            ? fmt::format("; at least {} are needed", print_number(study.least_rate_hz, Unit::hertz))
            : std::string()));
    const auto figure = draw_taps(study, pages.width() - 2 * m);
    constexpr double most_of_page = 430;
    if (figure.height < most_of_page) {
        pages.page().place(m, pages.y(), drawing_figure(figure, "Pass-through cable with taps"));
        pages.advance(figure.height + 8);
    }
    pages.need(60);
    pages.columns({{m, "done", 4},
                   {m + 40, "pin", 5},
                   {m + 76, "line", 16},
                   {m + 176, "how", 14},
                   {m + 262, "parts", 24},
                   {m + 400, "channel", 14}});
    for (const auto& l : study.lines) {
        if (l.way == TapWay::none) continue;
        pages.row({"", l.pin, l.name, std::string(word(l.way)),
                   l.way == TapWay::divider
                       ? fmt::format("{}, {} to ground", print_number(l.top_ohm, Unit::ohm, 2),
                                     print_number(l.bottom_ohm, Unit::ohm, 2))
                       : std::string(),
                   l.channel == 0   ? l.pin == study.ground_pin ? std::string("ground") : std::string()
                     : study.runs > 1 ? fmt::format("{} of run {}", l.channel, l.run)
                                    : std::to_string(l.channel)});
    }
    pages.advance(6);
    pages.title("In this order");
    long n = 0;
    for (const auto& b : study.before) pages.paragraph(fmt::format("{}. {}", ++n, b));
    pages.advance(6);
    if (!study.steps.empty()) pages.title("While it records");
    for (const auto& s : study.steps)
        pages.paragraph(fmt::format("□ {}: {} ({})", s.what, s.how, time_of(s.seconds)));
    for (const auto& d : study.doubts) pages.paragraph("? " + d);
    pages.cautions(Stage::port, "tap", port);
    pages.end();
    return pages.take();
}

}  // namespace grayrelic
