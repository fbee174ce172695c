// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/bench_view.hpp"

#include <QApplication>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include <algorithm>
#include <functional>

#include "app/paint/marks.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/plan/bench_needs.hpp"

namespace grayrelic::app {
namespace {

template <Unit U>
QString limit(const std::optional<Quantity<U>>& q) {
    return q ? to_q(print_exact(q->value(), U)) : QString();
}

template <Unit U>
bool take(std::optional<Quantity<U>>& into, const QString& text) {
    if (text.isEmpty()) {
        into.reset();
        return true;
    }
    const auto q = parse_quantity<U>(text.toStdString());
    if (!q || !(q->value() > 0)) return false;
    into = *q;
    return true;
}

QPushButton* remove_button(const QString& tip) {
    auto* b = new QPushButton(QObject::tr("Remove"));
    b->setProperty("compact", true);
    b->setToolTip(tip);
    return b;
}

}  // namespace

BenchView::BenchView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(12);
    whole->addWidget(make_instruments(), 1);
    auto* low = new QHBoxLayout;
    low->setSpacing(12);
    low->addWidget(make_soldering(), 1);
    low->addWidget(make_processes());
    whole->addLayout(low, 1);
    connect(&document_, &Document::person_changed, this, &BenchView::refresh);
}

QWidget* BenchView::make_instruments() {
    instrument_sheet_ = new Sheet(tr("Instruments and tools"));
    auto* remove = remove_button(tr("Takes the chosen ones off your bench"));
    connect(remove, &QPushButton::clicked, this, [this] {
        auto rows = instruments_->chosen_rows();
        std::sort(rows.begin(), rows.end(), std::greater<>());
        (void)change([&](Bench& b) {
            for (const int r : rows)
                if (r < static_cast<int>(b.instruments.size()))
                    b.instruments.erase(b.instruments.begin() + r);
        });
    });
    instrument_sheet_->add_to_title(remove);
    entry_ = new Field;
    entry_->setPlaceholderText(tr("Add: analyser 24 MHz 8 inputs 5 V small one"));
    entry_->setAccessibleName(tr("An instrument as one line"));
    entry_->setToolTip(
        tr("Its kind, then limits in any order: the most volts at its inputs, samples a second or "
           "bandwidth, inputs, 1.4 V threshold; the rest is its name"));
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        const auto made = parse_instrument(text.toStdString());
        if (!made)
            return tr("Found %1, expected %2.").arg(to_q(made.error().found), to_q(made.error().expected));
        auto problem = change([&](Bench& b) { b.instruments.push_back(*made); });
        if (!problem) {
            entry_->clear();
            entry_->show_value({});
        }
        return problem;
    };
    instrument_sheet_->body()->addWidget(entry_);
    instruments_ = new FactTable;
    instruments_->set_columns({{tr("Kind"), 80},
                               {tr("Name"), 140, false, true},
                               {tr("Most volts"), 80, true, true},
                               {tr("Bandwidth"), 90, true, true},
                               {tr("Samples/s"), 90, true, true},
                               {tr("Inputs"), 60, true, true},
                               {tr("Threshold"), 80, true, true}},
                              tr("Instruments"));
    connect(instruments_, &FactTable::edited, this, &BenchView::edit_instrument);
    instrument_sheet_->body()->addWidget(instruments_, 1);
    reach_ = new QLabel;
    reach_->setWordWrap(true);
    reach_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    reach_->setAccessibleName(tr("What the bench reaches in this job"));
    instrument_sheet_->body()->addWidget(reach_);
    return instrument_sheet_;
}

