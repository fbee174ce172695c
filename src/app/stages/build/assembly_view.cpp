// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/build/assembly_view.hpp"

#include <QDate>
#include <QHBoxLayout>
#include <QPushButton>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/compact_button.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/decimal.hpp"
#include "core/dossier/edits.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic::app {

AssemblyView::AssemblyView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    steps_sheet_ = new Sheet(tr("In which order"));
    steps_ = new FactTable;
    steps_->set_columns({{tr("Step"), 44, true}, {tr("What"), 230}, {tr("Done"), 60, true}}, tr("Steps"));
    connect(steps_, &FactTable::row_chosen, this, [this](int at) {
        if (at < 0 || filling_) return;
        step_ = steps_->key(at).toInt();
        ref_.clear();
        fill_parts();
    });
    steps_sheet_->body()->addWidget(steps_, 1);
    hand_ = new Field;
    hand_->setAccessibleName(tr("Work by hand"));
    hand_->setPlaceholderText(tr("glue the feet before J2"));
    hand_->setToolTip(tr(
        "Work that is no part of the circuit, as a step among the others: glue, insert, bolt or cut, what it "
        "is, and the part that it comes before. With - before it the step is taken away."));
    hand_->commit = [this](const QString& text) { return take_step(text.trimmed()); };
    steps_sheet_->body()->addWidget(hand_);
    row->addWidget(steps_sheet_, 1);
    step_sheet_ = new Sheet(tr("This step"));
    auto* on = compact_button(tr("It is on"), tr("Ticks the chosen part and goes on to the next (Space)"));
    auto* off =
        compact_button(tr("Take off"), tr("Takes the tick of the chosen part away; undo brings it back"));
    step_sheet_->add_to_title(on);
    step_sheet_->add_to_title(off);
    connect(on, &QPushButton::clicked, this, &AssemblyView::tick);
    connect(off, &QPushButton::clicked, this, &AssemblyView::untick);
    how_ = new QLabel;
    how_->setWordWrap(true);
    how_->setTextFormat(Qt::PlainText);
    how_->setFont(text_font(13));
    how_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    step_sheet_->body()->addWidget(how_);
    cautions_ = new CautionLine;
    step_sheet_->body()->addWidget(cautions_);
    parts_ = new FactTable;
    parts_->set_columns({{tr("Part"), 64}, {tr("Drawn"), 96}, {tr("As fitted"), 80}, {tr("Says"), 84}},
                        tr("Parts of the step"));
    connect(parts_, &FactTable::row_chosen, this, [this](int at) {
        if (at >= 0 && !filling_) ref_ = parts_->key(at).toString().toStdString();
    });
    step_sheet_->body()->addWidget(parts_, 1);
    entry_ = new Field;
    entry_->setAccessibleName(tr("What is printed on the part, or measured"));
    entry_->setPlaceholderText(tr("brown black red gold, 103, 104K, or = 4.68k"));
    entry_->setToolTip(
        tr("What is printed or painted on the chosen part: colours in order (brown black red gold), digits "
           "(103, 4702), a "
           "code (4R7, 104K, 4n7). With = before it what was measured beside the board: = 4.68k. It is held "
           "against what was "
           "drawn, and the part counts as fitted."));
    entry_->commit = [this](const QString& text) { return take_marking(text.trimmed()); };
    step_sheet_->body()->addWidget(entry_);
    row->addWidget(step_sheet_, 1);
    add_view_key(steps_, tr("Build"), tr("The next part is on"), {"Space"}, [this] { tick(); });
    add_view_key(parts_, tr("Build"), tr("This part is on"), {"Space"}, [this] { tick(); });
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
}

void AssemblyView::show_bench(const Bench_ptr& bench, const std::string& unit) {
    bench_ = bench;
    if (unit != unit_) {
        step_ = 0;
        ref_.clear();
    }
    unit_ = unit;
    fill_steps();
}

