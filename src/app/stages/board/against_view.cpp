// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/against_view.hpp"

#include <QHBoxLayout>
#include <QSignalBlocker>

#include <algorithm>
#include <map>
#include <set>

#include "app/paint/marks.hpp"
#include "core/dossier/edits.hpp"
#include "core/report/fab_figure.hpp"

namespace grayrelic::app {
namespace {

constexpr int against_width = 390;

QString joined_points(const std::vector<std::string>& points) {
    QStringList out;
    for (const auto& p : points) out << to_q(p);
    return out.join(QLatin1Char(' '));
}

TableRow net_row(Verdict v, const QString& net, const QString& is, const QString& where, const QString& key) {
    TableCell name(net);
    name.icon = verdict_icon(v);
    name.key = key;
    return {name, is, where};
}

/// What came out otherwise than wanted.
void add_faults(const CopperNets& n, std::vector<TableRow>& rows) {
    const auto tr = [](const char* text) { return FabAgainstView::tr(text); };
    for (const auto& x : n.exchanged)
        rows.push_back(net_row(Verdict::stop, to_q(x.net_a) + QStringLiteral(", ") + to_q(x.net_b),
                               tr("exchanged"), to_q(x.point_a) + QStringLiteral(" ") + to_q(x.point_b),
                               QStringLiteral("exchanged:") + to_q(x.point_a)));
    for (const auto& j : n.joined)
        rows.push_back(net_row(Verdict::stop, to_q(j.a) + QStringLiteral(", ") + to_q(j.b), tr("joined"),
                               joined_points(j.points),
                               QStringLiteral("joined:") + to_q(j.a) + QLatin1Char('+') + to_q(j.b)));
    for (const auto& s : n.split) {
        QStringList pieces;
        for (const auto& p : s.pieces) pieces << joined_points(p);
        rows.push_back(net_row(Verdict::stop, to_q(s.net), tr("open"), pieces.join(QStringLiteral(" | ")),
                               QStringLiteral("open:") + to_q(s.net)));
    }
    for (const auto& p : n.off_copper)
        rows.push_back(net_row(Verdict::doubt, to_q(p), tr("no copper"), {}, QStringLiteral("bare")));
    for (const auto& p : n.missing)
        rows.push_back(net_row(Verdict::doubt, to_q(p), tr("no pad"), {}, QStringLiteral("missing")));
}

/// Points of which something is said among the faults.
std::set<std::string> odd_points(const CopperNets& n) {
    std::set<std::string> odd(n.extra.begin(), n.extra.end());
    for (const auto& j : n.joined) odd.insert(j.points.begin(), j.points.end());
    for (const auto& x : n.split)
        for (const auto& piece : x.pieces) odd.insert(piece.begin(), piece.end());
    return odd;
}

/// All nets of the copper; what nobody named and nothing joins stands last.
void add_nets(const FabricationAnalysis& b, std::vector<TableRow>& rows) {
    const auto odd = odd_points(b.nets);
    std::map<std::string, BoardXY> places;
    for (const auto& pad : b.pads) places.emplace(pad.point(), pad.at);
    std::vector<TableRow> lonely;
    for (const auto& net : b.nets.nets) {
        if (net.empty() || !b.read->copper) continue;
        QString name;
        for (std::size_t l = 0; l < b.read->copper->layers.size() && name.isEmpty(); ++l)
            name = to_q(b.net_at(places.at(net.front()), l));
        const bool meant = b.nets.compared && std::none_of(net.begin(), net.end(), [&](const std::string& p) {
                               return odd.count(p) != 0;
                           });
        TableCell cell(name);
        cell.key = QStringLiteral("net:") + to_q(net.front());
        if (meant) cell.icon = verdict_icon(Verdict::holds);
        (net.size() > 1 || meant ? rows : lonely)
            .push_back({cell, meant ? FabAgainstView::tr("as meant") : FabAgainstView::tr("copper"),
                        joined_points(net)});
    }
    rows.insert(rows.end(), lonely.begin(), lonely.end());
}

QString face_label(const FaceMatch& m) {
    switch (m.is) {
        case FaceIs::as_drawn:
            return m.verdict == Verdict::unknown ? FabAgainstView::tr("as drawn, or mirrored")
                                                 : FabAgainstView::tr("as drawn");
        case FaceIs::mirrored: return FabAgainstView::tr("mirrored");
        case FaceIs::other_pitch: return FabAgainstView::tr("other pitch");
        case FaceIs::no_match: break;
    }
    return m.verdict == Verdict::unknown ? FabAgainstView::tr("can't be told")
                                         : FabAgainstView::tr("no match");
}

TableRow face_row(const QString& key, const std::string& ref, const QString& as, const FaceMatch& match,
                  const std::string& problem) {
    TableCell cell(to_q(ref));
    cell.key = key;
    cell.icon = verdict_icon(problem.empty() ? match.verdict : Verdict::unknown);
    TableCell state(problem.empty() ? face_label(match) : to_q(problem));
    state.tip = problem.empty() ? to_q(match.why) : to_q(problem);
    return {cell, as, state,
            problem.empty() ? FabAgainstView::tr("%1 mm").arg(match.residual_mm, 0, 'f', 2) : QString()};
}

/// Connectors that nobody has said anything of: a port can be given to each.
std::set<std::string> unsaid_connectors(const FabricationAnalysis& b) {
    std::set<std::string> out;
    for (const auto& p : b.pads)
        if (p.ref.starts_with('J')) out.insert(p.ref);
    for (const auto& f : b.faces) out.erase(f.ref);
    for (const auto& f : b.footprints) out.erase(f.ref);
    return out;
}

}  // namespace

FabAgainstView::FabAgainstView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    pane_ = new FabPane(document_);
    pane_->allow_naming();
    row->addWidget(pane_, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    right->addWidget(make_nets(), 2);
    right->addWidget(make_faces(), 3);
    row->addLayout(right, 1);
}

QWidget* FabAgainstView::make_nets() {
    nets_sheet_ = new Sheet(tr("Nets"));
    nets_sheet_->setMaximumWidth(against_width);
    against_ = new ChoiceBox(tr("Held against"), tr("What the copper is held against"));
    against_->setMinimumWidth(110);
    connect(against_, &QComboBox::activated, this, [this](int at) {
        document_.apply(tr("held against"), edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                            f.against = against_->itemData(at).toString().toStdString();
                        }));
    });
    nets_sheet_->add_to_title(against_);
    nets_ = new FactTable;
    nets_->set_columns({{tr("Net"), 120}, {tr("Is"), 90}, {tr("Where"), 200}}, tr("Nets of the board"));
    connect(nets_, &FactTable::row_chosen, this, &FabAgainstView::show_net);
    nets_sheet_->body()->addWidget(nets_, 1);
    return nets_sheet_;
}

