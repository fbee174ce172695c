// SPDX-License-Identifier: GPL-3.0-or-later
// What the rows of the job's page say.
#include <QSettings>

#include <algorithm>
#include <map>

#include "app/paint/marks.hpp"
#include "app/stages/plan/next_view.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/plan/plan_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr double evening_minutes = 90;

QString figure(double v) {
    return QString::number(v, 'g', 6);
}

Verdict weight_of(const OpenQuestion& q) {
    if (q.before_all || (q.decides() && q.at_stake == AtStake::relic)) return Verdict::stop;
    return q.at_stake == AtStake::little ? Verdict::unknown : Verdict::doubt;
}

QIcon state_icon(PartState s) {
    switch (s) {
        case PartState::drawer:
        case PartState::arrived: return verdict_icon(Verdict::holds);
        case PartState::undecided: return verdict_icon(Verdict::stop);
        case PartState::ordered: return verdict_icon(Verdict::doubt);
        case PartState::order: return verdict_icon(Verdict::unknown);
    }
    return {};
}

QString state_words(PartState s) {
    switch (s) {
        case PartState::drawer: return QObject::tr("from the drawer");
        case PartState::order: return QObject::tr("order now");
        case PartState::undecided: return QObject::tr("do not order yet");
        case PartState::ordered: return QObject::tr("in the post");
        case PartState::arrived: return QObject::tr("arrived");
    }
    return {};
}

int count_in(const PartsRow& r) {
    switch (r.state) {
        case PartState::drawer: return r.need + r.spare;
        case PartState::ordered: return r.on_order;
        case PartState::arrived: return r.arrived;
        default: return r.order;
    }
}

}  // namespace

void NextView::fill_kinds() {
    std::vector<BarRow> rows;
    for (const auto& k : document_.data().jobs.kinds) {
        BarRow r;
        r.id = to_q(k.id);
        r.title = to_q(k.name);
        r.about = to_q(k.about);
        r.more = to_q(k.example);
        rows.push_back(std::move(r));
    }
    const bool any = !rows.empty();
    kinds_->show_rows(std::move(rows));
    begin_->setEnabled(any && document_.read_only().isEmpty());
    kinds_sheet_->set_about(
        any ? tr("The kind says which stages the job needs, what is always asked, and the usual tasks. It "
                 "can be "
                 "changed later.")
            : tr("No kinds of job were found; a dossier can be begun without one by File, New."));
}

void NextView::fill_gates() {
    const auto& o = outlook_.now();
    gates_->show_gates(o.ready);
    if (!gate_chosen_ && o.next_gate) gates_->pick(*o.next_gate);
    fill_gate_line();
}

void NextView::fill_gate_line() {
    const auto& g = outlook_.now().gate(gates_->picked());
    QStringList why;
    for (const auto& b : g.blocked_by) why << to_q(b.says);
    gates_sheet_->set_about(tr("%1: %2").arg(to_q(label(g.gate)), !g.needed ? tr("not needed here")
                                                                  : why.isEmpty()
                                                                      ? tr("nothing in the way")
                                                                      : why.join(QStringLiteral(" · "))));
    const bool shut = g.needed && (g.verdict != Verdict::holds || !g.passed_with.empty());
    reason_->setVisible(shut);
    reason_->show_value(to_q(g.passed_with));
}

void NextView::fill_questions() {
    const auto& o = outlook_.now();
    double most = 0;
    for (const auto& q : o.questions.open)
        if (!q.before_all) most = std::max(most, q.loss);
    std::vector<BarRow> rows;
    for (const auto& q : o.questions.open) {
        BarRow r;
        r.id = to_q(q.id);
        r.verdict = weight_of(q);
        r.title = to_q(q.says);
        r.about = to_q(q.how.empty() ? q.why : q.how);
        r.italic = !q.assumed.empty();
        r.full = 1;
        const auto ink = weight_of(q) == Verdict::stop ? BarPiece::Ink::stop : BarPiece::Ink::doubt;
        r.pieces = {{0, q.before_all ? 1 : most > 0 ? q.loss / most : 0, ink}};
        r.figures = tr("%1 min").arg(figure(q.minutes));
        r.more = to_q(wrong_cost(q, o.stakes));
        rows.push_back(std::move(r));
    }
    const auto settled = static_cast<long>(o.questions.settled.size());
    auto about =
        rows.empty() ? tr("Nothing is open.") : tr("By what being wrong costs for each minute of work.");
    if (settled > 0) about += tr(" %1 settled.").arg(to_q(plural(settled, "question is", "questions are")));
    questions_sheet_->set_about(about);
    questions_->show_rows(std::move(rows));
    fill_details();
}

