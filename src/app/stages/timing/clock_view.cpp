// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/clock_view.hpp"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QSignalBlocker>

#include <charconv>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/item_edits.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

ClockView::ClockView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    study_sheet_ = new Sheet(tr("A measured rate"));
    make_chooser();
    make_facts();
    make_fields();
    whole->addWidget(study_sheet_);
    whole->addWidget(make_candidates(), 5);
    auto* bottom = new QHBoxLayout;
    bottom->addWidget(make_serial(), 3);
    bottom->addWidget(make_loop(), 2);
    whole->addLayout(bottom, 4);
    compute_loop();
}

void ClockView::make_chooser() {
    studies_ = new ItemChooser({tr("Rate"), tr("Add rate")});
    studies_->on_add([this] { add_clock(); });
    renames_items<ClockStudy>(*studies_, document_);
    removes_items<ClockStudy>(*studies_, document_);
    connect(studies_, &ItemChooser::chosen_changed, this, &ClockView::select);
    study_sheet_->add_to_title(studies_);
}

void ClockView::make_facts() {
    auto* facts = new QVBoxLayout;
    facts->setSpacing(2);
    rate_ = new FactRow(tr("Rate"), {});
    rate_->commit = [this](const QString& value, const Evidence& e) -> std::optional<QString> {
        const auto* s = study();
        if (s == nullptr) return std::nullopt;
        auto hz = parse_number(value.toStdString(), Unit::hertz);
        if (!hz) hz = parse_number(value.toStdString(), Unit::baud);
        if (!hz || !(*hz > 0 && *hz <= 1e10)) return tr("Expected a rate above 0, like 13.39 kHz.");
        auto changed = *s;
        changed.rate.value = Hertz(*hz);
        changed.rate.evidence = e;
        apply(std::move(changed));
        return std::nullopt;
    };
    clock_ = new FactRow(tr("Modern clock"), {});
    clock_->commit = [this](const QString& value, const Evidence& e) -> std::optional<QString> {
        const auto* s = study();
        if (s == nullptr) return std::nullopt;
        const auto hz =
            value.trimmed().isEmpty() ? Result<double>(0.0) : parse_number(value.toStdString(), Unit::hertz);
        if (!hz || !(*hz >= 0 && *hz <= 1e12)) return tr("Expected a frequency, like 125 MHz, or nothing.");
        auto changed = *s;
        changed.clock.value = Hertz(*hz);
        changed.clock.evidence = e;
        apply(std::move(changed));
        return std::nullopt;
    };
    facts->addWidget(rate_);
    facts->addWidget(clock_);
    study_sheet_->body()->addLayout(facts);
}

void ClockView::make_fields() {
    auto* row = new QGridLayout;
    row->setHorizontalSpacing(8);
    row->setVerticalSpacing(2);
    int cell = 0;
    const auto place = [&](const QString& label, QWidget* w) {
        auto* l = new QLabel(label);
        l->setFont(text_font(12));
        l->setBuddy(w);
        w->setProperty("compact", true);
        w->setAccessibleName(label);
        row->addWidget(l, cell / 3, cell % 3 * 2);
        row->addWidget(w, cell / 3, cell % 3 * 2 + 1, Qt::AlignLeft);
        ++cell;
    };
    const auto field = [&](const char* key, const QString& label, const QString& tip, int width) {
        auto* f = new Field;
        f->setFont(figure_font(12));
        f->setFixedWidth(width);
        f->setToolTip(tip);
        f->commit = [this, k = QString::fromLatin1(key)](const QString& text) { return change(k, text); };
        place(label, f);
        fields_[QString::fromLatin1(key)] = f;
    };
    field(
        "within", tr("Within ppm"),
        tr("How far a chain's rate may be from the measured one; empty: 5000, or the rate's own uncertainty"),
        60);
    divider_ = new QComboBox;
    for (const auto& [text, kind] : {std::pair{tr("whole numbers"), DividerKind::integer},
                                     {tr("64ths"), DividerKind::fraction64},
                                     {tr("256ths"), DividerKind::fraction256}})
        divider_->addItem(text, to_q(word(kind)));
    connect(divider_, &QComboBox::activated, this,
            [this] { (void)change(QStringLiteral("divider"), divider_->currentData().toString()); });
    place(tr("Divider"), divider_);
    field("oversample", tr("Oversampling"), tr("Samples a bit takes; 1 to 256"), 44);
    field("bits", tr("Bits"), tr("Of a character, with start and stop"), 40);
    field("jitter", tr("Jitter"), tr("Of the edges, peak"), 64);
    row->setColumnStretch(6, 1);
    study_sheet_->body()->addLayout(row);
}

