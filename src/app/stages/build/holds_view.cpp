// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/build/holds_view.hpp"

#include <QDate>
#include <QHBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/compact_button.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/diagnose/bench_reading.hpp"
#include "core/dossier/edits.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic::app {

HoldsView::HoldsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    holds_sheet_ = new Sheet(tr("Holds"));
    holds_ = new FactTable;
    holds_->set_columns({{tr("Hold"), 196}, {tr("Taken"), 60, true}, {tr("State"), 76}}, tr("Holds"));
    connect(holds_, &FactTable::row_chosen, this, [this](int at) {
        if (at < 0 || filling_) return;
        hold_ = holds_->key(at).toString().toStdString();
        point_.clear();
        fill_points();
    });
    holds_sheet_->body()->addWidget(holds_, 1);
    row->addWidget(holds_sheet_, 2);
    points_sheet_ = new Sheet(tr("What the meter should say"));
    cautions_ = new CautionLine;
    points_sheet_->body()->addWidget(cautions_);
    points_ = new FactTable;
    points_->set_columns({{tr("At"), 220}, {tr("Expected"), 140}, {tr("Was"), 80}},
                         tr("Measurements of the hold"));
    connect(points_, &FactTable::row_chosen, this, [this](int at) {
        if (at < 0 || filling_) return;
        point_ = points_->key(at).toString().toStdString();
        ask();
    });
    points_sheet_->body()->addWidget(points_, 1);
    question_ = new QLabel;
    question_->setWordWrap(true);
    question_->setTextFormat(Qt::PlainText);
    question_->setFont(text_font(15));
    points_sheet_->body()->addWidget(question_);
    entry_ = new Field;
    entry_->setAccessibleName(tr("What was measured"));
    entry_->setPlaceholderText(tr("4.97 V, 8.2k, yes, no"));
    entry_->setToolTip(tr(
        "What the meter says, or yes or no; of a pressed line also what it does instead: low, high, nothing, "
        "as STEP. Enter goes on to the next. What does not hold goes to Find the fault too. A resistance of "
        "a "
        "rail, a setting and an installed supply become facts of the dossier too."));
    entry_->commit = [this](const QString& text) { return take(text.trimmed()); };
    points_sheet_->body()->addWidget(entry_);
    reason_ = new Field;
    reason_->setAccessibleName(tr("Why it is passed all the same"));
    reason_->setPlaceholderText(tr("Pass it all the same, because …"));
    reason_->setToolTip(
        tr("A hold that does not hold may be passed with a reason, which stays in the dossier. "
           "Not so the resistance of the rails."));
    reason_->commit = [this](const QString& text) { return pass(text.trimmed()); };
    points_sheet_->body()->addWidget(reason_);
    auto* ties = new QHBoxLayout;
    tie_ = new Field;
    tie_->setAccessibleName(tr("A temporary tie"));
    tie_->setPlaceholderText(tr("On for a while only: 1 kΩ from HOLD to ground …"));
    tie_->setToolTip(
        tr("A wire, a resistor or a source that stands in for something, and must come off. It is "
           "named until it does."));
    tie_->commit = [this](const QString& text) { return put_tie(text.trimmed()); };
    off_ = compact_button(tr("It is off"), tr("The first temporary tie has come off"));
    connect(off_, &QPushButton::clicked, this, &HoldsView::tie_off);
    ties->addWidget(tie_, 1);
    ties->addWidget(off_);
    points_sheet_->body()->addLayout(ties);
    row->addWidget(points_sheet_, 3);
    add_view_key(points_, tr("Build"), tr("Yes at the chosen point"), {"Y"},
                 [this] { (void)take(tr("yes")); });
    add_view_key(points_, tr("Build"), tr("No at the chosen point"), {"N"}, [this] { (void)take(tr("no")); });
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
}

void HoldsView::show_bench(const Bench_ptr& bench, const UnitBuild& unit) {
    bench_ = bench;
    if (unit.id != unit_.id) hold_.clear();
    unit_ = unit;
    const auto key = unit.board + "/" + unit.variant;
    auto now = document_.analysis();
    now.dossier = document_.dossier();
    auto from = versions_of(
        now.dossier, now,
        Rests::ports | Rests::boards | Rests::board_analysis | Rests::wire_analysis | Rests::data);
    if (key == made_for_ && from == made_from_) return fill_holds();
    made_for_ = key;
    made_from_ = std::move(from);
    latest_.ask(
        [now = std::move(now), unit](Progress&) {
            Made out;
            if (auto board = bench_board(now, unit.board, unit.variant)) {
                out.board = std::make_shared<const BenchBoard>(std::move(*board));
                out.holds = holds_of(now, *out.board);
            }
            return out;
        },
        [this](const Made& m) { made(m); });
}

void HoldsView::made(const Made& now) {
    made_ = now;
    fill_holds();
}

