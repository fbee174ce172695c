// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/wire/rails_rows.hpp"

#include <fmt/format.h>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic::app {
namespace {

QString amperes(double a) {
    return to_q(print_number(a, Unit::ampere));
}
QString rail_volts_text(double v) {
    return to_q(print_number(v, Unit::volt));
}

/// "4.75 … 5.25 V"
QString range_text(double least, double most) {
    return to_q(fmt::format("{:#.3g} … {:#.3g} V", least, most));
}

TableRow event_row(Verdict v, const QString& what, const QString& says, const std::string& place) {
    TableCell first(what);
    first.icon = verdict_icon(v);
    first.key = to_q(place);
    return {first, says};
}

void add_plugs(const RailStudy& s, std::vector<TableRow>& rows) {
    for (const auto& b : s.back_feed)
        rows.push_back(event_row(b.verdict, to_q(b.when), to_q(b.why + " " + b.todo), "rail " + b.to));
    if (s.back_feed.empty() && s.tree.sources.size() > 1)
        rows.push_back(event_row(Verdict::holds, QObject::tr("Any plugs in or out"),
                                 QObject::tr("nothing flows backwards"), {}));
    for (const auto& w : s.switched) {
        const auto add = [&](Verdict v, const std::string& why, const QString& what) {
            if (!why.empty())
                rows.push_back(
                    event_row(v, QObject::tr("%1 %2").arg(to_q(w.ref), what), to_q(why), "rail " + w.rail));
        };
        add(w.conducts, w.conducts_why, QObject::tr("on"));
        add(w.opens, w.opens_why, QObject::tr("off"));
        add(w.lift, w.lift_why, QObject::tr("lifts"));
        add(w.resets, w.resets_why, QObject::tr("off, its load"));
    }
}

void add_inrush(const RailStudy& s, std::vector<TableRow>& rows) {
    for (const auto& i : s.inrush) {
        auto says = to_q(i.why);
        if (says.isEmpty())
            says = i.peak_a ? QObject::tr("%1 charged with %2 at first")
                                  .arg(to_q(print_number(i.farad, Unit::farad)), amperes(*i.peak_a))
                            : QObject::tr("%1 charged").arg(to_q(print_number(i.farad, Unit::farad)));
        rows.push_back(
            event_row(i.verdict, QObject::tr("%1 in: inrush").arg(to_q(i.source)), says, "rail " + i.rail));
    }
}

void add_batteries(const RailStudy& s, std::vector<TableRow>& rows) {
    for (const auto& b : s.batteries) {
        QString hours;
        for (const auto& m : b.modes)
            if (m.hours)
                hours += QObject::tr("%1%2 h%3")
                             .arg(hours.isEmpty() ? QString() : QStringLiteral(", "))
                             .arg(*m.hours, 0, 'g', 3)
                             .arg(m.mode.empty() ? QString() : QObject::tr(" in %1").arg(to_q(m.mode)));
        if (b.charge_least_h)
            hours += QObject::tr("; charged in %1 to %2 h")
                         .arg(*b.charge_least_h, 0, 'g', 3)
                         .arg(*b.charge_most_h, 0, 'g', 3);
        if (b.threshold_v) hours += QObject::tr("; shut down below %1").arg(rail_volts_text(*b.threshold_v));
        rows.push_back(event_row(b.verdict, QObject::tr("%1 runs").arg(to_q(b.source)),
                                 hours + (b.why.empty() ? QString() : QStringLiteral(". ") + to_q(b.why)),
                                 "rail " + b.source));
    }
    for (const auto& h : s.harvests)
        rows.push_back(
            event_row(h.verdict, QObject::tr("Lines feed %1").arg(to_q(h.rail)),
                      QObject::tr("%1 at %2. %3").arg(amperes(h.amps), rail_volts_text(h.volts), to_q(h.why)),
                      "rail " + h.rail));
}

void add_order(const RailStudy& s, std::vector<TableRow>& rows) {
    if (s.coming_up.size() > 1) {
        QStringList order;
        bool guessed = false;
        for (const auto& u : s.coming_up) {
            order << QObject::tr("%1 %2").arg(
                to_q(u.rail),
                u.seconds < 1e-9 ? QObject::tr("at once") : to_q(print_number(u.seconds, Unit::second)));
            guessed = guessed || u.guessed;
        }
        auto verdict = guessed ? Verdict::unknown : Verdict::holds;
        QString why;
        for (const auto& o : s.orders)
            if (o.verdict != Verdict::holds) {
                verdict = worse(verdict, o.verdict);
                why += to_q(" " + o.why);
            }
        rows.push_back(event_row(
            verdict, QObject::tr("Coming up"),
            order.join(QStringLiteral(", ")) +
                (guessed ? QObject::tr(" (start times that are not said are taken as 1 ms)") : QString()) +
                why,
            {}));
    }
}

/// What a part does and loses, and where that is known from.
QString part_text(const RailPartFigures& p, const RailPart& part) {
    QStringList out;
    if (!p.why.empty()) out << to_q(p.why);
    if (p.why.empty() && p.headroom_v) out << QObject::tr("%1 to spare").arg(rail_volts_text(*p.headroom_v));
    if (p.loss_w > 1e-9) out << QObject::tr("%1 lost").arg(to_q(print_number(p.loss_w, Unit::watt)));
    if (p.junction_c && p.why.find("°C") == std::string::npos)
        out << QObject::tr("%1 °C inside").arg(*p.junction_c, 0, 'f', 0);
    if (part.place.line == 0) out << to_q(part.place.because);
    return out.join(QStringLiteral(" · "));
}

}  // namespace