QWidget* ClockView::make_candidates() {
    candidates_sheet_ = new Sheet(tr("What explains it"));
    believe_ = new QPushButton(tr("Decide for this one"));
    believe_->setProperty("compact", true);
    believe_->setToolTip(tr("Notes the selected chain as the one you decided for"));
    connect(believe_, &QPushButton::clicked, this, &ClockView::decide);
    candidates_sheet_->add_to_title(believe_);
    candidates_ = new FactTable;
    candidates_->set_columns({{tr("Source"), 190},
                              {tr("Chain"), 100},
                              {tr("Divides by"), 76, true},
                              {tr("Gives"), 104, true},
                              {tr("Off by"), 96, true},
                              {tr("Score"), 56, true}},
                             tr("Chains that explain the rate"));
    candidates_sheet_->body()->addWidget(candidates_, 1);
    advice_ = secondary_label({});
    advice_->setWordWrap(true);
    candidates_sheet_->body()->addWidget(advice_);
    return candidates_sheet_;
}

QWidget* ClockView::make_serial() {
    serial_sheet_ = new Sheet(tr("Where each bit is sampled"));
    serial_text_ = new QLabel;
    serial_text_->setWordWrap(true);
    serial_text_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    serial_sheet_->body()->addWidget(serial_text_);
    bars_ = new MarginBars;
    serial_sheet_->body()->addWidget(bars_, 1);
    return serial_sheet_;
}

QWidget* ClockView::make_loop() {
    auto* loop = new Sheet(tr("Software loop"));
    auto* grid = new QGridLayout;
    loop_clock_ = new Field;
    loop_cycles_ = new Field;
    loop_rate_ = new Field;
    int line = 0;
    for (const auto& [label, f, tip] :
         {std::tuple{tr("Clock"), loop_clock_, tr("Of the processor")},
          {tr("Cycles"), loop_cycles_, tr("Of the instructions in a round, with commas: 7,10,12")},
          {tr("Measured rate"), loop_rate_, tr("Of the output, to find the cycles from it")}}) {
        auto* l = new QLabel(label);
        l->setFont(text_font(12));
        f->setProperty("compact", true);
        f->setFont(figure_font(12));
        f->setAccessibleName(label);
        f->setToolTip(tip);
        f->commit = [this](const QString&) -> std::optional<QString> {
            compute_loop();
            return std::nullopt;
        };
        grid->addWidget(l, line, 0);
        grid->addWidget(f, line++, 1);
    }
    loop_clock_->show_value(QStringLiteral("1 MHz"));
    loop->body()->addLayout(grid);
    loop_text_ = secondary_label({});
    loop_text_->setWordWrap(true);
    loop->body()->addWidget(loop_text_);
    loop->body()->addStretch(1);
    return loop;
}

void ClockView::decide() {
    const auto* s = study();
    const auto* c = document_.analysis().timing->find_clock(selected_);
    const int r = candidates_->chosen();
    if (s == nullptr || c == nullptr || !c->explanation || r < 0 ||
        r >= static_cast<int>(c->explanation->candidates.size()))
        return;
    const auto& k = c->explanation->candidates[static_cast<std::size_t>(r)];
    auto changed = *s;
    changed.believed = k.source + " " + k.chain;
    apply(std::move(changed));
}

const ClockStudy* ClockView::study() const {
    return document_.dossier().timing->find_clock(selected_);
}

void ClockView::apply(ClockStudy changed) {
    const auto name = to_q(changed.name);
    document_.apply(tr("rate %1").arg(name), put(document_.dossier(), std::move(changed)));
}