void NextView::fill_details() {
    const auto* q = picked();
    for (QWidget* w : std::initializer_list<QWidget*>{answer_, chance_, takes_, stake_, go_, sheet_})
        w->setEnabled(q != nullptr);
    const auto& all = things<PlanQuestion>(document_.dossier());
    const auto at = place_of<PlanQuestion>(all, questions_->picked().toStdString());
    drop_->setEnabled(at != all.end());
    if (q == nullptr) {
        answer_->show_fact({}, {});
        chance_->show_value({});
        takes_->show_value({});
        arithmetic_->setText({});
        return;
    }
    answer_->show_fact(at == all.end() ? QString() : to_q(at->answer.value),
                       at == all.end() ? Evidence{} : at->answer.evidence);
    chance_->show_value(figure(q->chance));
    takes_->show_value(figure(q->minutes));
    stake_->setCurrentIndex(stake_->findData(static_cast<int>(q->at_stake)));
    go_->setVisible(q->place.kind != "question");
    const auto& s = outlook_.now().stakes;
    QStringList taken;
    if (s.money_taken) taken << tr("money");
    if (s.days_taken) taken << tr("days");
    if (s.day_taken) taken << tr("worth of a day");
    const auto grade = QString(to_q(word(q->grade)));
    arithmetic_->setText(tr("%1: %2%3")
                             .arg(grade, to_q(q->arithmetic),
                                  taken.isEmpty() || q->at_stake == AtStake::little
                                      ? QString()
                                      : tr("; nobody said: %1").arg(taken.join(QStringLiteral(", ")))));
    arithmetic_->setToolTip(arithmetic_->text().toHtmlEscaped());
}

void NextView::fill_evening() {
    const double minutes = QSettings().value(QStringLiteral("evening"), evening_minutes).toDouble();
    minutes_->show_value(figure(minutes));
    std::vector<TableRow> rows;
    double sum = 0;
    for (const auto& item : grayrelic::evening(outlook_.now(), schedule_.now(), minutes)) {
        TableCell what(to_q(item.says));
        what.key = to_q(item.question);
        what.tip = to_q(item.how.empty() ? item.says : item.says + "\n" + item.how).toHtmlEscaped();
        rows.push_back({what, figure(item.minutes)});
        sum += item.minutes;
    }
    evening_sheet_->set_about(rows.empty() ? tr("Nothing fits into it.")
                                           : tr("%1 of %2 minutes").arg(figure(sum), figure(minutes)));
    evening_->set_rows(std::move(rows));
}

void NextView::fill_parcels() {
    const auto& list = document_.analysis().plan->parts;
    std::map<PartState, QStringList> by_state;
    for (const auto& r : list.rows) {
        auto text = tr("%1 × %2").arg(count_in(r)).arg(to_q(r.part));
        if (r.state == PartState::undecided) text += QStringLiteral(": ") + to_q(r.question);
        by_state[r.state] << text;
    }
    std::vector<TableRow> rows;
    for (const auto s : {PartState::order, PartState::undecided, PartState::ordered, PartState::arrived,
                         PartState::drawer}) {
        if (by_state[s].isEmpty()) continue;
        TableCell state(state_words(s));
        state.icon = state_icon(s);
        rows.push_back({state, by_state[s].join(QStringLiteral(", "))});
    }
    for (const auto& o : document_.dossier().supply->orders) {
        if (o.ordered.empty() || !o.arrived.empty()) continue;
        TableCell state(tr("expected"));
        const auto to = parse_day(o.expected_to.empty() ? o.expected_from : o.expected_to);
        const bool late = to && *to < outlook_.today();
        state.icon = verdict_icon(late ? Verdict::stop : Verdict::doubt);
        auto what = tr("%1 from %2")
                        .arg(to ? day_words(*to, outlook_.today()) : tr("nobody knows when"), to_q(o.from));
        if (late) what += tr(", overdue");
        QStringList frees;
        for (const auto& f : o.frees) frees << to_q(f);
        if (!frees.isEmpty()) what += tr("; frees %1").arg(frees.join(QStringLiteral(", ")));
        rows.push_back({state, what});
    }
    parcels_sheet_->set_about(rows.empty() ? tr("No parts yet.") : QString());
    parcels_->set_rows(std::move(rows));
}

void NextView::fill_calendar() {
    calendar_->show_rows(schedule_.rows(), schedule_.dates());
    auto says = schedule_.sentence();
    if (outlook_.now().tasks_proposed && schedule_.now() != nullptr)
        says += tr(" The tasks are as proposed.");
    calendar_sheet_->set_about(says);
}

}  // namespace grayrelic::app