void HoldsView::fill_holds() {
    up_ = bring_up(made_.holds, unit_, bench_.get());
    std::vector<TableRow> rows;
    for (std::size_t i = 0; i < up_.holds.size(); ++i) {
        const auto& h = up_.holds[i];
        const auto& s = up_.states[i];
        TableCell name(to_q(h.name));
        name.key = to_q(h.id);
        name.sort = static_cast<double>(i);
        name.icon = verdict_icon(s.verdict);
        name.bold = up_.next == i;
        name.tip = to_q(h.why);
        TableCell state(s.verdict == Verdict::holds   ? tr("passed")
                        : s.verdict == Verdict::doubt ? tr("passed, but")
                        : s.verdict == Verdict::stop  ? tr("does not hold")
                        : !s.blocked_by.empty()       ? tr("waits")
                                                      : tr("open"));
        state.tip = !s.reason.empty()       ? to_q(s.reason)
                    : !s.blocked_by.empty() ? tr("%1 comes first").arg(to_q(s.blocked_by))
                                            : to_q(h.why);
        rows.push_back({name, QStringLiteral("%1 / %2").arg(s.taken).arg(s.points.size()), state});
    }
    const bool known =
        std::any_of(up_.holds.begin(), up_.holds.end(), [&](const Hold& h) { return h.id == hold_; });
    if (!known && !up_.holds.empty()) {
        hold_ = up_.holds[up_.next.value_or(0)].id;
        point_.clear();
    }
    QString about;
    if (up_.holds.empty())
        about = tr("No circuit yet: Wire's, a network or a netlist says what there is to measure");
    else
        about = (up_.may_power ? tr("The rails are no short: power may come on, through a current limit")
                               : tr("No power before each rail was measured"));
    if (made_.board && !made_.board->problem.empty()) about += tr("; %1").arg(to_q(made_.board->problem));
    if (!up_.ties.empty()) about += tr("; still on: %1").arg(to_q(up_.ties.front()));
    if (up_.ties.size() > 1) about += tr(" and %1 more").arg(up_.ties.size() - 1);
    filling_ = true;
    holds_->set_rows(std::move(rows));
    holds_sheet_->set_about(about, true);
    for (int i = 0; i < holds_->row_count(); ++i)
        if (holds_->key(i).toString().toStdString() == hold_) holds_->choose(i);
    filling_ = false;
    off_->setEnabled(!up_.ties.empty());
    fill_points();
}

const Hold* HoldsView::chosen_hold() const {
    for (const auto& h : up_.holds)
        if (h.id == hold_) return &h;
    return nullptr;
}

const HoldPoint* HoldsView::chosen_point() const {
    const auto* h = chosen_hold();
    return h == nullptr ? nullptr : h->find(point_);
}

void HoldsView::fill_points() {
    std::vector<TableRow> rows;
    const auto* h = chosen_hold();
    QString about;
    if (h != nullptr) {
        const auto& s = up_.states[static_cast<std::size_t>(h - up_.holds.data())];
        about = to_q(h->why);
        if (!s.reason.empty()) about += tr(" Passed because: %1").arg(to_q(s.reason));
        if (h->find(point_) == nullptr) next_point();
        for (std::size_t k = 0; k < h->points.size(); ++k) {
            const auto& p = h->points[k];
            TableCell what(to_q(p.what));
            what.key = to_q(p.id);
            what.icon = verdict_icon(s.points[k].verdict);
            TableCell was(s.points[k].value ? to_q(print_point(p, *s.points[k].value))
                                            : to_q(s.points[k].says));
            was.tip = to_q(s.points[k].says);
            TableCell expected(to_q(p.expected));
            expected.tip = to_q(p.because);
            rows.push_back({what, expected, was});
        }
    }
    points_sheet_->set_title(h == nullptr ? tr("What the meter should say") : to_q(h->name));
    filling_ = true;
    points_->set_rows(std::move(rows));
    points_sheet_->set_about(about, true);
    for (int i = 0; i < points_->row_count(); ++i)
        if (points_->key(i).toString().toStdString() == point_) points_->choose(i);
    filling_ = false;
    reason_->setEnabled(h != nullptr && !h->firm);
    show_cautions();
    ask();
}

/// The first that was not taken, from the chosen one on.
void HoldsView::next_point() {
    const auto* h = chosen_hold();
    if (h == nullptr) return;
    const auto& s = up_.states[static_cast<std::size_t>(h - up_.holds.data())];
    point_.clear();
    for (std::size_t k = 0; k < h->points.size() && point_.empty(); ++k)
        if (s.points[k].verdict == Verdict::unknown) point_ = h->points[k].id;
    if (point_.empty() && !h->points.empty()) point_ = h->points.front().id;
}

