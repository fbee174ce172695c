// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/order_view.hpp"

#include <QCryptographicHash>
#include <QDate>
#include <QFile>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QPushButton>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/decimal.hpp"
#include "core/dossier/edits.hpp"
#include "core/fit/fit_text.hpp"
#include "core/job/questions.hpp"
#include "core/library/data_library.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic::app {
namespace {

QLabel* small(const QString& text) {
    auto* l = new QLabel(text);
    l->setFont(text_font(12));
    return l;
}

QString money(double amount) {
    return QString::number(amount, 'f', 2);
}

QString percent(double share) {
    return OrderView::tr("%1\u00a0%").arg(100 * share, 0, 'f', share > 0.995 && share < 1 ? 1 : 0);
}

struct Again {
    std::optional<double> chance;
    int questions = 0;
};
/// The chance that at least one of Plan's open questions has the board made again; nothing where none can.
Again again_of(const Analysis& a) {
    double none = 1;
    Again out;
    for (const auto& q : gather_questions(a).open)
        if (q.at_stake != AtStake::little) {
            none *= 1 - q.chance;
            ++out.questions;
        }
    if (out.questions > 0) out.chance = 1 - none;
    return out;
}

}  // namespace

OrderView::OrderView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    row->addWidget(make_tiers(), 4);
    row->addWidget(make_parts(), 3);
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
}

QWidget* OrderView::make_tiers() {
    sheet_ = new Sheet(tr("How many boards?"));
    ordered_ = compact_button(tr("Ordered today"),
                              tr("Notes the best tier as an order in Plan, with the files that were sent "
                                 "and their SHA-256"));
    sheet_->add_to_title(ordered_);
    connect(ordered_, &QPushButton::clicked, this, &OrderView::note_order);
    auto* asks = new QHBoxLayout;
    const auto field = [&](const QString& title, const QString& name, const QString& tip) {
        asks->addWidget(small(title));
        auto* f = new Field;
        f->setAccessibleName(name);
        f->setToolTip(tip);
        f->setMaximumWidth(90);
        asks->addWidget(f);
        return f;
    };
    want_ = field(tr("Working"), tr("Working boards that are wanted"),
                  tr("How many working boards; empty: as many as the job builds"));
    yield_ = field(
        tr("Yield"), tr("Share that works"),
        tr("Share of boards that will work in the end, such as 90 %; empty: from your soldering record"));
    respin_ = field(
        tr("Again"), tr("Chance of ordering again"),
        tr("Chance that the board has to be made again, such as 20 %; empty: from Plan's open questions"));
    asks->addStretch(1);
    want_->commit = [this](const QString& text) -> std::optional<QString> {
        bool ok = true;
        const int n = text.trimmed().isEmpty() ? 0 : text.trimmed().toInt(&ok);
        if (!ok || n < 0 || n > 1'000'000) return tr("a number of boards");
        change(tr("how many are wanted"), [&](OrderAsk& a) { a.want = n; });
        return std::nullopt;
    };
    yield_->commit = [this](const QString& text) { return take_share(text, &OrderAsk::yield, false); };
    respin_->commit = [this](const QString& text) { return take_share(text, &OrderAsk::respin, true); };
    sheet_->body()->addLayout(asks);
    tiers_ = new FactTable;
    tiers_->set_columns({{tr("Boards"), 66, true},
                         {tr("Price"), 84, true},
                         {tr("Shipping"), 78, true},
                         {tr("Cost"), 80, true},
                         {tr("Working"), 70, true},
                         {tr("Enough"), 70, true},
                         {tr("Each"), 70, true}},
                        tr("Tiers"));
    sheet_->body()->addWidget(tiers_, 1);
    auto* foot = new QHBoxLayout;
    entry_ = new Field;
    entry_->setAccessibleName(tr("A tier"));
    entry_->setPlaceholderText(tr("5 10.80 4.20"));
    entry_->setToolTip(tr("A tier of the house: boards, price of all of them, shipping"));
    entry_->commit = [this](const QString& text) { return add_tier(text.trimmed()); };
    foot->addWidget(entry_, 1);
    auto* less = compact_button(tr("Remove"), tr("Takes the chosen tier away"));
    connect(less, &QPushButton::clicked, this, [this] {
        if (tiers_->chosen() < 0) return;
        const int quantity = tiers_->key(tiers_->chosen()).toInt();
        change(tr("remove a tier"), [&](OrderAsk& a) {
            std::erase_if(a.tiers, [&](const OrderTier& t) { return t.quantity == quantity; });
        });
    });
    foot->addWidget(less);
    sheet_->body()->addLayout(foot);
    return sheet_;
}

