// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/matrix_view.hpp"

#include <QApplication>
#include <QHBoxLayout>
#include <QMenu>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>
#include <array>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/input/map_analysis.hpp"
#include "core/input/map_budgets.hpp"

namespace grayrelic::app {
namespace {

struct NumberLine {
    const char* key;
    const char* label;
    Unit unit;
    double ScanNumbers::*at;
};
const std::array<NumberLine, 7>& number_lines() {
    static const std::array<NumberLine, 7> list{
        {{"foil_ohm", QT_TRANSLATE_NOOP("MatrixView", "Foil, through a closed key"), Unit::ohm,
          &ScanNumbers::foil_ohm},
         {"pull_ohm", QT_TRANSLATE_NOOP("MatrixView", "Pull-up"), Unit::ohm, &ScanNumbers::pull_ohm},
         {"farad", QT_TRANSLATE_NOOP("MatrixView", "A column with its lead"), Unit::farad,
          &ScanNumbers::farad},
         {"debounce", QT_TRANSLATE_NOOP("MatrixView", "Scans that must agree"), Unit::none,
          &ScanNumbers::debounce},
         {"volts", QT_TRANSLATE_NOOP("MatrixView", "Supply of the pull-ups"), Unit::volt,
          &ScanNumbers::volts},
         {"driver_ohm", QT_TRANSLATE_NOOP("MatrixView", "A strobe's output"), Unit::ohm,
          &ScanNumbers::driver_ohm},
         {"register_hz", QT_TRANSLATE_NOOP("MatrixView", "Clock of registers"), Unit::hertz,
          &ScanNumbers::register_hz}}};
    return list;
}

QString count_of(std::size_t n) {
    return to_q(print_count(static_cast<long long>(n)));
}

}  // namespace

MatrixView::MatrixView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    row->addWidget(make_left(), 5);
    row->addWidget(make_right(), 4);
}

QWidget* MatrixView::make_left() {
    auto* holder = new QWidget;
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    sheet_ = new Sheet(tr("Rows and columns"));
    chord_ = compact_button(
        tr("Held together"),
        tr("The keys that are held now are held together in usual work: kept, and judged as a chord"));
    connect(chord_, &QPushButton::clicked, this, &MatrixView::name_chord);
    recording_ = compact_button(
        tr("From a recording"),
        tr("A capture decoded as a matrix, with a marked moment for each key that was pressed"));
    recording_->setMenu(new QMenu(recording_));
    recording_->setProperty("menu", true);
    canvas_ = new MatrixCanvas;
    connect(canvas_, &MatrixCanvas::held_changed, this, [this] {
        sheet_->set_about(canvas_->says(), true);
        chord_->setEnabled(canvas_->held().size() >= 2);
    });
    connect(canvas_, &MatrixCanvas::key_opened, this, &MatrixView::key_wanted);
    sheet_->body()->addWidget(canvas_, 1);
    walk_ = new Field;
    walk_->setPlaceholderText(
        tr("A position found by pressing or probing:  7 R0 C3   ·   ENTER R5 C8 diode"));
    walk_->setAccessibleName(tr("A key's position"));
    walk_->setToolTip(
        tr("The key's legend, its row and its column; a key that is not on the drawing yet is added"));
    walk_->commit = [this](const QString& text) { return add_position(text); };
    sheet_->body()->addWidget(walk_);
    auto* tools = new QHBoxLayout;
    tools->setSpacing(6);
    tools->addWidget(chord_);
    tools->addWidget(recording_);
    tools->addStretch(1);
    sheet_->body()->addLayout(tools);
    column->addWidget(sheet_, 3);
    worst_sheet_ = new Sheet(tr("Likeliest ghosts"));
    worst_ = new FactTable;
    worst_->set_columns({{tr("Held"), 150}, {tr("Fakes"), 60}, {tr("Why likely"), 220}}, tr("Ghosts"));
    connect(worst_, &FactTable::row_chosen, this, [this](int at) {
        const auto& a = document_.analysis().map;
        if (at >= 0 && a && a->matrix && static_cast<std::size_t>(at) < a->matrix->worst.size())
            canvas_->hold(a->matrix->worst[static_cast<std::size_t>(at)].held);
    });
    worst_sheet_->body()->addWidget(worst_, 1);
    column->addWidget(worst_sheet_, 2);
    return holder;
}

