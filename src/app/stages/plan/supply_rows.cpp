// SPDX-License-Identifier: GPL-3.0-or-later
// What the rows and cards of parts and orders say.
#include <tuple>

#include "app/paint/marks.hpp"
#include "app/stages/plan/supply_text.hpp"
#include "app/stages/plan/supply_view.hpp"
#include "core/base/date.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

Verdict verdict_of(const PartsRow& r) {
    const bool wanted = r.state == PartState::order || r.state == PartState::undecided;
    if (!r.not_to_be_had.empty() && wanted && r.order > 0) return Verdict::stop;
    switch (r.state) {
        case PartState::drawer:
        case PartState::arrived: return Verdict::holds;
        case PartState::undecided: return Verdict::doubt;
        default: return Verdict::unknown;
    }
}

QString figures_of(const PartsRow& r) {
    const auto bought =
        r.spare > 0 ? QObject::tr("%1 + %2 spare").arg(r.need).arg(r.spare) : QString::number(r.need);
    switch (r.state) {
        case PartState::drawer: return QObject::tr("%1 from the drawer").arg(bought);
        case PartState::order: return QObject::tr("order %1 of %2").arg(r.order).arg(bought);
        case PartState::undecided: return QObject::tr("do not order yet: %1").arg(bought);
        case PartState::ordered: return QObject::tr("%1 on the way").arg(r.on_order);
        case PartState::arrived: return QObject::tr("%1 arrived").arg(r.arrived);
    }
    return {};
}

QString more_of(const PartsRow& r, const QString& currency) {
    QStringList out;
    if (!r.question.empty()) out << to_q(r.question);
    if (!r.not_to_be_had.empty()) out << QObject::tr("not to be had: %1").arg(to_q(r.not_to_be_had));
    if (r.state == PartState::order) {
        if (r.cost)
            out << QObject::tr("%1 for %2 %3")
                       .arg(r.buy.value_or(r.order))
                       .arg(*r.cost, 0, 'f', 2)
                       .arg(currency)
                       .trimmed();
        if (const auto days = print_lead_days(r.lead_days_from, r.lead_days_to); !days.empty())
            out << QObject::tr("%1 days").arg(to_q(days));
        if (!r.supplier.empty()) out << to_q(r.supplier);
    }
    for (const auto& [part, count] : r.alternates)
        out << QObject::tr("or %1: %2 in the drawer").arg(to_q(part)).arg(count);
    return out.join(QStringLiteral(", "));
}

BarRow row_of(const PartsRow& r, const QString& currency) {
    BarRow out;
    out.id = to_q(part_key(r.part));
    out.verdict = verdict_of(r);
    out.title = to_q(r.part);
    out.about = r.refs.empty() ? QObject::tr("%1 a board").arg(r.per_board) : joined(r.refs, " ");
    out.full = std::max(1, r.need + r.spare);
    using Ink = BarPiece::Ink;
    const double drawer = std::min<double>(r.drawer, out.full);
    const double here = std::min<double>(drawer + r.arrived, out.full);
    const double coming = std::min<double>(here + r.on_order, out.full);
    out.pieces = {{0, drawer, Ink::holds}, {drawer, here, Ink::holds}, {here, coming, Ink::plain}};
    if (coming < out.full)
        out.pieces.push_back({coming, out.full, r.state == PartState::undecided ? Ink::doubt : Ink::hollow});
    out.figures = figures_of(r);
    out.more = more_of(r, currency);
    return out;
}