void ClockView::add_clock() {
    ClockStudy s;
    s.id = free_id<ClockStudy>(document_.dossier(), "rate");
    s.name = tr("Rate %1").arg(document_.dossier().timing->clocks.size() + 1).toStdString();
    // A decoded serial line has said its rate already.
    s.rate.value = Hertz(9600);
    s.rate.evidence = {EvidenceKind::assumed, tr("a usual rate, to be replaced").toStdString(), "", ""};
    for (const auto& c : document_.analysis().listen->captures)
        for (const auto& d : {c->characters, c->decoding}) {
            if (!d || d->kind != "async-serial") continue;
            const auto baud = d->settings.find("baud");
            if (baud == d->settings.end()) continue;
            if (const auto* number = std::get_if<double>(&baud->second))
                s.rate.value = Hertz(*number);
            else if (const auto* whole = std::get_if<long long>(&baud->second))
                s.rate.value = Hertz(static_cast<double>(*whole));
            s.rate.evidence = {EvidenceKind::measured, "decoded from " + c->ref.title, "", ""};
        }
    selected_ = s.id;
    apply(std::move(s));
}

std::optional<QString> ClockView::change(const QString& key, const QString& text) {
    const auto* found = study();
    if (found == nullptr) return std::nullopt;
    auto s = *found;
    const auto value = text.trimmed().toStdString();
    const auto whole = [&](int low, int high, int& out) {
        bool ok = false;
        const int v = text.trimmed().toInt(&ok);
        if (!ok || v < low || v > high) return false;
        out = v;
        return true;
    };
    if (key == QStringLiteral("within")) {
        const auto ppm = value.empty() ? Result<double>(0.0) : parse_number(value, Unit::none);
        if (!ppm || *ppm < 0 || *ppm > 50'000) return tr("Expected 0 to 50000 ppm.");
        s.within_ppm = *ppm;
    } else if (key == QStringLiteral("oversample")) {
        if (!whole(1, 256, s.oversample)) return tr("Expected 1 to 256.");
    } else if (key == QStringLiteral("bits")) {
        if (!whole(3, 16, s.bits)) return tr("Expected 3 to 16 bits, with start and stop.");
    } else if (key == QStringLiteral("jitter")) {
        const auto t = value.empty() ? Result<Time>(Time{}) : parse_time(value);
        if (!t || *t < Time{}) return tr("Expected a time from 0 s.");
        s.jitter = *t;
    } else {
        const auto kind = key == QStringLiteral("divider") ? named<DividerKind>(value) : std::nullopt;
        if (!kind) return tr("Expected %1.").arg(to_q(one_of<DividerKind>()));
        s.divider = *kind;
    }
    if (s != *found) apply(std::move(s));
    return std::nullopt;
}

void ClockView::select(const QString& id) {
    selected_ = id.toStdString();
    refresh();
}

void ClockView::compute_loop() {
    const auto clock = parse_number(loop_clock_->text().toStdString(), Unit::hertz);
    if (!clock) {
        loop_text_->setText(tr("Expected a clock, like 1.27 MHz."));
        return;
    }
    QStringList lines;
    std::vector<long long> cycles;
    bool good = true;
    for (const auto& part : loop_cycles_->text().split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        bool ok = false;
        cycles.push_back(part.trimmed().toLongLong(&ok));
        good = good && ok;
    }
    if (!good)
        lines << tr("Expected whole numbers of cycles with commas.");
    else if (!cycles.empty()) {
        const auto r = loop_rate(*clock, cycles, 1);
        lines << (r ? tr("%1 cycles: %2 a round, the output toggles at %3")
                          .arg(r->cycles)
                          .arg(to_q(print_number(r->loop_s, Unit::second, 5)),
                               to_q(print_number(r->toggle_hz, Unit::hertz, 5)))
                    : tr("Expected %1.").arg(to_q(r.error().expected)));
    }
    if (!loop_rate_->text().trimmed().isEmpty()) {
        const auto rate = parse_number(loop_rate_->text().toStdString(), Unit::hertz);
        const auto c = rate ? loop_cycles(*clock, *rate, 1)
                            : Result<LoopCycles>(fail_usage("", "a rate, like 15.7 kHz"));
        lines << (c ? tr("%1 cycles a round: %2 would be %3 ppm off, %4 %5 ppm")
                          .arg(c->cycles, 0, 'f', 3)
                          .arg(c->below)
                          .arg(c->error_below_ppm, 0, 'f', 0)
                          .arg(c->above)
                          .arg(c->error_above_ppm, 0, 'f', 0)
                    : tr("Expected %1.").arg(to_q(c.error().expected)));
    }
    loop_text_->setText(lines.isEmpty()
                            ? tr("From cycles to the rate, or from a measured rate to the cycles.")
                            : lines.join(QLatin1Char('\n')));
}

void ClockView::refresh() {
    const auto& all = document_.dossier().timing->clocks;
    if (study() == nullptr) selected_ = all.empty() ? std::string() : all.front().id;
    studies_->show_items(items_of<ClockStudy>(document_.dossier()), to_q(selected_));
    const auto* s = study();
    for (QWidget* w : std::initializer_list<QWidget*>{believe_, rate_, clock_, divider_})
        w->setEnabled(s != nullptr);
    for (auto* f : fields_) f->setEnabled(s != nullptr);
    if (s == nullptr) {
        candidates_->set_rows({});
        study_sheet_->set_about(tr("Add a rate that you measured; a decoded serial line's is taken over."));
        candidates_sheet_->set_about({});
        advice_->clear();
        serial_text_->clear();
        bars_->show_margins({}, Verdict::unknown);
        return;
    }
    study_sheet_->set_about(s->believed.empty() ? QString() : tr("decided: %1").arg(to_q(s->believed)));
    rate_->show_fact(to_q(print_exact(s->rate.value.value(), Unit::hertz)), s->rate.evidence);
    clock_->show_fact(
        s->clock.value.value() > 0 ? to_q(print_exact(s->clock.value.value(), Unit::hertz)) : QString(),
        s->clock.evidence);
    fields_[QStringLiteral("within")]->show_value(s->within_ppm > 0 ? QString::number(s->within_ppm)
                                                                    : QString());
    fields_[QStringLiteral("oversample")]->show_value(QString::number(s->oversample));
    fields_[QStringLiteral("bits")]->show_value(QString::number(s->bits));
    fields_[QStringLiteral("jitter")]->show_value(to_q(print_exact(s->jitter)));
    {
        const QSignalBlocker block(divider_);
        divider_->setCurrentIndex(divider_->findData(to_q(word(s->divider))));
    }
    const auto* c = document_.analysis().timing->find_clock(selected_);
    if (c == nullptr) {
        candidates_->set_rows({});
        advice_->setText(tr("Chains that could make this rate are being looked for …"));
        return;
    }
    if (c->explanation) {
        const auto& e = *c->explanation;
        candidates_sheet_->set_about(e.candidates.empty()
                                         ? tr("nothing within %1 ppm").arg(c->within_ppm, 0, 'g', 5)
                                         : tr("%1 within %2 ppm; the first %3 can't be told apart")
                                               .arg(e.candidates.size())
                                               .arg(c->within_ppm, 0, 'g', 5)
                                               .arg(std::max<std::size_t>(1, e.alike)));
        fill_candidates(e);
        advice_->setText(to_q(e.advice));
    } else {
        candidates_->set_rows({});
        candidates_sheet_->set_about(to_q(c->problem));
        advice_->clear();
    }
    if (c->serial) {
        serial_text_->setText(tr("%1 ÷ (%2 × %3) = %4, %5 ppm off; up to ± %6 ppm would do.")
                                  .arg(to_q(print(s->clock.value, 4)))
                                  .arg(s->oversample)
                                  .arg(c->serial->divisor, 0, 'g', 8)
                                  .arg(to_q(print_number(c->serial->achieved_hz, Unit::hertz, 6)))
                                  .arg(c->serial->error_ppm, 0, 'f', 1)
                                  .arg(c->bearable_ppm, 0, 'f', 0));
        bars_->show_margins(c->serial->margin_bit, c->serial->verdict);
    } else {
        serial_text_->setText(to_q(c->serial_problem));
        bars_->show_margins({}, Verdict::unknown);
    }
}

}  // namespace grayrelic::app