QWidget* MatrixView::make_right() {
    auto* holder = new QWidget;
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    ways_sheet_ = new Sheet(tr("Ways to live with it"));
    guard_ = new ChoiceBox(tr("What is done about ghosts"), tr("Which of the three ways is taken"));
    guard_->addItems({tr("nothing is done"), tr("firmware blocks"), tr("a diode a key")});
    connect(guard_, &QComboBox::activated, this, [this](int at) {
        change_matrix(tr("what is done about ghosts"),
                      [&](SwitchMatrix& m) { m.guard = all_of<GhostGuard>()[static_cast<std::size_t>(at)]; });
    });
    drive_ = new ChoiceBox(tr("How strobes are driven"),
                           tr("Open drain only pulls down; push-pull drives both ways"));
    drive_->addItem(tr("drive not said"), QString());
    drive_->addItem(tr("open drain"), QStringLiteral("open-drain"));
    drive_->addItem(tr("push-pull"), QStringLiteral("push-pull"));
    connect(drive_, &QComboBox::activated, this, [this](int at) {
        change_matrix(tr("how strobes are driven"),
                      [&](SwitchMatrix& m) { m.drive = drive_->itemData(at).toString().toStdString(); });
    });
    auto* chosen = new QHBoxLayout;
    chosen->setSpacing(6);
    chosen->addWidget(guard_, 1);
    chosen->addWidget(drive_, 1);
    ways_sheet_->body()->addLayout(chosen);
    ways_ = new FactTable;
    ways_->set_columns({{tr("Way"), 150}, {tr("What it costs"), 180}}, tr("Ways"));
    ways_sheet_->body()->addWidget(ways_, 1);
    column->addWidget(ways_sheet_, 3);
    numbers_sheet_ = new Sheet(tr("Scan"));
    budgets_ = compact_button(
        tr("As budgets"),
        tr("Puts scan, debounce and the host's poll into Timing as its latency and queue budgets"));
    connect(budgets_, &QPushButton::clicked, this, &MatrixView::make_budgets);
    numbers_sheet_->add_to_title(budgets_);
    numbers_ = new FactTable;
    numbers_->set_columns(
        {{tr("Number"), 160}, {tr("Value"), 76, true, true}, {tr("Evidence"), 80, false, true}},
        tr("Numbers of the scan"));
    numbers_->setToolTip(tr("Typed in place, the evidence too: measured, documented, deduced, assumed"));
    connect(numbers_, &FactTable::edited, this, &MatrixView::edit_number);
    numbers_sheet_->body()->addWidget(numbers_, 1);
    column->addWidget(numbers_sheet_, 2);
    return holder;
}

void MatrixView::change_matrix(const QString& what, const std::function<void(SwitchMatrix&)>& how) {
    auto map = *document_.dossier().map;
    how(map.matrix);
    if (map == *document_.dossier().map) return;
    document_.apply(what, put(document_.dossier(), std::move(map)));
}

void MatrixView::refresh() {
    const auto& matrix = document_.dossier().map->matrix;
    guard_->setCurrentIndex(static_cast<int>(matrix.guard));
    drive_->setCurrentIndex(std::max(0, drive_->findData(to_q(matrix.drive))));
    canvas_->show_matrix(document_.analysis().map);
    const auto& a = document_.analysis().map;
    const bool any = a && a->matrix;
    chord_->setEnabled(any && canvas_->held().size() >= 2);
    budgets_->setEnabled(any);
    if (!any)
        sheet_->set_about(tr("No matrix yet: type below what each key closes, or drop a table with the "
                             "columns key, row, column."),
                          true);
    else if (canvas_->held().empty())
        sheet_->set_about(
            tr("%1 keys, %2 vacancies. Click keys to hold them: what is then read is shown at once.")
                .arg(a->matrix->model.keys.size())
                .arg(a->matrix->model.vacancies()),
            true);
    else
        sheet_->set_about(canvas_->says(), true);
    fill_walks();
    fill_worst();
    fill_ways();
    fill_numbers();
}