void AssemblyView::fill_steps() {
    std::vector<TableRow> rows;
    QString about = tr("No circuit yet: Wire's, a network or a netlist says what is to be put together");
    if (bench_) {
        const auto& plan = bench_->plan;
        if (step_ < 1 || step_ > static_cast<int>(plan.steps.size())) step_ = bench_->next_step.value_or(1);
        for (const auto& s : plan.steps) {
            int done = 0;
            auto verdict = Verdict::unknown;
            for (const auto& p : bench_->parts) {
                if (p.step != s.n || !p.fitted) continue;
                ++done;
                if (p.verdict == Verdict::stop || p.verdict == Verdict::doubt)
                    verdict = worse(verdict, p.verdict);
            }
            const bool all = done == static_cast<int>(s.refs.size());
            TableCell n(QString::number(s.n));
            n.key = s.n;
            n.sort = s.n;
            n.icon = verdict_icon(verdict != Verdict::unknown ? verdict
                                  : all                       ? Verdict::holds
                                                              : Verdict::unknown);
            TableCell what(to_q(s.what));
            what.bold = bench_->next_step == s.n;
            what.tip = to_q(s.why);
            rows.push_back({n, what, QStringLiteral("%1 / %2").arg(done).arg(s.refs.size())});
        }
        about = tr("%1 of %2 parts are on").arg(bench_->fitted).arg(bench_->parts.size());
        if (!plan.problems.empty()) about += tr("; %1").arg(to_q(plan.problems.front()));
        if (plan.problems.size() > 1) about += tr(", and %1 more").arg(plan.problems.size() - 1);
    }
    filling_ = true;
    steps_->set_rows(std::move(rows));
    steps_sheet_->set_about(about, true);
    for (int i = 0; i < steps_->row_count(); ++i)
        if (steps_->key(i).toInt() == step_) steps_->choose(i);
    filling_ = false;
    fill_parts();
}

TableRow AssemblyView::part_row(const PartOnUnit& p) const {
    TableCell ref(to_q(p.ref));
    ref.key = to_q(p.ref);
    ref.icon = verdict_icon(!p.fitted                       ? Verdict::unknown
                            : p.verdict == Verdict::unknown ? Verdict::holds
                                                            : p.verdict);
    ref.tip = p.fitted ? tr("on") : tr("not on yet");
    QString drawn;
    for (const auto& part : bench_->board.parts)
        if (part.ref == p.ref) drawn = to_q(part.part);
    TableCell says(!p.says.empty() ? to_q(p.says) : p.fitted ? tr("on") : QString());
    says.tip = to_q(p.consequence.empty() ? p.says : p.says + ". " + p.consequence);
    return {ref, drawn, to_q(p.as_fitted), says};
}

/// Those of the work in sight.
void AssemblyView::show_cautions() {
    const bool hot = bench_ && step_ >= 1 && step_ <= static_cast<int>(bench_->plan.steps.size()) &&
                     bench_->plan.steps[static_cast<std::size_t>(step_) - 1].technique == Technique::hot_air;
    std::vector<const Caution*> cautions;
    if (const auto& data = document_.analysis().data; data && bench_)
        for (const auto& c : data->cautions.cautions)
            if (c.id == "solder" || (hot && c.id == "hot-air")) cautions.push_back(&c);
    cautions_->show_cautions(cautions);
}

void AssemblyView::fill_parts() {
    std::vector<TableRow> rows;
    QString about, how;
    if (bench_ && step_ >= 1 && step_ <= static_cast<int>(bench_->plan.steps.size())) {
        const auto& s = bench_->plan.steps[static_cast<std::size_t>(step_) - 1];
        about = to_q(s.why);
        how = to_q(s.how);
        for (const auto& c : s.checks) how += QStringLiteral("\n\u2610 ") + to_q(c.says);
        for (const auto& p : bench_->parts) {
            if (p.step != step_) continue;
            rows.push_back(part_row(p));
        }
    }
    filling_ = true;
    parts_->set_rows(std::move(rows));
    filling_ = false;
    for (int i = 0; i < parts_->row_count(); ++i)
        if (parts_->key(i).toString().toStdString() == ref_) parts_->choose(i);
    how_->setText(how);
    how_->setVisible(!how.isEmpty());
    step_sheet_->set_about(about, true);
    show_cautions();
}

const PartOnUnit* AssemblyView::chosen_part() const {
    if (!bench_) return nullptr;
    for (const auto& p : bench_->parts)
        if (p.ref == ref_ && p.step == step_) return &p;
    for (const auto& p : bench_->parts)
        if (p.step == step_ && !p.fitted) return &p;
    return nullptr;
}

