// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/trace/probe_view.hpp"

#include <QDate>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QSettings>
#include <QSignalBlocker>
#include <QStandardPaths>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/trace/ledger.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {

ProbeView::ProbeView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Probing: 1 beeps, 0 is open, space skips"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    auto* left = new QVBoxLayout;
    left->setSpacing(12);
    left->addWidget(make_question());
    left->addWidget(make_trouble(), 1);
    row->addLayout(left, 1);
    row->addWidget(make_ledger(), 1);
    meter_ = new MeterLink(this);
    meter_address_->commit = [this](const QString& text) -> std::optional<QString> {
        text.trimmed().isEmpty() ? meter_->disconnect_from() : meter_->connect_to(text);
        return std::nullopt;
    };
    connect(meter_, &MeterLink::changed, this, [this] { meter_state_->setText(meter_->state()); });
    connect(meter_, &MeterLink::read, this, [this](const MeterReading& r) { add(r); });
    meter_state_->setText(meter_->state());
    const auto group = tr("Probing");
    add_view_key(this, group, tr("The pair beeps"), {"1"}, [this] { answer(MeterReadingKind::beep); });
    add_view_key(this, group, tr("The pair is open"), {"0"}, [this] { answer(MeterReadingKind::open); });
    add_view_key(this, group, tr("Another pair"), {"Space"}, [this] { skip(); });
    add_view_key(this, group, tr("Read the meter"), {"M"}, [this] { meter_->measure(a_, b_); });
    add_view_key(this, group, tr("Type a reading"), {"Return", "Enter"}, [this] { entry_->setFocus(); });
}

QWidget* ProbeView::make_question() {
    next_ = new Sheet(tr("Probe this pair"));
    strategy_ = new QComboBox;
    strategy_->setAccessibleName(tr("What to probe first"));
    for (const auto& [label, s] : {std::pair{tr("what tells most"), ProbeStrategy::everything},
                                   {tr("rails first"), ProbeStrategy::rails},
                                   {tr("buses first"), ProbeStrategy::buses},
                                   {tr("connectors first"), ProbeStrategy::connectors}})
        strategy_->addItem(label, static_cast<int>(s));
    connect(strategy_, &QComboBox::activated, this, &ProbeView::replan);
    spoken_ = new QCheckBox(tr("Say it"));
    spoken_->setToolTip(tr("Speaks the pair, where the system has a speech program"));
    unit_ =
        new UnitBox(tr("The board that is probed"),
                    tr("What is measured here is taken on this unit; other boards' readings are kept apart"));
    connect(unit_, &UnitBox::picked, this, [this](const std::string& unit) {
        document_.apply(tr("look at a unit"),
                        edit(document_.dossier(), &Dossier::trace, [&](Trace& t) { t.unit = unit; }));
    });
    next_->add_to_title(spoken_);
    next_->add_to_title(strategy_);
    pair_ = new QLabel;
    pair_->setFont(text_font(34, true));
    pair_->setAlignment(Qt::AlignCenter);
    pair_->setAccessibleName(tr("The pair to probe"));
    pair_->setMinimumWidth(10);
    why_ = secondary_label({});
    why_->setAlignment(Qt::AlignCenter);
    why_->setWordWrap(true);
    why_->setFont(text_font(13));
    next_->body()->addWidget(pair_);
    next_->body()->addWidget(why_);
    make_answers();
    return next_;
}

void ProbeView::make_answers() {
    auto* answers = new QHBoxLayout;
    const auto button = [&](QHBoxLayout* into, const QString& text, const QString& tip, auto run) {
        auto* b = new QPushButton(text);
        b->setToolTip(tip);
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QPushButton::clicked, this, run);
        into->addWidget(b);
    };
    button(answers, tr("Beep  1"), tr("They are joined (key 1)"), [this] { answer(MeterReadingKind::beep); });
    button(answers, tr("Open  0"), tr("They are not (key 0)"), [this] { answer(MeterReadingKind::open); });
    button(answers, tr("Skip  space"), tr("Another pair (space)"), [this] { skip(); });
    next_->body()->addLayout(answers);
    progress_ = secondary_label({});
    progress_->setAlignment(Qt::AlignCenter);
    progress_->setWordWrap(true);
    next_->body()->addWidget(progress_);
    auto* meter_row = new QHBoxLayout;
    meter_address_ = new Field;
    meter_address_->setPlaceholderText(tr("meter: host:port"));
    meter_address_->setAccessibleName(tr("Address of a meter"));
    meter_state_ = secondary_label({});
    meter_row->addWidget(meter_address_);
    meter_row->addWidget(meter_state_, 1);
    button(meter_row, tr("Meter  M"), tr("Take the reading from the connected meter (key M)"),
           [this] { meter_->measure(a_, b_); });
    next_->body()->addLayout(meter_row);
    next_->body()->addWidget(unit_);  // a row of its own: the title has no room for it in a narrow window
    care_ = new CautionLine;
    next_->body()->addWidget(care_);
}