QWidget* FabAgainstView::make_faces() {
    faces_sheet_ = new Sheet(tr("Faces"));
    faces_sheet_->setMaximumWidth(against_width);
    faces_ = new FactTable;
    faces_->set_columns({{tr("Part"), 60}, {tr("As"), 150}, {tr("Is"), 110}, {tr("Off by"), 66, true}},
                        tr("Faces"));
    connect(faces_, &FactTable::row_chosen, this, &FabAgainstView::show_face);
    faces_->fit_rows(5);
    faces_sheet_->body()->addWidget(faces_);
    auto* edits = new QHBoxLayout;
    edits->setSpacing(6);
    port_ = new ChoiceBox(tr("Meets"), tr("The port whose contacts the chosen connector meets"));
    half_ = new ChoiceBox(tr("Half"), tr("Which half stands on the board"));
    half_->addItem(tr("socket"), to_q(word(Half::socket)));
    half_->addItem(tr("plug"), to_q(word(Half::plug)));
    side_ = new ChoiceBox(tr("Stands on"), tr("The side that the connector stands on"));
    side_->addItem(tr("as its pads"), to_q(word(StandsOn::pads)));
    side_->addItem(tr("front"), to_q(word(StandsOn::top)));
    side_->addItem(tr("back"), to_q(word(StandsOn::bottom)));
    for (auto* box : {port_, half_, side_}) {
        box->setMinimumContentsLength(5);
        edits->addWidget(box, 1);
    }
    faces_sheet_->body()->addLayout(edits);
    connect(port_, &QComboBox::activated, this, [this](int at) {
        const auto port = port_->itemData(at).toString().toStdString();
        change_connector(tr("the port it meets"), [&](FabConnector& c) { c.port = port; });
    });
    connect(half_, &QComboBox::activated, this, [this](int at) {
        const auto half = named<Half>(half_->itemData(at).toString().toStdString());
        change_connector(tr("which half it is"),
                         [&](FabConnector& c) { c.half = half.value_or(Half::socket); });
    });
    connect(side_, &QComboBox::activated, this, [this](int at) {
        const auto side = named<StandsOn>(side_->itemData(at).toString().toStdString());
        change_connector(tr("the side it stands on"),
                         [&](FabConnector& c) { c.side = side.value_or(StandsOn::pads); });
    });
    mates_ = new ChoiceBox(tr("Pushed into"), tr("The connector of another board that it is pushed into"));
    faces_sheet_->body()->addWidget(mates_);
    connect(mates_, &QComboBox::activated, this, [this](int at) {
        const auto other = mates_->itemData(at).toString().toStdString();
        change_connector(tr("what it is pushed into"), [&](FabConnector& c) { c.mates = other; });
    });
    picture_ = new DrawingView(tr("The face held against its data"));
    picture_->least_width = 220;
    faces_sheet_->body()->addWidget(picture_, 1);
    return faces_sheet_;
}

