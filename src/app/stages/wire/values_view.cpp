// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/wire/values_view.hpp"

#include <QApplication>
#include <QHBoxLayout>
#include <QMenu>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/dossier/edits.hpp"
#include "core/report/wire_figure.hpp"

namespace grayrelic::app {
namespace {

constexpr int value_column = 1, part_column = 2, evidence_column = 3, source_column = 4;
constexpr std::string_view least_key = " least", most_key = " most", series_key = " series";

/// How a figure is printed, of a kind's main one.
ValueMeasure main_measure(const ValueStudy& v) {
    const auto* f = v.result ? v.result->find(v.result->main) : nullptr;
    return f == nullptr ? ValueMeasure::plain : f->measure;
}

QString main_text(const ValueStudy& v) {
    const auto main = v.result ? v.result->main_value() : std::nullopt;
    return main ? to_q(print_measure(*main, main_measure(v))) : QString();
}

}  // namespace

ValuesView::ValuesView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(make_list(), 2);
    column->addWidget(make_detail(), 3);
}

QWidget* ValuesView::make_list() {
    list_sheet_ = new Sheet(tr("Values"));
    add_ = compact_button(tr("Add"), tr("A value to be computed: pick its kind"));
    auto* menu = new QMenu(add_);
    for (const auto kind : all_of<ValueKind>())
        connect(menu->addAction(to_q(label(kind))), &QAction::triggered, this, [this, kind] { add(kind); });
    add_->setMenu(menu);
    add_->setProperty("menu", true);
    keep_ = compact_button(
        tr("Keep"),
        tr("Takes what was found in the circuit into the dossier, so that its numbers can be changed"));
    connect(keep_, &QPushButton::clicked, this, &ValuesView::keep);
    remove_ = compact_button(tr("Remove"), tr("Takes the chosen value away; undo brings it back"));
    connect(remove_, &QPushButton::clicked, this, [this] {
        document_.apply(tr("remove a value"), drop<WireValue>(document_.dossier(), selected_));
    });
    for (auto* b : {add_, keep_, remove_}) list_sheet_->add_to_title(b);
    values_ = new FactTable;
    values_->set_columns({{tr("Value"), 130},
                          {tr("Kind"), 90},
                          {tr("Parts"), 56},
                          {tr("Comes to"), 80, true},
                          {tr("Within tolerance"), 162, true},
                          {tr("Says"), 120}},
                         tr("Values"));
    connect(values_, &FactTable::row_chosen, this, [this](int row) {
        if (row < 0) return;
        selected_ = values_->key(row).toString().toStdString();
        problem_.clear();
        fill_detail();
    });
    list_sheet_->body()->addWidget(values_, 1);
    return list_sheet_;
}

QWidget* ValuesView::make_detail() {
    auto* holder = new QWidget;
    auto* row = new QHBoxLayout(holder);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    detail_sheet_ = new Sheet(tr("Numbers"));
    numbers_ = new FactTable;
    numbers_->set_columns({{tr("Number"), 96},
                           {tr("Value"), 84, true, true},
                           {tr("Part"), 40, false, true},
                           {tr("Evidence"), 76, false, true},
                           {tr("Source"), 64, false, true}},
                          tr("Numbers of the value"));
    numbers_->setToolTip(
        tr("Value, part, evidence and source are typed in place; a part's value is read from the circuit"));
    connect(numbers_, &FactTable::edited, this, &ValuesView::edit_cell);
    detail_sheet_->body()->addWidget(numbers_, 1);
    row->addWidget(detail_sheet_, 5);
    result_sheet_ = new Sheet(tr("What follows"));
    results_ = new FactTable;
    results_->set_columns({{tr("Figure"), 130}, {tr("Value"), 90, true}}, tr("What follows"));
    results_->fit_rows(6);
    result_sheet_->body()->addWidget(results_);
    levels_ = new DrawingView(tr("Levels of the ladder"));
    levels_->redraw = [this](double width) {
        const auto* v = chosen();
        const auto* f = v != nullptr && v->result ? v->result->find("levels_v") : nullptr;
        return f == nullptr ? Drawing{} : draw_levels(f->list, width, 120);
    };
    result_sheet_->body()->addWidget(levels_);
    wrong_ = new FactTable;
    wrong_->set_columns({{tr("Fitted by mistake"), 120}, {tr("As"), 78, true}, {tr("Then"), 78, true}},
                        tr("What a wrong value would do"));
    result_sheet_->body()->addWidget(wrong_, 1);
    row->addWidget(result_sheet_, 4);
    return holder;
}