/// The share of good ones, and in the same line how it is known.
CardLine<PartLine> yield_line() {
    return {QObject::tr("Good ones"),
            QObject::tr(
                "Share of bought ones that will be good, 0 to 1, and how you know: 0.8 two of ten melted. It "
                "gives the "
                "spares, each part good or bad by itself; a batch may be bad as a whole, then say less."),
            [](const PartLine& p) {
                return p.yield.value ? (QString::number(*p.yield.value) + QLatin1Char(' ') +
                                        to_q(p.yield.evidence.source))
                                           .trimmed()
                                     : QString();
            },
            [](PartLine& p, const QString& t) -> std::optional<QString> {
                const auto number = t.section(QLatin1Char(' '), 0, 0);
                bool fine = t.isEmpty();
                const double v = fine ? 1 : number.toDouble(&fine);
                if (!fine || !(v > 0 && v <= 1))
                    return QObject::tr("Expected a share above 0 and up to 1, then how you know.");
                p.yield.value = t.isEmpty() ? std::nullopt : std::optional(v);
                const auto source = t.section(QLatin1Char(' '), 1).trimmed().toStdString();
                if (source != p.yield.evidence.source || t.isEmpty()) {
                    p.yield.evidence.source = source;
                    p.yield.evidence.kind = source.empty() ? EvidenceKind::assumed : EvidenceKind::measured;
                }
                return std::nullopt;
            }};
}

}  // namespace