QWidget* OrderView::make_parts() {
    parts_sheet_ = new Sheet(tr("Can I solder it?"));
    parts_ = new FactTable;
    parts_->set_columns(
        {{tr("Part"), 150}, {tr("Package"), 110}, {tr("Joints"), 54, true}, {tr("Well"), 54, true}},
        tr("Soldering"));
    parts_sheet_->body()->addWidget(parts_, 1);
    return parts_sheet_;
}

const Fabrication* OrderView::board() const {
    for (const auto& f : *document_.dossier().boards)
        if (f.id == id_) return &f;
    return nullptr;
}

void OrderView::show_board(const std::string& id) {
    id_ = id;
    fill_parts();
    fill();
}

void OrderView::fill() {
    const auto& a = document_.analysis();
    const auto* f = board();
    const auto ask = f == nullptr ? OrderAsk{} : f->order;
    std::optional<BoardYield> yield;
    if (a.wire && a.data) yield = board_yield(a.wire->solder, a.data->packages);
    const auto again = ask.respin ? Again{} : again_of(a);
    advice_ = order_advice(ask, document_.dossier().supply->boards, yield, again.chance, again.questions);
    want_->show_value(ask.want > 0 ? QString::number(ask.want) : QString());
    want_->setPlaceholderText(QString::number(advice_.want));
    yield_->show_value(ask.yield ? percent(*ask.yield) : QString());
    yield_->setPlaceholderText(percent(advice_.yield));
    respin_->show_value(ask.respin ? percent(*ask.respin) : QString());
    respin_->setPlaceholderText(percent(advice_.respin));
    std::vector<TableRow> rows;
    for (std::size_t i = 0; i < advice_.order.rows.size(); ++i) {
        const auto& r = advice_.order.rows[i];
        TableCell boards(QString::number(r.quantity));
        boards.key = r.quantity;
        boards.sort = r.quantity;
        boards.bold = advice_.order.best == i;
        boards.icon = verdict_icon(!advice_.yield_known      ? Verdict::unknown
                                   : r.chance_of_want >= 0.9 ? Verdict::holds
                                                             : Verdict::doubt);
        rows.push_back({boards, money(ask.tiers[i].price), money(ask.tiers[i].shipping), money(r.cost),
                        QString::number(r.expected_working, 'f', 1), percent(r.chance_of_want),
                        money(r.per_working)});
    }
    tiers_->set_rows(std::move(rows));
    ordered_->setEnabled(advice_.order.best.has_value());
    sheet_->set_about(tr("%1 · yield %2, %3 · again %4, %5")
                          .arg(to_q(advice_.says), percent(advice_.yield), to_q(advice_.yield_from),
                               percent(advice_.respin), to_q(advice_.respin_from)),
                      true);
}