const ValueStudy* ValuesView::chosen() const {
    const auto& w = document_.analysis().wire;
    return w ? w->find_value(selected_) : nullptr;
}

void ValuesView::refresh() {
    fill_list();
    fill_detail();
}

void ValuesView::select(const QString& value) {
    selected_ = value.toStdString();
    problem_.clear();
    refresh();
}

void ValuesView::fill_list() {
    const auto& w = document_.analysis().wire;
    std::vector<TableRow> rows;
    int at = -1;
    if (w)
        for (const auto& v : w->values) {
            TableCell name(to_q(v.value.name));
            name.key = to_q(v.value.id);
            name.icon = verdict_icon(v.problem.empty() ? v.verdict : Verdict::unknown);
            std::string refs;
            for (const auto& [key, ref] : v.value.parts) refs += (refs.empty() ? "" : " ") + ref;
            QString says = to_q(v.problem.empty() ? v.why : v.problem);
            if (says.isEmpty() && v.found) says = tr("found in the circuit");
            QString spread;
            if (v.spread && v.spread->least != v.spread->most)
                spread = tr("%1 to %2")
                             .arg(to_q(print_measure(v.spread->least, main_measure(v))),
                                  to_q(print_measure(v.spread->most, main_measure(v))));
            if (v.value.id == selected_) at = static_cast<int>(rows.size());
            rows.push_back({name, v.kind ? to_q(label(*v.kind)) : to_q(v.value.kind), to_q(refs),
                            main_text(v), spread, says});
        }
    list_sheet_->set_about(rows.empty() ? tr("None yet: Add computes one; pull-ups, dividers, lamps and "
                                             "filters of the circuit come by themselves.")
                                        : tr("Those found in the circuit follow it by themselves."));
    // One that was just added is judged in a moment.
    if (at < 0 && !rows.empty() && document_.dossier().wire->find_value(selected_) == nullptr) {
        at = 0;
        selected_ = rows.front().front().key.toString().toStdString();
    }
    const QSignalBlocker block(values_);  // which one is chosen is said here
    values_->set_rows(std::move(rows));
    if (at >= 0) values_->choose(at);
}

void ValuesView::fill_detail() {
    const auto* v = chosen();
    remove_->setEnabled(v != nullptr && !v->found);
    keep_->setVisible(v != nullptr && v->found);
    levels_->setVisible(false);
    if (v == nullptr) {
        detail_sheet_->set_title(tr("Numbers"));
        detail_sheet_->set_about({});
        numbers_->set_rows({});
        results_->set_rows({});
        wrong_->set_rows({});
        return;
    }
    detail_sheet_->set_title(to_q(v->value.name));
    detail_sheet_->set_about(!problem_.isEmpty()  ? problem_
                             : v->found           ? tr("Found in the circuit: Keep it to change its numbers.")
                             : v->assumed.empty() ? QString()
                                                  : tr("Rests on assumed numbers."));
    fill_numbers(*v);
    fill_results(*v);
}