QWidget* BenchView::make_processes() {
    auto* sheet = new Sheet(tr("At hand"));
    sheet->setFixedWidth(268);
    for (const auto p : all_of<Process>()) {
        auto* box = new QCheckBox(QString(to_q(word(p))).replace(QLatin1Char('-'), QLatin1Char(' ')));
        connect(box, &QCheckBox::clicked, this, [this, p](bool on) {
            (void)change([&](Bench& b) {
                std::erase(b.processes, p);
                if (on) b.processes.push_back(p);
            });
        });
        processes_[p] = box;
        sheet->body()->addWidget(box);
    }
    auto* grid = new QGridLayout;
    hours_ = new Field;
    hours_->setAccessibleName(tr("Hours a week"));
    hours_->commit = [this](const QString& text) -> std::optional<QString> {
        bool fine = text.trimmed().isEmpty();
        const double hours = fine ? 0 : text.toDouble(&fine);
        if (!fine || hours < 0 || hours > 168 || (hours == 0 && !text.trimmed().isEmpty()))
            return tr("Expected hours, more than 0 and at most 168.");
        return change([&](Bench& b) { b.hours_per_week = hours > 0 ? std::optional(hours) : std::nullopt; });
    };
    currency_ = new Field;
    currency_->setAccessibleName(tr("Currency"));
    currency_->commit = [this](const QString& text) {
        return change([&](Bench& b) { b.currency = text.trimmed().toStdString(); });
    };
    const auto worth = [this, grid](int row, const QString& label, const QString& tip,
                                    std::optional<double> Bench::*member) {
        auto* field = new Field;
        field->setAccessibleName(label);
        field->setToolTip(tip);
        field->commit = [this, member](const QString& text) -> std::optional<QString> {
            bool fine = text.trimmed().isEmpty();
            const double v = fine ? 0 : text.trimmed().toDouble(&fine);
            if (!fine || !(v >= 0 && v < 1e9)) return tr("Expected money, zero or more; empty: not said.");
            return change(
                [&](Bench& b) { b.*member = text.trimmed().isEmpty() ? std::nullopt : std::optional(v); });
        };
        grid->addWidget(secondary_label(label), row, 0);
        grid->addWidget(field, row, 1);
        return field;
    };
    hour_worth_ = worth(2, tr("An hour is worth"),
                        tr("Of your work, in money; what a breadboard costs by it"), &Bench::hour_worth);
    day_worth_ = worth(3, tr("A day sooner"), tr("What it is worth to be done a day sooner, in money"),
                       &Bench::day_worth);
    grid->addWidget(secondary_label(tr("Hours a week")), 0, 0);
    grid->addWidget(hours_, 0, 1);
    grid->addWidget(secondary_label(tr("Currency")), 1, 0);
    grid->addWidget(currency_, 1, 1);
    sheet->body()->addLayout(grid);
    sheet->body()->addStretch(1);
    return sheet;
}

QWidget* BenchView::make_soldering() {
    solder_sheet_ = new Sheet(tr("Soldered so far"));
    auto* remove = remove_button(tr("Takes the chosen packages off the record"));
    connect(remove, &QPushButton::clicked, this, [this] {
        auto rows = soldering_->chosen_rows();
        std::sort(rows.begin(), rows.end(), std::greater<>());
        (void)change([&](Bench& b) {
            for (const int r : rows)
                if (r < static_cast<int>(b.solder.size())) b.solder.erase(b.solder.begin() + r);
        });
    });
    solder_sheet_->add_to_title(remove);
    packages_ = new Field;
    packages_->setPlaceholderText(tr("Add: soic 120 2"));
    packages_->setAccessibleName(tr("A package as one line"));
    packages_->setToolTip(tr("A package, how many you have soldered, how many of them came out badly"));
    packages_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        const auto made = parse_solder(text.toStdString());
        if (!made) return tr("Expected %1.").arg(to_q(made.error().expected));
        auto problem = change([&](Bench& b) { b.solder.push_back(*made); });
        if (!problem) {
            packages_->clear();
            packages_->show_value({});
        }
        return problem;
    };
    solder_sheet_->body()->addWidget(packages_);
    soldering_ = new FactTable;
    soldering_->set_columns({{tr("Package"), 90},
                             {tr("Done"), 60, true, true},
                             {tr("Bad"), 60, true, true},
                             {tr("Own yield"), 80, true}},
                            tr("Soldering"));
    connect(soldering_, &FactTable::edited, this, &BenchView::edit_record);
    solder_sheet_->body()->addWidget(soldering_, 1);
    return solder_sheet_;
}