QWidget* ProbeView::make_trouble() {
    trouble_sheet_ = new Sheet(tr("Contradictions"));
    trouble_ = new QLabel;
    trouble_->setWordWrap(true);
    trouble_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    trouble_->setAlignment(Qt::AlignTop);
    trouble_->setMinimumWidth(10);
    trouble_sheet_->body()->addWidget(trouble_, 1);
    probe_slip_ = new QPushButton(tr("Show the likeliest slip"));
    connect(probe_slip_, &QPushButton::clicked, this, [this] {
        if (const auto& t = document_.analysis().trace; t && !t->suspects.empty())
            show_reading(t->suspects.front().row);
    });
    trouble_sheet_->body()->addWidget(probe_slip_);
    return trouble_sheet_;
}

QWidget* ProbeView::make_ledger() {
    ledger_sheet_ = new Sheet(tr("Ledger"));
    auto* in = new QPushButton(tr("In…"));
    in->setToolTip(tr("Read a ledger from CSV; its readings are added"));
    auto* out = new QPushButton(tr("Out…"));
    out->setToolTip(tr("Write the ledger as CSV"));
    connect(in, &QPushButton::clicked, this, &ProbeView::ledger_in_wanted);
    connect(out, &QPushButton::clicked, this, &ProbeView::ledger_out_wanted);
    ledger_sheet_->add_to_title(in);
    ledger_sheet_->add_to_title(out);
    entry_ = new Field;
    entry_->setPlaceholderText(tr("U1.3 J1.4 beep"));
    entry_->setAccessibleName(tr("A reading as one line"));
    entry_->setToolTip(
        tr("Two points and what the meter says: beep, open, 4k7, 0.62V, 0.62V/OL; then a note"));
    ledger_sheet_->body()->addWidget(entry_);
    ledger_ = new FactTable;
    ledger_->set_columns({{tr("No"), 44, true},
                          {tr("Point"), 62},
                          {tr("Point"), 62},
                          {tr("Reading"), 74, true},
                          {tr("Remark"), 130}},
                         tr("Readings so far"));
    ledger_sheet_->body()->addWidget(ledger_, 1);
    aside_ = new QPushButton(tr("Set aside"));
    aside_->setToolTip(
        tr("The chosen readings do not count any more, but stay on record; again: they count"));
    connect(aside_, &QPushButton::clicked, this, &ProbeView::set_aside_chosen);
    taken_on_ = new QPushButton(tr("Taken on"));
    taken_on_->setToolTip(tr("Says which unit the chosen readings were taken on"));
    auto* menu = new QMenu(taken_on_);
    connect(menu, &QMenu::aboutToShow, this, &ProbeView::fill_unit_menu);
    taken_on_->setMenu(menu);
    taken_on_->setProperty("menu", true);
    auto* below = new QHBoxLayout;
    below->addWidget(aside_, 1);
    below->addWidget(taken_on_);
    ledger_sheet_->body()->addLayout(below);
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        return enter(text);
    };
    return ledger_sheet_;
}

void ProbeView::refresh() {
    const auto& data = document_.data();
    care_->show_cautions(cautions_for(data.cautions, data.families, document_.dossier(), Stage::trace,
                                      "measure", nullptr, &document_.person().bench, "probe"));
    fill_ledger();
    fill_trouble();
    replan();
}

void ProbeView::replan() {
    const auto& t = document_.analysis().trace;
    a_.clear();
    b_.clear();
    if (!t || t->empty()) {
        pair_->setText(tr("No points yet"));
        why_->setText(tr("Add the parts with their pin-outs, or type the first reading on the right."));
        progress_->clear();
        return;
    }
    if (!document_.dossier().readings.same_version(document_.analysis().dossier.readings)) {
        // A pair from before the last reading would be answered twice.
        pair_->setText(tr("…"));
        why_->setText(tr("The next pair is being chosen."));
        planning_.cancel();
        return;
    }
    PlanOptions options;
    options.strategy = static_cast<ProbeStrategy>(strategy_->currentData().toInt());
    options.how_many = 5 + static_cast<std::size_t>(skipped_.size());
    why_->setText(tr("The next pair is being chosen."));
    planning_.ask([t, options](Progress&) { return plan_probes(t->view->prior, t->state, options); },
                  [this, t](const ProbePlan& plan) { show_plan(*t, plan); });
}

