// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/coverage_view.hpp"

#include <QApplication>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/input/map_analysis.hpp"
#include "core/input/map_budgets.hpp"

namespace grayrelic::app {
namespace {

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
    take_ = compact_button(tr("Take the proposal"), tr("Gives the key what is proposed; undo takes it back"));
    connect(take_, &QPushButton::clicked, this, &CoverageView::take_proposal);
    go_ = compact_button(tr("Show the key"), tr("On the drawn device"));
    connect(go_, &QPushButton::clicked, this, [this] {
        if (gaps_->chosen() >= 0) Q_EMIT key_wanted(gaps_->key(gaps_->chosen()).toString());
    });
    sheet_->add_to_title(take_);
    sheet_->add_to_title(go_);
    gaps_ = new FactTable;
    gaps_->set_columns({{tr("What"), 330}, {tr("What to do"), 250}, {tr("Proposal"), 90}}, tr("Gaps"));
    connect(gaps_, &FactTable::row_opened, this,
            [this](int row) { Q_EMIT key_wanted(gaps_->key(row).toString()); });
    connect(gaps_, &FactTable::row_chosen, this, &CoverageView::show_gap);
    sheet_->body()->addWidget(gaps_, 1);
    whole_ = new QLabel;
    whole_->setWordWrap(true);
    whole_->setTextFormat(Qt::PlainText);
    whole_->setAccessibleName(tr("The chosen gap"));
    sheet_->body()->addWidget(whole_);
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
    level_ =
        new ChoiceBox(tr("A held bit is"),
                      tr("The level of a bit while its control is held; for a new device at an old host"));
    level_->addItem(tr("held: not said"), -1);
    level_->addItem(tr("held is 0"), 0);
    level_->addItem(tr("held is 1"), 1);
    connect(level_, &QComboBox::activated, this, [this](int at) {
        auto map = *document_.dossier().map;
        std::erase_if(map.numbers, [](const NumberFact& n) { return n.key == "active_high"; });
        const int level = level_->itemData(at).toInt();
        if (level >= 0)
            map.numbers.push_back({"active_high",
                                   {static_cast<double>(level),
                                    {},
                                    {EvidenceKind::documented, "said under Coverage", {}, {}, {}}}});
        if (map != *document_.dossier().map)
            document_.apply(tr("level of a held bit"), put(document_.dossier(), std::move(map)));
    });
    host_->add_to_title(level_);
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
    host_->body()->addLayout(make_times());
    return host_;
}

QGridLayout* CoverageView::make_times() {
    auto* times = new QGridLayout;
    times->setHorizontalSpacing(12);
    times->setVerticalSpacing(4);
    poll_ = make_time(tr("Host's poll"), tr("How often the host asks"),
                      [](DeviceMap& m, Time t, const Evidence& e) {
                          m.modern.poll = {t, {}, e};
                      });
    repeat_ = make_time(tr("Old repeat"),
                        tr("How often the old side repeats a key that is held; empty where it does not"),
                        [](DeviceMap& m, Time t, const Evidence& e) {
                            std::erase_if(m.numbers, [](const NumberFact& n) { return n.key == "repeat_s"; });
                            if (t > Time{}) m.numbers.push_back({"repeat_s", {t.seconds(), {}, e}});
                        });
    hold_ = make_time(tr("Injected press"), tr("How long the bridge holds a press that it makes itself"),
                      [](DeviceMap& m, Time t, const Evidence& e) {
                          m.modern.hold = {t, {}, e};
                      });
    times->addWidget(poll_, 0, 0);
    times->addWidget(repeat_, 0, 1);
    times->addWidget(hold_, 1, 0);
    budgets_ = compact_button(tr("As budgets"), tr("Puts poll, reports an event and the least press into "
                                                   "Timing as its latency, queue and press budgets"));
    connect(budgets_, &QPushButton::clicked, this, &CoverageView::make_budgets);
    host_->add_to_title(budgets_);
    return times;
}

FactRow* CoverageView::make_time(const QString& label, const QString& tip,
                                 const std::function<void(DeviceMap&, Time, const Evidence&)>& set) {
    auto* row = new FactRow(label, {});
    row->setToolTip(tip);
    row->commit = [this, label, set](const QString& value,
                                     const Evidence& evidence) -> std::optional<QString> {
        const bool none = value.trimmed().isEmpty();
        const auto t = parse_time(value.toStdString());
        if (!none && (!t || *t <= Time{} || *t > Time::s(10)))
            return tr("Found %1, expected a time such as 8 ms.").arg(value);
        auto map = *document_.dossier().map;
        set(map, none ? Time{} : *t, none ? Evidence{} : evidence);
        if (map != *document_.dossier().map) document_.apply(label, put(document_.dossier(), std::move(map)));
        return std::nullopt;
    };
    return row;
}

void CoverageView::make_budgets() {
    const auto& d = document_.dossier();
    const auto& a = document_.analysis().map;
    const bool matrix = a && a->matrix;
    auto next = d;
    for (auto& b : budgets_of_map(d, document_.data().layouts.find(d.map->modern.layout),
                                  matrix ? a->matrix->numbers : ScanNumbers{},
                                  matrix ? a->matrix->budget : ScanBudget{}, matrix))
        next = put(next, std::move(b));
    document_.apply(tr("budgets of the map"), std::move(next));
    host_->set_about(tr("The budgets stand under Timing now, and are judged there."));
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
    const auto show_time = [](FactRow& row, Time t, const Evidence& e) {
        row.show_fact(t > Time{} ? to_q(print_exact(t)) : QString(), e);
    };
    show_time(*poll_, modern.poll.value, modern.poll.evidence);
    show_time(*hold_, modern.hold.value, modern.hold.evidence);
    const auto& numbers = document_.dossier().map->numbers;
    const auto repeat =
        std::find_if(numbers.begin(), numbers.end(), [](const auto& n) { return n.key == "repeat_s"; });
    show_time(*repeat_, repeat == numbers.end() ? Time{} : Time::from_seconds(repeat->value.value),
              repeat == numbers.end() ? Evidence{} : repeat->value.evidence);
    const auto high =
        std::find_if(numbers.begin(), numbers.end(), [](const auto& n) { return n.key == "active_high"; });
    level_->setVisible(document_.dossier().map->way == MapWay::new_to_old);
    level_->setCurrentIndex(high == numbers.end() ? 0 : high->value.value == 0 ? 1 : 2);
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
    if (gaps_->chosen() < 0 && !none) gaps_->choose(0);
    show_gap(gaps_->chosen());
    if (!a) return sheet_->set_about(tr("Computing …"));
    const auto& c = a->coverage;
    auto says = tr("%1 of %2 old codes have a meaning").arg(c.codes_with_meaning).arg(c.codes);
    if (c.wanted > 0) says += tr(" · %1 of %2 wanted are reached").arg(c.reached).arg(c.wanted);
    if (none && c.codes > 0) says += tr(" · nothing is open");
    sheet_->set_about(says);
}

void CoverageView::show_gap(int row) {
    take_->setEnabled(row >= 0 && !gaps_->text(row, 2).isEmpty());
    go_->setEnabled(row >= 0 && !gaps_->key(row).toString().isEmpty());
    whole_->setVisible(row >= 0);
    whole_->setText(row < 0 ? QString() : gaps_->text(row, 0) + QLatin1Char(' ') + gaps_->text(row, 1));
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

}  // namespace grayrelic::app
