// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/build/work_view.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <QDate>
#include <QHBoxLayout>

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/decimal.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic::app {
namespace {

QString kind_words(WorkKind kind) {
    switch (kind) {
        case WorkKind::solder: return WorkView::tr("Solder");
        case WorkKind::etch: return WorkView::tr("Etch");
        case WorkKind::drill: return WorkView::tr("Drill");
        case WorkKind::reflow: return WorkView::tr("Reflow");
        case WorkKind::hot_air: return WorkView::tr("Hot air");
        case WorkKind::test: return WorkView::tr("Test");
        case WorkKind::other: return WorkView::tr("Other work");
    }
    return {};
}

/// What stands beside the timer. The paste's own sheet and the bath's own strip go before.
QString guide_words(WorkKind kind, const WorkRecord& record) {
    switch (kind) {
        case WorkKind::etch:
            return record.baths == 0 ? WorkView::tr(
                                           "No bath was written down yet: look every minute, and stop when "
                                           "the finest gap is clear.")
                                     : WorkView::tr(
                                           "Earlier baths took %1 to %2 min (%3 of them); a used, cold bath "
                                           "takes longer. Look from "
                                           "%4 min on.")
                                           .arg(*record.etch_least, 0, 'g', 3)
                                           .arg(*record.etch_most, 0, 'g', 3)
                                           .arg(record.baths)
                                           .arg(*record.etch_least * 0.7, 0, 'g', 2);
        case WorkKind::reflow:
            return WorkView::tr(
                "As the paste's sheet says; without one, for paste with lead: to 150 °C in 90 s, to 180 °C "
                "in "
                "another 90 s, over 183 °C for 30 to 60 s with a peak of 215 °C, then let it cool. Without "
                "lead: over 217 °C for 45 to 75 s, peak 245 °C.");
        case WorkKind::hot_air:
            return WorkView::tr(
                "Warm the board to about 120 °C first; then the least air and heat that works, moving.");
        case WorkKind::drill:
            return WorkView::tr("Smallest drill first; count the holes, so that the next estimate is yours.");
        case WorkKind::solder:
            return WorkView::tr(
                "Count the joints when you stop: the time estimate is from what you wrote down.");
        default: return {};
    }
}

}  // namespace

Result<WorkDone> work_from_text(std::string_view text) {
    WorkDone out;
    bool minutes = false;
    bool has_number = false;
    double number = 0;
    bool first = true;
    for (const auto raw : split(text, ' ')) {
        const auto w = trim(raw);
        if (w.empty()) continue;
        if (first) {
            const auto kind = named<WorkKind>(w);
            if (!kind) return fail_usage(in_quotes(w), one_of<WorkKind>() + " first");
            out.kind = *kind;
            first = false;
            continue;
        }
        if (const auto n = decimal_number(w, '.')) {
            number = *n;
            has_number = true;
            continue;
        }
        if (!has_number) {
            out.note += (out.note.empty() ? "" : " ") + std::string(w);
            continue;
        }
        if (w == "min" || w == "minutes" || w == "h" || w == "hours") {
            out.minutes = number * (w[0] == 'h' ? 60 : 1);
            minutes = true;
        } else if (w == "joints" || w == "holes" || w == "boards" || w == "parts") {
            out.count = number;
        } else if (w == "°C" || w == "C") {
            out.degrees = number;
        } else {
            return fail_usage(in_quotes(w), "min, h, joints, holes or °C behind a number");
        }
        has_number = false;
    }
    if (first || !minutes || !(out.minutes > 0 && out.minutes <= 100'000))
        return fail_usage(in_quotes(text),
                          "work such as \"solder 45 min 124 joints\" or \"etch 12 min 40 °C\"");
    return out;
}

WorkView::WorkView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    log_sheet_ = new Sheet(tr("Timer and log"));
    auto* top = new QHBoxLayout;
    kinds_ = new ChoiceBox(tr("Which work"), tr("What is done while the timer runs"));
    for (const auto k : all_of<WorkKind>()) kinds_->addItem(kind_words(k), static_cast<int>(k));
    connect(kinds_, &QComboBox::activated, this, [this] { fill(); });
    clock_ = new QLabel(QStringLiteral("0:00"));
    clock_->setFont(text_font(26));
    clock_->setAccessibleName(tr("Time"));
    start_ = new QPushButton(tr("Start"));
    connect(start_, &QPushButton::clicked, this, &WorkView::start_or_stop);
    top->addWidget(kinds_);
    top->addWidget(clock_, 1, Qt::AlignCenter);
    top->addWidget(start_);
    log_sheet_->body()->addLayout(top);
    guide_ = new QLabel;
    guide_->setWordWrap(true);
    guide_->setTextFormat(Qt::PlainText);
    guide_->setFont(text_font(13));
    log_sheet_->body()->addWidget(guide_);
    cautions_ = new CautionLine;
    log_sheet_->body()->addWidget(cautions_);
    log_ = new FactTable;
    log_->set_columns({{tr("Day"), 100}, {tr("Work"), 80}, {tr("Minutes"), 70, true}, {tr("What"), 120}},
                      tr("Work done"));
    log_sheet_->body()->addWidget(log_, 1);
    entry_ = new Field;
    entry_->setAccessibleName(tr("Work that was done"));
    entry_->setPlaceholderText(tr("solder 45 min 124 joints"));
    entry_->setToolTip(
        tr("Kind, minutes, and what was counted: solder 45 min 124 joints, etch 12 min 40 °C, drill 30 "
           "min 96 holes. Kinds: solder, etch, drill, reflow, hot-air, test, other."));
    entry_->commit = [this](const QString& text) { return take(text.trimmed()); };
    log_sheet_->body()->addWidget(entry_);
    row->addWidget(log_sheet_, 1);
    ways_sheet_ = new Sheet(tr("Repair, wire by hand, or start over"));
    part_ = new Field;
    part_->setAccessibleName(tr("Which part or joint is bad"));
    part_->setPlaceholderText(tr("U3, or one joint: U3.4"));
    part_->commit = [this](const QString& text) -> std::optional<QString> {
        place_ = text.trimmed().toStdString();
        fill_ways();
        return std::nullopt;
    };
    ways_sheet_->body()->addWidget(part_);
    ways_ = new FactTable;
    ways_->set_columns({{tr("Way"), 84},
                        {tr("Once"), 62, true},
                        {tr("Works"), 52, true},
                        {tr("Expected"), 84, true},
                        {tr("Because"), 80}},
                       tr("Ways to a working board"));
    ways_sheet_->body()->addWidget(ways_, 1);
    row->addWidget(ways_sheet_, 1);
    beat_.setInterval(1000);
    connect(&beat_, &QTimer::timeout, this, &WorkView::tick);
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
    elapsed_s = [this] { return static_cast<double>(since_.elapsed()) / 1000; };
}

void WorkView::show_bench(const Bench_ptr& bench, const UnitBuild& unit) {
    bench_ = bench;
    unit_ = unit;
    fill();
}

WorkKind WorkView::kind() const {
    return static_cast<WorkKind>(kinds_->currentData().toInt());
}

void WorkView::choose_kind(WorkKind kind) {
    kinds_->setCurrentIndex(static_cast<int>(kind));
    fill();
}

void WorkView::fill() {
    std::vector<TableRow> rows;
    for (std::size_t i = 0; i < unit_.work.size(); ++i) {
        const auto& w = unit_.work[i];
        TableCell day(to_q(w.day));
        day.sort = static_cast<double>(i);
        QString what = to_q(w.note);
        if (w.count) what = tr("%1 counted ").arg(*w.count, 0, 'g', 6) + what;
        if (w.degrees) what = tr("%1 °C ").arg(*w.degrees, 0, 'g', 4) + what;
        rows.push_back({day, kind_words(w.kind), QString::number(w.minutes, 'g', 4), what.trimmed()});
    }
    log_->set_rows(std::move(rows));
    const auto record = work_record(document_.dossier());
    QString about;
    if (!bench_)
        about = tr("No circuit yet");
    else if (const auto minutes = minutes_for(bench_->board, record))
        about = tr("About %1 h for the whole board, at %2 min a joint over %3 joints that were written down")
                    .arg(*minutes / 60, 0, 'f', 1)
                    .arg(*record.minutes_per_joint, 0, 'g', 2)
                    .arg(record.joints, 0, 'f', 0);
    else
        about = tr("No estimate yet: write down how long how many joints took");
    log_sheet_->set_about(about, true);
    guide_->setText(guide_words(kind(), record));
    guide_->setVisible(!guide_->text().isEmpty());
    start_->setEnabled(running_ || !unit_.id.empty());
    show_cautions();
    fill_ways();
}

void WorkView::show_cautions() {
    std::vector<const Caution*> cautions;
    const auto k = kind();
    const auto wanted = [&](const std::string& id) {
        return (id == "solder" && k == WorkKind::solder) || (id == "etchant" && k == WorkKind::etch) ||
               (id == "dust" && k == WorkKind::drill) || (id == "hot-air" && k == WorkKind::hot_air) ||
               (id == "oven" && k == WorkKind::reflow);
    };
    if (const auto& data = document_.analysis().data)
        for (const auto& c : data->cautions.cautions)
            if (wanted(c.id)) cautions.push_back(&c);
    cautions_->show_cautions(cautions);
}

void WorkView::tick() {
    const auto s = static_cast<long long>(elapsed_s());
    clock_->setText(QStringLiteral("%1:%2").arg(s / 60).arg(s % 60, 2, 10, QLatin1Char('0')));
}

void WorkView::start_or_stop() {
    if (!running_) {
        if (unit_.id.empty()) return;
        running_ = true;
        timed_ = unit_.id;
        since_.start();
        beat_.start();
        start_->setText(tr("Stop, and write it down"));
        return tick();
    }
    running_ = false;
    beat_.stop();
    start_->setText(tr("Start"));
    tick();
    WorkDone w;
    w.kind = kind();
    w.minutes = std::max(1.0, std::round(elapsed_s())) / 60;
    w.day = today().toStdString();
    write_down(timed_, w);
}

void WorkView::write_down(const std::string& unit, const WorkDone& work) {
    document_.apply(
        tr("work on %1").arg(to_q(unit)),
        edit<UnitBuild>(document_.dossier(), unit, [&](UnitBuild& u) { u.work.push_back(work); }));
}

std::optional<QString> WorkView::take(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    if (unit_.id.empty()) return tr("say first which unit is on the bench");
    auto work = work_from_text(text.toStdString());
    if (!work) return to_q(work.error().message());
    work->day = today().toStdString();
    write_down(unit_.id, *work);
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

void WorkView::fill_ways() {
    std::vector<TableRow> rows;
    QString about = tr("Say which part or joint is bad");
    if (bench_ && !place_.empty()) {
        auto now = document_.analysis();
        now.dossier = document_.dossier();
        const auto ways = rework_ways(now, bench_->board, place_, 0);
        if (!ways) {
            about = to_q(ways.error().message());
        } else {
            for (std::size_t i = 0; i < ways->ways.size(); ++i) {
                const auto& w = ways->ways[i];
                TableCell name(w.kind == ReworkKind::repair    ? tr("Repair")
                               : w.kind == ReworkKind::by_hand ? tr("Wire by hand")
                                                               : tr("Start over"));
                name.bold = i == ways->best;
                name.sort = static_cast<double>(i);
                QString expected = tr("%1 min").arg(w.expected_minutes, 0, 'f', 0);
                if (w.expected_money > 0) expected += tr(", %1").arg(w.expected_money, 0, 'f', 2);
                rows.push_back({name, tr("%1 min").arg(w.minutes, 0, 'f', 0),
                                tr("%1 %").arg(w.chance * 100, 0, 'f', 0), expected, to_q(w.why)});
            }
            about = to_q(fmt::format("{}", fmt::join(ways->rests_on, "; ")));
        }
    }
    ways_->set_rows(std::move(rows));
    ways_sheet_->set_about(about, true);
}

}  // namespace grayrelic::app