const Fabrication* FabAgainstView::fabrication() const {
    for (const auto& f : *document_.dossier().boards)
        if (f.id == id_) return &f;
    return nullptr;
}

void FabAgainstView::show_board(const std::string& id) {
    id_ = id;
    pane_->show_board(id);
    fill_against();
    fill_nets();
    fill_faces();
}

void FabAgainstView::fill_against() {
    const QSignalBlocker rest(against_);
    against_->clear();
    against_->addItem(tr("Wire's circuit"), QString());
    for (const auto& n : document_.dossier().trace->netlists)
        against_->addItem(to_q(n.name.empty() ? n.id : n.name), to_q(n.id));
    if (const auto* f = fabrication())
        against_->setCurrentIndex(
            std::max(0, against_->findData(f->against == "wire" ? QString() : to_q(f->against))));
}

void FabAgainstView::fill_nets() {
    std::vector<TableRow> rows;
    QString about = tr("reading …");
    if (const auto& b = pane_->board()) {
        add_faults(b->nets, rows);
        add_nets(*b, rows);
        about = b->read->problem     ? to_q(b->read->problem->message())
                : b->pads.empty()    ? tr("No pad has a name: drop a table ref,pin,x_mm,y_mm,side")
                : b->against.empty() ? tr("Held against nothing yet; pads from %1").arg(to_q(b->pads_from))
                                     : tr("%1 of %2 as %3 has them; pads from %4")
                                           .arg(b->nets.same)
                                           .arg(b->nets.named)
                                           .arg(to_q(b->against), to_q(b->pads_from));
    }
    nets_->set_rows(std::move(rows));
    nets_sheet_->set_about(about);
}

void FabAgainstView::fill_faces() {
    std::vector<TableRow> rows;
    QString about = tr("reading …");
    if (const auto& b = pane_->board()) {
        for (const auto& f : b->faces)
            rows.push_back(face_row(QStringLiteral("face:") + to_q(f.ref), f.ref,
                                    to_q(f.connector) +
                                        (f.half == Half::plug ? tr(", plug") : tr(", socket")) +
                                        (f.presumed ? tr(" (presumed)") : QString()),
                                    f.match, f.problem));
        for (const auto& m : document_.analysis().board->mates)
            if (m.board == id_)
                rows.push_back(face_row(QStringLiteral("mate:") + to_q(m.face.ref), m.face.ref,
                                        tr("into %1").arg(to_q(m.face.connector)), m.face.match,
                                        m.face.problem));
        for (const auto& f : b->footprints)
            rows.push_back(
                face_row(QStringLiteral("footprint:") + to_q(f.ref), f.ref, to_q(f.package), f.match, {}));
        for (const auto& ref : unsaid_connectors(*b)) {
            TableCell cell(to_q(ref));
            cell.key = QStringLiteral("face:") + to_q(ref);
            cell.icon = verdict_icon(Verdict::unknown);
            rows.push_back({cell, tr("not said"), tr("choose the port it meets"), QString()});
        }
        about = rows.empty() ? tr("No connector and no part to compare") : QString();
    }
    const bool none = faces_->chosen() < 0;
    faces_->set_rows(std::move(rows));
    faces_sheet_->set_about(about);
    if (none && faces_->row_count() > 0) faces_->choose(0);
    show_face(faces_->chosen());
}

const BoardFace* FabAgainstView::chosen_face() const {
    if (faces_->chosen() < 0 || !pane_->board()) return nullptr;
    const auto key = faces_->key(faces_->chosen()).toString().toStdString();
    for (const auto& f : pane_->board()->faces)
        if ("face:" + f.ref == key) return &f;
    for (const auto& m : document_.analysis().board->mates)
        if (m.board == id_ && "mate:" + m.face.ref == key) return &m.face;
    return nullptr;
}

