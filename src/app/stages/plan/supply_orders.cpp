// SPDX-License-Identifier: GPL-3.0-or-later
// Orders: their rows and card, and what is entered with one button.
#include <QCryptographicHash>
#include <QFile>
#include <QFileInfo>

#include <algorithm>

#include "app/stages/plan/supply_text.hpp"
#include "app/stages/plan/supply_view.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

/// Days after the first of all orders.
double after(const std::string& day, Day first) {
    const auto d = parse_day(day);
    return d ? static_cast<double>((*d - first).count()) : 0;
}

QString when(const Order& o) {
    if (!o.arrived.empty()) return QObject::tr("arrived %1").arg(to_q(o.arrived));
    if (o.ordered.empty()) return QObject::tr("not ordered yet");
    if (o.expected_from.empty() && o.expected_to.empty())
        return QObject::tr("ordered %1").arg(to_q(o.ordered));
    if (o.expected_from.empty() || o.expected_to.empty() || o.expected_from == o.expected_to)
        return QObject::tr("expected %1")
            .arg(to_q(o.expected_from.empty() ? o.expected_to : o.expected_from));
    return QObject::tr("expected %1 to %2").arg(to_q(o.expected_from), to_q(o.expected_to));
}

BarRow row_of(const Order& o) {
    BarRow row;
    row.id = to_q(o.id);
    row.verdict = !o.arrived.empty() ? Verdict::holds : Verdict::unknown;
    row.title = o.from.empty() ? QObject::tr("Order") : to_q(o.from);
    QStringList what, more;
    for (const auto& l : o.lines) what << QStringLiteral("%1 × %2").arg(l.count).arg(to_q(l.part));
    row.about = what.join(QStringLiteral(", "));
    row.figures = when(o);
    if (!o.frees.empty()) more << QObject::tr("frees %1").arg(joined(o.frees, ", "));
    if (!o.files.empty())
        more << to_q(plural(static_cast<long long>(o.files.size()), "file sent", "files sent"));
    row.more = more.join(QStringLiteral(", "));
    return row;
}

/// From the day it was ordered to that it came, or is expected on, on the scale of all orders.
void draw_days(const Order& o, Day first, Day last, BarRow& row) {
    using Ink = BarPiece::Ink;
    row.full = static_cast<double>((last - first).count());
    const double begun = after(o.ordered, first);
    if (!o.arrived.empty()) {
        row.pieces = {{begun, after(o.arrived, first), Ink::holds}};
        return;
    }
    const double from = std::max(begun, after(o.expected_from, first));
    row.pieces = {{begun, from, Ink::plain},
                  {from, std::max(from, after(o.expected_to, first)), Ink::hollow}};
}

}  // namespace

void SupplyView::make_order_fields() {
    using Line = CardLine<Order>;
    const auto day = [](std::string Order::*member, const QString& label) {
        return Line{label, QObject::tr("A day such as 2026-11-29"),
                    [member](const Order& o) { return to_q(o.*member); },
                    [member](Order& o, const QString& t) { return take_day(o.*member, t); }};
    };
    std::vector<Line> lines;
    lines.push_back({tr("From"), tr("Whom it was ordered from"), [](const Order& o) { return to_q(o.from); },
                     [](Order& o, const QString& t) -> std::optional<QString> {
                         o.from = t.toStdString();
                         return std::nullopt;
                     }});
    lines.push_back({tr("What"), tr("Number and name, with commas between"),
                     [](const Order& o) {
                         QStringList out;
                         for (const auto& l : o.lines)
                             out << QStringLiteral("%1 × %2").arg(l.count).arg(to_q(l.part));
                         return out.join(QStringLiteral(", "));
                     },
                     [](Order& o, const QString& t) -> std::optional<QString> {
                         o.lines.clear();
                         for (const auto& p : parts_in_words(t.toStdString()))
                             o.lines.push_back({p.part, p.per_board.value_or(1)});
                         return std::nullopt;
                     }});
    lines.push_back(day(&Order::ordered, tr("Ordered")));
    lines.push_back(day(&Order::expected_from, tr("Expected from")));
    lines.push_back(day(&Order::expected_to, tr("Expected by")));
    lines.push_back(day(&Order::arrived, tr("Arrived")));
    lines.push_back({tr("Frees"), tr("What can go on when it is here, with commas between"),
                     [](const Order& o) { return joined(o.frees, ", "); },
                     [](Order& o, const QString& t) -> std::optional<QString> {
                         o.frees = words(t, QLatin1Char(','));
                         return std::nullopt;
                     }});
    order_fields_ =
        std::make_unique<CardFields<Order>>(nullptr, std::move(lines), [this](const QString& what, Order o) {
            document_.apply(tr("%1 of an order").arg(what), put(document_.dossier(), std::move(o)));
        });
}

void SupplyView::fill_orders() {
    const auto& orders = document_.dossier().supply->orders;
    std::optional<Day> first, last;
    for (const auto& o : orders)
        for (const auto* text : {&o.ordered, &o.expected_from, &o.expected_to, &o.arrived})
            if (const auto d = parse_day(*text)) {
                first = first ? std::min(*first, *d) : *d;
                last = last ? std::max(*last, *d) : *d;
            }
    std::vector<BarRow> rows;
    for (const auto& o : orders) {
        auto row = row_of(o);
        if (first && last && *last > *first) draw_days(o, *first, *last, row);
        rows.push_back(std::move(row));
    }
    orders_->show_rows(std::move(rows));
    orders_sheet_->set_about(orders.empty() ? tr("Nothing is ordered.") : QString());
}

void SupplyView::order_missing() {
    const auto day = parse_day(today().toString(Qt::ISODate).toStdString());
    if (!day) return;
    auto made = orders_for(list(), *document_.dossier().supply, *day);
    if (made.empty()) return;
    const auto last = to_q(made.back().id);
    document_.apply(tr("ordered"), edit(document_.dossier(), &Dossier::supply, [&](Supply& s) {
                        s.orders.insert(s.orders.end(), std::make_move_iterator(made.begin()),
                                        std::make_move_iterator(made.end()));
                    }));
    show_order(last);
}

void SupplyView::arrived_today() {
    const auto id = orders_->picked().toStdString();
    const auto day = today().toString(Qt::ISODate).toStdString();
    document_.apply(tr("arrived"), edit<Order>(document_.dossier(), id, [&](Order& o) { o.arrived = day; }));
}

void SupplyView::add_files(const QStringList& paths) {
    if (paths.isEmpty()) return;
    std::vector<SentFile> files;
    for (const auto& path : paths) {
        QFile file(path);
        QCryptographicHash hash(QCryptographicHash::Sha256);
        if (!file.open(QIODevice::ReadOnly) || !hash.addData(&file))
            return tell(tr("%1: can't be read, expected a file that was sent").arg(path));
        files.push_back({QFileInfo(path).fileName().toStdString(), hash.result().toHex().toStdString()});
    }
    document_.apply(tr("files sent"),
                    edit<Order>(document_.dossier(), orders_->picked().toStdString(), [&](Order& o) {
                        o.files.insert(o.files.end(), files.begin(), files.end());
                    }));
}

}  // namespace grayrelic::app