void ProbeView::show_plan(const TraceAnalysis& t, const ProbePlan& plan) {
    for (const auto& p : plan.next) {
        const auto a = to_q(t.name(p.a)), b = to_q(t.name(p.b));
        if (skipped_.contains({a, b})) continue;
        a_ = a;
        b_ = b;
        const auto label = [&](int point, const QString& name) {
            const auto& f = t.view->board.points[static_cast<std::size_t>(point)].function;
            return f.empty() ? name : tr("%1 (%2)").arg(name, to_q(f));
        };
        why_->setText(tr("%1 against %2: %3.").arg(label(p.a, a), label(p.b, b), to_q(p.why)));
        break;
    }
    const auto text = a_.isEmpty() ? tr("All is settled") : tr("%1  –  %2").arg(a_, b_);
    if (text != pair_->text() && !a_.isEmpty()) speak(tr("%1 to %2").arg(a_, b_));
    pair_->setText(text);
    if (a_.isEmpty())
        why_->setText(strategy_->currentIndex() == 0
                          ? tr("Every pair of points is joined or separated by a reading.")
                          : tr("Nothing of this kind is left. Choose what tells most."));
    progress_->setText(tr("%1 proven · about %2 probes left · every pair would be %3")
                           .arg(to_q(print_share(t.state.proven())),
                                to_q(print_count(static_cast<long long>(plan.remaining))),
                                to_q(print_count(static_cast<long long>(plan.every_pair)))));
}

void ProbeView::fill_trouble() {
    const auto& t = document_.analysis().trace;
    const bool any = t && !t->state.contradictions.empty();
    probe_slip_->setVisible(any);
    if (!any) {
        trouble_sheet_->set_title(tr("No contradiction"));
        if (!t || document_.dossier().readings->empty()) {
            trouble_->setText(tr("A reading that contradicts earlier ones is named here at once."));
            return;
        }
        QStringList lines;
        for (const auto& b : t->buses)
            if (b.bits >= 4 && lines.size() < 8)
                lines << tr("%1 to %2: %3 bits, %4%5")
                             .arg(to_q(b.a), to_q(b.b))
                             .arg(b.bits)
                             .arg(to_q(b.order), b.crossed.empty()
                                                     ? QString()
                                                     : tr(", but %1").arg(to_q(b.crossed.front())));
        trouble_->setText(
            lines.isEmpty() ? tr("All readings agree.")
                            : tr("All readings agree. Buses so far:\n%1").arg(lines.join(QLatin1Char('\n'))));
        return;
    }
    trouble_sheet_->set_title(tr("%1 between readings")
                                  .arg(to_q(plural(static_cast<long long>(t->state.contradictions_in_all),
                                                   "contradiction", "contradictions"))));
    QStringList lines;
    for (std::size_t i = 0; i < std::min<std::size_t>(3, t->state.contradictions.size()); ++i) {
        const auto& c = t->state.contradictions[i];
        QStringList rows{QString::number(c.apart + 1)};
        for (const int r : c.chain) rows << QString::number(r + 1);
        lines << tr("%1 and %2: readings %3")
                     .arg(to_q(t->name(c.a)), to_q(t->name(c.b)), rows.join(QStringLiteral(", ")));
    }
    lines << QString();
    for (std::size_t i = 0; i < std::min<std::size_t>(3, t->suspects.size()); ++i) {
        const auto& s = t->suspects[i];
        const auto& r = (*document_.analysis().dossier.readings)[static_cast<std::size_t>(s.row)];
        lines << tr("%1 reading %2, %3 to %4: %5; explains %6 of %7")
                     .arg(i == 0 ? tr("Likeliest slip:") : tr("or"))
                     .arg(s.row + 1)
                     .arg(to_q(r.a), to_q(r.b), to_q(grayrelic::show_reading(r)))
                     .arg(s.explains)
                     .arg(s.of);
    }
    trouble_->setText(lines.join(QLatin1Char('\n')));
}

void ProbeView::answer(MeterReadingKind kind) {
    if (a_.isEmpty()) return;
    MeterReading r;
    r.a = a_.toStdString();
    r.b = b_.toStdString();
    r.kind = kind;
    r.tool = "meter";
    add(std::move(r));
}

void ProbeView::add(MeterReading r) {
    if (r.unit.empty()) r.unit = unit_->unit();
    if (r.date.empty()) r.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
    const auto what = tr("reading %1 to %2").arg(to_q(r.a), to_q(r.b));
    document_.apply(what, add_reading(document_.dossier(), std::move(r)));
}

void ProbeView::skip() {
    if (a_.isEmpty()) return;
    skipped_.append({a_, b_});
    replan();
}

std::optional<QString> ProbeView::enter(const QString& line) {
    auto r = parse_entry(line.toStdString());
    if (!r) return tr("Found %1, expected %2.").arg(to_q(r.error().found), to_q(r.error().expected));
    r->tool = "meter";
    add(std::move(*r));
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

void ProbeView::pick_point(const QString& name) {
    if (picked_.isEmpty() || picked_ == name) {
        picked_ = name;
        entry_->setText(name + QLatin1Char(' '));
    } else {
        entry_->setText(tr("%1 %2 ").arg(picked_, name));
        picked_.clear();
    }
    entry_->setFocus();
}

void ProbeView::speak(const QString& text) {
    if (!spoken_->isChecked()) return;
    const auto program = QStandardPaths::findExecutable(QStringLiteral("spd-say"));
    if (program.isEmpty()) return;
    QProcess::startDetached(program, {QStringLiteral("--cancel"), text});
}

}  // namespace grayrelic::app
