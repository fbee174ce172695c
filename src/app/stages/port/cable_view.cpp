// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/cable_view.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/busy_dialog.hpp"
#include "app/shell/item_edits.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/port/cable.hpp"
#include "core/report/wiring_card.hpp"
#include "core/wire/wire_analysis.hpp"
#include "render/pdf.hpp"

namespace grayrelic::app {
namespace {

QComboBox* combo(const QString& name) {
    auto* c = new QComboBox;
    c->setAccessibleName(name);
    c->setToolTip(name);
    return c;
}

}  // namespace

CableView::CableView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(12);
    auto* ends = new QHBoxLayout;
    ends->setSpacing(12);
    ends->addWidget(make_end(true), 1);
    ends->addWidget(make_end(false), 1);
    whole->addLayout(ends, 4);
    sheet_ = new Sheet(tr("Wires"));
    make_head();
    verdict_ = new QLabel;
    verdict_->setWordWrap(true);
    verdict_->setTextFormat(Qt::PlainText);
    verdict_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    sheet_->body()->addWidget(verdict_);
    table_ = new FactTable;
    table_->set_columns({{tr("From"), 60, false, true},
                         {tr("Signal"), 120},
                         {tr("To"), 60, false, true},
                         {tr("Signal"), 120},
                         {tr("Colour"), 90, false, true},
                         {tr("Note"), 160, false, true}},
                        tr("Wires"));
    sheet_->body()->addWidget(table_, 1);
    whole->addWidget(sheet_, 5);
    connect(table_, &FactTable::edited, this, [this](int row, int column, const QString& text) {
        // A wire of which only one end is typed is none yet: what was typed stays in the table.
        table_->set_cell(row, column, text);
        commit_table();
    });
    ask_card = [this] {
        return QFileDialog::getSaveFileName(this, tr("Wiring card"), QStringLiteral("wiring-card.pdf"),
                                            tr("PDF (*.pdf);;SVG (*.svg);;PNG (*.png)"));
    };
}

QWidget* CableView::make_end(bool first) {
    auto*& sheet = first ? sheet_a_ : sheet_b_;
    auto*& port = first ? port_a_ : port_b_;
    auto*& half = first ? half_a_ : half_b_;
    auto*& face = first ? face_a_ : face_b_;
    sheet = new Sheet(first ? tr("First end") : tr("Second end"));
    auto* head = new QHBoxLayout;
    port = combo(first ? tr("Port of the first end") : tr("Port of the second end"));
    half = combo(first ? tr("Half on the first end") : tr("Half on the second end"));
    half->addItems({tr("plug"), tr("socket")});
    head->addWidget(port, 1);
    head->addWidget(half);
    sheet->body()->addLayout(head);
    face = new ConnectorView;
    face->setToolTip({});
    face->setFocusPolicy(Qt::NoFocus);
    sheet->body()->addWidget(face, 1);
    const auto end = first ? &Cable::a : &Cable::b;
    connect(port, &QComboBox::activated, this, [this, port = port, end] {
        change(tr("a cable's end"),
               [&](Cable& c) { (c.*end).port = port->currentData().toString().toStdString(); });
    });
    connect(half, &QComboBox::activated, this, [this, half = half, end] {
        change(tr("a cable's end"),
               [&](Cable& c) { (c.*end).half = half->currentIndex() == 0 ? Half::plug : Half::socket; });
    });
    return sheet;
}

void CableView::make_head() {
    which_ = new ItemChooser({tr("Cable"), tr("New cable")});
    which_->on_add([this] { add_cable(); });
    renames_items<Cable>(*which_, document_);
    removes_items<Cable>(*which_, document_);
    connect(which_, &ItemChooser::chosen_changed, this, &CableView::refresh);
    lay_ = combo(tr("How the wires run"));
    for (const auto l : {CableLay::straight, CableLay::crossed, CableLay::rolled, CableLay::mirrored})
        lay_->addItem(to_q(word(l)));
    auto* lay = new QPushButton(tr("Lay"));
    lay->setToolTip(tr("Lay the wires in this way"));
    connect(lay, &QPushButton::clicked, this, &CableView::lay_wires);
    stripe_ = new Field;
    stripe_->setAccessibleName(tr("Stripe"));
    stripe_->setPlaceholderText(tr("stripe at pin"));
    stripe_->setMaximumWidth(100);
    stripe_->commit = [this](const QString& text) -> std::optional<QString> {
        change(tr("stripe"), [&](Cable& c) { c.stripe = text.trimmed().toStdString(); });
        return std::nullopt;
    };
    card_ = new QPushButton(tr("Card…"));
    card_->setToolTip(tr("A wiring card to print"));
    connect(card_, &QPushButton::clicked, this, [this] {
        if (const auto path = ask_card(); !path.isEmpty()) (void)write_card_to(path, false);
    });
    for (QWidget* w : std::initializer_list<QWidget*>{lay_, lay, stripe_, card_})
        w->setProperty("compact", true);
    auto* head = new QHBoxLayout;
    head->addWidget(which_, 1);
    for (QWidget* w : std::initializer_list<QWidget*>{lay_, lay, stripe_, card_}) head->addWidget(w);
    sheet_->body()->addLayout(head);
}

