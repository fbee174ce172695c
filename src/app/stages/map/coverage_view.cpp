// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/coverage_view.hpp"

#include <QApplication>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "core/base/decimal.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/input/map_analysis.hpp"

namespace grayrelic::app {
namespace {

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

QPushButton* coverage_button(const QString& text, const QString& tip) {
    auto* b = new QPushButton(text);
    b->setProperty("compact", true);
    b->setToolTip(tip);
    return b;
}

QStringList words_of_list(const QString& text, QChar between) {
    QStringList out;
    for (const auto& part : text.split(between))
        if (!part.trimmed().isEmpty()) out << part.trimmed();
    return out;
}

QString joined(const std::vector<std::string>& list, const QString& between) {
    QStringList out;
    for (const auto& s : list) out << to_q(s);
    return out.join(between);
}

}  // namespace

CoverageView::CoverageView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(make_host());
    sheet_ = new Sheet(tr("What is open between the two sides"));
    take_ =
        coverage_button(tr("Take the proposal"), tr("Gives the key what is proposed; undo takes it back"));
    connect(take_, &QPushButton::clicked, this, &CoverageView::take_proposal);
    go_ = coverage_button(tr("Show the key"), tr("On the drawn device"));
    connect(go_, &QPushButton::clicked, this, [this] {
        if (gaps_->chosen() >= 0) Q_EMIT key_wanted(gaps_->key(gaps_->chosen()).toString());
    });
    sheet_->add_to_title(take_);
    sheet_->add_to_title(go_);
    gaps_ = new FactTable;
    gaps_->set_columns({{tr("What"), 330}, {tr("What to do"), 250}, {tr("Proposal"), 90}}, tr("Gaps"));
    connect(gaps_, &FactTable::row_opened, this,
            [this](int row) { Q_EMIT key_wanted(gaps_->key(row).toString()); });
    connect(gaps_, &FactTable::row_chosen, this, [this](int row) {
        take_->setEnabled(row >= 0 && !gaps_->text(row, 2).isEmpty());
        go_->setEnabled(row >= 0 && !gaps_->key(row).toString().isEmpty());
    });
    sheet_->body()->addWidget(gaps_, 1);
    column->addWidget(sheet_, 3);
    column->addWidget(make_messages(), 2);
}

QWidget* CoverageView::make_host() {
    host_ = new Sheet(tr("The modern side"));
    auto* row = new QHBoxLayout;
    row->setSpacing(12);
    const auto labelled = [&](const QString& label, QWidget* w, int stretch) {
        auto* holder = new QVBoxLayout;
        holder->setSpacing(2);
        holder->addWidget(secondary_label(label));
        holder->addWidget(w);
        row->addLayout(holder, stretch);
    };
    profiles_ = new Field;
    profiles_->setAccessibleName(tr("Profiles"));
    profiles_->setPlaceholderText(QStringLiteral("keyboard; media; pad:buttons=8,hat=1,axes=2"));
    profiles_->setToolTip(
        tr("What the bridge pretends to be: keyboard; media; pad:buttons=8,hat=1,axes=2; "
           "pointer:buttons=3,wheel=1"));
    profiles_->commit = [this](const QString& text) -> std::optional<QString> {
        std::vector<std::string> list;
        for (const auto& part : words_of_list(text, QLatin1Char(';'))) {
            const auto p = parse_profile(part.toStdString());
            if (!p) return tr("Found %1, expected %2.").arg(to_q(p.error().found), to_q(p.error().expected));
            list.push_back(print_profile(*p));
        }
        change_modern(tr("profiles"), [&](ModernSide& m) { m.profiles = list; });
        return std::nullopt;
    };
    labelled(tr("Pretends to be"), profiles_, 3);
    layout_ = new ChoiceBox(tr("The host's layout"), tr("The keyboard layout that the host is set to"));
    connect(layout_, &QComboBox::activated, this, [this](int at) {
        change_modern(tr("the host's layout"),
                      [&](ModernSide& m) { m.layout = layout_->itemData(at).toString().toStdString(); });
    });
    labelled(tr("Host's layout"), layout_, 1);
    wanted_ = new Field;
    wanted_->setAccessibleName(tr("Wanted"));
    wanted_->setPlaceholderText(tr("text, media, key:f1"));
    wanted_->setToolTip(
        tr("What something must reach: text, letters, digits, media, arrows, pad, pointer, or meanings such "
           "as key:f1"));
    wanted_->commit = [this](const QString& text) -> std::optional<QString> {
        std::vector<std::string> list;
        for (const auto& part : words_of_list(text, QLatin1Char(','))) {
            if (wanted_meanings(part.toStdString(), {}).empty())
                return tr("Found %1, expected text, letters, digits, media, arrows, pad, pointer or a "
                          "meaning.")
                    .arg(part);
            list.push_back(part.toStdString());
        }
        change_modern(tr("what is wanted"), [&](ModernSide& m) { m.wanted = list; });
        return std::nullopt;
    };
    labelled(tr("Wanted"), wanted_, 2);
    host_->body()->addLayout(row);
    poll_ = new FactRow(tr("Host's poll"), {});
    poll_->commit = [this](const QString& value, const Evidence& evidence) -> std::optional<QString> {
        const auto t = parse_time(value.toStdString());
        if (!t || *t <= Time{} || *t > Time::s(10))
            return tr("Found %1, expected a time such as 8 ms.").arg(value);
        change_modern(tr("the host's poll"), [&](ModernSide& m) {
            m.poll.value = *t;
            m.poll.evidence = evidence;
        });
        return std::nullopt;
    };
    host_->body()->addWidget(poll_);
    return host_;
}

