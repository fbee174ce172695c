// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/question_bar.hpp"

#include <QHBoxLayout>
#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "core/base/quantity.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/derive_contract.hpp"

namespace grayrelic::app {
namespace {

constexpr int most_edges = 200;

QComboBox* edge_box(const QString& name, const QString& hint) {
    auto* box = new QComboBox;
    box->setAccessibleName(name);
    box->setToolTip(hint);
    box->setMinimumWidth(110);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    return box;
}

/// The usual place where nothing is said: the opposite edge of what asks.
std::string usual_look(const std::string& trigger) {
    const auto edge = parse_edge(trigger);
    if (!edge) return "1ms";
    if (edge->direction == Direction::any) return print_edge(*edge);
    return "next:" + print_edge({edge->signal, opposite(edge->direction)});
}

}  // namespace

QuestionBar::QuestionBar(Document& document, QWidget* parent)
    : Sheet(tr("The question"), parent), document_(document) {
    auto* line = new QHBoxLayout;
    line->setSpacing(8);
    capture_ = edge_box(tr("Capture that the question is asked of"),
                        tr("Every trigger of this recording is judged"));
    trigger_ = edge_box(tr("What asks"),
                        tr("The edge of the host, or the end of its message, that asks for the reply"));
    answer_ = edge_box(tr("What answers"), tr("The line that has to answer"));
    capture_->setMinimumWidth(150);
    line->addWidget(new QLabel(tr("In")));
    line->addWidget(capture_, 2);
    line->addWidget(new QLabel(tr("after")));
    line->addWidget(trigger_, 1);
    line->addWidget(new QLabel(tr("answers")));
    line->addWidget(answer_, 1);
    body()->addLayout(line);
    for (auto* box : {capture_, trigger_, answer_})
        connect(box, &QComboBox::activated, this, &QuestionBar::ask);
    make_facts();
}

void QuestionBar::make_facts() {
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
    body()->addLayout(facts);
}

void QuestionBar::refresh() {
    const auto& reply = document_.dossier().timing->reply;
    {
        const QSignalBlocker block(capture_);
        capture_->clear();
        for (const auto& c : *document_.dossier().captures) capture_->addItem(to_q(c.title), to_q(c.id));
        if (const int at = capture_->findData(to_q(reply.capture)); at >= 0) capture_->setCurrentIndex(at);
    }
    fill_edges();
    look_->show_fact(to_q(reply.look.value), reply.look.evidence);
    guard_->show_fact(to_q(print_exact(reply.guard.value)), reply.guard.evidence);
    for (auto* row : {look_, guard_}) row->setEnabled(!reply.trigger.empty());
    say_unsure();
    const bool some = capture_->count() > 0;
    for (auto* box : {capture_, trigger_, answer_}) box->setEnabled(some);
}

/// What the lines themselves leave open of the question, with the recording that would tell.
void QuestionBar::say_unsure() {
    const auto* c = document_.analysis().find_capture(document_.dossier().timing->reply.capture);
    if (c == nullptr || !c->decoding || !c->named) return set_about({});
    if (derived_from_ != c->decoding) {
        derived_from_ = c->decoding;
        derived_ = {};
        set_about({});
        deriving_.ask(
            [id = c->ref.id, capture = c->named, roles = c->ref.decode.roles, decoding = c->decoding,
             period = c->sample_period](Progress& progress) {
                const auto made = derive_contract({id, *capture, roles, *decoding, period}, progress);
                return made ? *made : DerivedContract{};
            },
            [this](const DerivedContract& made) {
                derived_ = made;
                say_unsure();
            });
        return;
    }
    QStringList said;
    const auto& reply = document_.dossier().timing->reply;
    for (const auto& u : derived_.unsure) {
        // What a person has said since is settled.
        if (u.what == "trigger" && reply.trigger != derived_.question.trigger) continue;
        if (u.what == "look" && reply.look.evidence.kind != EvidenceKind::assumed) continue;
        QStringList values;
        for (const auto& v : u.values) values << to_q(v);
        if (u.what == "reading")
            said.prepend(to_q(u.would_tell) + QLatin1Char('.'));
        else if (!values.isEmpty())
            said << tr("Not settled: the %1, %2. What would tell: %3.")
                        .arg(to_q(u.what), values.join(tr(" or ")), to_q(u.would_tell));
    }
    set_about(said.join(QLatin1Char(' ')));
}

void QuestionBar::fill_edges() {
    const auto& reply = document_.dossier().timing->reply;
    const auto* c = document_.analysis().find_capture(capture_->currentData().toString().toStdString());
    const auto fill = [&](QComboBox* box, const std::string& wanted, bool events) {
        const QSignalBlocker block(box);
        box->clear();
        if (wanted.empty()) box->addItem(tr("choose …"), QString());
        if (events && c != nullptr && c->decoding && !c->decoding->frames.empty() &&
            (c->decoding->kind == "async-serial" || c->decoding->kind == "pulse-width"))
            box->addItem(tr("the poll's end"), QStringLiteral("poll:end"));
        if (c != nullptr && c->capture)
            for (const auto& s : c->capture->signals) {
                if (!s.digital || box->count() > most_edges) continue;
                const auto* pin = document_.dossier().pin_of(c->ref, s.name);
                const auto name = pin != nullptr ? document_.dossier().name_of(c->ref, s.name)
                                                 : unique_ending(*c->capture, s.name);
                for (const auto d : {Direction::rise, Direction::fall, Direction::any})
                    box->addItem(d == Direction::any ? to_q(name + " ↑↓") : to_q(show_edge({name, d})),
                                 to_q(print_edge({name, d})));
            }
        if (wanted.empty()) return;
        int at = box->findData(to_q(wanted));
        if (at < 0) {
            const auto event = parse_event(wanted);
            box->insertItem(0, event ? to_q(show_event(*event)) : to_q(wanted), to_q(wanted));
            at = 0;
        }
        box->setCurrentIndex(at);
    };
    fill(trigger_, reply.trigger, true);
    const auto answers = c == nullptr ? std::string() : answer_of(reply, c);
    fill(answer_, !reply.answer.empty() || answers.empty() ? reply.answer : short_name(answers) + ":any",
         false);
}

void QuestionBar::ask() {
    auto reply = document_.dossier().timing->reply;
    reply.capture = capture_->currentData().toString().toStdString();
    reply.trigger = trigger_->currentData().toString().toStdString();
    reply.answer = answer_->currentData().toString().toStdString();
    if (reply == document_.dossier().timing->reply) return;
    if (reply.trigger.empty()) return fill_edges();  // the other capture's edges
    if (reply.look.value.empty()) {
        reply.look.value = usual_look(reply.trigger);
        reply.look.evidence = {EvidenceKind::assumed,
                               "the usual place; a capture can't show when the host looks", "", ""};
    }
    auto timing = *document_.dossier().timing;
    timing.reply = reply;
    // The original's reply to it always has figures.
    const bool there = std::any_of(timing.intervals.begin(), timing.intervals.end(), [&](const auto& i) {
        return i.from == reply.trigger && i.to == reply.answer;
    });
    if (!there && !reply.answer.empty()) {
        auto interval = reply_interval(reply.capture, reply.trigger, reply.answer);
        interval.id = free_id<ContractInterval>(document_.dossier(), interval.id);
        timing.intervals.insert(timing.intervals.begin(), std::move(interval));
    }
    document_.apply(tr("question"), put(document_.dossier(), std::move(timing)));
}

}  // namespace grayrelic::app