void MatrixView::fill_worst() {
    std::vector<TableRow> rows;
    const auto& a = document_.analysis().map;
    if (a && a->matrix)
        for (const auto& g : a->matrix->worst) {
            QStringList held;
            for (const auto k : g.held) held << to_q(a->matrix->model.keys[k].name);
            TableCell what(held.join(QStringLiteral(" + ")));
            what.icon = verdict_icon(g.likelihood >= 1     ? Verdict::stop
                                     : g.likelihood >= 0.5 ? Verdict::doubt
                                                           : Verdict::unknown);
            rows.push_back({what, to_q(a->matrix->model.keys[g.faked].name), to_q(g.why)});
        }
    worst_->set_rows(std::move(rows));
    if (!a || !a->matrix) return worst_sheet_->set_about(tr("Ghosts are counted once positions are known."));
    const auto& s = *a->matrix;
    worst_sheet_->set_about(
        tr("%1 of %2 sets of three keys fake a fourth; %3 longer sets%4")
            .arg(count_of(s.ghosts.sets), count_of(s.guard.triples), count_of(s.ghosts.longer),
                 s.ghosts.counted_to == 0 ? QString()
                                          : tr(", counted up to %1 keys").arg(s.ghosts.counted_to)),
        true);
}

void MatrixView::fill_ways() {
    std::vector<TableRow> rows;
    const auto& a = document_.analysis().map;
    if (a && a->matrix) {
        const auto& s = *a->matrix;
        const auto guard = document_.dossier().map->matrix.guard;
        const auto row = [&](const QString& name, Verdict verdict, const QString& says, bool bold) {
            TableCell cell(name);
            cell.icon = verdict_icon(verdict);
            cell.bold = bold;
            rows.push_back({cell, says});
        };
        const auto chords = s.guard.chords;
        row(tr("Doing nothing"),
            s.ghosts.sets == 0         ? Verdict::holds
            : chords == 0              ? Verdict::unknown
            : s.guard.chords_wrong > 0 ? Verdict::stop
                                       : Verdict::holds,
            chords == 0 ? tr("%1 triples wrong; no chords named").arg(count_of(s.guard.triples_wrong))
                        : tr("%1 of %2 chords fake a key").arg(s.guard.chords_wrong).arg(chords),
            guard == GhostGuard::nothing);
        row(tr("Blocking firmware"),
            chords == 0 && s.ghosts.sets > 0 ? Verdict::unknown
            : s.guard.chords_blocked > 0     ? Verdict::doubt
                                             : Verdict::holds,
            chords == 0 ? tr("no ghost; some chords are left out")
                        : tr("%1 of %2 chords are left out").arg(s.guard.chords_blocked).arg(chords),
            guard == GhostGuard::block);
        row(tr("A diode a key"), Verdict::holds,
            s.guard.needed.empty()
                ? tr("%1 diodes; foil can't be given any").arg(s.guard.diodes)
                : tr("%1 diodes; %2 would do for the chords").arg(s.guard.diodes).arg(s.guard.needed.size()),
            guard == GhostGuard::diodes);
        row(tr("Pins as built"), Verdict::holds,
            tr("%1: %2 + %3").arg(s.pins.direct).arg(s.model.rows.size()).arg(s.model.columns.size()), false);
        row(tr("Pins folded"), Verdict::holds,
            tr("%1: the same keys on %2 × %3")
                .arg(s.pins.folded)
                .arg(s.pins.folded_rows)
                .arg(s.pins.folded_columns),
            false);
        row(tr("Pins with registers"), Verdict::holds,
            tr("%1; %2 with one for the strobes only").arg(s.pins.registers).arg(s.pins.strobe_register),
            false);
        row(tr("Pins with a decoder"), Verdict::holds, QString::number(s.pins.decoder), false);
        row(tr("Pins with an expander"), Verdict::holds,
            tr("%1 on a two-wire bus, if it has %2 lines").arg(s.pins.expander).arg(s.pins.direct), false);
        row(tr("Two keys of a column"), s.budget.fight, to_q(s.budget.fight_says), false);
    }
    ways_->set_rows(std::move(rows));
}

