// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/timing_page.hpp"

#include <QHBoxLayout>
#include <QMenu>
#include <QScrollBar>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/dossier/edits.hpp"
#include "core/report/figures.hpp"

namespace grayrelic::app {

TimingPage::TimingPage(Document& document, QWidget* parent) : StagePage(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(16, 12, 16, 16);
    whole->setSpacing(8);
    empty_ = new Sheet(tr("No contract yet"));
    empty_->set_about(tr("Bring a capture of the original first: add it in Listen, say which signal has "
                         "which role, and choose Contract. "
                         "Then describe the ways to build the reply here."),
                      true);
    empty_->body()->addWidget(make_example_button(), 0, Qt::AlignLeft);
    empty_->body()->addStretch(1);
    whole->addWidget(empty_, 1);

    filled_ = new QWidget;
    auto* column = new QVBoxLayout(filled_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    contract_sheet_ = new Sheet(tr("Contract"));
    contract_ = new ContractView;
    contract_sheet_->body()->addWidget(contract_);
    auto* facts = new QHBoxLayout;
    facts->setSpacing(16);
    look_ = new FactRow(tr("Host looks at"), {});
    look_->value_field()->setToolTip(
        tr("next:SIGNAL:fall, next:SIGNAL:rise, or a time after the trigger like 3.1us"));
    look_->commit = [this](const QString& value, const Evidence& e) -> std::optional<QString> {
        const auto rule = parse_look(value.toStdString());
        if (!rule) return to_q("Expected " + rule.error().expected + ".");
        auto reply = document_.dossier().timing->reply;
        reply.look.value = value.toStdString();
        reply.look.evidence = e;
        document_.apply(tr("host's look"), with_reply(document_.dossier(), std::move(reply)));
        return std::nullopt;
    };
    guard_ = new FactRow(tr("Guard before it"), {});
    guard_->commit = [this](const QString& value, const Evidence& e) -> std::optional<QString> {
        const auto time = parse_time(value.toStdString());
        if (!time || *time < Time{}) return tr("Expected a time from 0 s, like 50ns.");
        auto reply = document_.dossier().timing->reply;
        reply.guard.value = *time;
        reply.guard.evidence = e;
        document_.apply(tr("guard"), with_reply(document_.dossier(), std::move(reply)));
        return std::nullopt;
    };
    facts->addWidget(look_, 6);
    facts->addWidget(guard_, 5);
    contract_sheet_->body()->addLayout(facts);
    column->addWidget(contract_sheet_);

    auto* area = card_area_ = new QScrollArea;
    area->setWidgetResizable(true);
    area->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    cards_ = new QWidget;
    card_row_ = new QHBoxLayout(cards_);
    card_row_->setContentsMargins(0, 0, 0, 0);
    card_row_->setSpacing(10);
    no_option_ = secondary_label(tr("Describe a way to build the reply: choose Add option."));
    card_row_->addWidget(no_option_);
    area->setWidget(cards_);
    fit_cards();
    column->addWidget(area);

    auto* bottom = new QHBoxLayout;
    bottom->setSpacing(10);
    margin_sheet_ = new Sheet(tr("Margin"));
    histogram_ = new HistogramView;
    histogram_->setAccessibleName(tr("Margin histogram"));
    histogram_->setMinimumHeight(120);
    margin_sheet_->body()->addWidget(histogram_, 1);
    bottom->addWidget(margin_sheet_, 1);
    worst_sheet_ = new Sheet(tr("Slowest reply"));
    worst_ = new WorstView;
    worst_sheet_->body()->addWidget(worst_, 1);
    bottom->addWidget(worst_sheet_, 1);
    column->addLayout(bottom, 1);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(filled_);
    scroll->setObjectName(QStringLiteral("timing-scroll"));
    whole->addWidget(scroll, 1);

    add_ = new QPushButton(tr("Add option"));
    auto* menu = new QMenu(add_);
    for (const char* kind : {"logic", "irq", "poll"}) {
        auto text = to_q(kind_label(kind));
        text[0] = text[0].toUpper();
        connect(menu->addAction(text), &QAction::triggered, this,
                [this, kind] { add_option(QLatin1String(kind)); });
    }
    add_->setMenu(menu);
    add_->setProperty("menu", true);
    connect(&document_, &Document::changed, this, &TimingPage::refresh);
    connect(&document_, &Document::analysed, this, &TimingPage::refresh);
    refresh();
}

void TimingPage::fit_cards() {
    // Cards that do not fit side by side scroll; the bar must not cover their figures.
    const int wanted = static_cast<int>(document_.dossier().timing->options.size()) * 266;
    card_area_->setFixedHeight(wanted > width() - 32 ? 256 : 244);
}

void TimingPage::resizeEvent(QResizeEvent* e) {
    fit_cards();
    StagePage::resizeEvent(e);
}

void TimingPage::add_option(const QString& kind) {
    BuildOption o;
    o.kind = kind.toStdString();
    o.id = free_option_id(document_.dossier(), kind_label(o.kind));
    o.name = kind_label(o.kind);
    o.name[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(o.name[0])));
    // Starting values of the usual size; every one is assumed until the person says better.
    const std::map<std::string, Time> usual = {
        {"min", Time::ns(5)},           {"typ", Time::ns(20)},        {"max", Time::ns(60)},
        {"latency-min", Time::ns(500)}, {"latency-max", Time::us(1)}, {"held", Time::us(5)},
        {"held-every", Time::ms(1)},    {"work", Time::us(1)},        {"period", Time::us(5)}};
    for (const auto& spec : parameters_of(o.kind)) {
        OptionParameter p;
        p.key = spec.key;
        p.value.value = usual.at(spec.key);
        p.value.evidence = {EvidenceKind::assumed, tr("a usual size, to be replaced").toStdString(), "", ""};
        o.parameters.push_back(p);
    }
    selected_ = o.id;
    auto next = with_option(document_.dossier(), o);
    if (document_.dossier().timing->chosen.empty()) next = with_chosen(next, o.id);
    document_.apply(tr("add %1").arg(to_q(o.name)), std::move(next));
}

OptionCard* TimingPage::card(const QString& id) const {
    for (auto* c : list_)
        if (c->id() == id.toStdString()) return c;
    return nullptr;
}

void TimingPage::refresh() {
    const auto& timing = *document_.dossier().timing;
    const bool any = !timing.reply.trigger.empty() || !timing.options.empty() || !timing.intervals.empty();
    empty_->setVisible(!any);
    auto* scroll = findChild<QScrollArea*>(QStringLiteral("timing-scroll"));
    scroll->setVisible(any);
    add_->setEnabled(document_.is_open());
    if (any) {
        const auto& a = document_.analysis();
        contract_->show_analysis(a);
        const auto* capture = document_.dossier().find_capture(timing.reply.capture);
        contract_sheet_->set_title(capture == nullptr
                                       ? tr("Contract, no capture to measure it from")
                                       : tr("Contract, measured in “%1”").arg(to_q(capture->title)));
        contract_->setToolTip(tr("Point at a line for its source"));
        look_->show_fact(to_q(timing.reply.look.value), timing.reply.look.evidence);
        guard_->show_fact(to_q(print_exact(timing.reply.guard.value)), timing.reply.guard.evidence);
        look_->setEnabled(!timing.reply.trigger.empty());
        guard_->setEnabled(!timing.reply.trigger.empty());
        bool same = static_cast<std::size_t>(list_.size()) == timing.options.size();
        for (qsizetype i = 0; same && i < list_.size(); ++i)
            same = list_[i]->id() == timing.options[static_cast<std::size_t>(i)].id &&
                   list_[i]->kind() == timing.options[static_cast<std::size_t>(i)].kind;
        if (!same) {
            for (auto* c : list_) {
                c->hide();
                c->deleteLater();
            }
            list_.clear();
            for (const auto& o : timing.options) {
                auto* c = new OptionCard(document_, o);
                connect(c, &OptionCard::selected, this, &TimingPage::select_option);
                card_row_->addWidget(c, 1);
                list_.append(c);
            }
        }
        if (timing.find_option(selected_) == nullptr)
            selected_ =
                timing.chosen.empty() && !timing.options.empty() ? timing.options.front().id : timing.chosen;
        no_option_->setVisible(list_.isEmpty());
        fit_cards();
        for (std::size_t i = 0; i < timing.options.size(); ++i) {
            const auto& o = timing.options[i];
            list_[static_cast<qsizetype>(i)]->show_option(o, a.find_option(o.id), o.id == timing.chosen,
                                                          o.id == selected_);
        }
        refresh_option();
    }
    Q_EMIT header_changed();
}

void TimingPage::select_option(const QString& id) {
    selected_ = id.toStdString();
    refresh();
}

void TimingPage::refresh_option() {
    const auto& a = document_.analysis();
    const auto* o = a.find_option(selected_);
    worst_->show_option(a, o);
    if (o == nullptr || !o->summary || !a.tasks) {
        histogram_->clear(o == nullptr ? tr("Choose an option above.") : to_q(o->problem));
        margin_sheet_->set_title(tr("Margin"));
        margin_sheet_->set_about({});
        return;
    }
    const auto& s = *o->summary;
    std::vector<double> after_look;
    after_look.reserve(s.outcomes.size());
    for (std::size_t i = 0; i < s.outcomes.size(); ++i)
        if (s.outcomes[i].reply)
            after_look.push_back((*s.outcomes[i].reply - (*a.tasks)[i].deadline).seconds());
    margin_sheet_->set_title(tr("Margin of %1").arg(to_q(o->option.name)));
    margin_sheet_->set_about(tr("%1 replies, seed %2; time from the host's look")
                                 .arg(to_q(print_count(s.replies)))
                                 .arg(document_.dossier().timing->reply.seed));
    histogram_->show_values(std::move(after_look), Driver::bridge,
                            HistogramView::Marker{0.0, tr("host looks")}, 0.0);
    worst_sheet_->set_title(o->verdict == Verdict::stop
                                ? tr("Worst reply of %1").arg(to_q(o->option.name))
                                : tr("Slowest reply of %1").arg(to_q(o->option.name)));
    const auto moment = worst_moment(a, *o);
    worst_sheet_->set_about(moment ? tr("of those that change the line; at %1, times from the trigger")
                                         .arg(to_q(print(moment->trigger, 6)))
                                   : QString());
}

QString TimingPage::sentence() const {
    return has_content() ? tr("Will the reply arrive in time?") : tr("Timing");
}

QString TimingPage::detail() const {
    const auto& a = document_.analysis();
    if (!a.tasks) return to_q(a.question_problem);
    return tr("%1 replies replayed").arg(to_q(print_count(static_cast<long long>(a.tasks->size()))));
}

QString TimingPage::rail_line() const {
    const auto& t = *document_.dossier().timing;
    const auto* o = document_.analysis().find_option(t.chosen);
    if (o == nullptr) return t.options.empty() ? tr("no option yet") : tr("no option chosen");
    switch (o->verdict) {
        case Verdict::stop:
            return tr("chosen option is late");
        case Verdict::doubt:
            return tr("chosen option just holds");
        case Verdict::holds:
            return tr("chosen option holds");
        case Verdict::unknown:
            return tr("can't be judged yet");
    }
    return {};
}

bool TimingPage::has_content() const {
    const auto& t = *document_.dossier().timing;
    return !t.reply.trigger.empty() || !t.options.empty();
}

QList<QWidget*> TimingPage::header_widgets() {
    return {add_};
}

void TimingPage::show_place(const FindingPlace& place) {
    if (place.kind == "option") select_option(to_q(place.id));
    contract_->select(place.kind == "interval" ? to_q(place.id)
                      : place.kind == "look"   ? QStringLiteral("look")
                                               : QString());
    if (place.kind == "look") look_->value_field()->setFocus();
}

}  // namespace grayrelic::app
