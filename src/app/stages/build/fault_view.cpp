// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/build/fault_view.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <QDate>
#include <QHBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/dossier/edits.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic::app {
namespace {

std::vector<SaidReading> said_of(const std::vector<std::string>& texts) {
    std::vector<SaidReading> out;
    for (const auto& text : texts)
        if (auto said = read_said(text)) out.push_back(std::move(*said));
    return out;
}

/// What the field is told of a reading, for a person.
QString asked(const BenchReading& r) {
    const auto a = to_q(r.a), b = to_q(r.b);
    switch (r.kind) {
        case ReadingKind::look:
            return FaultView::tr("Look at %1: is it there, the right way round, and the right one?").arg(a);
        case ReadingKind::beep: return FaultView::tr("Power off. Does it beep from %1 to %2?").arg(a, b);
        case ReadingKind::ohms: return FaultView::tr("Power off. How many ohms from %1 to %2?").arg(a, b);
        case ReadingKind::diode:
            return FaultView::tr("Power off. What does the diode range say, red at %1, black at %2?")
                .arg(a, b);
        case ReadingKind::farads:
            return FaultView::tr("Power off. What capacitance from %1 to %2?").arg(a, b);
        case ReadingKind::volts:
            return FaultView::tr("Power on, all lines at rest. How many volts at %1?").arg(a);
    }
    return {};
}

}  // namespace

FaultView::FaultView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    lines_sheet_ = new Sheet(tr("What it does"));
    auto* well =
        compact_button(tr("The rest is well"), tr("Lines of which nothing was said do what they should"));
    connect(well, &QPushButton::clicked, this, &FaultView::rest_is_well);
    lines_sheet_->add_to_title(well);
    auto* anew = compact_button(tr("Begin anew"), tr("Forgets what was seen; undo brings it back"));
    connect(anew, &QPushButton::clicked, this, &FaultView::forget);
    lines_sheet_->add_to_title(anew);
    lines_ = new FactTable;
    lines_->set_columns({{tr("Line or reading"), 170}, {tr("Seen"), 90, false, true}}, tr("What was seen"));
    connect(lines_, &FactTable::edited, this, [this](int at, int, const QString& text) {
        if (filling_ || text.trimmed().isEmpty()) return;
        if (const auto problem = take(lines_->key(at).toString() + QLatin1Char('=') + text.trimmed())) {
            fill();
            lines_sheet_->set_about(*problem, true);
        }
    });
    lines_sheet_->body()->addWidget(lines_, 1);
    row->addWidget(lines_sheet_, 2);
    suspects_sheet_ = new Sheet(tr("What is wrong"));
    auto* cause = compact_button(tr("This was it"),
                                 tr("The chosen one was the cause: it is kept, and weighs the next search"));
    connect(cause, &QPushButton::clicked, this, &FaultView::found);
    suspects_sheet_->add_to_title(cause);
    next_ = new QLabel;
    next_->setWordWrap(true);
    next_->setTextFormat(Qt::PlainText);
    next_->setFont(text_font(16));
    why_ = new QLabel;
    why_->setWordWrap(true);
    why_->setTextFormat(Qt::PlainText);
    why_->setFont(text_font(13));
    suspects_sheet_->body()->addWidget(next_);
    suspects_sheet_->body()->addWidget(why_);
    entry_ = new Field;
    entry_->setAccessibleName(tr("What the next measurement shows, or anything else that was seen"));
    entry_->setPlaceholderText(tr("beep, open, 4.97 V, turned … or volts:U2.16=0.1, HOLD>REPLY=low"));
    entry_->setToolTip(tr(
        "The answer to what is asked: beep or open, a value with its unit, as-drawn, missing, turned, "
        "other-marking, other-place. Or another reading in full: beep:U1.3+J2.4=open, ohms:R1.1+R1.2=4k7, "
        "volts:U2.16=0.1; a lead's own joint is U1.3+U1.3 pad, the far end of a connector's wire J2.3~. Or "
        "what a line does: HOLD>REPLY=low, high, nothing, ok, as STEP, unclear."));
    entry_->commit = [this](const QString& text) { return answer(text.trimmed()); };
    suspects_sheet_->body()->addWidget(entry_);
    suspects_ = new FactTable;
    suspects_->set_columns({{tr("Chance"), 60, true}, {tr("Suspect"), 320}, {tr("But"), 56}}, tr("Suspects"));
    suspects_sheet_->body()->addWidget(suspects_, 1);
    row->addWidget(suspects_sheet_, 3);
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
}

