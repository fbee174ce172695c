// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/movement_view.hpp"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/shell/busy_dialog.hpp"
#include "app/shell/item_edits.hpp"
#include "core/base/decimal.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

/// A hand that begins slowly, goes fast and comes back: until somebody brings a movement.
std::vector<long> example_counts() {
    std::vector<long> out;
    for (int i = 0; i < 240; ++i) {
        const double t = i / 240.0;
        out.push_back(std::lround(t < 0.35 ? 2 : t < 0.6 ? 2 + 160 * (t - 0.35) : t < 0.75 ? 0 : -14));
    }
    return out;
}

}  // namespace

MovementView::MovementView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), counts_(example_counts()), counts_name_(tr("an example")) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(make_curve(), 4);
    row->addWidget(make_movement(), 5);
    auto* above = new QHBoxLayout;
    above->setSpacing(6);
    above->addWidget(chooser_, 1);
    above->addWidget(chosen_);
    column->addLayout(above);
    column->addLayout(row, 1);
}

QWidget* MovementView::make_curve() {
    curve_sheet_ = new Sheet(tr("The old side's curve"));
    chooser_ = new ItemChooser({tr("Curve"), tr("New curve")});
    chooser_->on_add([this] { add_curve(); });
    chooser_->on_rename([this](const QString& id, const QString& name) {
        document_.apply(tr("rename to %1").arg(name),
                        edit<MoveCurve>(document_.dossier(), id.toStdString(),
                                        [&](MoveCurve& c) { c.title = name.toStdString(); }));
        return std::optional<QString>();
    });
    removes_items<MoveCurve>(*chooser_, document_);
    connect(chooser_, &ItemChooser::chosen_changed, this, &MovementView::select);
    auto* form = new QFormLayout;
    form->setContentsMargins(0, 0, 0, 0);
    form->setSpacing(4);
    const auto field = [&](const QString& label, Field*& into, const QString& tip, double least, double most,
                           bool whole, void (*set)(MoveCurve&, double)) {
        into = new Field;
        into->setAccessibleName(label);
        into->setToolTip(tip);
        into->commit = [this, least, most, whole, set](const QString& text) {
            return take_number(text, least, most, whole, set);
        };
        form->addRow(label, into);
    };
    field(tr("Counts a step"), gain_,
          tr("Counts of the modern pointer that one step of the old side is worth"), 1e-6, 1e6, false,
          [](MoveCurve& c, double v) { c.counts_per_step = v; });
    field(tr("Dead zone"), dead_, tr("Positions up to this move nothing on the old side"), 0, 1e6, true,
          [](MoveCurve& c, double v) { c.dead = static_cast<long>(v); });
    field(tr("Limit"), limit_, tr("The largest position that can be sent"), 1, 1e6, true,
          [](MoveCurve& c, double v) { c.limit = static_cast<long>(v); });
    field(
        tr("Exponent"), exponent_,
        tr("Of the old side's curve where it is not measured: speed = (position − dead zone) to this power"),
        0.05, 20, false, [](MoveCurve& c, double v) { c.exponent = v; });
    curve_sheet_->body()->addLayout(form);
    known_ = new FactRow(tr("Known from"), {});
    known_->setToolTip(tr("How dead zone, limit and curve are known"));
    known_->commit = [this](const QString& value, const Evidence& evidence) {
        return change(tr("how a curve is known"), [&](MoveCurve& c) {
            c.evidence = evidence;
            c.note = value.toStdString();
        });
    };
    curve_sheet_->body()->addWidget(known_);
    plot_ = new CurvePlot;
    curve_sheet_->body()->addWidget(plot_, 3);
    table_ = new FactTable;
    table_->set_columns({{tr("Position"), 80, true}, {tr("Steps a poll"), 90, true}}, tr("Measured curve"));
    curve_sheet_->body()->addWidget(table_, 2);
    auto* below = new QHBoxLayout;
    point_ = new Field;
    point_->setPlaceholderText(tr("A measured point: 40 3.5"));
    point_->setAccessibleName(tr("A point of the curve"));
    point_->setToolTip(
        tr("A position, and how many steps the old side moves in a poll at it; a table with out and speed "
           "can be dropped here"));
    point_->commit = [this](const QString& text) { return add_point(text); };
    below->addWidget(point_, 1);
    clear_table_ = new QPushButton(tr("Clear"));
    clear_table_->setProperty("compact", true);
    clear_table_->setToolTip(tr("Takes the measured points away: the exponent counts again"));
    connect(clear_table_, &QPushButton::clicked, this, [this] {
        static_cast<void>(change(tr("clear the measured curve"), [](MoveCurve& c) { c.table.clear(); }));
    });
    below->addWidget(clear_table_);
    curve_sheet_->body()->addLayout(below);
    return curve_sheet_;
}