std::optional<QString> BenchView::change(const std::function<void(Bench&)>& edit) {
    const auto problem = document_.change_bench(edit);
    if (problem.isEmpty()) return std::nullopt;
    instrument_sheet_->set_about(problem);
    return problem;
}

void BenchView::edit_instrument(int row, int column, const QString& typed) {
    const auto text = typed.trimmed();
    bool fine = true;
    (void)change([&](Bench& b) {
        if (row >= static_cast<int>(b.instruments.size())) return;
        auto& i = b.instruments[static_cast<std::size_t>(row)];
        switch (column) {
            case 1: i.name = text.toStdString(); break;
            case 2: fine = take(i.most_volts, text); break;
            case 3: fine = take(i.bandwidth, text); break;
            case 4: fine = take(i.rate, text); break;
            case 5: {
                const int n = text.isEmpty() ? 1 : text.toInt(&fine);
                fine = fine && n >= 1 && n <= 10'000;
                if (fine) i.inputs = text.isEmpty() ? std::nullopt : std::optional(n);
                break;
            }
            default: fine = take(i.threshold, text);
        }
    });
    if (fine) return;
    QApplication::beep();
    refresh();
    instrument_sheet_->set_about(column == 5 ? tr("Found “%1”, expected a number of inputs.").arg(text)
                                 : column == 3 || column == 4
                                     ? tr("Found “%1”, expected a frequency such as 24 MHz.").arg(text)
                                     : tr("Found “%1”, expected volts such as 5 V.").arg(text));
}

void BenchView::edit_record(int row, int column, const QString& typed) {
    bool fine = false;
    const int n = typed.trimmed().toInt(&fine);
    (void)change([&](Bench& b) {
        if (row >= static_cast<int>(b.solder.size())) return;
        auto& s = b.solder[static_cast<std::size_t>(row)];
        fine = fine && n >= 0 && n <= 10'000'000 && (column == 1 ? n >= s.bad : n <= s.done);
        if (fine) (column == 1 ? s.done : s.bad) = n;
    });
    if (fine) return;
    QApplication::beep();
    refresh();
    solder_sheet_->set_about(
        tr("Found “%1”, expected a whole number, no more bad ones than done.").arg(typed.trimmed()));
}

void BenchView::refresh() {
    const auto& b = document_.person().bench;
    std::vector<TableRow> rows;
    for (const auto& i : b.instruments)
        rows.push_back({to_q(word(i.kind)), to_q(i.name), limit(i.most_volts), limit(i.bandwidth),
                        limit(i.rate), i.inputs ? QString::number(*i.inputs) : QString(),
                        limit(i.threshold)});
    instruments_->set_rows(std::move(rows));
    instrument_sheet_->set_about(
        b.instruments.empty() ? tr("Yours, over all dossiers: entered once, and no dossier asks again.")
                              : tr("Yours, over all dossiers; a limit that is not known stays empty."));
    QStringList reach;
    for (const auto& line : bench_reach(b, bench_needs(document_.dossier(), *document_.analysis().listen)))
        reach << to_q(line);
    reach_->setText(reach.join(QLatin1Char('\n')));
    reach_->setVisible(!reach.isEmpty());
    rows.clear();
    for (const auto& s : b.solder)
        rows.push_back({to_q(s.package), QString::number(s.done), QString::number(s.bad),
                        QStringLiteral("%1 %").arg(own_yield(s) * 100, 0, 'f', 1)});
    soldering_->set_rows(std::move(rows));
    solder_sheet_->set_about(tr("Own yield: (good + 1) ÷ (done + 2), so that few parts promise little."));
    for (const auto& [p, box] : processes_)
        box->setChecked(std::find(b.processes.begin(), b.processes.end(), p) != b.processes.end());
    hours_->show_value(b.hours_per_week ? QString::number(*b.hours_per_week) : QString());
    currency_->show_value(to_q(b.currency));
    hour_worth_->show_value(b.hour_worth ? QString::number(*b.hour_worth) : QString());
    day_worth_->show_value(b.day_worth ? QString::number(*b.day_worth) : QString());
}

}  // namespace grayrelic::app
