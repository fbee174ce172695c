// SPDX-License-Identifier: GPL-3.0-or-later
// What the analysis measured of the chosen interval, and where captures break the contract.
#include "app/stages/timing/contract_editor.hpp"

#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/text.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/report/contract_figure.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr int most_breach_rows = 500;

QString shown_time(const std::optional<Time>& t) {
    return t ? to_q(print_exact(*t)) : QString();
}

}  // namespace

void ContractEditor::fill_facts() {
    const auto* i = interval();
    facts_sheet_->setEnabled(i != nullptr);
    if (i == nullptr) {
        facts_sheet_->set_title(tr("Interval"));
        histogram_->clear(tr("Derive the contract from a capture, or add an interval."));
        specimens_->clear();
        for (auto* f : fields_) f->show_value({});
        return;
    }
    facts_sheet_->set_title(tr("Interval: %1").arg(to_q(i->name)));
    fields_[QStringLiteral("name")]->show_value(to_q(i->name));
    fields_[QStringLiteral("from")]->show_value(to_q(i->from));
    fields_[QStringLiteral("to")]->show_value(to_q(i->to));
    fields_[QStringLiteral("within")]->show_value(shown_time(i->within));
    fields_[QStringLiteral("guard")]->show_value(shown_time(i->guard));
    {
        const QSignalBlocker block(kind_);
        kind_->setCurrentText(to_q(word(i->kind)));
    }
    const auto* f = document_.analysis().find_figure(i->id);
    const bool entered = i->capture.empty();
    const std::pair<const char*, std::optional<Time>> figures[] = {{"min", entered        ? i->min
                                                                           : f != nullptr ? f->min
                                                                                          : std::nullopt},
                                                                   {"typ", entered        ? i->typ
                                                                           : f != nullptr ? f->typ
                                                                                          : std::nullopt},
                                                                   {"max", entered        ? i->max
                                                                           : f != nullptr ? f->max
                                                                                          : std::nullopt}};
    for (const auto& [key, t] : figures) {
        auto* field = fields_[QString::fromLatin1(key)];
        field->set_computed(!entered);
        field->show_value(entered ? shown_time(t) : t ? to_q(print(*t)) : QString());
    }
    const auto n = (i->capture.empty() ? 0U : 1U) + i->also.size();
    const auto* first = document_.dossier().find_capture(i->capture);
    captures_->setText(n == 0   ? tr("entered by hand")
                       : n == 1 ? to_q(first == nullptr ? i->capture : first->title)
                                : tr("%1 captures").arg(n));
    evidence_->show_kind(i->evidence.kind);
    if (f == nullptr || !f->problem.empty()) {
        histogram_->clear(f == nullptr ? tr("computing …") : to_q(f->problem));
        specimens_->setText(f == nullptr ? QString() : to_q(f->problem));
        return;
    }
    auto text = tr("A replica keeps %1.").arg(to_q(show_limits(limits_of(*f))));
    if (f->n > 0)
        text += tr(" Mean %1, deviation %2, 1 % … 99 %: %3 … %4.")
                    .arg(to_q(print_number(f->statistics.mean, Unit::second)),
                         to_q(print_number(f->statistics.sd, Unit::second)),
                         to_q(print_number(f->statistics.p01, Unit::second)),
                         to_q(print_number(f->statistics.p99, Unit::second)));
    if (f->specimens.size() > 1)
        for (const auto& s : f->specimens)
            text += tr("\n%1: %2× %3 … %4")
                        .arg(to_q(s.title), to_q(print_count(s.n)), to_q(print(s.min)), to_q(print(s.max)));
    specimens_->setText(text);
    if (f->lengths.empty()) {
        histogram_->clear(tr("Entered by hand: nothing was measured."));
        return;
    }
    const auto limits = limits_of(*f);
    histogram_->show_values(
        f->lengths, Driver::relic,
        limits.most ? std::optional(HistogramView::Marker{limits.most->seconds(), tr("most").toStdString()})
                    : std::nullopt,
        f->sampling.seconds());
}

void ContractEditor::fill_breaches() {
    const auto& a = document_.analysis();
    breach_places_.clear();
    std::vector<TableRow> rows;
    long total = 0;
    for (const auto& in : a.timing->breaches) {
        const auto* c = a.find_capture(in->capture);
        total += static_cast<long>(in->breaches.size());
        for (const auto& b : in->breaches) {
            if (static_cast<int>(rows.size()) >= most_breach_rows) break;
            const auto* f = a.find_figure(b.interval);
            TableRow row{f == nullptr ? to_q(b.interval) : to_q(f->interval.name),
                         {to_q(print(b.where.length())), theme().oxide},
                         to_q(print(b.where.from, 6)),
                         c == nullptr ? to_q(in->capture) : to_q(c->ref.title)};
            row[1].sort = b.where.length().seconds();
            row[2].sort = b.where.from.seconds();
            rows.push_back(std::move(row));
            breach_places_.push_back({"capture", in->capture, b.where.from});
        }
    }
    breaches_->set_rows(std::move(rows));
    breaches_->setVisible(total > 0);
    breach_sheet_->setSizePolicy(QSizePolicy::Preferred,
                                 total > 0 ? QSizePolicy::Preferred : QSizePolicy::Maximum);
    breach_sheet_->set_about(total == 0 ? tr("No capture breaks it.")
                             : total > most_breach_rows
                                 ? tr("%1 times, the first %2 shown").arg(total).arg(most_breach_rows)
                                 : tr("%1 times").arg(total));
}

}  // namespace grayrelic::app