QWidget* MovementView::make_movement() {
    move_sheet_ = new Sheet(tr("A movement"));
    chosen_ = new QPushButton(tr("Use this curve"));
    chosen_->setProperty("compact", true);
    chosen_->setToolTip(tr("The bridge uses this one: only its faults count"));
    connect(chosen_, &QPushButton::clicked, this, [this] {
        document_.apply(tr("use a curve"),
                        edit(document_.dossier(), &Dossier::map, [&](DeviceMap& m) { m.curve = id_; }));
    });
    move_ = new MovePlot;
    connect(move_, &MovePlot::drawn, this,
            [this](const std::vector<long>& counts) { set_counts(counts, tr("drawn here")); });
    move_sheet_->body()->addWidget(move_, 1);
    return move_sheet_;
}

const MoveCurve* MovementView::curve() const {
    return document_.dossier().map->find_curve(id_);
}

void MovementView::select(const QString& id) {
    id_ = id.toStdString();
    refresh();
}

void MovementView::refresh() {
    const auto& map = *document_.dossier().map;
    if (curve() == nullptr)
        id_ = map.find_curve(map.curve) != nullptr ? map.curve
              : map.curves.empty()                 ? std::string()
                                                   : map.curves.front().id;
    QList<ItemChooser::Item> items;
    for (const auto& c : map.curves)
        items << ItemChooser::Item{to_q(c.id), to_q(c.title),
                                   c.id == map.curve ? tr("%1 (used)").arg(to_q(c.title)) : QString()};
    {
        const QSignalBlocker block(chooser_);
        chooser_->show_items(items, to_q(id_));
    }
    const auto* c = curve();
    for (QWidget* w : std::initializer_list<QWidget*>{gain_, dead_, limit_, exponent_, known_, point_, table_,
                                                      clear_table_})
        w->setEnabled(c != nullptr);
    chosen_->setEnabled(c != nullptr && c->id != map.curve);
    clear_table_->setEnabled(c != nullptr && !c->table.empty());
    gain_->show_value(c == nullptr ? QString() : QString::number(c->counts_per_step, 'g', 9));
    dead_->show_value(c == nullptr ? QString() : QString::number(c->dead));
    limit_->show_value(c == nullptr ? QString() : QString::number(c->limit));
    exponent_->show_value(c == nullptr ? QString() : QString::number(c->exponent, 'g', 6));
    known_->show_fact(c == nullptr      ? QString()
                      : c->note.empty() ? tr("dead zone, limit, curve")
                                        : to_q(c->note),
                      c == nullptr ? Evidence{} : c->evidence);
    const auto problem = c == nullptr ? std::string() : problem_of(*c);
    curve_sheet_->set_about(
        c == nullptr      ? tr("None yet: a new one begins with usual numbers, assumed.")
        : problem.empty() ? tr("umber: what the old side makes of a position; hatched: what moves nothing")
                          : to_q(problem));
    plot_->show_curve(c == nullptr ? MoveCurve{} : *c, c != nullptr && problem.empty());
    fill_table();
    try_movement();
}

void MovementView::fill_table() {
    std::vector<TableRow> rows;
    if (const auto* c = curve())
        for (const auto& p : c->table)
            rows.push_back({QString::number(p.out, 'g', 6), QString::number(p.speed, 'g', 6)});
    table_->setVisible(!rows.empty());
    table_->set_rows(std::move(rows));
}

void MovementView::try_movement() {
    const auto* c = curve();
    if (c == nullptr) {
        tried_.cancel();
        move_->show_movement({}, {}, {});
        return move_sheet_->set_about({});
    }
    tried_.ask(
        [curve = *c, counts = counts_](Progress& progress) {
            Tried t;
            auto made = move_through(curve, counts, progress);
            if (!made) {
                t.problem = to_q(made.error().found);
                return t;
            }
            t.result = std::move(*made);
            const auto plain = move_plainly(curve, counts);
            double wish = 0, with = 0, without = 0;
            for (std::size_t i = 0; i < counts.size(); ++i) {
                t.wished.push_back(wish += static_cast<double>(counts[i]) / curve.counts_per_step);
                t.with.push_back(with += t.result.speeds[i]);
                t.without.push_back(without += speed_of(curve, plain[i]));
            }
            return t;
        },
        [this](const Tried& t) {
            move_->show_movement(t.wished, t.with, t.without);
            if (!t.problem.isEmpty()) return move_sheet_->set_about(t.problem);
            const auto end = [](const std::vector<double>& list) { return list.empty() ? 0.0 : list.back(); };
            move_sheet_->set_title(tr("Movement: %1").arg(counts_name_));
            move_sheet_->set_about(
                tr("%1 polls: %2 steps wished, %3 moved, %4 without; %5 counts wait, %6 polls at the limit")
                    .arg(t.wished.size())
                    .arg(end(t.wished), 0, 'f', 1)
                    .arg(end(t.with), 0, 'f', 1)
                    .arg(end(t.without), 0, 'f', 1)
                    .arg(t.result.carried, 0, 'g', 4)
                    .arg(t.result.saturated));
        });
}

