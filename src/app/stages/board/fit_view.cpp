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
#include "core/wire/wire_analysis.hpp"

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
    kind_ = new ChoiceBox(tr("Kind of fit"),
                          tr("Room is added up; a button is never pressed at rest and always closed at its "
                             "stop; a cable is long enough and not bent too tightly"));
    for (const auto& [kind, label] : {std::pair{FitKind::room, tr("room")},
                                      {FitKind::button, tr("button")},
                                      {FitKind::cable, tr("cable")}})
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
    entry_->setToolTip(
        tr("+ for what gives room, - for what takes it; of a button also travel, actuates and endures, of a "
           "cable bend and "
           "endures. Then its name, millimetres, ± tolerance, and how it is known (assumed unless said). It "
           "becomes a "
           "dimension of Plan; the name of one that is there already is enough: + lid to board. Room over a "
           "part of the board: "
           "zone slider 10 20 30 15 5.5"));
    entry_->commit = [this](const QString& text) { return add_line(text.trimmed()); };
    lines_sheet_->body()->addWidget(entry_);
    return lines_sheet_;
}

const Fabrication* FitView::board() const {
    for (const auto& f : *document_.dossier().boards)
        if (f.id == id_) return &f;
    return nullptr;
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
        for (const auto& c : f->fits) results_.push_back(fit_of(c, *document_.dossier().dimensions));
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
        const auto& a = document_.analysis();
        std::map<std::string, std::string> packages;
        if (a.wire)
            for (const auto& s : a.wire->solder)
                for (const auto& ref : s.refs) packages[ref] = s.package;
        if (a.board && a.data)
            for (const auto& p : zone_parts(*f, a.board->find(id_), *document_.dossier().dimensions, packages,
                                            a.data->packages)) {
                TableCell name(tr("%1 below %2").arg(to_q(p.ref), to_q(p.zone)));
                name.key = QStringLiteral("zone:") + to_q(p.zone) + QLatin1Char('/') + to_q(p.ref);
                name.icon = verdict_icon(p.verdict);
                name.editable = false;
                const auto left = p.most_mm && p.height_mm ? figure(*p.most_mm - *p.height_mm) : QString();
                rows.push_back({name, left, left, left});
            }
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
}

void FitView::add_fit() {
    if (board() == nullptr && need_board) id_ = need_board();
    const auto* f = board();
    if (f == nullptr) return;
    std::vector<std::string> taken;
    for (const auto& c : f->fits) taken.push_back(c.id);
    FitCase c;
    c.id = free_id_among(taken, "fit");
    c.name = tr("Below the lid").toStdString();
    fit_ = c.id;
    document_.apply(tr("another fit"), edit<Fabrication>(document_.dossier(), id_,
                                                         [&](Fabrication& into) { into.fits.push_back(c); }));
}

std::optional<QString> FitView::add_line(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    if (text.startsWith(QStringLiteral("zone "))) return add_zone(text);
    if (chosen() == nullptr) add_fit();
    if (chosen() == nullptr) return tr("there is no dossier open");
    auto d = document_.dossier();
    FitItem item;
    auto entry = parse_fit_line(text.toStdString());
    // The name of a dimension that is there already needs no figure.
    const Dimension* known = nullptr;
    const auto name = text.mid(1).trimmed().toStdString();
    for (const auto& x : *d.dimensions)
        if (x.name == name || x.id == name) known = &x;
    if (known != nullptr && (text.startsWith(QLatin1Char('+')) || text.startsWith(QLatin1Char('-')) ||
                             text.startsWith(QChar(0x2212)))) {
        item.role = text.startsWith(QLatin1Char('+')) ? FitRole::gives : FitRole::takes;
        item.dimension = known->id;
    } else if (entry) {
        for (const auto& x : *d.dimensions)
            if (x.name == entry->dimension.name) entry->dimension.id = x.id;
        if (entry->dimension.id.empty()) {
            entry->dimension.id = free_id<Dimension>(d, entry->dimension.name);
            entry->dimension.decides = chosen()->name;
        } else {
            return tr("%1 is a dimension already: change its figure in the table, or type only its name")
                .arg(to_q(entry->dimension.name));
        }
        item.role = entry->role;
        item.dimension = entry->dimension.id;
        d = put(d, entry->dimension);
    } else {
        return to_q(entry.error().message());
    }
    document_.apply(tr("a line of a fit"), edit<Fabrication>(d, id_, [&](Fabrication& f) {
                        for (auto& c : f.fits)
                            if (c.id == fit_) c.items.push_back(item);
                    }));
    entry_->show_value({});
    return std::nullopt;
}