void ValuesView::fill_numbers(const ValueStudy& v) {
    std::vector<TableRow> rows;
    if (v.kind)
        for (const auto& p : parameters_of(*v.kind)) {
            const auto tie = v.value.parts.find(p.key);
            const NumberFact* fact = nullptr;
            for (const auto& n : v.value.numbers)
                if (n.key == p.key) fact = &n;
            // Of twelve resistors of a ladder only those that it has.
            if (*v.kind == ValueKind::ladder && p.part && fact == nullptr && tie == v.value.parts.end()) {
                const auto bits = v.inputs.find("bits");
                if (bits == v.inputs.end() || std::stod(p.key.substr(1)) > bits->second) continue;
            }
            const auto value = v.inputs.find(p.key);
            TableCell name(to_q(p.label));
            name.key = to_q(p.key);
            const bool known = value != v.inputs.end();
            QString shown = known     ? to_q(print_measure(value->second, p.measure))
                            : p.usual ? to_q(print_measure(*p.usual, p.measure))
                                      : QString();
            TableCell cell(shown, known ? QColor() : theme().ink2);
            cell.editable = !v.found && tie == v.value.parts.end();
            TableCell part(tie == v.value.parts.end() ? QString() : to_q(tie->second));
            part.editable = !v.found && p.part;
            TableCell evidence(tie != v.value.parts.end() ? tr("the circuit")
                               : fact != nullptr          ? to_q(word(fact->value.evidence.kind))
                                                          : QString());
            evidence.editable = !v.found && fact != nullptr;
            TableCell source(fact != nullptr ? to_q(fact->value.evidence.source) : QString());
            source.editable = !v.found && fact != nullptr;
            rows.push_back({name, cell, part, evidence, source});
        }
    const auto wanted = [&](const QString& text, std::string_view key, const std::optional<double>& value) {
        TableCell name(text);
        name.key = to_q(key);
        TableRow row{name, TableCell(value ? to_q(print_measure(*value, main_measure(v))) : QString()),
                     TableCell(), TableCell(), TableCell()};
        row[value_column].editable = !v.found;
        for (std::size_t i = 2; i < row.size(); ++i) row[i].editable = false;
        rows.push_back(std::move(row));
    };
    wanted(tr("Least wanted"), least_key, v.value.least);
    wanted(tr("Most wanted"), most_key, v.value.most);
    TableCell name(tr("Series"));
    name.key = to_q(series_key);
    TableRow series{name, TableCell(to_q(word(v.series))), TableCell(), TableCell(), TableCell()};
    series[value_column].editable = !v.found;
    for (std::size_t i = 2; i < series.size(); ++i) series[i].editable = false;
    rows.push_back(std::move(series));
    numbers_->set_rows(std::move(rows));
}

void ValuesView::fill_results(const ValueStudy& v) {
    std::vector<TableRow> rows, wrong;
    if (v.result)
        for (const auto& f : v.result->figures) {
            if (f.is_list && f.key == "levels_v") continue;
            QString text = f.value ? to_q(print_measure(*f.value, f.measure)) : tr("none");
            if (f.is_list) {
                QStringList parts;
                for (const double x : f.list) parts << to_q(print_measure(x, f.measure));
                text = parts.join(QStringLiteral("  "));
            }
            TableCell name(to_q(f.label));
            name.bold = f.key == v.result->main;
            rows.push_back({name, text});
        }
    if (v.at_hand) {
        TableCell name(tr("in your drawer, %1").arg(v.at_hand->count));
        name.icon = verdict_icon(v.at_hand->verdict);
        TableCell value(to_q(print_measure(v.at_hand->ohm, ValueMeasure::ohms)));
        if (v.at_hand->main)
            value.tip = tr("with it: %1").arg(to_q(print_measure(*v.at_hand->main, main_measure(v))));
        rows.push_back({name, value});
    }
    for (const auto& fit : v.fits)
        for (const auto& w : fit.wrong) {
            TableCell what(to_q((fit.ref.empty() ? fit.key : fit.ref) + ": " + w.what));
            what.icon = verdict_icon(w.verdict);
            const auto* p = find_parameter(*v.kind, fit.key);
            TableCell then(w.main ? to_q(print_measure(*w.main, main_measure(v))) : tr("fails"));
            then.tip = to_q(w.why);
            then.sort = w.main;
            wrong.push_back({what, to_q(print_measure(w.fitted, p->measure)), then});
        }
    result_sheet_->set_about(!v.problem.empty() ? to_q(v.problem) : to_q(v.why));
    results_->set_rows(std::move(rows));
    wrong_->set_rows(std::move(wrong));
    const auto* ladder = v.result ? v.result->find("levels_v") : nullptr;
    levels_->setVisible(ladder != nullptr);
    if (ladder != nullptr)
        levels_->show_drawing(draw_levels(ladder->list, std::max(300, levels_->width()), 120));
}

