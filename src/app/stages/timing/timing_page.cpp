// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/timing_page.hpp"

#include <QHBoxLayout>
#include <QMenu>
#include <QScrollBar>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/report/figures.hpp"
#include "core/timing/reply_option.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

TimingPage::TimingPage(const StageContext& context)
    : TabbedPage(Stage::timing, context.document, Rests::timing | Rests::captures),
      document_(context.document) {
    add_views();
    const auto to_listen = [this](const FindingPlace& place) { Q_EMIT place_wanted(Stage::listen, place); };
    connect(editor_, &ContractEditor::place_wanted, this, to_listen);
    connect(replica_, &ReplicaView::place_wanted, this, to_listen);
    add_ = new QPushButton(tr("Add option"));
    auto* menu = new QMenu(add_);
    for (const auto kind : all_of<OptionKind>()) {
        auto text = to_q(kind_label(kind));
        text[0] = text[0].toUpper();
        connect(menu->addAction(text), &QAction::triggered, this, [this, kind] { add_option(kind); });
    }
    add_->setMenu(menu);
    add_->setProperty("menu", true);
    refresh_page();
}

void TimingPage::add_views() {
    const unsigned all = Rests::timing | Rests::captures | Rests::ports | Rests::data |
                         Rests::listen_analysis | Rests::timing_analysis;
    constexpr int scrolls_under = 560;
    auto* reply = make_reply_view();
    editor_ = new ContractEditor(document_);
    logic_ = new LogicView(document_);
    clocks_ = new ClockView(document_);
    budgets_ = new BudgetView(document_);
    replica_ = new ReplicaView(document_);
    add_view({QStringLiteral("reply"), tr("Reply"), Picture::day}, reply, all, [this] { refresh_reply(); });
    add_view(
        {QStringLiteral("contract"), tr("Contract")}, editor_, all, [this] { editor_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("logic"), tr("Logic")}, logic_, all, [this] { logic_->refresh(); }, scrolls_under);
    add_view(
        {QStringLiteral("clocks"), tr("Clocks"), Picture::night, QStringLiteral("calder-chart-slate")},
        clocks_, all, [this] { clocks_->refresh(); }, scrolls_under);
    add_view(
        {QStringLiteral("budgets"), tr("Budgets")}, budgets_, all, [this] { budgets_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("replica"), tr("Replica")}, replica_, all, [this] { replica_->refresh(); },
        scrolls_under);
}

QWidget* TimingPage::make_reply_view() {
    auto* view = new QWidget;
    auto* whole = new QVBoxLayout(view);
    whole->setContentsMargins(0, 0, 0, 0);
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
    column->addWidget(make_contract_sheet());

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
    bottom->addWidget(margin_sheet_, 4);
    study_ = new OptionStudy(document_);
    bottom->addWidget(study_, 5);
    column->addLayout(bottom, 1);
    reply_scroll_ = new QScrollArea;
    reply_scroll_->setWidgetResizable(true);
    reply_scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    reply_scroll_->setWidget(filled_);
    whole->addWidget(reply_scroll_, 1);
    return view;
}

QWidget* TimingPage::make_contract_sheet() {
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
        document_.apply(tr("host's look"), put(document_.dossier(), std::move(reply)));
        return std::nullopt;
    };
    guard_ = new FactRow(tr("Guard before it"), {});
    guard_->commit = [this](const QString& value, const Evidence& e) -> std::optional<QString> {
        const auto time = parse_time(value.toStdString());
        if (!time || *time < Time{}) return tr("Expected a time from 0 s, like 50ns.");
        auto reply = document_.dossier().timing->reply;
        reply.guard.value = *time;
        reply.guard.evidence = e;
        document_.apply(tr("guard"), put(document_.dossier(), std::move(reply)));
        return std::nullopt;
    };
    facts->addWidget(look_, 6);
    facts->addWidget(guard_, 5);
    contract_sheet_->body()->addLayout(facts);
    return contract_sheet_;
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

void TimingPage::add_option(OptionKind kind) {
    const auto& timing = *document_.dossier().timing;
    auto o = usual_option(kind, free_id<BuildOption>(document_.dossier(), kind_label(kind)));
    if (kind == OptionKind::network && !timing.networks.empty()) o.network = timing.networks.front().id;
    selected_ = o.id;
    const auto what = tr("add %1").arg(to_q(o.name));
    auto next = put(document_.dossier(), std::move(o));
    if (timing.chosen.empty()) next = choose_option(next, selected_);
    document_.apply(what, std::move(next));
}

