// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/build/joints_view.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <QDate>
#include <QHBoxLayout>
#include <QPushButton>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {

JointsView::JointsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    sheet_ = new Sheet(tr("Joint sheet"));
    lines_ = new FactTable;
    lines_->set_columns({{tr("From"), 84},
                         {tr("To"), 84},
                         {tr("Expect"), 70},
                         {tr("Was"), 60},
                         {tr("Of"), 190},
                         {tr("When"), 110}},
                        tr("Lines of the joint sheet"));
    connect(lines_, &FactTable::row_chosen, this, [this](int) {
        if (!filling_) ask();
    });
    sheet_->body()->addWidget(lines_, 1);
    row->addWidget(sheet_, 3);
    ask_sheet_ = new Sheet(tr("Next"));
    ask_sheet_->setMaximumWidth(300);
    question_ = new QLabel;
    question_->setFont(text_font(22));
    question_->setWordWrap(true);
    question_->setTextFormat(Qt::PlainText);
    why_ = new QLabel;
    why_->setWordWrap(true);
    why_->setTextFormat(Qt::PlainText);
    why_->setFont(text_font(13));
    ask_sheet_->body()->addWidget(question_);
    ask_sheet_->body()->addWidget(why_);
    auto* beep = new QPushButton(tr("Beep (B)"));
    auto* open = new QPushButton(tr("No beep (O)"));
    connect(beep, &QPushButton::clicked, this, [this] { answer(true); });
    connect(open, &QPushButton::clicked, this, [this] { answer(false); });
    ask_sheet_->body()->addWidget(beep);
    ask_sheet_->body()->addWidget(open);
    auto* by_meter = new QPushButton(tr("Meter (M)"));
    connect(by_meter, &QPushButton::clicked, this, &JointsView::measure);
    ask_sheet_->body()->addWidget(by_meter);
    address_ = new Field;
    address_->setPlaceholderText(tr("meter: host:port"));
    address_->setAccessibleName(tr("Address of a meter"));
    auto* state = new QLabel;
    state->setFont(text_font(12));
    state->setTextFormat(Qt::PlainText);
    state->setWordWrap(true);
    meter_ = new MeterLink(this);
    address_->commit = [this](const QString& text) -> std::optional<QString> {
        text.trimmed().isEmpty() ? meter_->disconnect_from() : meter_->connect_to(text);
        return std::nullopt;
    };
    connect(meter_, &MeterLink::changed, state, [this, state] { state->setText(meter_->state()); });
    connect(meter_, &MeterLink::read, this, [this](const MeterReading& r) {
        // What beeps on the sheet: below what the meter beeps at.
        tool_ = to_q(r.tool);
        answer(r.kind == MeterReadingKind::beep || (r.ohm && *r.ohm < JointWish{}.beeps_below_ohm));
        tool_.clear();
    });
    state->setText(meter_->state());
    ask_sheet_->body()->addWidget(address_);
    ask_sheet_->body()->addWidget(state);
    ask_sheet_->body()->addStretch(1);
    row->addWidget(ask_sheet_, 1);
    add_view_key(lines_, tr("Build"), tr("The line beeps"), {"B"}, [this] { answer(true); });
    add_view_key(lines_, tr("Build"), tr("The line does not beep"), {"O"}, [this] { answer(false); });
    add_view_key(lines_, tr("Build"), tr("The meter says whether the line beeps"), {"M"},
                 [this] { measure(); });
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
}

void JointsView::show_bench(const Bench_ptr& bench, const std::string& unit) {
    bench_ = bench;
    unit_ = unit;
    fill();
}

