// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/fit_view.hpp"

#include <QHBoxLayout>
#include <QSignalBlocker>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/dossier/dimension_text.hpp"
#include "core/dossier/edits.hpp"
#include "core/fit/fit_text.hpp"
#include "core/library/data_library.hpp"
#include "core/report/fit_figure.hpp"
#include "core/report/stack_figure.hpp"

namespace grayrelic::app {
namespace {

constexpr int fits_width = 430;

QString role_label(FitRole role) {
    switch (role) {
        case FitRole::gives: return FitView::tr("gives");
        case FitRole::takes: return FitView::tr("takes");
        case FitRole::travel: return FitView::tr("travel");
        case FitRole::actuates: return FitView::tr("closes at");
        case FitRole::endures: return FitView::tr("endures");
        case FitRole::stands: return FitView::tr("stands at");
        case FitRole::opens: return FitView::tr("opens at");
        case FitRole::bend: break;
    }
    return FitView::tr("bend");
}

QString figure(double mm) {
    return QString::number(mm, 'f', 2).replace(QLatin1Char('-'), QChar(0x2212));
}

QString tolerance(const FitLine& l) {
    if (l.plus == 0 && l.minus == 0) return {};
    if (l.plus == l.minus) return QStringLiteral("±%1").arg(l.plus);
    return QStringLiteral("+%1 −%2").arg(l.plus).arg(l.minus);
}

}  // namespace

FitView::FitView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    section_sheet_ = new Sheet(tr("Section"));
    section_ = new DrawingView(tr("A section through what has to fit"));
    section_->least_width = 220;
    section_sheet_->body()->addWidget(section_, 1);
    row->addWidget(section_sheet_, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    right->addWidget(make_fits(), 2);
    right->addWidget(make_lines(), 3);
    row->addLayout(right, 1);
}

QWidget* FitView::make_fits() {
    fits_sheet_ = new Sheet(tr("What has to fit"));
    fits_sheet_->setMaximumWidth(fits_width);
    auto* more = compact_button(
        tr("New"), tr("Another thing that has to fit: a module below the lid, a button, a cable"));
    auto* less = compact_button(tr("Remove"), tr("Takes the chosen fit away; undo brings it back"));
    fits_sheet_->add_to_title(more);
    fits_sheet_->add_to_title(less);
    connect(more, &QPushButton::clicked, this, &FitView::add_fit);
    connect(less, &QPushButton::clicked, this, &FitView::remove_chosen);
    fits_ = new FactTable;
    fits_->set_columns({{tr("Fit"), 200, false, true},
                        {tr("Left"), 62, true},
                        {tr("At worst"), 66, true},
                        {tr("By root"), 62, true}},
                       tr("Fits"));
    connect(fits_, &FactTable::row_chosen, this, [this](int at) {
        if (at < 0) return;
        const auto key = fits_->key(at).toString();
        if (key.startsWith(QStringLiteral("case:"))) return show_case(key.mid(5).toStdString());
        if (!key.startsWith(QStringLiteral("fit:"))) return;
        fit_ = key.mid(4).toStdString();
        fill_lines();
    });
    connect(fits_, &FactTable::edited, this, [this](int at, int, const QString& text) {
        const auto key = fits_->key(at).toString();
        if (!key.startsWith(QStringLiteral("fit:")) || text.trimmed().isEmpty()) return fill_fits();
        fit_ = key.mid(4).toStdString();
        change_fit(tr("name of a fit"), [&](FitCase& c) { c.name = text.trimmed().toStdString(); });
    });
    fits_sheet_->body()->addWidget(fits_, 1);
    return fits_sheet_;
}

QWidget* FitView::make_lines() {
    lines_sheet_ = new Sheet(tr("Its heights"));
    lines_sheet_->setMaximumWidth(fits_width);
    kind_ = new ChoiceBox(
        tr("Kind of fit"),
        tr("Room is added up; a button is never pressed at rest and always closed at its "
           "stop; a cable is long enough and not bent too tightly; a connector stands behind its opening"));
    for (const auto& [kind, label] : {std::pair{FitKind::room, tr("room")},
                                      {FitKind::button, tr("button")},
                                      {FitKind::cable, tr("cable")},
                                      {FitKind::opening, tr("opening")}})
        kind_->addItem(label, to_q(word(kind)));
    connect(kind_, &QComboBox::activated, this, [this](int at) {
        const auto kind = named<FitKind>(kind_->itemData(at).toString().toStdString());
        change_fit(tr("kind of a fit"), [&](FitCase& c) { c.kind = kind.value_or(FitKind::room); });
    });
    kind_->setMinimumWidth(70);
    kind_->setMinimumContentsLength(5);
    lines_sheet_->add_to_title(kind_);
    auto* less = compact_button(tr("Remove"), tr("Takes the chosen line away; its dimension stays in Plan"));
    lines_sheet_->add_to_title(less);
    connect(less, &QPushButton::clicked, this, &FitView::remove_line);
    cautions_ = new CautionLine;
    lines_sheet_->body()->addWidget(cautions_);
    lines_ = new FactTable;
    lines_->set_columns({{tr("What"), 140},
                         {tr("Does"), 50},
                         {tr("mm"), 56, true, true},
                         {tr("±"), 56, true, true},
                         {tr("Known"), 92, false, true},
                         {tr("Stop at"), 62, true}},
                        tr("Lines of the fit"));
    connect(lines_, &FactTable::edited, this, &FitView::change_line);
    lines_sheet_->body()->addWidget(lines_, 1);
    entry_ = new Field;
    entry_->setAccessibleName(tr("A line of the fit"));
    entry_->setPlaceholderText(tr("+ lid to board 12.4 ± 0.1 measured"));
    entry_->setToolTip(tr(
        "+ for what gives room, - for what takes it; of a button also travel, actuates and endures, of a "
        "cable bend and "
        "endures. Then its name, millimetres, ± tolerance, and how it is known (assumed unless said). It "
        "becomes a "
        "dimension of Plan; the name of one that is there already is enough: + lid to board. Of a connector "
        "behind an opening: + and − for the opening's and the connector's width, opens 24.5 for the "
        "opening's "
        "middle, stands J1.x for the connector's, from the files. Room over a part of the board: "
        "zone slider 10 20 30 15 5.5. A case's or panel's edge: drop an SVG or DXF here."));
    entry_->commit = [this](const QString& text) { return add_line(text.trimmed()); };
    lines_sheet_->body()->addWidget(entry_);
    return lines_sheet_;
}

const Fabrication* FitView::board() const {
    for (const auto& f : *document_.dossier().boards)
        if (f.id == id_) return &f;
    return nullptr;
}

const FabricationAnalysis* FitView::read_board() const {
    const auto& a = document_.analysis().board;
    return a ? a->find(id_) : nullptr;
}

void FitView::show_case(const std::string& id) {
    const auto made = document_.analysis().board;
    const auto* b = read_board();
    if (b == nullptr) return;
    for (const auto& c : b->cases) {
        if (c.id != id) continue;
        section_sheet_->set_about(c.judged ? tr("the board's edge in %1").arg(to_q(c.title))
                                           : to_q(c.problem));
        // The analysis is held as long as the picture may be drawn anew.
        section_->redraw = [made, c, read = b->read, sheet = section_sheet_](double width) {
            return draw_case(c, read->outline, width, std::max(220.0, sheet->height() - 84.0));
        };
        section_->show_drawing(section_->redraw(section_->width()));
    }
}

const FitCase* FitView::chosen() const {
    if (const auto* f = board())
        for (const auto& c : f->fits)
            if (c.id == fit_) return &c;
    return nullptr;
}

void FitView::show_board(const std::string& id) {
    if (id != id_) fit_.clear();
    id_ = id;
    fill_fits();
}

void FitView::fill_fits() {
    results_.clear();
    std::vector<TableRow> rows;
    QString about = tr("Nothing yet: add a module below the lid, a button, a cable");
    show_cautions();
    if (const auto* f = board()) {
        for (const auto& c : f->fits)
            results_.push_back(fit_of(c, *document_.dossier().dimensions, places_in(read_board())));
        for (const auto& r : results_) {
            TableCell name(to_q(r.name));
            name.key = QStringLiteral("fit:") + to_q(r.id);
            name.icon = verdict_icon(r.verdict);
            name.tip = to_q(r.says);
            const bool known = r.verdict != Verdict::unknown;
            rows.push_back({name, known ? figure(r.room.nominal_mm) : QString(),
                            known ? figure(r.room.worst_min_mm) : QString(),
                            known ? figure(r.room.rss_min_mm) : QString()});
        }
        add_cases(rows);
        add_zones(*f, rows);
        if (chosen() == nullptr) fit_ = f->fits.empty() ? std::string() : f->fits.front().id;
        if (!rows.empty())
            about = tr("Millimetres left: at nominal, in the worst case, and by root-sum-square");
    }
    fits_->set_rows(std::move(rows));
    fits_sheet_->set_about(about);
    for (int i = 0; i < fits_->row_count(); ++i)
        if (fits_->key(i).toString() == QStringLiteral("fit:") + to_q(fit_) && fits_->chosen() != i)
            fits_->choose(i);
    fill_lines();
}

void FitView::add_cases(std::vector<TableRow>& rows) {
    const auto* read = read_board();
    if (read == nullptr) return;
    for (const auto& c : read->cases) {
        TableCell name(tr("Inside %1").arg(to_q(c.title)));
        name.key = QStringLiteral("case:") + to_q(c.id);
        name.icon = verdict_icon(!c.judged                 ? Verdict::unknown
                                 : !c.answer.inside        ? Verdict::stop
                                 : c.answer.least_mm < 0.2 ? Verdict::doubt
                                                           : Verdict::holds);
        name.editable = false;
        name.tip = to_q(c.problem);
        if (c.drawing)
            for (const auto& remark : c.drawing->remarks)
                name.tip += (name.tip.isEmpty() ? QString() : QStringLiteral("\n")) + to_q(remark);
        const auto left = c.judged ? figure(c.answer.least_mm) : QString();
        rows.push_back({name, left, left, left});
    }
}

void FitView::add_zones(const Fabrication& f, std::vector<TableRow>& rows) {
    const auto* read = read_board();
    const auto& data = document_.analysis().data;
    if (read == nullptr || !data) return;
    for (const auto& p :
         zone_parts(f, read, *document_.dossier().dimensions, read->circuit->packages_of, data->packages)) {
        TableCell name(tr("%1 below %2").arg(to_q(p.ref), to_q(p.zone)));
        name.key = QStringLiteral("zone:") + to_q(p.zone) + QLatin1Char('/') + to_q(p.ref);
        name.icon = verdict_icon(p.verdict);
        name.editable = false;
        const auto left = p.most_mm && p.height_mm ? figure(*p.most_mm - *p.height_mm) : QString();
        rows.push_back({name, left, left, left});
    }
}

/// Cases are cut and drilled.
void FitView::show_cautions() {
    std::vector<const Caution*> cautions;
    if (const auto& data = document_.analysis().data; data && board() != nullptr && !board()->fits.empty())
        for (const auto& c : data->cautions.cautions)
            if (c.id == "dust" || c.id == "glue-and-inserts") cautions.push_back(&c);
    cautions_->show_cautions(cautions);
}

void FitView::fill_lines() {
    const QSignalBlocker rest(kind_);
    std::vector<TableRow> rows;
    const FitResult* r = nullptr;
    for (const auto& each : results_)
        if (each.id == fit_) r = &each;
    if (r != nullptr) {
        int n = 0;
        for (const auto& l : r->lines) {
            TableCell what(to_q(l.what));
            what.key = n++;
            what.tip = l.problem.empty() ? to_q(l.what) : to_q(l.problem);
            if (!l.mm) what.icon = verdict_icon(Verdict::unknown);
            TableCell known(to_q(word(l.evidence.kind)));
            known.tip = to_q(l.evidence.source);
            rows.push_back({what, role_label(l.role), l.mm ? QString::number(*l.mm) : QString(), tolerance(l),
                            known, l.turns_at ? figure(*l.turns_at) : QString()});
        }
        kind_->setCurrentIndex(kind_->findData(to_q(word(r->kind))));
    }
    lines_->set_rows(std::move(rows));
    kind_->setEnabled(r != nullptr);
    section_sheet_->set_about(r == nullptr ? tr("a drawing to scale of what gives and takes room")
                                           : to_q(r->says));
    const auto shown = r == nullptr ? FitResult{} : *r;
    const auto* sheet = section_sheet_;
    section_->redraw = [shown, sheet](double width) {
        return draw_fit(shown, width, std::max(220.0, sheet->height() - 84.0));
    };
    section_->show_drawing(section_->redraw(section_->width()));
    // Without heights there may be a case to look at.
    if (const auto* read = read_board(); r == nullptr && read != nullptr && !read->cases.empty())
        show_case(read->cases.front().id);
}

void FitView::select(const QString& thing) {
    const auto row = thing.startsWith(QStringLiteral("fit:")) ? thing.section(QLatin1Char('/'), 0, 0) : thing;
    for (int i = 0; i < fits_->row_count(); ++i)
        if (fits_->key(i).toString() == row) fits_->choose(i);
}

}  // namespace grayrelic::app