void ValuesView::add(ValueKind kind) {
    WireValue v;
    v.kind = std::string(word(kind));
    v.name = std::string(label(kind));
    v.id = free_id<WireValue>(document_.dossier(), v.kind);
    selected_ = v.id;
    problem_.clear();
    document_.apply(tr("add a value"), put(document_.dossier(), std::move(v)));
}

void ValuesView::keep() {
    const auto* found = chosen();
    if (found == nullptr || !found->found) return;
    auto v = found->value;
    v.id = free_id<WireValue>(document_.dossier(), v.name);
    selected_ = v.id;
    const auto what = tr("keep %1").arg(to_q(v.name));
    document_.apply(what, put(document_.dossier(), std::move(v)));
}

std::optional<QString> ValuesView::take(WireValue& v, const std::string& key, int column,
                                        const QString& text) const {
    const auto typed = text.trimmed().toStdString();
    const auto kind = named<ValueKind>(v.kind);
    if (key == least_key || key == most_key) {
        auto& into = key == least_key ? v.least : v.most;
        if (typed.empty()) {
            into.reset();
            return std::nullopt;
        }
        const auto* study = chosen();
        const auto value = parse_measure(typed, study == nullptr ? ValueMeasure::plain : main_measure(*study),
                                         "the wanted value");
        if (!value)
            return tr("Found %1, expected %2.").arg(to_q(value.error().found), to_q(value.error().expected));
        into = *value;
        if (v.least && v.most && *v.least > *v.most)
            return tr("Found a least above the most, expected least up to most.");
        return std::nullopt;
    }
    if (key == series_key) {
        if (!named<Series>(typed)) return tr("Found “%1”, expected %2.").arg(text, to_q(one_of<Series>()));
        v.series = typed;
        return std::nullopt;
    }
    const auto* p = kind ? find_parameter(*kind, key) : nullptr;
    if (p == nullptr) return std::nullopt;
    const auto at =
        std::find_if(v.numbers.begin(), v.numbers.end(), [&](const NumberFact& n) { return n.key == key; });
    if (column == part_column) {
        if (typed.empty())
            v.parts.erase(key);
        else
            v.parts[key] = typed;
        return std::nullopt;
    }
    if (column == value_column) {
        if (typed.empty()) {
            if (at != v.numbers.end()) v.numbers.erase(at);
            return std::nullopt;
        }
        const auto value = parse_measure(typed, p->measure, p->label);
        if (!value)
            return tr("Found %1, expected %2.").arg(to_q(value.error().found), to_q(value.error().expected));
        if (at != v.numbers.end()) {
            at->value.value = *value;
        } else {
            NumberFact n;
            n.key = key;
            n.value.value = *value;
            v.numbers.push_back(std::move(n));
        }
        return std::nullopt;
    }
    if (at == v.numbers.end()) return std::nullopt;
    if (column == evidence_column) {
        const auto e = named<EvidenceKind>(typed);
        if (!e) return tr("Found “%1”, expected %2.").arg(text, to_q(one_of<EvidenceKind>()));
        at->value.evidence.kind = *e;
    } else if (column == source_column) {
        at->value.evidence.source = typed;
    }
    return std::nullopt;
}

void ValuesView::edit_cell(int row, int column, const QString& text) {
    const auto key = numbers_->key(row).toString().toStdString();
    const auto* held = document_.dossier().wire->find_value(selected_);
    if (held == nullptr) return;
    auto v = *held;
    if (const auto wrong = take(v, key, column, text)) {
        QApplication::beep();
        problem_ = *wrong;
        fill_detail();
        return;
    }
    problem_.clear();
    if (v == *held) return fill_detail();
    const auto what = tr("number of %1").arg(to_q(v.name));
    document_.apply(what, put(document_.dossier(), std::move(v)));
}

}  // namespace grayrelic::app