void OrderView::fill_parts() {
    const auto& a = document_.analysis();
    std::vector<TableRow> rows;
    QString about = tr("No part in Wire's circuit yet");
    if (a.wire && a.data && !a.wire->solder.empty()) {
        for (const auto& s : a.wire->solder) {
            const auto package = a.data->packages.find(s.package);
            const int joints = package ? static_cast<int>(s.refs.size() * pads_of(*package).size()) : 0;
            TableCell part(to_q(s.part) + (s.refs.size() > 1 ? tr(" × %1").arg(s.refs.size()) : QString()));
            part.icon = verdict_icon(s.known ? s.verdict : Verdict::unknown);
            part.tip = to_q(s.why);
            TableCell chance(s.known ? percent(s.chance) : tr("unknown"));
            chance.tip = to_q(s.why);
            rows.push_back({part, to_q(s.package), package ? QString::number(joints) : QString(), chance});
        }
        const auto y = board_yield(a.wire->solder, a.data->packages);
        about = tr("%1 parts, %2 joints; all of them come out well in %3 of the boards%4")
                    .arg(y.parts)
                    .arg(y.joints)
                    .arg(percent(y.chance),
                         y.without_record > 0
                             ? tr("; %1 of kinds that you have no record of").arg(y.without_record)
                             : QString());
    }
    parts_->set_rows(std::move(rows));
    parts_sheet_->set_about(about, true);
}

std::optional<QString> OrderView::add_tier(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    const auto tier = parse_tier(text.toStdString());
    if (!tier) return to_q(tier.error().message());
    change(tr("a tier"), [&](OrderAsk& a) {
        std::erase_if(a.tiers, [&](const OrderTier& t) { return t.quantity == tier->quantity; });
        a.tiers.insert(
            std::upper_bound(a.tiers.begin(), a.tiers.end(), *tier,
                             [](const OrderTier& x, const OrderTier& y) { return x.quantity < y.quantity; }),
            *tier);
    });
    entry_->show_value({});
    return std::nullopt;
}

std::optional<QString> OrderView::take_share(const QString& text, std::optional<double> OrderAsk::*member,
                                             bool zero) {
    auto plain = text.trimmed();
    if (plain.isEmpty()) {
        change(tr("a share"), [&](OrderAsk& a) { a.*member = std::nullopt; });
        return std::nullopt;
    }
    const bool of_hundred = plain.endsWith(QLatin1Char('%'));
    if (of_hundred) plain = plain.chopped(1).trimmed();
    const auto v = decimal_number(plain.replace(QLatin1Char(','), QLatin1Char('.')).toStdString(), '.');
    const double share = v ? *v / (of_hundred ? 100 : 1) : -1;
    if (!v || share > 1 || share < 0 || (!zero && share < 1e-6)) return tr("a share such as 90 %, or 0.9");
    change(tr("a share"), [&](OrderAsk& a) { a.*member = share; });
    return std::nullopt;
}

void OrderView::change(const QString& what, const std::function<void(OrderAsk&)>& how) {
    if (board() == nullptr && need_board) id_ = need_board();
    if (board() == nullptr) return;
    document_.apply(what, edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) { how(f.order); }));
}

/// What is sent, when; from whom and until when is entered in Plan.
void OrderView::note_order() {
    const auto* f = board();
    if (f == nullptr || !advice_.order.best) return;
    const auto& d = document_.dossier();
    const auto title = f->title.empty() ? f->id : f->title;
    Order o;
    o.id = free_id_among(
        [&] {
            std::vector<std::string> taken;
            for (const auto& x : d.supply->orders) taken.push_back(x.id);
            return taken;
        }(),
        "boards");
    o.lines.push_back({"board " + title, advice_.order.rows[*advice_.order.best].quantity});
    o.ordered = today().toStdString();
    if (const auto path = files_sent ? files_sent() : std::nullopt) {
        QFile file(*path);
        QCryptographicHash hash(QCryptographicHash::Sha256);
        if (file.open(QIODevice::ReadOnly) && hash.addData(&file))
            o.files.push_back(
                {QFileInfo(*path).fileName().toStdString(), hash.result().toHex().toStdString()});
    }
    document_.apply(tr("order of %1").arg(to_q(title)), put(d, o));
    sheet_->set_about(tr("Noted in Plan: %1 of %2, with %3")
                          .arg(o.lines.front().count)
                          .arg(to_q(title), o.files.empty() ? tr("no file") : to_q(o.files.front().name)),
                      true);
}

}  // namespace grayrelic::app