const Cable* CableView::cable() const {
    return document_.dossier().find_cable(which_->chosen().toStdString());
}

void CableView::change(const QString& what, const std::function<void(Cable&)>& edit) {
    const auto* c = cable();
    if (c == nullptr) return;
    Cable changed = *c;
    edit(changed);
    document_.apply(what, put(document_.dossier(), std::move(changed)));
}

void CableView::show_cable(const QString& id) {
    which_->show_items(items_of<Cable>(document_.dossier()), id);
    refresh();
}

void CableView::add_cable() {
    const auto& ports = *document_.dossier().ports;
    if (ports.empty()) return;
    Cable c;
    c.id = free_id<Cable>(document_.dossier(), "cable");
    c.name = tr("Cable %1").arg(document_.dossier().cables->size() + 1).toStdString();
    c.a.port = ports.front().id;
    c.b.port = ports.size() > 1 ? ports[1].id : ports.front().id;
    if (const auto view = view_cable(document_.dossier(), c, document_.data().connectors))
        c.wires = wires_of(CableLay::straight, *view);
    const auto id = to_q(c.id);
    document_.apply(tr("new cable"), put(document_.dossier(), std::move(c)));
    show_cable(id);
}

void CableView::lay_wires() {
    const auto* c = cable();
    if (c == nullptr) return;
    const auto view = view_cable(document_.dossier(), *c, document_.data().connectors);
    if (!view) return;
    change(tr("lay the wires %1").arg(lay_->currentText()), [&](Cable& changed) {
        changed.wires = wires_of(static_cast<CableLay>(lay_->currentIndex()), *view);
    });
}

void CableView::commit_table() {
    const auto wires = typed_wires();
    if (const auto* c = cable(); c == nullptr || c->wires == wires) return;
    change(tr("a cable's wires"), [&](Cable& c) { c.wires = wires; });
}

std::vector<CableWire> CableView::typed_wires() const {
    std::vector<CableWire> wires;
    for (int r = 0; r < table_->row_count(); ++r) {
        const auto text = [&](int column) { return table_->text(r, column).trimmed().toStdString(); };
        if (text(0).empty() || text(2).empty()) continue;
        wires.push_back({text(0), text(2), text(4), text(5)});
    }
    return wires;
}

void CableView::fill_ends() {
    const auto* c = cable();
    for (auto* sheet : {sheet_a_, sheet_b_}) {
        const bool first = sheet == sheet_a_;
        auto* port = first ? port_a_ : port_b_;
        auto* half = first ? half_a_ : half_b_;
        auto* face = first ? face_a_ : face_b_;
        const QSignalBlocker block_port(port), block_half(half);
        port->clear();
        port->setEnabled(c != nullptr);
        half->setEnabled(c != nullptr);
        for (const auto& p : *document_.dossier().ports)
            port->addItem(tr("%1 %2").arg(to_q(p.id), to_q(p.name)), to_q(p.id));
        if (c == nullptr) {
            face->show_port({}, std::nullopt, tr("No cable yet."));
            continue;
        }
        const auto& end = first ? c->a : c->b;
        port->setCurrentIndex(port->findData(to_q(end.port)));
        half->setCurrentIndex(end.half == Half::plug ? 0 : 1);
        const auto* p = document_.dossier().find_port(end.port);
        Port shown = p == nullptr ? Port{} : *p;
        const auto seen = soldering_view(end.half);
        shown.viewpoint = std::string(word(seen));
        auto connector = document_.data().connectors.find(p == nullptr ? end.connector : p->connector);
        sheet->set_title(end.label.empty() ? (first ? tr("First end") : tr("Second end")) : to_q(end.label));
        sheet->set_about(tr("%1, as you solder it").arg(to_q(label(seen))));
        const auto problem = connector ? QString() : to_q(connector.error().message());
        face->show_port(shown, connector ? std::optional(std::move(*connector)) : std::nullopt, problem);
    }
}