void FaultView::show_unit(const UnitBuild& unit) {
    unit_ = unit;
    const auto key = unit.board + "/" + unit.variant;
    auto now = document_.analysis();
    now.dossier = document_.dossier();
    auto from = versions_of(
        now.dossier, now,
        Rests::ports | Rests::boards | Rests::board_analysis | Rests::wire_analysis | Rests::data);
    if (key == made_for_ && from == made_from_) return think();
    made_for_ = key;
    made_from_ = std::move(from);
    book_.reset();
    working_ = true;
    fill();
    latest_.ask(
        [now = std::move(now), unit](Progress& progress) -> Made {
            auto board = bench_board(now, unit.board, unit.variant);
            if (!board) return {};
            auto book = make_fault_book(std::make_shared<const BenchBoard>(std::move(*board)), progress);
            return {book ? *book : nullptr};
        },
        [this](const Made& m) { made(m); });
}

void FaultView::made(const Made& now) {
    book_ = now.book;
    working_ = false;
    think();
}

void FaultView::think() {
    if (!book_) return fill();
    thinking_.ask([book = book_, seen = said_of(unit_.seen), closed = found_before(document_.dossier())](
                      Progress&) { return diagnose(*book, seen, closed); },
                  [this](const Diagnosis& d) {
                      diagnosis_ = d;
                      fill();
                  });
}

void FaultView::fill() {
    filling_ = true;
    fill_lines();
    fill_suspects();
    filling_ = false;
}

void FaultView::fill_lines() {
    std::vector<TableRow> rows;
    std::map<std::string, std::string> seen;
    std::vector<std::string> readings;
    for (const auto& text : unit_.seen) {
        const auto equals = text.rfind('=');
        seen[text.substr(0, equals)] = equals == std::string::npos ? "" : text.substr(equals + 1);
        readings.push_back(text.substr(0, equals));
    }
    std::vector<std::string> keys;
    if (book_)
        for (const auto& s : book_->healthy.symptoms) keys.push_back(s.key);
    for (const auto& r : readings)
        if (std::find(keys.begin(), keys.end(), r) == keys.end()) keys.push_back(r);
    for (const auto& key : keys) {
        const auto it = seen.find(key);
        const bool line = key.find('>') != std::string::npos;
        TableCell name(
            line ? tr("%1 at %2")
                       .arg(to_q(key).section(QLatin1Char('>'), 0, 0), to_q(key).section(QLatin1Char('>'), 1))
                 : to_q(key));
        name.key = to_q(key);
        TableCell what(it == seen.end() ? QString() : to_q(it->second));
        name.icon = verdict_icon(it == seen.end() || !line ? Verdict::unknown
                                 : it->second == "ok"      ? Verdict::holds
                                                           : Verdict::stop);
        what.tip = line ? tr("ok, low, high, nothing, unclear, weak, strong, or as and another line: as STEP")
                        : QString();
        rows.push_back({name, what});
    }
    lines_->set_rows(std::move(rows));
    const auto bad = std::count_if(seen.begin(), seen.end(), [](const auto& s) {
        return s.first.find('>') != std::string::npos && s.second != "ok";
    });
    QString about = unit_.id.empty() ? tr("Say first which unit is on the bench")
                    : seen.empty()
                        ? tr("Press line by line, and say what each one does: low, high, as another, …")
                        : tr("%1 said; %2 not as they should be").arg(seen.size()).arg(bad);
    if (book_ && !book_->board->problem.empty())
        about = tr("Only what a meter shows without power: %1").arg(to_q(book_->board->problem));
    lines_sheet_->set_about(about, true);
}

/// The first ones, which no reading tells apart, are together as good as certain, and nothing speaks against
/// them.
bool FaultView::is_sure() const {
    constexpr double as_good_as = 0.9;
    double first = 0;
    for (const auto& s : diagnosis_.suspects)
        if (s.place == 1) first += s.chance;
    return first >= as_good_as && diagnosis_.suspects.front().against.empty();
}

QString FaultView::verdict_words() const {
    const auto& d = diagnosis_;
    if (!d.unknown.empty()) return tr("The board has no %1").arg(to_q(d.unknown.front()));
    if (!d.unexplained.empty() && !d.pairs.empty())
        return tr("No single fault explains all. These two together would: %1; %2")
            .arg(to_q(book_->faults[d.pairs.front().one].says()),
                 to_q(book_->faults[d.pairs.front().two].says()));
    if (!d.unexplained.empty())
        return tr("No single fault explains %1: measure it again, or look for two")
            .arg(to_q(d.unexplained.front()));
    if (d.suspects.empty() || d.healthy >= d.suspects.front().chance)
        return tr("All that was said fits a sound board. What nobody sees, the joint sheet finds");
    QString about = !d.settled ? tr("The likeliest first")
                    : is_sure() && d.suspects.size() > 1 && d.suspects[1].place == 1
                        ? tr("No reading tells the first ones apart: mend them in turn")
                    : is_sure() ? tr("As good as sure")
                                : tr("No reading is left that tells more, and none of them is sure");
    const auto apart = not_simulated(*book_->board);
    if (!apart.empty())
        about +=
            tr("; not simulated, so not excluded: %1").arg(to_q(fmt::format("{}", fmt::join(apart, ", "))));
    return about;
}

