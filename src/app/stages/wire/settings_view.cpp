// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/wire/settings_view.hpp"

#include <QApplication>
#include <QMenu>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic::app {
namespace {

enum SettingColumn {
    name_at,
    kind_at,
    source_at,
    least_at,
    most_at,
    want_at,
    now_at,
    proof_at,
    from_at,
    back_at
};

QString setting_volts(const std::optional<double>& v) {
    return v ? to_q(print_number(*v, Unit::volt)) : QString();
}

}  // namespace

SettingsView::SettingsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(make_list(), 2);
    column->addWidget(make_tries(), 3);
}

QWidget* SettingsView::make_list() {
    list_sheet_ = new Sheet(tr("What a hand sets"));
    add_ = compact_button(tr("Add"), tr("A trimmer, a jumper, a selector, or a setting on the relic"));
    auto* menu = new QMenu(add_);
    for (const auto kind : all_of<SettingKind>())
        connect(menu->addAction(to_q(label(kind))), &QAction::triggered, this, [this, kind] { add(kind); });
    add_->setMenu(menu);
    add_->setProperty("menu", true);
    remove_ = compact_button(tr("Remove"), tr("Takes the chosen setting away; undo brings it back"));
    connect(remove_, &QPushButton::clicked, this, [this] {
        document_.apply(tr("remove a setting"), drop<WireSetting>(document_.dossier(), selected_));
    });
    list_sheet_->add_to_title(add_);
    list_sheet_->add_to_title(remove_);
    list_ = new FactTable;
    list_->set_columns({{tr("Setting"), 140, false, true},
                        {tr("Kind"), 84},
                        {tr("Sets"), 64, false, true},
                        {tr("Least"), 52, true, true},
                        {tr("Most"), 52, true, true},
                        {tr("Wanted"), 56, true, true},
                        {tr("Is at"), 52, true, true},
                        {tr("Evidence"), 70, false, true},
                        {tr("Source"), 64, false, true},
                        {tr("Put back"), 58, true, true}},
                       tr("Settings"));
    list_->setToolTip(
        tr("All but the kind is typed in place. “Sets” names a source of the rails; “Is at” is measured with "
           "the socket empty"));
    connect(list_, &FactTable::edited, this, &SettingsView::edit_cell);
    connect(list_, &FactTable::row_chosen, this, [this](int row) {
        if (row < 0) return;
        selected_ = list_->key(row).toString().toStdString();
        problem_.clear();
        fill_tries();
    });
    list_sheet_->body()->addWidget(list_, 1);
    return list_sheet_;
}

QWidget* SettingsView::make_tries() {
    tries_sheet_ = new Sheet(tr("What happens at each position"));
    says_ = new QLabel;
    says_->setWordWrap(true);
    says_->setTextFormat(Qt::PlainText);
    says_->setAccessibleName(tr("Verdict on the setting"));
    tries_sheet_->body()->addWidget(says_);
    tries_ = new FactTable;
    tries_->set_columns(
        {{tr("Position"), 110, false, true}, {tr("Volts"), 70, true, true}, {tr("Then"), 320}},
        tr("Positions"));
    connect(tries_, &FactTable::edited, this, &SettingsView::edit_position);
    tries_sheet_->body()->addWidget(tries_, 1);
    entry_ = new Field;
    entry_->setPlaceholderText(tr("A position: left 12V"));
    entry_->setAccessibleName(tr("A position as one line"));
    entry_->commit = [this](const QString& text) { return enter(text); };
    tries_sheet_->body()->addWidget(entry_);
    measure_ = new Field;
    measure_->setPlaceholderText(tr("How it is measured with the socket empty"));
    measure_->setAccessibleName(tr("How it is measured"));
    measure_->commit = [this](const QString& text) -> std::optional<QString> {
        change(tr("how a setting is measured"), [&](WireSetting& s) -> std::optional<QString> {
            s.measure = text.trimmed().toStdString();
            return std::nullopt;
        });
        return std::nullopt;
    };
    tries_sheet_->body()->addWidget(measure_);
    return tries_sheet_;
}

const SettingStudy* SettingsView::chosen() const {
    const auto& w = document_.analysis().wire;
    if (!w) return nullptr;
    for (const auto& s : w->settings)
        if (s.setting.id == selected_) return &s;
    return nullptr;
}