std::optional<QString> FitView::add_zone(const QString& text) {
    const auto zone = parse_zone(text.toStdString());
    if (!zone) return to_q(zone.error().message());
    if (board() == nullptr && need_board) id_ = need_board();
    if (board() == nullptr) return tr("there is no dossier open");
    document_.apply(tr("room over the board"),
                    edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                        std::erase_if(f.zones, [&](const FitZone& z) { return z.name == zone->name; });
                        f.zones.push_back(*zone);
                    }));
    entry_->show_value({});
    return std::nullopt;
}

void FitView::remove_chosen() {
    const auto key = fits_->chosen() < 0 ? QString() : fits_->key(fits_->chosen()).toString();
    const auto zone = key.startsWith(QStringLiteral("zone:"))
                          ? key.mid(5).section(QLatin1Char('/'), 0, 0).toStdString()
                          : std::string();
    if (key.isEmpty()) return;
    document_.apply(tr("remove a fit"), edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                        if (zone.empty())
                            std::erase_if(f.fits, [&](const FitCase& c) { return c.id == fit_; });
                        else
                            std::erase_if(f.zones, [&](const FitZone& z) { return z.name == zone; });
                    }));
}

void FitView::remove_line() {
    const int at = lines_->chosen();
    if (at < 0) return;
    const auto n = static_cast<std::ptrdiff_t>(lines_->key(at).toInt());
    change_fit(tr("remove a line of a fit"), [&](FitCase& c) {
        if (n < static_cast<std::ptrdiff_t>(c.items.size())) c.items.erase(c.items.begin() + n);
    });
}

void FitView::change_line(int row, int column, const QString& text) {
    const auto* c = chosen();
    const auto n = static_cast<std::size_t>(lines_->key(row).toInt());
    if (c == nullptr || n >= c->items.size()) return;
    const auto item = c->items[n];
    const auto change = [&](const std::function<void(Fact<std::optional<double>>&)>& how) {
        if (item.dimension.empty()) {
            change_fit(tr("a figure of a fit"), [&](FitCase& f) { how(f.items[n].mm); });
            return;
        }
        document_.apply(tr("a dimension"), edit<Dimension>(document_.dossier(), item.dimension,
                                                           [&](Dimension& d) { how(d.mm); }));
    };
    if (column == 4) {
        const auto kind = named<EvidenceKind>(text.trimmed().section(QLatin1Char(' '), 0, 0).toStdString());
        const auto source = text.trimmed().section(QLatin1Char(' '), 1).toStdString();
        if (!kind) return fill_lines();
        return change([&](Fact<std::optional<double>>& f) {
            f.evidence.kind = *kind;
            if (!source.empty()) f.evidence.source = source;
        });
    }
    auto plain = text.trimmed();
    if (plain.startsWith(QChar(0xB1))) plain = plain.mid(1);
    const auto mm = plain.isEmpty() ? Result<double>(0.0) : parse_mm(plain.toStdString());
    if (!mm) return fill_lines();
    if (column == 2)
        return change([&](Fact<std::optional<double>>& f) {
            f.value = plain.isEmpty() ? std::nullopt : std::optional(*mm);
        });
    change([&](Fact<std::optional<double>>& f) { f.uncertainty = *mm; });
}

void FitView::change_fit(const QString& what, const std::function<void(FitCase&)>& how) {
    document_.apply(what, edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                        for (auto& c : f.fits)
                            if (c.id == fit_) how(c);
                    }));
}

void FitView::select(const QString& thing) {
    const auto row = thing.startsWith(QStringLiteral("fit:")) ? thing.section(QLatin1Char('/'), 0, 0) : thing;
    for (int i = 0; i < fits_->row_count(); ++i)
        if (fits_->key(i).toString() == row) fits_->choose(i);
}

}  // namespace grayrelic::app