void FabAgainstView::show_face(int row) {
    const QSignalBlocker quiet_port(port_), quiet_half(half_), quiet_side(side_);
    const auto key = row < 0 ? QString() : faces_->key(row).toString();
    const bool face = key.startsWith(QStringLiteral("face:")) || key.startsWith(QStringLiteral("mate:"));
    for (auto* box : {port_, half_, side_, mates_}) box->setEnabled(face);
    fill_mates();
    port_->clear();
    port_->addItem(tr("meets no port"), QString());
    for (const auto& p : *document_.dossier().ports)
        port_->addItem(tr("meets %1").arg(to_q(p.id)), to_q(p.id));
    const auto* chosen = chosen_face();
    if (chosen != nullptr) {
        port_->setCurrentIndex(std::max(0, port_->findData(to_q(chosen->port))));
        half_->setCurrentIndex(half_->findData(to_q(word(chosen->half))));
        const auto* f = fabrication();
        const auto* said = f == nullptr ? nullptr : f->find_connector(chosen->ref);
        side_->setCurrentIndex(side_->findData(to_q(word(said == nullptr ? StandsOn::pads : said->side))));
        for (const auto& pad : pane_->board()->pads)
            if (pad.ref == chosen->ref) {
                if (pad.side != PadSide::both) pane_->show_side(pad.side == PadSide::bottom);
                break;
            }
    }
    picture_->redraw = [this](double width) {
        const auto* f = chosen_face();
        return f == nullptr ? Drawing{} : draw_face_match(*f, std::max(200.0, width));
    };
    picture_->show_drawing(picture_->redraw(picture_->width()));
    if (chosen != nullptr)
        faces_sheet_->set_about(chosen->problem.empty() ? to_q(chosen->match.why) : to_q(chosen->problem));
}

/// The connectors of the other boards; out of sight where there is no other.
void FabAgainstView::fill_mates() {
    const QSignalBlocker quiet(mates_);
    mates_->clear();
    mates_->addItem(tr("pushed into no other board"), QString());
    mates_->setVisible(document_.dossier().boards->size() > 1);
    if (const auto& all = document_.analysis().board)
        for (const auto& b : all->boards) {
            if (b->id == id_) continue;
            std::set<std::string> refs;
            for (const auto& p : b->pads)
                if (p.ref.starts_with('J')) refs.insert(p.ref);
            for (const auto& f : b->faces) refs.insert(f.ref);
            for (const auto& ref : refs)
                mates_->addItem(tr("pushed into %1 of %2").arg(to_q(ref), to_q(b->id)),
                                to_q(b->id) + QLatin1Char('/') + to_q(ref));
        }
    const auto* f = fabrication();
    if (faces_->chosen() < 0 || f == nullptr) return;
    if (const auto* said = f->find_connector(faces_->key(faces_->chosen()).toString().mid(5).toStdString()))
        mates_->setCurrentIndex(std::max(0, mates_->findData(to_q(said->mates))));
}

void FabAgainstView::change_connector(const QString& what, const std::function<void(FabConnector&)>& how) {
    if (faces_->chosen() < 0) return;
    const auto ref = faces_->key(faces_->chosen()).toString().mid(5).toStdString();
    FabConnector c;
    c.ref = ref;
    if (const auto* now = chosen_face()) {
        c.port = now->port;
        c.half = now->half;
    }
    document_.apply(what, edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                        const auto it = std::find_if(f.connectors.begin(), f.connectors.end(),
                                                     [&](const FabConnector& x) { return x.ref == ref; });
                        auto& into = it != f.connectors.end() ? *it : f.connectors.emplace_back(c);
                        how(into);
                    }));
}

void FabAgainstView::show_net(int row) {
    const auto& b = pane_->board();
    if (row < 0 || !b || !b->read->copper) return;
    // The first point that the row names.
    const auto where = nets_->text(row, 2) + QLatin1Char(' ') + nets_->text(row, 0);
    for (const auto& word_of : where.split(QLatin1Char(' '), Qt::SkipEmptyParts))
        for (const auto& pad : b->pads)
            if (to_q(pad.point()) == word_of) {
                const bool back = pad.side == PadSide::bottom;
                if (pad.side != PadSide::both) pane_->show_side(back);
                for (std::size_t l = 0; l < b->read->copper->layers.size(); ++l)
                    if (const int net = b->read->copper->net_at(pad.at, l); net >= 0) {
                        pane_->canvas().show_net(net);
                        break;
                    }
                return;
            }
}

void FabAgainstView::select(const QString& thing) {
    for (auto* table : {nets_, faces_})
        for (int i = 0; i < table->row_count(); ++i)
            if (table->key(i).toString() == thing) {
                table->choose(i);
                return table == nets_ ? show_net(i) : show_face(i);
            }
}

}  // namespace grayrelic::app