void SupplyView::make_part_fields() {
    using Line = CardLine<PartLine>;
    const auto text = [](std::string PartLine::*member, const QString& label, const QString& tip) {
        return Line{label, tip, [member](const PartLine& p) { return to_q(p.*member); },
                    [member](PartLine& p, const QString& t) -> std::optional<QString> {
                        p.*member = t.toStdString();
                        return std::nullopt;
                    }};
    };
    std::vector<Line> lines;
    lines.push_back(
        {tr("On each board"), tr("Beside those in the network; empty: as many as names"),
         [](const PartLine& p) { return p.per_board ? QString::number(*p.per_board) : QString(); },
         [](PartLine& p, const QString& t) -> std::optional<QString> {
             bool fine = t.isEmpty();
             const int n = fine ? 0 : t.toInt(&fine);
             if (!fine || n < 0 || n > 100'000) return tr("Expected a whole number, 0 or more.");
             p.per_board = t.isEmpty() ? std::nullopt : std::optional(n);
             return std::nullopt;
         }});
    lines.push_back({tr("Names"), tr("Beside those in the network: R1 R2"),
                     [](const PartLine& p) { return joined(p.refs, " "); },
                     [](PartLine& p, const QString& t) -> std::optional<QString> {
                         p.refs = words(t, QLatin1Char(' '));
                         return std::nullopt;
                     }});
    lines.push_back(yield_line());
    lines.push_back(text(&PartLine::question, tr("Decide first"),
                         tr("What must be answered before this is ordered; empty: decided")));
    lines.push_back({tr("Alternates"), tr("With commas between; your drawer is looked through for them"),
                     [](const PartLine& p) { return joined(p.alternates, ", "); },
                     [](PartLine& p, const QString& t) -> std::optional<QString> {
                         p.alternates = words(t, QLatin1Char(','));
                         return std::nullopt;
                     }});
    lines.push_back(text(&PartLine::supplier, tr("Supplier"), tr("Whom you would order it from")));
    lines.push_back({tr("Price steps"), tr("From so many, each: 1:0.42 10:0.31"),
                     [](const PartLine& p) { return to_q(print_prices(p.prices)); },
                     [](PartLine& p, const QString& t) -> std::optional<QString> {
                         const auto steps = parse_prices(t.toStdString());
                         if (!steps) return tr("Expected %1.").arg(to_q(steps.error().expected));
                         p.prices = *steps;
                         return std::nullopt;
                     }});
    lines.push_back(
        {tr("Days to come"), tr("How long an order takes: 9 or 9-14"),
         [](const PartLine& p) { return to_q(print_lead_days(p.lead_days_from, p.lead_days_to)); },
         [](PartLine& p, const QString& t) -> std::optional<QString> {
             const auto days = parse_lead_days(t.toStdString());
             if (!days) return tr("Expected %1.").arg(to_q(days.error().expected));
             std::tie(p.lead_days_from, p.lead_days_to) = *days;
             return std::nullopt;
         }});
    lines.push_back({tr("Seen on"), tr("The day of price and lead time"),
                     [](const PartLine& p) { return to_q(p.seen); },
                     [](PartLine& p, const QString& t) { return take_day(p.seen, t); }});
    lines.push_back(text(&PartLine::not_to_be_had, tr("Not to be had"),
                         tr("Who looked, and when; empty while it can be bought")));
    part_fields_ = std::make_unique<CardFields<PartLine>>(
        nullptr, std::move(lines),
        [this](const QString& what, PartLine p) { change_line(what, std::move(p)); });
}

void SupplyView::fill_parts() {
    const auto currency = to_q(document_.person().bench.currency);
    std::vector<BarRow> rows;
    int missing = 0;
    for (const auto& r : list().rows) {
        rows.push_back(row_of(r, currency));
        missing += r.state == PartState::order ? 1 : 0;
    }
    const bool empty = rows.empty();
    parts_->show_rows(std::move(rows));
    order_->setEnabled(missing > 0);
    QStringList about;
    for (const auto& gap : list().gaps) about << to_q(gap);
    if (empty) about << tr("Type what goes on each board; parts of a chosen network come by themselves.");
    if (missing > 0)
        about << tr("%1 to order%2%3.")
                     .arg(to_q(plural(missing, "part", "parts")),
                          list().cost ? tr(" for %1 %2")
                                            .arg(*list().cost, 0, 'f', 2)
                                            .arg(currency)
                                            .trimmed()
                                            .prepend(QLatin1Char(' '))
                                      : QString(),
                          list().cost && list().without_price > 0
                              ? tr(" and %1 without a price").arg(list().without_price)
                              : QString());
    parts_sheet_->set_about(about.join(QLatin1Char(' ')));
}

void SupplyView::fill_card() {
    const auto& d = document_.dossier();
    const auto orders = things<Order>(d);
    const auto order = place_of<Order>(orders, orders_->picked().toStdString());
    order_card_ = order_card_ && order != orders.end();
    arrived_->setEnabled(order != orders.end() && order->arrived.empty());
    sent_->setEnabled(order != orders.end());
    cards_->setCurrentIndex(order_card_ ? 1 : 0);
    parts_->set_leading(!order_card_);
    orders_->set_leading(order_card_);
    order_fields_->show(order == orders.end() ? std::nullopt : std::optional(*order));
    const auto* row = picked_row();
    std::optional<PartLine> line;
    if (row != nullptr) {
        for (const auto& p : d.supply->parts)
            if (p.id == row->line) line = p;
        if (!line) {
            line = PartLine{};
            line->part = row->part;
            line->kind = row->kind;
        }
    }
    part_fields_->show(line);
    kind_->setEnabled(line.has_value());
    if (line) kind_->setCurrentIndex(kind_->findData(static_cast<int>(line->kind)));
    in_drawer_->setEnabled(row != nullptr);
    in_drawer_->show_value(row != nullptr ? QString::number(row->drawer) : QString());
    remove_->setEnabled(order_card_ || (row != nullptr && !row->line.empty()));
    card_sheet_->set_title(order_card_ ? tr("Order") : tr("Part"));
    QString about;
    if (order_card_)
        for (const auto& f : order->files)
            about += (about.isEmpty() ? QString() : QStringLiteral("\n")) +
                     QStringLiteral("%1 %2…").arg(to_q(f.name), to_q(f.sha256.substr(0, 12)));
    if (!order_card_ && row != nullptr) about = to_q(row->part);
    card_sheet_->set_about(about, order_card_);
}

QString SupplyView::take_table(const std::string& text, const QString& name) {
    auto drawer = drawer_from_csv(text, name.toStdString());
    if (drawer) {
        const auto problem = document_.change_drawer([&](Drawer& d) {
            for (const auto& p : drawer->parts) {
                auto& entry = d.entry(p.part, p.kind);
                const auto extra = entry.extra;
                entry = p;
                entry.extra = extra;
            }
        });
        return problem.isEmpty()
                   ? tr("%1 taken into your drawer.")
                         .arg(to_q(plural(static_cast<long long>(drawer->parts.size()), "part", "parts")))
                   : problem;
    }
    auto lines = parts_from_csv(text, name.toStdString());
    if (!lines) return to_q(lines.error().message());
    const auto many = static_cast<long long>(lines->size());
    document_.apply(tr("parts from a table"), put(document_.dossier(), with_parts(*document_.dossier().supply,
                                                                                  std::move(*lines), true)));
    return tr("%1 read.").arg(to_q(plural(many, "part", "parts")));
}

}  // namespace grayrelic::app