void MatrixView::fill_numbers() {
    std::vector<TableRow> rows;
    const auto& a = document_.analysis().map;
    const auto numbers = a && a->matrix ? a->matrix->numbers : scan_numbers(*document_.dossier().map);
    for (const auto& line : number_lines()) {
        const auto& held = document_.dossier().map->matrix.numbers;
        const auto fact =
            std::find_if(held.begin(), held.end(), [&](const auto& f) { return f.key == line.key; });
        const auto known = fact == held.end() ? EvidenceKind::assumed : fact->value.evidence.kind;
        TableCell name(tr(line.label));
        name.key = QString::fromLatin1(line.key);
        rows.push_back({name, to_q(print_number(numbers.*line.at, line.unit)), to_q(word(known))});
    }
    numbers_->set_rows(std::move(rows));
    if (!problem_.isEmpty()) return numbers_sheet_->set_about(problem_, true);
    if (!a || !a->matrix) return numbers_sheet_->set_about({});
    const auto& b = a->matrix->budget;
    numbers_sheet_->set_about(
        tr("%1 a strobe, %2 a scan, %3 from key to report. A closed key pulls its column to %4.")
            .arg(to_q(print_number(b.settle_s, Unit::second)), to_q(print_number(b.scan_s, Unit::second)),
                 to_q(print_number(b.latency_s, Unit::second)), to_q(print_number(b.low_v, Unit::volt))),
        true);
}

void MatrixView::edit_number(int row, int column, const QString& text) {
    const auto& line = number_lines()[static_cast<std::size_t>(row)];
    const auto& held = document_.dossier().map->matrix.numbers;
    const auto at = std::find_if(held.begin(), held.end(), [&](const auto& f) { return f.key == line.key; });
    // A number that nobody has entered is the usual one, assumed.
    NumberFact fact = at != held.end() ? *at : NumberFact{line.key, {ScanNumbers{}.*line.at, {}, {}}};
    const auto typed = text.trimmed().toStdString();
    problem_.clear();
    if (column == 2) {
        if (const auto kind = named<EvidenceKind>(typed))
            fact.value.evidence.kind = *kind;
        else
            problem_ = tr("Found %1, expected %2.").arg(text, to_q(one_of<EvidenceKind>()));
    } else if (const auto v = parse_number(typed, line.unit); v && *v > 0) {
        fact.value.value = *v;
        fact.value.uncertainty.reset();
    } else {
        problem_ = tr("Found %1, expected a number above 0 for: %2.").arg(text, tr(line.label));
    }
    if (!problem_.isEmpty()) {
        QApplication::beep();
        return fill_numbers();
    }
    change_matrix(tr(line.label), [&](SwitchMatrix& m) {
        std::erase_if(m.numbers, [&](const NumberFact& f) { return f.key == line.key; });
        m.numbers.push_back(fact);
    });
    fill_numbers();
}

void MatrixView::name_chord() {
    const auto& a = document_.analysis().map;
    if (!a || !a->matrix) return;
    std::vector<std::string> chord;
    for (const auto k : canvas_->held()) chord.push_back(a->matrix->model.keys[k].id);
    change_matrix(tr("keys held together"), [&](SwitchMatrix& m) {
        if (std::find(m.chords.begin(), m.chords.end(), chord) == m.chords.end()) m.chords.push_back(chord);
    });
}

void MatrixView::make_budgets() {
    const auto& a = document_.analysis().map;
    if (!a || !a->matrix) return;
    const auto& d = document_.dossier();
    auto next = d;
    for (auto& b : budgets_of_map(d, document_.data().layouts.find(d.map->modern.layout), a->matrix->numbers,
                                  a->matrix->budget, true))
        next = put(next, std::move(b));
    document_.apply(tr("budgets of the map"), std::move(next));
    numbers_sheet_->set_about(tr("“Key to host” and “Reports waiting” stand under Timing, Budgets."), true);
}

}  // namespace grayrelic::app
