// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/log/trials_view.hpp"

#include <QDate>
#include <QFile>
#include <QScrollArea>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/date.hpp"
#include "core/base/decimal.hpp"
#include "core/dossier/edits.hpp"
#include "core/record/degree.hpp"
#include "core/record/trial_words.hpp"
#include "core/report/trial_figure.hpp"

namespace grayrelic::app {
namespace {

enum RunColumn { run_name, run_day, run_setup, run_outcome, run_degree, run_repeats, run_note };
constexpr qint64 most_trials_file = 4 << 20;

}  // namespace

TrialsView::TrialsView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), later_(this) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    matrix_sheet_ = new Sheet(tr("What was varied, and how it went"));
    next_ = compact_button(
        tr("Take the next"),
        tr("Enters the run that tells most, with its setup; how it went is typed when it was run"));
    connect(next_, &QPushButton::clicked, this, &TrialsView::begin_next);
    matrix_sheet_->add_to_title(next_);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    matrix_ = new DrawingView(tr("Trials as a matrix"));
    matrix_->redraw = [this](double width) { return trial_matrix(table_, study_, width); };
    scroll->setWidget(matrix_);
    matrix_sheet_->body()->addWidget(scroll, 1);
    whole->addWidget(matrix_sheet_, 3);
    runs_sheet_ = new Sheet(tr("Runs"));
    remove_ = compact_button(tr("Remove"), tr("Takes the chosen run out; undo brings it back"));
    connect(remove_, &QPushButton::clicked, this, [this] {
        const int row = runs_->chosen();
        if (row < 0) return;
        document_.apply(tr("remove a trial"),
                        drop<TrialRun>(document_.dossier(), runs_->key(row).toString().toStdString()));
    });
    runs_sheet_->add_to_title(remove_);
    runs_ = new FactTable;
    runs_->set_columns({{tr("Run"), 60},
                        {tr("Day"), 96, false, true},
                        {tr("Setup"), 250},
                        {tr("Outcome"), 84, false, true},
                        {tr("How much"), 130, false, true},
                        {tr("Again"), 52, false, true},
                        {tr("Note"), 120, false, true}},
                       tr("Trials"));
    connect(runs_, &FactTable::edited, this, [this](int row, int column, const QString& text) {
        change(runs_->key(row).toString(), column, text.trimmed());
    });
    runs_sheet_->body()->addWidget(runs_, 1);
    entry_ = new Field;
    entry_->setAccessibleName(tr("A trial"));
    entry_->setPlaceholderText(tr("fails: host second machine, R4 2.2k, unit adapter-1"));
    entry_->setToolTip(
        tr("How it went (works, partly, fails), how much if you like (fails 12 %), a colon, and each thing "
           "that was "
           "varied with its value. A CSV file can be dropped here."));
    entry_->commit = [this](const QString& text) { return enter(text.trimmed()); };
    runs_sheet_->body()->addWidget(entry_);
    whole->addWidget(runs_sheet_, 2);
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
}

void TrialsView::refresh() {
    auto table = trials_of(document_.dossier());
    fill_runs();
    // A long table is studied beside the window.
    constexpr std::size_t few_cells = 2'000;
    if (table.rows.size() * table.factors.size() <= few_cells) {
        later_.cancel();
        auto study = study_trials(table);
        return show_study({std::move(table), std::move(study)});
    }
    matrix_sheet_->set_about(tr("Counting …"));
    later_.ask(
        [table](Progress&) {
            return Studied{table, study_trials(table)};
        },
        [this](const Studied& studied) { show_study(studied); });
}

void TrialsView::show_study(Studied studied) {
    table_ = std::move(studied.table);
    study_ = std::move(studied.study);
    QString about = to_q(study_.why);
    constexpr int most_pairs_said = 2;
    QStringList pairs;
    for (const auto& [a, b] : study_.confounded)
        if (pairs.size() < most_pairs_said)
            pairs << tr("%1 and %2").arg(to_q(print(table_, a)), to_q(print(table_, b)));
    if (!pairs.isEmpty() && study_.explanations().size() < 2)
        about += tr(" Never one without the other: %1%2.")
                     .arg(pairs.join(QStringLiteral("; ")),
                          study_.confounded.size() > most_pairs_said ? tr("; …") : QString());
    for (const auto& l : table_.left_out) about += QLatin1Char(' ') + to_q(l) + QLatin1Char('.');
    matrix_sheet_->set_about(about, true);
    matrix_->show_drawing(trial_matrix(table_, study_, matrix_->width()));
    next_->setEnabled(study_.next.has_value() && !study_.next->other_value);
}