void SettingsView::refresh() {
    fill_list();
    fill_tries();
}

void SettingsView::select(const QString& setting) {
    selected_ = setting.toStdString();
    refresh();
}

void SettingsView::fill_list() {
    std::vector<TableRow> rows;
    const auto& held = document_.dossier().wire->settings;
    const auto& w = document_.analysis().wire;
    if (document_.dossier().wire->find_setting(selected_) == nullptr)
        selected_ = held.empty() ? std::string() : held.front().id;
    int at = -1;
    for (const auto& s : held) {
        auto verdict = Verdict::unknown;
        if (w)
            for (const auto& study : w->settings)
                if (study.setting.id == s.id) verdict = study.verdict;
        TableCell name(to_q(s.name));
        name.key = to_q(s.id);
        name.icon = verdict_icon(verdict);
        TableCell now(setting_volts(s.now.value));
        if (verdict == Verdict::stop) now.colour = theme().oxide;
        TableCell evidence(s.now.value ? to_q(word(s.now.evidence.kind)) : QString());
        evidence.editable = s.now.value.has_value();
        TableCell from(to_q(s.now.evidence.source));
        from.editable = s.now.value.has_value();
        if (s.id == selected_) at = static_cast<int>(rows.size());
        rows.push_back({name, to_q(label(s.kind)), to_q(s.source), setting_volts(s.least),
                        setting_volts(s.most), setting_volts(s.want), now, evidence, from,
                        setting_volts(s.back)});
    }
    list_sheet_->set_about(rows.empty() ? tr("None yet: what sets a supply by hand, on the board or on the "
                                             "relic, is entered here. Each position is tried on the rails.")
                           : problem_.isEmpty() ? tr("A relic that is set to what kills its own part stands "
                                                     "here as a Stop until it is measured right.")
                                                : problem_);
    const QSignalBlocker block(list_);
    list_->set_rows(std::move(rows));
    if (at >= 0) list_->choose(at);
}

void SettingsView::fill_tries() {
    const auto* s = chosen();
    const auto* held = document_.dossier().wire->find_setting(selected_);
    remove_->setEnabled(held != nullptr);
    entry_->setEnabled(held != nullptr);
    measure_->setEnabled(held != nullptr);
    tries_sheet_->set_title(held == nullptr ? tr("What happens at each position") : to_q(held->name));
    measure_->show_value(held == nullptr ? QString() : to_q(held->measure));
    std::vector<TableRow> rows;
    QString says;
    if (s != nullptr) {
        const auto positions = s->setting.positions.size();
        for (std::size_t i = 0; i < s->tries.size(); ++i) {
            const auto& t = s->tries[i];
            TableCell name(to_q(t.name));
            name.icon = verdict_icon(t.verdict);
            TableCell volts(to_q(print_number(t.volts, Unit::volt)));
            name.editable = volts.editable = i < positions;
            QStringList then;
            for (const auto& d : t.dies) then << tr("dies: %1").arg(to_q(d));
            for (const auto& d : t.starves) then << tr("does not work: %1").arg(to_q(d));
            rows.push_back({name, volts, then.isEmpty() ? tr("holds") : then.join(QStringLiteral("; "))});
        }
        if (s->highest_v) {
            TableCell name(tr("up to"));
            name.icon = verdict_icon(Verdict::holds);
            name.editable = false;
            TableCell volts(to_q(print_number(*s->highest_v, Unit::volt)));
            volts.editable = false;
            rows.push_back({name, volts, tr("nothing dies whose limit is said")});
        }
        says = s->problem.empty() ? to_q(s->says) : to_q(s->problem);
        const auto todo = s->todo.empty() ? s->measure : s->todo;
        if (s->problem.empty())
            says +=
                s->todo.empty() ? tr(" To see it again: %1").arg(to_q(todo)) : QLatin1Char(' ') + to_q(todo);
        if (s->setting.back) says += tr(" Put it back to %1 afterwards.").arg(setting_volts(s->setting.back));
    }
    says_->setText(says);
    tries_->set_rows(std::move(rows));
}

