// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/stack_view.hpp"

#include <QCryptographicHash>
#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QSignalBlocker>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/dossier/store.hpp"
#include "core/fit/board_states.hpp"
#include "core/fit/stack_text.hpp"
#include "core/library/data_library.hpp"
#include "core/report/stack_figure.hpp"

namespace grayrelic::app {
namespace {

constexpr int stack_side_width = 470;
constexpr qint64 most_hashed = 64 << 20;

QString join_word(JoinKind kind) {
    switch (kind) {
        case JoinKind::soldered: return StackView::tr("soldered");
        case JoinKind::cable: return StackView::tr("cable");
        default: return StackView::tr("plugged");
    }
}

QString lies(const StackLevel& l) {
    QStringList out;
    if (l.x_mm != 0 || l.y_mm != 0)
        out << QStringLiteral("%1, %2").arg(l.x_mm).arg(l.y_mm).replace(QLatin1Char('-'), QChar(0x2212));
    if (l.turn_deg != 0) out << StackView::tr("turned %1°").arg(l.turn_deg);
    if (l.over) out << StackView::tr("front down");
    return out.join(QStringLiteral("; "));
}

}  // namespace

StackView::StackView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    auto* left = new QVBoxLayout;
    left->setSpacing(8);
    picture_sheet_ = new Sheet(tr("Over one another"));
    stacks_ = new ChoiceBox(tr("Which stack"), tr("Which stack of boards"));
    connect(stacks_, &QComboBox::activated, this, [this](int at) {
        stack_ = stacks_->itemData(at).toString().toStdString();
        fill();
    });
    picture_sheet_->add_to_title(stacks_);
    picture_ = new DrawingView(tr("The stack from above and from the front"));
    picture_->least_width = 200;
    picture_sheet_->body()->addWidget(picture_, 1);
    left->addWidget(picture_sheet_, 5);
    left->addWidget(make_troubles(), 3);
    row->addLayout(left, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    right->addWidget(make_boards());
    right->addWidget(make_levels(), 1);
    row->addLayout(right, 1);
}

QWidget* StackView::make_boards() {
    boards_sheet_ = new Sheet(tr("Boards of the job"));
    boards_sheet_->setMaximumWidth(stack_side_width);
    boards_ = new FactTable;
    boards_->set_columns({{tr("Board"), 170}, {tr("State"), 130}, {tr("Fitted as"), 84}},
                         tr("Boards of the job"));
    boards_->fit_rows(6);
    boards_sheet_->body()->addWidget(boards_, 1);
    return boards_sheet_;
}

QWidget* StackView::make_levels() {
    levels_sheet_ = new Sheet(tr("Levels and joins"));
    levels_sheet_->setMaximumWidth(stack_side_width);
    auto* less =
        compact_button(tr("Remove"), tr("Takes the chosen level, join or variant away; undo brings it back"));
    levels_sheet_->add_to_title(less);
    connect(less, &QPushButton::clicked, this, &StackView::remove_chosen);
    cautions_ = new CautionLine;
    levels_sheet_->body()->addWidget(cautions_);
    levels_ = new FactTable;
    levels_->set_columns({{tr("What"), 128},
                          {tr("Lies, or is"), 190},
                          {tr("Gap"), 50, true, true},
                          {tr("Known"), 70, false, true}},
                         tr("Levels and joins"));
    connect(levels_, &FactTable::row_opened, this,
            [this](int at) { show_entry(levels_->key(at).toString()); });
    connect(levels_, &FactTable::edited, this, &StackView::change_gap);
    levels_sheet_->body()->addWidget(levels_, 1);
    entry_ = new Field;
    entry_->setAccessibleName(tr("A level, a join or a variant"));
    entry_->setPlaceholderText(tr("level test at 10 5 gap 11 ± 0.2 measured"));
    entry_->setToolTip(
        tr("level NAME, then as far as it matters: board ID, as VARIANT, at X Y, turn 90, over (front down), "
           "gap MM "
           "to the level below with its tolerance and how it is known. The first level is the lowest.\n"
           "join tone/J2 test/J1 soldered (or plugged, or cable).\n"
           "variant mixer without R5 C3 with JP1 1-2: a way in which the chosen board is fitted; or only U1 "
           "C1.\n"
           "Double-click a row to have its line here."));
    entry_->commit = [this](const QString& text) { return take(text.trimmed()); };
    levels_sheet_->body()->addWidget(entry_);
    return levels_sheet_;
}

QWidget* StackView::make_troubles() {
    troubles_sheet_ = new Sheet(tr("What they do to each other"));
    troubles_ = new FactTable;
    troubles_->set_columns({{tr("What"), 400}}, tr("What the boards do to each other"));
    troubles_sheet_->body()->addWidget(troubles_, 1);
    return troubles_sheet_;
}

const BoardStack* StackView::stack() const {
    for (const auto& s : *document_.dossier().stacks)
        if (s.id == stack_) return &s;
    return document_.dossier().stacks->empty() ? nullptr : &document_.dossier().stacks->front();
}

void StackView::show_board(const std::string& id) {
    board_ = id;
    fill();
}

void StackView::fill() {
    const auto* s = stack();
    stack_ = s == nullptr ? std::string() : s->id;
    {
        const QSignalBlocker rest(stacks_);
        stacks_->clear();
        for (const auto& each : *document_.dossier().stacks)
            stacks_->addItem(to_q(each.name.empty() ? each.id : each.name), to_q(each.id));
        stacks_->setCurrentIndex(std::max(0, stacks_->findData(to_q(stack_))));
        stacks_->setVisible(stacks_->count() > 1);
    }
    // With what was just entered: the analysis may be a moment behind.
    auto now = document_.analysis();
    now.dossier = document_.dossier();
    result_ = s == nullptr ? StackResult{} : stack_of(now, *s);
    picture_sheet_->set_about(
        s == nullptr ? tr("Enter the levels beside, the lowest first") : to_q(result_.says), true);
    const auto shown = std::make_shared<const StackResult>(result_);
    const auto of = std::make_shared<const BoardStack>(s == nullptr ? BoardStack{} : *s);
    const auto* sheet = picture_sheet_;
    picture_->redraw = [shown, of, sheet](double width) {
        return draw_stack(*shown, *of, width, std::max(220.0, sheet->height() - 84.0));
    };
    picture_->show_drawing(picture_->redraw(picture_->width()));
    fill_boards();
    fill_levels(s);
    fill_troubles(s);
}

/// Of the archives as they are now, so that what was sent can be told from it.
std::map<std::string, std::string> StackView::hashes() {
    std::map<std::string, std::string> out;
    for (const auto& b : *document_.dossier().boards) {
        if (b.file.empty() && b.outside.empty()) continue;
        const auto path = board_path(b, document_.folder());
        if (!path) continue;
        const QFileInfo info(to_q(path->string()));
        if (!info.isFile() || info.size() > most_hashed) continue;
        const auto stamp =
            QStringLiteral("%1 %2").arg(info.lastModified().toMSecsSinceEpoch()).arg(info.size());
        auto& kept = hashed_[path->string()];
        if (kept.first != stamp) {
            QFile file(info.filePath());
            QCryptographicHash hash(QCryptographicHash::Sha256);
            if (!file.open(QIODevice::ReadOnly) || !hash.addData(&file)) continue;
            kept = {stamp, hash.result().toHex().toStdString()};
        }
        out[b.id] = kept.second;
    }
    return out;
}

void StackView::fill_boards() {
    std::vector<TableRow> rows;
    for (const auto& s : board_states(document_.dossier(), hashes())) {
        TableCell name(to_q(s.title));
        name.key = to_q(s.id);
        name.bold = s.id == board_;
        name.icon = verdict_icon(s.older_here() > 0 ? Verdict::doubt
                                 : s.here() > 0     ? Verdict::holds
                                                    : Verdict::unknown);
        QStringList variants;
        for (const auto& b : *document_.dossier().boards)
            if (b.id == s.id)
                for (const auto& v : b.variants) variants << to_q(v.name);
        TableCell state(to_q(s.says));
        state.tip = to_q(s.says);
        rows.push_back({name, state, variants.join(QStringLiteral(", "))});
    }
    boards_sheet_->set_about(rows.empty()
                                 ? tr("None yet: bring fabrication files, or begin with what has to fit")
                                 : tr("drawn, ordered, here: from the files and Plan's orders"));
    boards_->set_rows(std::move(rows));
}

TableRow StackView::level_row(const StackLevel& l, bool lowest) const {
    TableCell name(to_q(level_title(l)));
    name.key = QStringLiteral("level:") + to_q(l.name);
    name.tip = to_q(level_text(l));
    auto fact = l.gap;
    for (const auto& d : *document_.dossier().dimensions)
        if (!l.dimension.empty() && d.id == l.dimension) fact = d.mm;
    TableCell gap(!lowest && fact.value ? QString::number(*fact.value) : QString());
    gap.editable = !lowest;
    TableCell known(lowest ? QString() : to_q(word(fact.evidence.kind)));
    known.editable = !lowest;
    known.tip = to_q(fact.evidence.source);
    auto where = lies(l);
    if (lowest) where = where.isEmpty() ? tr("lowest") : tr("lowest; %1").arg(where);
    return {name, where, gap, known};
}

TableRow StackView::join_row(const StackJoin& j, std::size_t number) const {
    TableCell name(QStringLiteral("%1 – %2").arg(to_q(j.lower), to_q(j.upper)));
    name.key = QStringLiteral("join:%1").arg(number);
    TableCell budget(join_word(j.kind));
    for (const auto& made : result_.nets.joins) {
        if (made.join != number) continue;
        budget.text = tr("%1, %2 of %3 used").arg(join_word(j.kind)).arg(made.used).arg(made.contacts.size());
        budget.tip = to_q(pin_budget(made));
        if (!made.strip.says.empty()) budget.tip += QStringLiteral("; ") + to_q(made.strip.says);
        if (!made.problem.empty()) name.icon = verdict_icon(Verdict::stop);
    }
    TableCell none;
    none.editable = false;
    return {name, budget, none, none};
}

void StackView::fill_levels(const BoardStack* s) {
    std::vector<TableRow> rows;
    if (s != nullptr) {
        for (auto l = s->levels.rbegin(); l != s->levels.rend(); ++l)
            rows.push_back(level_row(*l, l + 1 == s->levels.rend()));
        for (std::size_t i = 0; i < s->joins.size(); ++i) rows.push_back(join_row(s->joins[i], i));
    }
    for (const auto& b : *document_.dossier().boards)
        for (const auto& v : b.variants) {
            TableCell name(tr("%1 as %2").arg(to_q(b.id), to_q(v.name)));
            name.key = QStringLiteral("variant:") + to_q(b.id) + QLatin1Char('/') + to_q(v.name);
            TableCell what(to_q(variant_text(v)).section(QLatin1Char(' '), 2));
            what.tip = what.text;
            TableCell none;
            none.editable = false;
            rows.push_back({name, what, none, none});
        }
    levels_->set_rows(std::move(rows));
    std::vector<const Caution*> cautions;
    if (const auto& data = document_.analysis().data; data && s != nullptr)
        for (const auto& c : data->cautions.cautions)
            if (c.id == "solder") cautions.push_back(&c);
    cautions_->show_cautions(cautions);
}

void StackView::fill_troubles(const BoardStack* s) {
    std::vector<TableRow> rows;
    if (s != nullptr)
        for (const auto& f : document_.analysis().findings) {
            if (f.place.kind != "stack" || !f.place.id.starts_with(s->id + "/")) continue;
            TableCell says(to_q(f.says));
            says.key = to_q(f.place.id);
            says.icon = verdict_icon(f.severity == Severity::stop    ? Verdict::stop
                                     : f.severity == Severity::doubt ? Verdict::doubt
                                                                     : Verdict::unknown);
            says.tip = to_q(f.why + " " + f.todo);
            rows.push_back({says});
        }
    troubles_sheet_->set_about(s == nullptr || s->levels.size() < 2 ? tr("With two levels or more")
                               : rows.empty()                       ? tr("Nothing")
                                                                    : tr("Tool tips say what to do"));
    troubles_->set_rows(std::move(rows));
}

void StackView::select(const QString& thing) {
    const auto id = thing.section(QLatin1Char('/'), 0, 0).toStdString();
    for (const auto& s : *document_.dossier().stacks)
        if (s.id == id) stack_ = id;
    fill();
    for (int i = 0; i < troubles_->row_count(); ++i)
        if (troubles_->key(i).toString() == thing) troubles_->choose(i);
}

}  // namespace grayrelic::app