void MovementView::set_counts(std::vector<long> counts, const QString& name) {
    counts_ = std::move(counts);
    counts_name_ = name;
    try_movement();
}

void MovementView::add_curve() {
    MoveCurve c;
    c.title = tr("Curve %1").arg(document_.dossier().map->curves.size() + 1).toStdString();
    c.id = free_id<MoveCurve>(document_.dossier(), c.title);
    c.counts_per_step = 4;
    c.dead = 12;
    c.limit = 127;
    id_ = c.id;
    document_.apply(tr("new curve"), put(document_.dossier(), std::move(c)));
}

std::optional<QString> MovementView::change(const QString& what, const std::function<void(MoveCurve&)>& how) {
    const auto* c = curve();
    if (c == nullptr) return tr("No curve is chosen.");
    auto next = *c;
    how(next);
    if (next != *c) document_.apply(what, put(document_.dossier(), std::move(next)));
    return std::nullopt;
}

std::optional<QString> MovementView::take_number(const QString& text, double least, double most, bool whole,
                                                 const std::function<void(MoveCurve&, double)>& how) {
    const auto v = decimal_number(text.trimmed().toStdString(), '.');
    if (!v || !(*v >= least && *v <= most) || (whole && *v != std::floor(*v)))
        return tr("Found %1, expected %2 from %3 to %4.")
            .arg(text, whole ? tr("a whole number") : tr("a number"))
            .arg(least)
            .arg(most);
    return change(tr("curve"), [&](MoveCurve& c) { how(c, *v); });
}

std::optional<QString> MovementView::add_point(const QString& text) {
    const auto parts = text.simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    if (parts.isEmpty()) return std::nullopt;
    const auto out = decimal_number(parts[0].toStdString(), '.');
    const auto speed = parts.size() == 2 ? decimal_number(parts[1].toStdString(), '.') : std::nullopt;
    if (!out || !speed || std::abs(*out) > 1e6 || std::abs(*speed) > 1e9)
        return tr("A position and its steps a poll, such as 40 3.5.");
    const auto* c = curve();
    if (c == nullptr) return tr("No curve is chosen.");
    auto next = *c;
    std::erase_if(next.table, [&](const CurvePoint& p) { return p.out == *out; });
    next.table.push_back({*out, *speed, {}});
    std::sort(next.table.begin(), next.table.end(),
              [](const auto& a, const auto& b) { return a.out < b.out; });
    if (next.table.size() >= 2)
        if (const auto problem = problem_of(next); problem.find("does not rise") != std::string::npos)
            return tr("Then %1.").arg(to_q(problem));
    point_->clear();
    return change(tr("a point of the curve"), [&](MoveCurve& held) { held = next; });
}

QString MovementView::take_file(const std::string& content, const QString& name) {
    const auto head = content.substr(0, content.find('\n'));
    if (head.find("speed") != std::string::npos) {
        auto table = read_curve_table(content, name.toStdString());
        if (!table) return to_q(table.error().message());
        if (curve() == nullptr) add_curve();
        static_cast<void>(change(tr("measured curve from %1").arg(name), [&](MoveCurve& c) {
            c.table = *table;
            c.evidence = {EvidenceKind::documented, name.toStdString(), {}, {}, {}};
        }));
        return tr("%1 points from %2.").arg(table->size()).arg(name);
    }
    Result<std::vector<long>> counts;
    const auto ran = run_with_progress(this, tr("Reading a movement"),
                                       [&](Progress&) { counts = read_moves(content, name.toStdString()); });
    if (!ran) return to_q(ran.error().message());
    if (!counts) return to_q(counts.error().message());
    const auto n = counts->size();
    set_counts(std::move(*counts), name);
    return tr("%1 polls from %2.").arg(n).arg(name);
}

}  // namespace grayrelic::app