std::vector<TableRow> rail_rows(const RailStudy& study, const RailModeFigures& mode) {
    std::vector<TableRow> rows;
    const auto add = [&](const std::string& name, const std::string& place, Verdict verdict, TableCell volts,
                         double amps, const QString& most, const QString& says) {
        TableCell first(to_q(name));
        first.key = to_q(place);
        first.icon = verdict_icon(verdict);
        TableCell current(amperes(amps));
        current.sort = amps;
        rows.push_back({first, std::move(volts), current, most, says});
    };
    for (const auto& r : mode.rails) {
        const bool ranged = r.most - r.least > 1e-6;
        TableCell volts(ranged ? range_text(r.least, r.most) : rail_volts_text(r.volts));
        volts.sort = r.volts;
        // A source says where it is known from; what it feeds follows.
        const auto* source = study.tree.find_source(r.name);
        const auto says =
            r.why.empty() && source != nullptr
                ? source->place.line > 0 ? fmt::format("line {}", source->place.line) : source->place.because
                : r.why;
        add(r.name, "rail " + r.name, r.verdict, volts, r.load_a,
            r.limit_a ? amperes(*r.limit_a) : QObject::tr("not said"), to_q(says));
    }
    for (std::size_t i = 0; i < mode.parts.size(); ++i) {
        const auto& p = mode.parts[i];
        const auto& part = study.tree.parts[i];
        add(p.ref, "part " + p.ref, p.verdict, QObject::tr("to %1").arg(to_q(part.to)), p.amps,
            part.most_a ? amperes(*part.most_a) : QString(), part_text(p, part));
    }
    for (const auto& l : mode.loads)
        if (l.verdict != Verdict::holds)
            add(l.name, "rail " + l.rail, l.verdict, range_text(l.least, l.most), l.amps, QString(),
                to_q(l.why));
    return rows;
}

std::vector<TableRow> rail_event_rows(const RailStudy& study) {
    std::vector<TableRow> rows;
    add_plugs(study, rows);
    add_inrush(study, rows);
    add_batteries(study, rows);
    add_order(study, rows);
    return rows;
}

}  // namespace grayrelic::app
