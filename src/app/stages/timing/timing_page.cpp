// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/timing_page.hpp"

#include <QHBoxLayout>
#include <QMenu>

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
                         Rests::listen_analysis | Rests::timing_analysis | Rests::wire_analysis;
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
    empty_->set_about(
        tr("Bring a capture of the original first: drop it on the window, let it be read, and "
           "choose Contract there. The ways to build the reply stand here then, held against it."),
        true);
    empty_->body()->addWidget(make_example_button(), 0, Qt::AlignLeft);
    empty_->body()->addStretch(1);
    whole->addWidget(empty_, 1);
    filled_ = new QWidget;
    auto* column = new QVBoxLayout(filled_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    question_ = new QuestionBar(document_);
    column->addWidget(question_);
    column->addWidget(make_options_sheet());
    auto* bottom = new QHBoxLayout;
    bottom->setSpacing(8);
    cards_ = new QStackedWidget;
    cards_->setFixedWidth(274);
    bottom->addWidget(cards_);
    study_ = new OptionStudy(document_);
    bottom->addWidget(study_, 1);
    column->addLayout(bottom, 1);
    whole->addWidget(filled_, 1);
    return view;
}

QWidget* TimingPage::make_options_sheet() {
    options_sheet_ = new Sheet(tr("Every option against the host's look"));
    remove_ = new QPushButton(tr("Remove"));
    remove_->setProperty("compact", true);
    remove_->setToolTip(tr("Removes the option that is picked; Ctrl+Z brings it back"));
    connect(remove_, &QPushButton::clicked, this, &TimingPage::remove_option);
    options_sheet_->add_to_title(remove_);
    axis_ = new OptionAxis;
    connect(axis_, &OptionAxis::selected, this, &TimingPage::select_option);
    options_sheet_->body()->addWidget(axis_);
    return options_sheet_;
}

void TimingPage::remove_option() {
    const auto* o = document_.dossier().timing->find_option(selected_);
    if (o != nullptr)
        document_.apply(tr("remove %1").arg(to_q(o->name)),
                        drop<BuildOption>(document_.dossier(), selected_));
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

OptionCard* TimingPage::card(const QString& id) {
    for (auto* c : list_)
        if (c->id() == id.toStdString()) {
            if (selected_ != c->id()) select_option(id);
            return c;
        }
    return nullptr;
}

void TimingPage::refresh_page() {
    add_->setEnabled(document_.is_open());
}

void TimingPage::refresh_reply() {
    const auto& timing = *document_.dossier().timing;
    const bool any = !timing.reply.trigger.empty() || !timing.options.empty() || !timing.intervals.empty();
    empty_->setVisible(!any);
    filled_->setVisible(any);
    if (!any) return;
    question_->refresh();
    refresh_cards();
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
            cards_->addWidget(c);
            list_.append(c);
        }
    }
    if (timing.find_option(selected_) == nullptr)
        selected_ =
            timing.chosen.empty() && !timing.options.empty() ? timing.options.front().id : timing.chosen;
    cards_->setVisible(!list_.isEmpty());
    remove_->setEnabled(!list_.isEmpty());
    for (std::size_t i = 0; i < timing.options.size(); ++i) {
        const auto& o = timing.options[i];
        auto* c = list_[static_cast<qsizetype>(i)];
        c->show_option(o, a.find_option(o.id), o.id == timing.chosen, o.id == selected_);
        if (o.id == selected_) cards_->setCurrentWidget(c);
    }
    options_sheet_->set_about(
        timing.options.empty() ? tr("Describe a way to build the reply: choose Add option.")
        : a.timing->tasks      ? tr("%1 replies, seed %2 · pale and dashed where a figure is assumed")
                                .arg(to_q(print_count(static_cast<long long>(a.timing->tasks->size()))))
                                .arg(timing.reply.seed)
                          : to_q(a.timing->question_problem));
    axis_->show_options(a, selected_);
    study_->show_option(a.find_option(selected_));
}

void TimingPage::select_option(const QString& id) {
    selected_ = id.toStdString();
    refresh_reply();
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
    if (place.kind == "nobody-answers") {
        show_view(QStringLiteral("contract"));
        return editor_->say(tr("No reply is asked for: %1.").arg(to_q(place.id)));
    }
    if (place.kind == "interval") {
        show_view(QStringLiteral("contract"));
        return editor_->select(to_q(place.id));
    }
    show_view(QStringLiteral("reply"));
    if (place.kind == "option") select_option(to_q(place.id));
    if (place.kind == "look") look().value_field()->setFocus();
}

}  // namespace grayrelic::app
