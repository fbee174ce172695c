// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/order_view.hpp"

#include <QCryptographicHash>
#include <QDate>
#include <QFile>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QPushButton>

#include <algorithm>
#include <map>
#include <tuple>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/decimal.hpp"
#include "core/dossier/edits.hpp"
#include "core/fit/order_text.hpp"
#include "core/job/questions.hpp"
#include "core/library/data_library.hpp"

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
    if (share > 0.9995 && share < 1) return OrderView::tr(">\u00a099.9\u00a0%");
    return OrderView::tr("%1\u00a0%").arg(100 * share, 0, 'f', share > 0.995 && share < 1 ? 1 : 0);
}

/// The chances of Plan's open questions that have the board made again.
OrderAgain plan_again(const Analysis& a) {
    std::vector<double> chances;
    for (const auto& q : gather_questions(a).open)
        if (q.at_stake != AtStake::little) chances.push_back(q.chance);
    return again_of(chances);
}

}  // namespace

OrderView::OrderView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    row->addWidget(make_tiers(), 1);
    row->addWidget(make_parts(), 1);
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
    sheet_->body()->addWidget(tiers_, 3);
    extras_ = new FactTable;
    extras_->set_columns(
        {{tr("Beside the tiers"), 250}, {tr("Order"), 70, true}, {tr("Each"), 70, true}, {tr("Is"), 120}},
        tr("Extras and stock"));
    sheet_->body()->addWidget(extras_, 1);
    auto* foot = new QHBoxLayout;
    entry_ = new Field;
    entry_->setAccessibleName(tr("A tier"));
    entry_->setPlaceholderText(tr("5 10.80 4.20"));
    entry_->setToolTip(
        tr("A tier of the house: boards, price of all of them, shipping, and the largest size it is for: 5 "
           "10.80 4.20 "
           "100x80.\nWhat is charged beside it: extra slots 12, extra gold 8 + 0.50 each, extra small holes "
           "15 hole "
           "below 0.3.\nStock that this order makes useless: useless 5 boards revision 1 3.20."));
    entry_->commit = [this](const QString& text) { return add_line(text.trimmed()); };
    foot->addWidget(entry_, 1);
    auto* less = compact_button(tr("Remove"), tr("Takes the chosen tier, extra or stock away"));
    connect(less, &QPushButton::clicked, this, &OrderView::remove_chosen);
    connect(tiers_, &FactTable::row_chosen, this, [this](int row) {
        if (row >= 0) remove_from_ = tiers_;
    });
    connect(extras_, &FactTable::row_chosen, this, [this](int row) {
        if (row >= 0) remove_from_ = extras_;
    });
    foot->addWidget(less);
    sheet_->body()->addLayout(foot);
    return sheet_;
}