void AssemblyView::change(const QString& what, const std::function<void(UnitBuild&)>& how) {
    document_.apply(what, edit<UnitBuild>(document_.dossier(), unit_, how));
}

void AssemblyView::tick() {
    const auto* p = chosen_part();
    if (p == nullptr || unit_.empty()) return;
    const auto ref = p->ref;
    if (!p->fitted)
        change(tr("%1 is on").arg(to_q(ref)), [&](UnitBuild& b) {
            FittedPart f;
            f.ref = ref;
            f.day = today().toStdString();
            b.fitted.push_back(f);
        });
    // On to the next one that is not on: in this step or after it, else the first.
    ref_.clear();
    const PartOnUnit* next = nullptr;
    for (const auto& each : bench_->parts) {
        if (each.fitted || each.ref == ref) continue;
        if (next == nullptr || (next->step < step_ && each.step >= step_)) next = &each;
    }
    if (next != nullptr) {
        step_ = next->step;
        ref_ = next->ref;
    }
    fill_steps();
}

void AssemblyView::untick() {
    const auto* p = chosen_part();
    if (p == nullptr || !p->fitted) return;
    const auto ref = p->ref;
    change(tr("%1 is off").arg(to_q(ref)),
           [&](UnitBuild& b) { std::erase_if(b.fitted, [&](const FittedPart& f) { return f.ref == ref; }); });
}

std::optional<QString> AssemblyView::take_step(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    if (unit_.empty()) return tr("say first which unit is on the bench");
    HandStep step;
    auto what = text;
    const bool off = what.startsWith(QLatin1Char('-'));
    if (off) what = what.mid(1).trimmed();
    const auto first = what.section(QLatin1Char(' '), 0, 0).toStdString();
    if (const auto kind = named<HandStepKind>(first)) step.kind = *kind;
    if (const auto at = what.lastIndexOf(tr(" before ")); at > 0) {
        step.before = what.mid(at + tr(" before ").size()).trimmed().toStdString();
        what = what.left(at).trimmed();
        if (!bench_ || bench_->plan.step_of(step.before) == 0)
            return tr("there is no part %1").arg(to_q(step.before));
    }
    step.what = what.toStdString();
    const bool known = bench_ && bench_->plan.step_of(step.what) != 0;
    if (off != known) return off ? tr("there is no such step") : tr("that step is there already");
    change(off ? tr("a step is taken away") : tr("a step by hand"), [&](UnitBuild& b) {
        if (off)
            std::erase_if(b.steps, [&](const HandStep& s) { return s.what == step.what; });
        else
            b.steps.push_back(step);
    });
    hand_->clear();
    hand_->show_value({});
    return std::nullopt;
}

std::optional<QString> AssemblyView::take_marking(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    const auto* p = chosen_part();
    if (p == nullptr) return tr("choose a part first");
    if (unit_.empty()) return tr("say first which unit is on the bench");
    const auto ref = p->ref;
    const auto it = bench_->board.values.find(ref);
    const bool farads = it != bench_->board.values.end() && it->second.farads;
    std::optional<double> measured;
    std::string marking;
    if (text.startsWith(QLatin1Char('='))) {
        const auto v = parse_number(text.mid(1).trimmed().toStdString(), farads ? Unit::farad : Unit::ohm);
        if (!v || *v < 0) return tr("a value such as = 4.68k, or = 98n");
        measured = *v;
    } else {
        const auto v = read_marking(text.toStdString(), farads ? MarkedAs::farads : MarkedAs::ohms);
        if (!v) return to_q(v.error().message());
        marking = text.toStdString();
    }
    change(tr("value of %1").arg(to_q(ref)), [&](UnitBuild& b) {
        FittedPart* f = nullptr;
        for (auto& each : b.fitted)
            if (each.ref == ref) f = &each;
        if (f == nullptr) {
            b.fitted.emplace_back();
            f = &b.fitted.back();
            f->ref = ref;
            f->day = today().toStdString();
        }
        if (measured)
            f->measured = measured;
        else
            f->marking = marking;
    });
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

void AssemblyView::select(const QString& ref) {
    if (!bench_) return;
    for (const auto& p : bench_->parts)
        if (p.ref == ref.toStdString()) {
            step_ = p.step;
            ref_ = p.ref;
        }
    fill_steps();
}

}  // namespace grayrelic::app