/// What is wrong, the worst first: of the cable itself, then of the levels on its wires.
void CableView::say_faults(const Cable& c, const grayrelic::CableView& view, CableLay lay,
                           std::vector<Verdict>& verdicts) {
    QStringList stops, doubts;
    const auto note = [&](Verdict v, const QString& says, const std::vector<std::size_t>& wires) {
        (v == Verdict::stop ? stops : doubts) << says;
        for (const auto w : wires) verdicts[w] = worse(verdicts[w], v);
    };
    for (const auto& f : judge_cable(c, view, document_.data().families))
        note(f.verdict, to_q(f.says + ". " + f.why), f.wires);
    const auto& analysis = document_.analysis();
    if (analysis.wire)
        for (const auto& links : analysis.wire->cables) {
            if (links.cable != c.id) continue;
            for (std::size_t i = 0; i < links.study.lines.size(); ++i) {
                const auto& line = links.study.lines[i];
                auto wires = links.wires[i];
                std::erase_if(wires, [&](auto w) { return w >= verdicts.size(); });
                for (const auto& fault : line.faults)
                    if (fault.verdict != Verdict::holds && fault.kind != LineFault::contention)
                        note(fault.verdict, to_q(fault.says + ". " + fault.why), wires);
                for (const auto k : line.links)
                    if (const auto& l = links.study.links[k]; l.levels.verdict != Verdict::holds)
                        note(l.levels.verdict, to_q(line.name + ": " + l.levels.why), wires);
            }
        }
    auto all = stops + doubts;
    all.removeDuplicates();
    constexpr qsizetype most_said = 4;
    const auto count = all.size();
    if (count > most_said) {
        all.resize(most_said);
        all << tr("%1 more stand with the findings.").arg(count - most_said);
    }
    verdict_->setText(tr("%1, laid %2. %3")
                          .arg(to_q(plural(static_cast<long long>(c.wires.size()), "wire", "wires")),
                               lay == CableLay::other ? tr("in an order of its own") : to_q(word(lay)),
                               all.isEmpty() ? tr("Nothing speaks against it.")
                                             : QLatin1Char('\n') + all.join(QLatin1Char('\n'))));
}

void CableView::refresh() {
    which_->show_items(items_of<Cable>(document_.dossier()), which_->chosen());
    const auto& d = document_.dossier();
    const auto shown = which_->chosen();
    // Without news the table stays, with what is being typed in it.
    if (shown == shown_id_ && d.cables.same_version(shown_cables_) && d.ports.same_version(shown_ports_) &&
        document_.analysis().wire == shown_wire_)
        return;
    shown_wire_ = document_.analysis().wire;
    shown_id_ = shown;
    shown_cables_ = d.cables;
    shown_ports_ = d.ports;
    fill_ends();
    const auto* c = cable();
    for (QWidget* w : std::initializer_list<QWidget*>{lay_, stripe_, table_}) w->setEnabled(c != nullptr);
    card_->setEnabled(!document_.dossier().ports->empty());
    if (c == nullptr) {
        table_->set_rows({});
        verdict_->setText(tr("No cable yet. A new one joins two ports of this dossier."));
        return;
    }
    stripe_->show_value(to_q(c->stripe));
    const auto view = view_cable(document_.dossier(), *c, document_.data().connectors);
    if (!view) {
        verdict_->setText(to_q(view.error().message()));
        return;
    }
    const auto lay = lay_of(c->wires, *view);
    {
        const QSignalBlocker block(lay_);
        if (lay != CableLay::other) lay_->setCurrentIndex(static_cast<int>(lay));
    }
    std::vector<Verdict> verdicts(c->wires.size(), Verdict::holds);
    say_faults(*c, *view, lay, verdicts);
    const auto name_at = [](const CableSide& s, const std::string& n) {
        const auto* pin = s.port == nullptr ? nullptr : s.port->find_pin(n);
        return pin == nullptr ? QString() : to_q(pin->name.value);
    };
    std::vector<TableRow> rows;
    for (std::size_t r = 0; r < c->wires.size(); ++r) {
        const auto& w = c->wires[r];
        const auto ink = verdicts[r] == Verdict::stop ? theme().oxide : QColor();
        const auto icon = verdicts[r] == Verdict::holds ? QIcon() : verdict_icon(verdicts[r]);
        TableRow row{{to_q(w.a), ink},      {name_at(view->a, w.a), ink},
                     {to_q(w.b), ink},      {name_at(view->b, w.b), ink},
                     {to_q(w.colour), ink}, {to_q(w.note), ink}};
        row[1].icon = icon;
        rows.push_back(std::move(row));
    }
    rows.push_back(TableRow(6));  // for the next one
    table_->set_rows(std::move(rows));
}

bool CableView::write_card_to(const QString& path, bool letter) {
    if (!wait_for_analysis(window(), tr("Computing what the card says"), document_)) return false;
    const auto* c = cable();
    const auto card = wiring_card(document_.analysis(), c == nullptr ? std::string() : c->id,
                                  letter ? Paper::letter : Paper::a4);
    if (!card) {
        verdict_->setText(to_q(card.error().message()));
        return false;
    }
    const auto written = render::write_card(*card, path.toStdString(), document_.dossier().about->name);
    verdict_->setText(written ? tr("Written to %1.").arg(path) : to_q(written.error().message()));
    return written.has_value();
}

}  // namespace grayrelic::app