void JointsView::fill() {
    std::vector<TableRow> rows;
    QString about = tr("No circuit yet: Wire's, a network or a netlist says what joints there are");
    if (bench_) {
        for (std::size_t i = 0; i < bench_->joints.size(); ++i) {
            const auto& j = bench_->joints[i];
            TableCell from(to_q(j.line.a));
            from.key = static_cast<int>(i);
            from.icon = verdict_icon(j.verdict);
            TableCell of(to_q(j.line.why));
            of.tip = j.line.proves.empty()
                         ? to_q(j.line.why)
                         : tr("proves %1").arg(to_q(fmt::format("{}", fmt::join(j.line.proves, ", "))));
            rows.push_back({from, to_q(j.line.b),
                            j.line.expect == JointExpect::beep ? tr("beep") : tr("no beep"),
                            !j.beeped   ? QString()
                            : *j.beeped ? tr("beep")
                                        : tr("no beep"),
                            of, j.line.before > 0 ? tr("before step %1").arg(j.line.before) : QString()});
        }
        about = tr("%1 lines prove %2 joints; %3 as they should be, %4 not")
                    .arg(bench_->joints.size())
                    .arg(bench_->sheet.proven)
                    .arg(bench_->proven)
                    .arg(bench_->wrong);
        if (!bench_->sheet.unproven.empty())
            about += tr("; %1 can't be told by a meter: %2, %3")
                         .arg(bench_->sheet.unproven.size())
                         .arg(to_q(bench_->sheet.unproven.front().first),
                              to_q(bench_->sheet.unproven.front().second));
    }
    filling_ = true;
    lines_->set_rows(std::move(rows));
    filling_ = false;
    sheet_->set_about(about, true);
    ask();
}

std::optional<std::size_t> JointsView::chosen() const {
    if (!bench_) return std::nullopt;
    if (lines_->chosen() >= 0) return static_cast<std::size_t>(lines_->key(lines_->chosen()).toInt());
    for (const auto i : bench_->due) return i;
    for (std::size_t i = 0; i < bench_->joints.size(); ++i)
        if (!bench_->joints[i].beeped) return i;
    return std::nullopt;
}

void JointsView::ask() {
    const auto at = chosen();
    if (!at || *at >= bench_->joints.size()) {
        question_->setText(bench_ ? tr("All lines are taken.") : QString());
        why_->setText({});
        return;
    }
    const auto& l = bench_->joints[*at].line;
    question_->setText(tr("%1 – %2").arg(to_q(l.a), to_q(l.b)));
    why_->setText(
        tr("%1. %2").arg(l.expect == JointExpect::beep ? tr("A beep is expected") : tr("No beep is expected"),
                         l.proves.empty()
                             ? to_q(l.why)
                             : tr("It proves %1").arg(to_q(fmt::format("{}", fmt::join(l.proves, ", "))))) +
        (unit_.empty() ? tr("\nSay first which unit is on the bench.") : QString()));
}

void JointsView::answer(bool beeped) {
    const auto at = chosen();
    if (!at || unit_.empty() || *at >= bench_->joints.size()) return;
    const auto& l = bench_->joints[*at].line;
    MeterReading r;
    r.a = l.a;
    r.b = l.b;
    r.kind = beeped ? MeterReadingKind::beep : MeterReadingKind::open;
    r.unit = unit_;
    r.date = today().toStdString();
    r.tool = tool_.toStdString();
    r.note = tr("joint sheet").toStdString();
    auto d = document_.dossier();
    // Trace goes on looking at the unit that it looked at.
    if (d.trace->unit.empty() && !d.readings->empty())
        if (const auto& other = d.readings->front().unit; !other.empty() && other != unit_)
            d = edit(d, &Dossier::trace, [&](Trace& t) { t.unit = other; });
    const auto next = *at + 1;
    document_.apply(tr("%1 to %2").arg(to_q(l.a), to_q(l.b)), add_reading(d, r));
    for (int i = 0; i < lines_->row_count(); ++i)
        if (static_cast<std::size_t>(lines_->key(i).toInt()) == next) lines_->choose(i);
    ask();
}

void JointsView::measure() {
    const auto at = chosen();
    if (!at || unit_.empty() || *at >= bench_->joints.size()) return;
    const auto& l = bench_->joints[*at].line;
    if (lines_->chosen() < 0)
        for (int i = 0; i < lines_->row_count(); ++i)
            if (static_cast<std::size_t>(lines_->key(i).toInt()) == *at) lines_->choose(i);
    meter_->measure(to_q(l.a), to_q(l.b));
}

void JointsView::select(const QString& joint) {
    const auto ends = joint.split(QLatin1Char('+'));
    for (int i = 0; bench_ && i < lines_->row_count(); ++i) {
        const auto& l = bench_->joints[static_cast<std::size_t>(lines_->key(i).toInt())].line;
        if (ends.size() == 2 && to_q(l.a) == ends[0] && to_q(l.b) == ends[1]) lines_->choose(i);
    }
}

}  // namespace grayrelic::app