void TrialsView::fill_runs() {
    std::vector<TableRow> rows;
    for (const auto& t : document_.dossier().log->trials) {
        TableCell name(to_q(t.id));
        name.key = to_q(t.id);
        name.sort = static_cast<double>(rows.size());
        constexpr std::array marks{Verdict::unknown, Verdict::holds, Verdict::doubt, Verdict::stop};
        TableCell outcome(t.outcome == TrialOutcome::not_said ? tr("not yet") : to_q(word(t.outcome)));
        outcome.icon = verdict_icon(marks[static_cast<std::size_t>(t.outcome)]);
        const auto state = degree_state(t);
        TableCell degree(state.degree
                             ? QString::number(*state.degree, 'g', 4) + QLatin1Char(' ') + to_q(state.of)
                             : QString());
        degree.tip = to_q(state.says);
        if (state.verdict != Verdict::unknown) degree.icon = verdict_icon(state.verdict);
        rows.push_back({name, to_q(t.day), to_q(setup_text(t)), outcome, degree,
                        t.repeats == Repeats::not_said ? QString() : to_q(word(t.repeats)), to_q(t.note)});
    }
    runs_sheet_->set_about(rows.empty() ? tr("No run yet. One thing changed at a time tells most.")
                                        : QString());
    runs_->set_rows(std::move(rows));
    remove_->setEnabled(runs_->row_count() > 0);
}

void TrialsView::change(const QString& id, int column, const QString& text) {
    const auto said = text.toStdString();
    document_.apply(
        tr("trial %1").arg(id), edit<TrialRun>(document_.dossier(), id.toStdString(), [&](TrialRun& t) {
            if (column == run_day && (said.empty() || parse_day(said))) t.day = said;
            if (column == run_outcome)
                if (const auto outcome = named<TrialOutcome>(said)) t.outcome = *outcome;
            if (column == run_repeats)
                if (const auto repeats = named<Repeats>(said)) t.repeats = *repeats;
            if (column == run_note) t.note = said;
            if (column == run_degree) {
                const auto space = said.find(' ');
                if (said.empty()) t.degree.reset();
                if (const auto number = decimal_number(std::string_view(said).substr(0, space), '.')) {
                    t.degree = *number;
                    if (space != std::string::npos) t.degree_of = said.substr(space + 1);
                }
            }
        }));
    refresh();
}

std::optional<QString> TrialsView::enter(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    auto trial = trial_from_text(text.toStdString(), document_.dossier());
    if (!trial) return to_q(trial.error().message());
    trial->id = free_id<TrialRun>(document_.dossier(), "run-1");
    trial->day = today().toStdString();
    document_.apply(tr("a trial"), put(document_.dossier(), *trial));
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

void TrialsView::begin_next() {
    if (!study_.next || study_.next->other_value) return;
    const auto& d = document_.dossier();
    const auto& from = table_.rows[study_.next->from].id;
    for (const auto& t : d.log->trials) {
        if (t.id != from) continue;
        auto next = t;
        next.id = free_id<TrialRun>(d, "run-1");
        next.day = today().toStdString();
        next.outcome = TrialOutcome::not_said;
        next.degree.reset();
        next.repeats = Repeats::not_said;
        next.beside.clear();
        next.ahead_s.reset();
        next.readings.clear();
        next.note.clear();
        const auto& name = table_.factors[study_.next->factor];
        const auto& value = study_.next->values[study_.next->factor];
        bool said = false;
        for (auto& f : next.setup)
            if (f.name == name) {
                f.value = value;
                said = true;
            }
        for (const auto& u : *d.units)
            if (!said && name == "unit" && (u.name == value || u.id == value)) next.unit = u.id;
        for (const auto& i : d.log->images)
            if (!said && name == "image" && image_name(i) == value) next.image = i.id;
        document_.apply(tr("the next trial"), put(d, next));
        pick(to_q(next.id));
        return;
    }
}

void TrialsView::pick(const QString& trial) {
    for (int row = 0; row < runs_->row_count(); ++row)
        if (runs_->key(row).toString() == trial) runs_->choose(row);
}

QString TrialsView::take_file(const QString& path) {
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly) || file.size() > most_trials_file)
        return tr("%1 can't be read, or is larger than 4 MiB.").arg(path);
    const auto trials =
        trials_from_csv(file.readAll().toStdString(), path.toStdString(), document_.dossier());
    if (!trials) return to_q(trials.error().message());
    document_.apply(tr("trials from a file"), edit(document_.dossier(), &Dossier::log, [&](JobLog& log) {
                        for (const auto& t : *trials) {
                            const auto at = std::find_if(log.trials.begin(), log.trials.end(),
                                                         [&](const TrialRun& o) { return o.id == t.id; });
                            if (at == log.trials.end())
                                log.trials.push_back(t);
                            else
                                *at = t;
                        }
                    }));
    return {};
}

}  // namespace grayrelic::app