void HoldsView::ask() {
    const auto* h = chosen_hold();
    const auto* p = chosen_point();
    if (h == nullptr || p == nullptr) {
        question_->setText({});
        entry_->setEnabled(false);
        return;
    }
    const auto& s = up_.states[static_cast<std::size_t>(h - up_.holds.data())];
    const bool waits = h->powered && !up_.may_power;
    entry_->setEnabled(!unit_.id.empty() && !waits);
    question_->setText(
        unit_.id.empty() ? tr("Say first which unit is on the bench.")
        : waits          ? tr("No power yet: first the resistance of each rail.")
        : !s.blocked_by.empty()
            ? tr("%1: %2? (%3 comes first.)").arg(to_q(p->what), to_q(p->expected), to_q(s.blocked_by))
            : tr("%1: %2?").arg(to_q(p->what), to_q(p->expected)));
}

/// Where power comes on, and where a plug goes in.
void HoldsView::show_cautions() {
    const auto* h = chosen_hold();
    std::vector<const Caution*> cautions;
    if (const auto& data = document_.analysis().data; data && h != nullptr && (h->powered || h->id == "back"))
        for (const auto& c : data->cautions.cautions)
            if ((h->id == "back" && c.id == "host-setting") ||
                (h->powered && (c.id == "over-voltage" ||
                                (h->id == "installed" &&
                                 (c.id == "wrong-supply" || c.id == "hot-plugging" || c.id == "static")) ||
                                (h->id == "chips" && c.id == "static"))))
                cautions.push_back(&c);
    cautions_->show_cautions(cautions);
}

std::optional<QString> HoldsView::take(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    const auto* h = chosen_hold();
    const auto* p = chosen_point();
    if (h == nullptr || p == nullptr) return tr("choose a point first");
    if (unit_.id.empty()) return tr("say first which unit is on the bench");
    if (h->powered && !up_.may_power) return tr("no power before each rail was measured");
    auto value = read_point(*p, text.toStdString());
    // What a line does instead of what it should: no, and the search for the fault knows how.
    std::string symptom;
    if (!value && h->id == "function" && p->yes_no) {
        const auto said = p->id + "=" + text.toStdString();
        if (!read_said(said))
            return tr("yes, no, or what it does: low, high, nothing, unclear, as another line");
        symptom = said;
        value = 0.0;
    }
    if (!value) return to_q(value.error().message());
    const Hold hold = *h;
    const HoldPoint point = *p;
    auto next =
        with_hold_reading(document_.dossier(), unit_.id, hold, point, *value, today().toStdString(), {});
    if (!symptom.empty())
        next = edit<UnitBuild>(next, unit_.id, [&](UnitBuild& u) {
            std::erase_if(u.seen, [&](const std::string& s) { return s.starts_with(point.id + "="); });
            u.seen.push_back(symptom);
        });
    document_.apply(tr("%1 of %2").arg(to_q(point.what), to_q(unit_.id)), next);
    // With what was just entered, and on to the next.
    for (const auto& b : *document_.dossier().builds)
        if (b.id == unit_.id) unit_ = b;
    up_ = bring_up(made_.holds, unit_, bench_.get());
    const auto& done = up_.states[static_cast<std::size_t>(chosen_hold() - up_.holds.data())];
    if (done.verdict == Verdict::holds && up_.next) hold_ = up_.holds[*up_.next].id;
    point_.clear();
    fill_holds();
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

std::optional<QString> HoldsView::pass(const QString& reason) {
    if (reason.isEmpty()) return std::nullopt;
    const auto* h = chosen_hold();
    if (h == nullptr || unit_.id.empty()) return tr("say first which unit is on the bench");
    if (h->firm) return tr("the resistance of a rail can't be passed by a reason");
    const auto id = h->id;
    document_.apply(tr("%1 passed all the same").arg(to_q(h->name)),
                    edit<UnitBuild>(document_.dossier(), unit_.id, [&](UnitBuild& u) {
                        std::erase_if(u.passed, [&](const HoldPassed& p) { return p.hold == id; });
                        u.passed.push_back({id, reason.toStdString(), today().toStdString()});
                    }));
    reason_->clear();
    reason_->show_value({});
    return std::nullopt;
}

std::optional<QString> HoldsView::put_tie(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    if (unit_.id.empty()) return tr("say first which unit is on the bench");
    document_.apply(tr("a temporary tie"), edit<UnitBuild>(document_.dossier(), unit_.id, [&](UnitBuild& u) {
                        u.ties.push_back({text.toStdString(), today().toStdString(), {}});
                    }));
    tie_->clear();
    tie_->show_value({});
    return std::nullopt;
}

void HoldsView::tie_off() {
    if (unit_.id.empty()) return;
    document_.apply(tr("a tie has come off"),
                    edit<UnitBuild>(document_.dossier(), unit_.id, [&](UnitBuild& u) {
                        for (auto& t : u.ties)
                            if (t.off.empty()) {
                                t.off = today().toStdString();
                                return;
                            }
                    }));
}

void HoldsView::select(const QString& hold, const QString& point) {
    hold_ = hold.toStdString();
    point_ = point.toStdString();
    fill_holds();
}

}  // namespace grayrelic::app