OptionCard* TimingPage::card(const QString& id) const {
    for (auto* c : list_)
        if (c->id() == id.toStdString()) return c;
    return nullptr;
}

void TimingPage::refresh_page() {
    add_->setEnabled(document_.is_open());
}

void TimingPage::refresh_reply() {
    const auto& timing = *document_.dossier().timing;
    const bool any = !timing.reply.trigger.empty() || !timing.options.empty() || !timing.intervals.empty();
    empty_->setVisible(!any);
    reply_scroll_->setVisible(any);
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
        refresh_cards();
    }
}

void TimingPage::refresh_cards() {
    const auto& timing = *document_.dossier().timing;
    const auto& a = document_.analysis();
    bool same = static_cast<std::size_t>(list_.size()) == timing.options.size();
    for (qsizetype i = 0; same && i < list_.size(); ++i)
        same = list_[i]->id() == timing.options[static_cast<std::size_t>(i)].id &&
               list_[i]->kind() == timing.options[static_cast<std::size_t>(i)].kind &&
               list_[i]->rows() == OptionCard::rows_of(timing.options[static_cast<std::size_t>(i)]);
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

void TimingPage::select_option(const QString& id) {
    selected_ = id.toStdString();
    refresh_reply();
}

void TimingPage::refresh_option() {
    const auto& a = document_.analysis();
    const auto* o = a.find_option(selected_);
    study_->show_option(o);
    if (o == nullptr || !o->summary || !a.timing->tasks) {
        const bool soon = o == nullptr && document_.dossier().timing->find_option(selected_) != nullptr;
        histogram_->clear(soon           ? tr("Computing …")
                          : o == nullptr ? tr("Choose an option above.")
                                         : to_q(o->problem));
        margin_sheet_->set_title(tr("Margin"));
        margin_sheet_->set_about({});
        return;
    }
    const auto& s = *o->summary;
    margin_sheet_->set_title(tr("Margin of %1").arg(to_q(o->option.name)));
    margin_sheet_->set_about(tr("%1 replies, seed %2; time from the host's look")
                                 .arg(to_q(print_count(s.replies)))
                                 .arg(document_.dossier().timing->reply.seed));
    histogram_->show_values(s.after_look, Driver::bridge, HistogramView::Marker{0.0, tr("host looks")}, 0.0);
}

QString TimingPage::sentence() const {
    return has_content() ? tr("Will the reply arrive in time?") : tr("Timing");
}

QString TimingPage::detail() const {
    const auto& a = document_.analysis();
    if (!a.timing->tasks) return to_q(a.timing->question_problem);
    return tr("%1 replies replayed").arg(to_q(print_count(static_cast<long long>(a.timing->tasks->size()))));
}

QString TimingPage::rail_line() const {
    const auto& t = *document_.dossier().timing;
    const auto* o = document_.analysis().find_option(t.chosen);
    if (o == nullptr)
        return t.options.empty()  ? tr("no option yet")
               : t.chosen.empty() ? tr("no option chosen")
                                  : tr("computing …");
    switch (o->verdict) {
        case Verdict::stop: return tr("chosen option is late");
        case Verdict::doubt: return tr("chosen option just holds");
        case Verdict::holds: return tr("chosen option holds");
        case Verdict::unknown: return tr("can't be judged yet");
    }
    return {};
}

bool TimingPage::has_content() const {
    return grayrelic::has_content(document_.dossier(), Stage::timing);
}

QList<QWidget*> TimingPage::header_widgets() {
    return {add_};
}

void TimingPage::show_place(const FindingPlace& place) {
    if (place.kind == "network") {
        show_view(QStringLiteral("logic"));
        return logic_->select(to_q(place.id));
    }
    if (place.kind == "clock") {
        show_view(QStringLiteral("clocks"));
        return clocks_->select(to_q(place.id));
    }
    if (place.kind == "budget") {
        show_view(QStringLiteral("budgets"));
        return budgets_->select(to_q(place.id));
    }
    if (place.kind == "golden") {
        show_view(QStringLiteral("replica"));
        return replica_->select(to_q(place.id));
    }
    if (place.kind == "interval") {
        show_view(QStringLiteral("contract"));
        return editor_->select(to_q(place.id));
    }
    show_view(QStringLiteral("reply"));
    if (place.kind == "option") select_option(to_q(place.id));
    contract_->select(place.kind == "interval" ? to_q(place.id)
                      : place.kind == "look"   ? QStringLiteral("look")
                                               : QString());
    if (place.kind == "look") look_->value_field()->setFocus();
}

}  // namespace grayrelic::app