QWidget* CoverageView::make_messages() {
    messages_sheet_ = new Sheet(tr("Messages that are no key"));
    remove_ = coverage_button(tr("Remove"), tr("Takes the chosen message away; undo brings it back"));
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

void CoverageView::change_modern(const QString& what, const std::function<void(ModernSide&)>& how) {
    auto map = *document_.dossier().map;
    how(map.modern);
    if (map == *document_.dossier().map) return;
    document_.apply(what, put(document_.dossier(), std::move(map)));
}

void CoverageView::refresh() {
    const auto& modern = document_.dossier().map->modern;
    profiles_->show_value(joined(modern.profiles, QStringLiteral("; ")));
    wanted_->show_value(joined(modern.wanted, QStringLiteral(", ")));
    poll_->show_fact(modern.poll.value > Time{} ? to_q(print_exact(modern.poll.value)) : QString(),
                     modern.poll.evidence);
    const QSignalBlocker block(layout_);
    layout_->clear();
    layout_->addItem(tr("not said"), QString());
    for (const auto& l : document_.data().layouts.layouts) layout_->addItem(to_q(l.name), to_q(l.id));
    layout_->setCurrentIndex(std::max(0, layout_->findData(to_q(modern.layout))));
    fill_gaps();
    fill_messages();
}

void CoverageView::fill_gaps() {
    const auto& a = document_.analysis().map;
    std::vector<TableRow> rows;
    if (a)
        for (const auto& g : a->coverage.gaps) {
            TableCell what(to_q(g.says));
            what.icon = verdict_icon(g.verdict == Verdict::holds ? Verdict::unknown : g.verdict);
            what.key = g.keys.empty() || g.kind == GapKind::message_open ? QString() : to_q(g.keys.front());
            rows.push_back({what, to_q(g.todo),
                            g.proposal && !g.keys.empty() ? to_q(print_meaning(*g.proposal)) : QString()});
        }
    const bool none = rows.empty();
    gaps_->set_rows(std::move(rows));
    take_->setEnabled(gaps_->chosen() >= 0 && !gaps_->text(gaps_->chosen(), 2).isEmpty());
    go_->setEnabled(gaps_->chosen() >= 0 && !gaps_->key(gaps_->chosen()).toString().isEmpty());
    if (!a) return sheet_->set_about(tr("Computing …"));
    const auto& c = a->coverage;
    auto says = tr("%1 of %2 old codes have a meaning").arg(c.codes_with_meaning).arg(c.codes);
    if (c.wanted > 0) says += tr(" · %1 of %2 wanted are reached").arg(c.reached).arg(c.wanted);
    if (none && c.codes > 0) says += tr(" · nothing is open");
    sheet_->set_about(says);
}

void CoverageView::take_proposal() {
    const int row = gaps_->chosen();
    if (row < 0) return;
    const auto id = gaps_->key(row).toString().toStdString();
    const auto meaning = gaps_->text(row, 2).toStdString();
    if (meaning.empty()) return;
    document_.apply(tr("take a proposal"),
                    edit<MapKey>(document_.dossier(), id, [&](MapKey& k) { k.meaning = meaning; }));
}

void CoverageView::select(const QString& id) {
    refresh();
    for (int row = 0; row < messages_->row_count(); ++row)
        if (messages_->key(row).toString() == id) return messages_->choose(row);
    for (int row = 0; row < gaps_->row_count(); ++row)
        if (gaps_->key(row).toString() == id || (id.isEmpty() && row == 0)) return gaps_->choose(row);
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
        rows.push_back({name, to_q(m.code), to_q(word(m.kind)), m.act ? to_q(word(*m.act)) : tr("?"),
                        m.every.value > Time{} ? to_q(print(m.every.value)) : QString(),
                        m.lost.value > 0 || m.lost.evidence.kind == EvidenceKind::measured
                            ? to_q(print_share(m.lost.value))
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
            if (const auto t = parse_time(typed); t && *t > Time{}) {
                m.every.value = *t;
                m.every.evidence.kind = EvidenceKind::measured;
            } else {
                wrong = tr("Found %1, expected a time such as 250 ms.").arg(text);
            }
            break;
        case message_lost: {
            const bool share = typed.ends_with('%');
            const auto v = decimal_number(
                trim(share ? std::string_view(typed).substr(0, typed.size() - 1) : std::string_view(typed)),
                '.');
            if (v && *v >= 0 && *v / (share ? 100 : 1) <= 1) {
                m.lost.value = *v / (share ? 100 : 1);
                m.lost.evidence.kind = EvidenceKind::measured;
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