bool SettingsView::change(const QString& what,
                          const std::function<std::optional<QString>(WireSetting&)>& how) {
    const auto* held = document_.dossier().wire->find_setting(selected_);
    if (held == nullptr) return false;
    auto s = *held;
    if (const auto wrong = how(s)) {
        QApplication::beep();
        problem_ = *wrong;
        fill_list();
        return false;
    }
    problem_.clear();
    if (s == *held) {
        fill_list();
        return true;
    }
    document_.apply(what, put(document_.dossier(), std::move(s)));
    return true;
}

void SettingsView::add(SettingKind kind) {
    WireSetting s;
    s.kind = kind;
    s.name = std::string(label(kind));
    s.id = free_id<WireSetting>(document_.dossier(), std::string(word(kind)));
    const auto& w = document_.analysis().wire;
    if (w && w->rails.tree.sources.size() == 1) s.source = w->rails.tree.sources.front().name;
    selected_ = s.id;
    problem_.clear();
    document_.apply(tr("add a setting"), put(document_.dossier(), std::move(s)));
}

void SettingsView::edit_cell(int row, int column, const QString& text) {
    selected_ = list_->key(row).toString().toStdString();
    const auto typed = text.trimmed().toStdString();
    change(tr("setting"), [&](WireSetting& s) -> std::optional<QString> {
        const auto volts = [&](std::optional<double>& into) -> std::optional<QString> {
            if (typed.empty()) {
                into.reset();
                return std::nullopt;
            }
            const auto v = parse_number(typed, Unit::volt);
            if (!v || !(*v >= 0 && *v <= 1000))
                return tr("Found %1, expected volts from 0 V to 1 kV, such as 5V.")
                    .arg(to_q(in_quotes(typed)));
            into = *v;
            if (s.least && s.most && *s.least > *s.most)
                return tr("Found a least above the most, expected least up to most.");
            return std::nullopt;
        };
        switch (column) {
            case name_at: s.name = typed.empty() ? s.name : typed; break;
            case source_at: s.source = typed; break;
            case least_at: return volts(s.least);
            case most_at: return volts(s.most);
            case want_at: return volts(s.want);
            case back_at: return volts(s.back);
            case now_at: {
                if (auto wrong = volts(s.now.value)) return wrong;
                // What is typed as where it stands was seen there.
                if (s.now.value && s.now.evidence == Evidence{}) s.now.evidence.kind = EvidenceKind::measured;
                break;
            }
            case proof_at: {
                const auto e = named<EvidenceKind>(typed);
                if (!e) return tr("Found “%1”, expected %2.").arg(text, to_q(one_of<EvidenceKind>()));
                s.now.evidence.kind = *e;
                break;
            }
            case from_at: s.now.evidence.source = typed; break;
            default: break;
        }
        return std::nullopt;
    });
}

void SettingsView::edit_position(int row, int column, const QString& text) {
    change(tr("position of a setting"), [&](WireSetting& s) -> std::optional<QString> {
        if (row < 0 || static_cast<std::size_t>(row) >= s.positions.size()) return std::nullopt;
        auto& p = s.positions[static_cast<std::size_t>(row)];
        const auto typed = text.trimmed().toStdString();
        if (typed.empty()) {
            s.positions.erase(s.positions.begin() + row);
            return std::nullopt;
        }
        const auto made = position_from_text(column == 0 ? typed + " " + print_exact(p.volts, Unit::volt)
                                                         : p.name + " " + typed);
        if (!made)
            return tr("Found %1, expected %2.").arg(to_q(made.error().found), to_q(made.error().expected));
        p.name = made->name;
        p.volts = made->volts;
        return std::nullopt;
    });
}

std::optional<QString> SettingsView::enter(const QString& text) {
    if (text.trimmed().isEmpty()) return std::nullopt;
    const auto made = position_from_text(text.toStdString());
    if (!made) return tr("Found %1, expected %2.").arg(to_q(made.error().found), to_q(made.error().expected));
    const auto* held = document_.dossier().wire->find_setting(selected_);
    if (held == nullptr) return tr("Add a setting first.");
    for (const auto& p : held->positions)
        if (p.name == made->name) return tr("There is a position %1 already.").arg(to_q(p.name));
    change(tr("add a position"), [&](WireSetting& s) -> std::optional<QString> {
        s.positions.push_back(*made);
        return std::nullopt;
    });
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

}  // namespace grayrelic::app
