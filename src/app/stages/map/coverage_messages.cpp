// SPDX-License-Identifier: GPL-3.0-or-later
// Messages that are no key: the lower half of Coverage.
#include <QApplication>

#include "app/paint/marks.hpp"
#include "app/stages/map/coverage_view.hpp"
#include "core/base/decimal.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/input/map_analysis.hpp"

namespace grayrelic::app {
namespace {

/// "250 ms measured": a value, and how it is known where that is said; else as it was, and assumed at first.
std::string value_with_kind(const std::string& typed, Evidence& evidence) {
    const auto blank = typed.rfind(' ');
    const auto kind =
        blank == std::string::npos ? std::nullopt : named<EvidenceKind>(typed.substr(blank + 1));
    if (kind) evidence.kind = *kind;
    return kind ? typed.substr(0, blank) : typed;
}

QString with_kind(const QString& value, const Evidence& evidence) {
    return evidence.kind == EvidenceKind::assumed ? QObject::tr("%1 assumed").arg(value) : value;
}

enum MessageColumn {
    message_name,
    message_code,
    message_kind,
    message_act,
    message_every,
    message_lost,
    message_misses,
    message_says
};

}  // namespace

QWidget* CoverageView::make_messages() {
    messages_sheet_ = new Sheet(tr("Messages that are no key"));
    remove_ = new QPushButton(tr("Remove"));
    remove_->setProperty("compact", true);
    remove_->setToolTip(tr("Takes the chosen message away; undo brings it back"));
    connect(remove_, &QPushButton::clicked, this, [this] {
        if (messages_->chosen() >= 0)
            document_.apply(tr("remove a message"),
                            drop<MapMessage>(document_.dossier(),
                                             messages_->key(messages_->chosen()).toString().toStdString()));
    });
    messages_sheet_->add_to_title(remove_);
    messages_ = new FactTable;
    messages_->set_columns({{tr("Message"), 100, false, true},
                            {tr("Code"), 70, false, true},
                            {tr("Kind"), 76, false, true},
                            {tr("On it the bridge"), 96, false, true},
                            {tr("Every"), 64, true, true},
                            {tr("Lost"), 50, true, true},
                            {tr("Dead after"), 66, true, true},
                            {tr("So"), 240}},
                           tr("Messages"));
    messages_->setToolTip(
        tr("Typed in place. Kind: heartbeat, error, version, other. The bridge: ignore, watch, release-all, "
           "ask-again, tell"));
    connect(messages_, &FactTable::edited, this, &CoverageView::edit_message);
    messages_sheet_->body()->addWidget(messages_, 1);
    new_message_ = new Field;
    new_message_->setPlaceholderText(tr("A message more: alive 0xFA heartbeat"));
    new_message_->setAccessibleName(tr("A message as one line"));
    new_message_->commit = [this](const QString& text) { return add_message(text); };
    messages_sheet_->body()->addWidget(new_message_);
    return messages_sheet_;
}

void CoverageView::fill_messages() {
    std::vector<TableRow> rows;
    const auto& a = document_.analysis().map;
    const auto& list = document_.dossier().map->messages;
    for (std::size_t i = 0; i < list.size(); ++i) {
        const auto& m = list[i];
        const auto* s = a && i < a->messages.size() && a->messages[i].id == m.id ? &a->messages[i] : nullptr;
        TableCell name(to_q(m.name));
        name.key = to_q(m.id);
        name.icon = verdict_icon(s != nullptr ? s->verdict : Verdict::unknown);
        rows.push_back(
            {name, to_q(m.code), to_q(word(m.kind)), m.act ? to_q(word(*m.act)) : tr("?"),
             m.every.value > Time{} ? with_kind(to_q(print(m.every.value)), m.every.evidence) : QString(),
             m.lost.value > 0 || m.lost.evidence.kind == EvidenceKind::measured
                 ? with_kind(to_q(print_share(m.lost.value)), m.lost.evidence)
                 : QString(),
             QString::number(m.misses),
             s != nullptr ? to_q(s->says + (s->todo.empty() ? "" : " " + s->todo)) : QString()});
    }
    const bool none = rows.empty();
    messages_->set_rows(std::move(rows));
    remove_->setEnabled(!none);
    messages_sheet_->set_about(!problem_.isEmpty() ? problem_
                               : none ? tr("Heartbeats, errors, version strings: what the bridge does on "
                                           "each stands here, and how soon a dead device is noticed.")
                                      : tr("A watched message tells that the device lives: misses fall apart "
                                           "from each other as far as nobody measured otherwise."));
}

std::optional<QString> CoverageView::add_message(const QString& text) {
    const auto parts = text.simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    if (parts.isEmpty()) return std::nullopt;
    MapMessage m;
    m.name = parts[0].toStdString();
    for (int i = 1; i < parts.size(); ++i) {
        const auto word = parts[i].toStdString();
        if (const auto kind = named<MessageKind>(word))
            m.kind = *kind;
        else if (const auto act = named<MessageAct>(word))
            m.act = *act;
        else
            m.code += (m.code.empty() ? "" : " ") + word;
    }
    m.id = free_id<MapMessage>(document_.dossier(), m.name);
    new_message_->clear();
    document_.apply(tr("add a message"), put(document_.dossier(), std::move(m)));
    return std::nullopt;
}

void CoverageView::edit_message(int row, int column, const QString& text) {
    const auto id = messages_->key(row).toString().toStdString();
    const auto* held = document_.dossier().map->find_message(id);
    if (held == nullptr) return;
    auto m = *held;
    const auto typed = text.trimmed().toStdString();
    QString wrong;
    switch (column) {
        case message_name: m.name = typed.empty() ? m.name : typed; break;
        case message_code: m.code = typed; break;
        case message_kind:
            if (const auto kind = named<MessageKind>(typed))
                m.kind = *kind;
            else
                wrong = tr("Found %1, expected %2.").arg(text, to_q(one_of<MessageKind>()));
            break;
        case message_act:
            if (const auto act = named<MessageAct>(typed))
                m.act = *act;
            else
                wrong = tr("Found %1, expected %2.").arg(text, to_q(one_of<MessageAct>()));
            break;
        case message_every:
            if (const auto t = parse_time(value_with_kind(typed, m.every.evidence)); t && *t > Time{}) {
                m.every.value = *t;
            } else {
                wrong = tr("Found %1, expected a time such as 250 ms.").arg(text);
            }
            break;
        case message_lost: {
            const auto figure = value_with_kind(typed, m.lost.evidence);
            const bool share = figure.ends_with('%');
            const auto v = decimal_number(
                trim(std::string_view(figure).substr(0, figure.size() - (share ? 1 : 0))), '.');
            if (v && *v >= 0 && *v / (share ? 100 : 1) <= 1) {
                m.lost.value = *v / (share ? 100 : 1);
            } else {
                wrong = tr("Found %1, expected a share such as 0.1 %.").arg(text);
            }
            break;
        }
        case message_misses: {
            bool good = false;
            const int n = text.trimmed().toInt(&good);
            if (good && n >= 1 && n <= 1000)
                m.misses = n;
            else
                wrong = tr("Found %1, expected how many may be missing, 1 to 1000.").arg(text);
            break;
        }
        default: break;
    }
    problem_ = wrong;
    if (!wrong.isEmpty()) QApplication::beep();
    if (!wrong.isEmpty() || m == *held) return fill_messages();
    document_.apply(tr("message"), put(document_.dossier(), std::move(m)));
}

}  // namespace grayrelic::app