QWidget* OrderView::make_parts() {
    parts_sheet_ = new Sheet(tr("Can I solder it?"));
    parts_ = new FactTable;
    parts_->set_columns({{tr("Part"), 130},
                         {tr("Package"), 96},
                         {tr("Pitch"), 44, true},
                         {tr("Joints"), 44, true},
                         {tr("Well"), 48, true}},
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
    OrderQuestion question;
    if (f != nullptr) question = order_question(a, *f);
    if (!ask.respin) question.again = plan_again(a);
    advice_ = order_advice(question);
    want_->show_value(ask.want > 0 ? QString::number(ask.want) : QString());
    want_->setPlaceholderText(QString::number(advice_.want));
    yield_->show_value(ask.yield ? percent(*ask.yield) : QString());
    yield_->setPlaceholderText(percent(advice_.yield));
    respin_->show_value(ask.respin ? percent(*ask.respin) : QString());
    respin_->setPlaceholderText(percent(advice_.respin));
    std::vector<TableRow> rows;
    for (std::size_t i = 0; i < advice_.order.rows.size(); ++i) {
        const auto& r = advice_.order.rows[i];
        const auto& t = ask.tiers[i];
        TableCell boards(QString::number(r.quantity));
        boards.key = static_cast<int>(i);
        if (t.width_mm > 0 || t.height_mm > 0)
            boards.tip = tr("for boards up to %1 × %2 mm%3")
                             .arg(t.width_mm)
                             .arg(t.height_mm)
                             .arg(advice_.applies[i] ? QString() : tr(": this one is larger"));
        boards.sort = r.quantity;
        boards.bold = advice_.order.best == i;
        boards.icon = verdict_icon(!advice_.applies[i]       ? Verdict::stop
                                   : !advice_.yield_known    ? Verdict::unknown
                                   : r.chance_of_want >= 0.9 ? Verdict::holds
                                                             : Verdict::doubt);
        rows.push_back({boards, money(ask.tiers[i].price), money(ask.tiers[i].shipping), money(r.cost),
                        QString::number(r.expected_working, 'f', 1), percent(r.chance_of_want),
                        money(r.per_working)});
    }
    tiers_->set_rows(std::move(rows));
    fill_extras(ask);
    ordered_->setEnabled(advice_.order.best.has_value());
    sheet_->set_about(tr("%1 · yield %2, %3 · again %4, %5")
                          .arg(to_q(advice_.says), percent(advice_.yield), to_q(advice_.yield_from),
                               percent(advice_.respin), to_q(advice_.respin_from)),
                      true);
}

void OrderView::fill_extras(const OrderAsk& ask) {
    std::vector<TableRow> rows;
    for (std::size_t i = 0; i < advice_.extras.size(); ++i) {
        const auto& x = advice_.extras[i];
        TableCell what(to_q(x.extra.what));
        what.key = QStringLiteral("extra:%1").arg(i);
        what.tip = to_q(extra_text(x.extra));
        rows.push_back({what, x.extra.price > 0 ? money(x.extra.price) : QString(),
                        x.extra.each > 0 ? money(x.extra.each) : QString(),
                        !x.due   ? tr("perhaps due: counted")
                        : *x.due ? tr("due")
                                 : tr("not due")});
    }
    for (std::size_t i = 0; i < ask.obsolete.size(); ++i) {
        const auto& o = ask.obsolete[i];
        TableCell what(tr("%1 × %2").arg(o.count).arg(to_q(o.what)));
        what.key = QStringLiteral("stock:%1").arg(i);
        rows.push_back({what, money(o.count * o.each), money(o.each), tr("becomes useless")});
    }
    extras_->setVisible(!rows.empty());
    extras_->set_rows(std::move(rows));
}

namespace {

/// Parts of one kind in one package, or one with a trouble of its own.
TableRow solder_row(const std::vector<const PartSolder*>& list, const SolderTroubleAt* t) {
    const auto& p = *list.front();
    int joints = 0;
    for (const auto* each : list) joints += each->joints;
    TableCell part(t != nullptr      ? OrderView::tr("%1, %2").arg(to_q(p.part), to_q(p.ref))
                   : list.size() > 1 ? to_q(p.part) + OrderView::tr(" × %1").arg(list.size())
                                     : to_q(p.part));
    part.icon = verdict_icon(p.known ? p.verdict : Verdict::unknown);
    part.key = to_q(t == nullptr ? p.part + " " + p.package : "solder:" + std::string(word(t->kind)) + p.ref);
    part.tip = t == nullptr ? to_q(p.why) : to_q(t->says + ". " + t->todo);
    TableCell chance(p.known ? percent(p.chance) : OrderView::tr("unknown"));
    chance.tip = part.tip;
    return {part, to_q(p.package), p.pitch_mm > 0 ? QString::number(p.pitch_mm) : QString(),
            joints > 0 ? QString::number(joints) : QString(), chance};
}

std::vector<TableRow> solder_rows(const SolderStudy& study) {
    std::map<std::string, const SolderTroubleAt*> worst;
    for (const auto& t : study.troubles)
        if (auto& w = worst[t.ref]; w == nullptr || worse(t.verdict, w->verdict) != w->verdict) w = &t;
    std::map<std::tuple<std::string, std::string, std::string>, std::vector<const PartSolder*>> groups;
    for (const auto& p : study.parts)
        groups[{p.part, p.package, worst.count(p.ref) != 0 ? p.ref : std::string()}].push_back(&p);
    std::vector<TableRow> rows;
    rows.reserve(groups.size());
    for (const auto& [key, list] : groups) {
        const auto it = worst.find(list.front()->ref);
        rows.push_back(solder_row(list, it == worst.end() ? nullptr : it->second));
    }
    return rows;
}

}  // namespace

void OrderView::fill_parts() {
    const auto& a = document_.analysis();
    std::vector<TableRow> rows;
    QString about = tr("No part in the board's circuit yet");
    const auto* f = board();
    const auto study = f == nullptr ? std::nullopt : solder_study_of(a, *f);
    if (study) {
        rows = solder_rows(*study);
        about = tr("%1 parts, %2 joints%3; all of them come out well in %4 of the boards%5")
                    .arg(study->parts.size())
                    .arg(study->joints)
                    .arg(study->twice > 0 ? tr(", %1 of them second ones").arg(study->twice) : QString(),
                         percent(study->chance),
                         study->without_record > 0
                             ? tr("; %1 of kinds that you have no record of").arg(study->without_record)
                             : QString());
    }
    parts_->set_rows(std::move(rows));
    parts_sheet_->set_about(about, true);
}

std::optional<QString> OrderView::add_line(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    const auto line = text.toStdString();
    if (text.startsWith(QStringLiteral("extra "))) {
        const auto extra = parse_extra(line);
        if (!extra) return to_q(extra.error().message());
        change(tr("an extra"), [&](OrderAsk& a) {
            std::erase_if(a.extras, [&](const OrderExtra& x) { return x.what == extra->what; });
            a.extras.push_back(*extra);
        });
    } else if (text.startsWith(QStringLiteral("useless "))) {
        const auto stock = parse_obsolete(line);
        if (!stock) return to_q(stock.error().message());
        change(tr("stock that becomes useless"), [&](OrderAsk& a) { a.obsolete.push_back(*stock); });
    } else {
        const auto tier = parse_tier(line);
        if (!tier) return to_q(tier.error().message());
        change(tr("a tier"), [&](OrderAsk& a) {
            std::erase_if(a.tiers, [&](const OrderTier& t) {
                return t.quantity == tier->quantity && t.width_mm == tier->width_mm &&
                       t.height_mm == tier->height_mm;
            });
            a.tiers.insert(std::upper_bound(a.tiers.begin(), a.tiers.end(), *tier,
                                            [](const OrderTier& x, const OrderTier& y) {
                                                return x.quantity < y.quantity;
                                            }),
                           *tier);
        });
    }
    entry_->show_value({});
    return std::nullopt;
}

void OrderView::remove_chosen() {
    if (remove_from_ == nullptr || remove_from_->chosen() < 0) return;
    const auto key = remove_from_->key(remove_from_->chosen());
    const auto at = [&](int prefix) { return static_cast<std::size_t>(key.toString().mid(prefix).toInt()); };
    const auto erase = [](auto& list, std::size_t n) {
        if (n < list.size()) list.erase(list.begin() + static_cast<std::ptrdiff_t>(n));
    };
    change(tr("remove from the order"), [&](OrderAsk& a) {
        if (remove_from_ == tiers_)
            erase(a.tiers, static_cast<std::size_t>(key.toInt()));
        else if (key.toString().startsWith(QStringLiteral("extra:")))
            erase(a.extras, at(6));
        else
            erase(a.obsolete, at(6));
    });
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

void OrderView::select(const QString& thing) {
    for (int i = 0; i < parts_->row_count(); ++i)
        if (parts_->key(i).toString().startsWith(thing)) return parts_->choose(i);
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