void FaultView::fill_suspects() {
    std::vector<TableRow> rows;
    QString about, next, why;
    if (!book_) {
        about = working_ ? tr("Working out what each fault would show …")
                         : tr("No circuit yet: Wire's, a network or a netlist says what can be wrong");
    } else if (unit_.seen.empty()) {
        about = tr("%1 single faults are worked out").arg(book_->faults.size());
        next = tr("What does it do that it should not?");
    } else {
        for (const auto& s : diagnosis_.suspects) {
            if (rows.size() >= 40 || (s.chance < 0.001 && rows.size() >= 3)) break;
            TableCell chance(tr("%1 %").arg(s.chance * 100, 0, 'f', s.chance < 0.1 ? 1 : 0));
            chance.key = to_q(book_->faults[s.fault].key());
            chance.sort = -s.chance;
            rows.push_back({chance, to_q(book_->faults[s.fault].says()),
                            to_q(fmt::format("{}", fmt::join(s.against, ", ")))});
        }
        about = verdict_words();
        if (diagnosis_.next) {
            next = asked(book_->readings[diagnosis_.next->reading]);
            why = to_q(diagnosis_.next->why);
        } else if (is_sure()) {
            next = tr("Likeliest: %1.").arg(to_q(book_->faults[diagnosis_.suspects.front().fault].says()));
        }
    }
    suspects_->set_rows(std::move(rows));
    suspects_sheet_->set_about(about, true);
    next_->setText(next);
    next_->setVisible(!next.isEmpty());
    why_->setText(why);
    why_->setVisible(!why.isEmpty());
    entry_->setEnabled(book_ != nullptr && !unit_.id.empty());
}

void FaultView::keep(const QString& what, std::vector<std::string> seen) {
    document_.apply(what,
                    edit<UnitBuild>(document_.dossier(), unit_.id, [&](UnitBuild& u) { u.seen = seen; }));
    for (const auto& b : *document_.dossier().builds)
        if (b.id == unit_.id) unit_ = b;
    think();
}

std::optional<QString> FaultView::take(const QString& text) {
    if (unit_.id.empty()) return tr("say first which unit is on the bench");
    const auto said = read_said(text.toStdString());
    if (!said) return to_q(said.error().message());
    auto seen = unit_.seen;
    const auto key = text.toStdString().substr(0, text.toStdString().rfind('='));
    std::erase_if(seen, [&](const std::string& s) { return s.substr(0, s.rfind('=')) == key; });
    seen.push_back(text.toStdString());
    keep(tr("seen: %1").arg(text), std::move(seen));
    return std::nullopt;
}

std::optional<QString> FaultView::answer(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    auto whole = text;
    if (!text.contains(QLatin1Char('=')) && book_ && diagnosis_.next)
        whole = to_q(book_->readings[diagnosis_.next->reading].key()) + QLatin1Char('=') + text;
    auto problem = take(whole);
    if (!problem) {
        entry_->clear();
        entry_->show_value({});
    }
    return problem;
}

void FaultView::rest_is_well() {
    if (!book_ || unit_.id.empty()) return;
    auto seen = unit_.seen;
    for (const auto& s : book_->healthy.symptoms) {
        const auto said = std::any_of(seen.begin(), seen.end(),
                                      [&](const std::string& t) { return t.starts_with(s.key + "="); });
        if (!said) seen.push_back(s.key + "=ok");
    }
    keep(tr("the rest is well"), std::move(seen));
}

void FaultView::found() {
    if (!book_ || unit_.id.empty() || diagnosis_.suspects.empty()) return;
    auto key = book_->faults[diagnosis_.suspects.front().fault].key();
    if (suspects_->chosen() >= 0) key = suspects_->key(suspects_->chosen()).toString().toStdString();
    std::string note;
    for (const auto& s : unit_.seen)
        if (!s.ends_with("=ok")) note += (note.empty() ? "" : ", ") + s;
    document_.apply(tr("cause found: %1").arg(to_q(key)),
                    edit<UnitBuild>(document_.dossier(), unit_.id, [&](UnitBuild& u) {
                        u.found.push_back({key, today().toStdString(), note});
                        u.seen.clear();
                    }));
}

void FaultView::forget() {
    if (!unit_.id.empty() && !unit_.seen.empty()) keep(tr("what was seen is forgotten"), {});
}

}  // namespace grayrelic::app
