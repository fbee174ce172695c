// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/making_view.hpp"

#include <QHBoxLayout>
#include <QSignalBlocker>

#include <set>

#include "app/paint/marks.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

constexpr int making_width = 390;

QString rule_label(BoardRule rule) {
    switch (rule) {
        case BoardRule::track: return FabMakingView::tr("track");
        case BoardRule::gap: return FabMakingView::tr("gap");
        case BoardRule::ring: return FabMakingView::tr("ring");
        case BoardRule::hole: return FabMakingView::tr("hole");
        case BoardRule::hole_gap: return FabMakingView::tr("wall between holes");
        case BoardRule::edge: return FabMakingView::tr("edge");
        case BoardRule::mask_sliver: return FabMakingView::tr("strip of mask");
        case BoardRule::silk_on_pad: return FabMakingView::tr("print on a pad");
        case BoardRule::size: return FabMakingView::tr("size");
        case BoardRule::neck: return FabMakingView::tr("neck of a pour");
    }
    return {};
}

QString kind_label(NetKind kind) {
    switch (kind) {
        case NetKind::plain: return FabMakingView::tr("plain");
        case NetKind::switching: return FabMakingView::tr("switching");
        case NetKind::clock: return FabMakingView::tr("clock");
        case NetKind::supply: return FabMakingView::tr("supply");
        case NetKind::picture: return FabMakingView::tr("picture");
        case NetKind::sound: return FabMakingView::tr("sound");
    }
    return {};
}

TableRow kind_row(const FabricationAnalysis& b, const std::string& net, NetKind kind, bool said) {
    QStringList near;
    double least = 1e9;
    for (const auto& p : b.apart) {
        if (p.noisy != net && p.delicate != net) continue;
        const auto other = to_q(p.noisy == net ? p.delicate : p.noisy);
        if (!near.contains(other)) near << other;
        least = std::min(least, p.mm);
    }
    TableCell name(to_q(net));
    name.key = to_q(net);
    if (!near.isEmpty()) name.icon = verdict_icon(Verdict::doubt);
    return {
        name,
        kind_label(kind) + (said || kind == NetKind::plain ? QString() : FabMakingView::tr(" (by its name)")),
        near.join(QStringLiteral(", ")),
        near.isEmpty() ? QString() : FabMakingView::tr("%1 mm").arg(least, 0, 'f', 2)};
}

}  // namespace

FabMakingView::FabMakingView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    pane_ = new FabPane(document_);
    row->addWidget(pane_, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    rules_ = new Sheet(tr("Can it be made?"));
    rules_->setMaximumWidth(making_width);
    process_ = new ChoiceBox(tr("Way of making"), tr("Who makes the board; your own ways are data files"));
    process_->setMinimumWidth(120);
    connect(process_, &QComboBox::activated, this, [this](int at) {
        document_.apply(tr("way of making"), edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                            f.process = process_->itemData(at).toString().toStdString();
                        }));
    });
    rules_->add_to_title(process_);
    cautions_ = new CautionLine;
    rules_->body()->addWidget(cautions_);
    places_ = new FactTable;
    places_->set_columns({{tr("Rule"), 84}, {tr("Is"), 84, true}, {tr("Least"), 74, true}, {tr("What"), 130}},
                         tr("Places"));
    connect(places_, &FactTable::row_chosen, this, &FabMakingView::show_place);
    rules_->body()->addWidget(places_, 1);
    to_do_ = new QLabel;
    to_do_->setWordWrap(true);
    to_do_->setTextFormat(Qt::PlainText);
    to_do_->setAccessibleName(tr("What would make it makeable"));
    rules_->body()->addWidget(to_do_);
    right->addWidget(rules_, 3);
    apart_ = new Sheet(tr("Nets that keep apart"));
    apart_->setMaximumWidth(making_width);
    kind_ = new ChoiceBox(tr("Kind of the chosen net"),
                          tr("Switching, clock and supply keep away from picture and sound"));
    for (const auto k : all_of<NetKind>()) kind_->addItem(kind_label(k), to_q(word(k)));
    connect(kind_, &QComboBox::activated, this, [this](int at) {
        if (nets_->chosen() < 0) return;
        const auto net = nets_->key(nets_->chosen()).toString().toStdString();
        const auto kind = named<NetKind>(kind_->itemData(at).toString().toStdString());
        document_.apply(tr("kind of %1").arg(to_q(net)),
                        edit<Fabrication>(document_.dossier(), id_, [&](Fabrication& f) {
                            f.kinds[net] = kind.value_or(NetKind::plain);
                        }));
    });
    apart_->add_to_title(kind_);
    nets_ = new FactTable;
    nets_->set_columns(
        {{tr("Net"), 110}, {tr("Kind"), 80}, {tr("Comes near"), 150}, {tr("At least"), 66, true}},
        tr("Kinds of nets"));
    connect(nets_, &FactTable::row_chosen, this, [this](int at) {
        show_kind();
        if (at < 0 || !pane_->board()) return;
        const auto net = nets_->key(at).toString().toStdString();
        for (const auto& p : pane_->board()->apart)
            if (p.noisy == net || p.delicate == net) return pane_->canvas().look_at(p.at);
    });
    apart_->body()->addWidget(nets_, 1);
    setTabOrder(nets_, kind_);  // likewise: a net is chosen first
    right->addWidget(apart_, 2);
    row->addLayout(right, 1);
    connect(&pane_->canvas(), &FabCanvas::mark_picked, this, [this](const QString& key) {
        for (int i = 0; i < places_->row_count(); ++i)
            if (places_->key(i).toString() == key) places_->choose(i);
        pane_->canvas().choose_mark(key);
    });
}

void FabMakingView::show_board(const std::string& id) {
    id_ = id;
    pane_->show_board(id);
    fill_processes();
    fill_places();
    fill_nets();
}

void FabMakingView::fill_processes() {
    const QSignalBlocker rest(process_);
    process_->clear();
    process_->addItem(tr("not chosen"), QString());
    const auto& data = document_.analysis().data;
    if (data)
        for (const auto& p : data->processes.processes) process_->addItem(to_q(p.name), to_q(p.id));
    for (const auto& f : *document_.dossier().boards)
        if (f.id == id_) {
            auto at = process_->findData(to_q(f.process));
            if (at < 0) {  // one that is not among the data any more
                process_->addItem(to_q(f.process), to_q(f.process));
                at = process_->count() - 1;
            }
            process_->setCurrentIndex(at);
        }
    std::vector<const Caution*> shown;
    if (const auto& b = pane_->board(); b && b->process && b->process->where == MadeWhere::home && data)
        for (const auto& c : data->cautions.cautions)
            if (c.id == "etchant" || c.id == "dust" || c.id == "toner-and-paint") shown.push_back(&c);
    cautions_->show_cautions(shown);
}

void FabMakingView::fill_places() {
    std::vector<TableRow> rows;
    std::vector<FabMark> marks;
    QString about = tr("Choose who makes it"), todo;
    if (const auto& b = pane_->board(); b && b->rules) {
        int n = 0;
        for (const auto& v : b->rules->violations) {
            const auto key = QStringLiteral("%1-%2").arg(to_q(word(v.rule))).arg(n++);
            const auto verdict = v.decides() ? Verdict::stop : Verdict::unknown;
            TableCell rule(rule_label(v.rule));
            rule.icon = verdict_icon(verdict);
            rule.key = key;
            TableCell is(tr("%1 mm").arg(v.mm, 0, 'f', 3)),
                least(v.limit_mm > 0 ? tr("%1 mm").arg(v.limit_mm, 0, 'f', 2) : QString());
            is.sort = v.mm;
            rows.push_back({rule, is, least, to_q(v.what)});
            marks.push_back({v.at, verdict, key});
        }
        about = b->rules->violations.empty()
                    ? tr("%1: can be made as it is").arg(to_q(b->process->name))
                    : tr("%1 %2").arg(rows.size()).arg(rows.size() == 1 ? tr("place") : tr("places"));
        about += tr("; limits: %1").arg(to_q(b->process->source));
        QStringList list;
        for (const auto& t : b->rules->to_do) list << to_q(t);
        for (const auto& t : b->rules->not_looked_at) list << to_q(t);
        todo = list.join(QLatin1Char('\n'));
    } else if (b && b->process) {
        about = tr("computing …");
    }
    places_->set_rows(std::move(rows));
    pane_->canvas().set_marks(std::move(marks));
    rules_->set_about(about);
    to_do_->setText(todo);
    to_do_->setVisible(!todo.isEmpty());
}

void FabMakingView::fill_nets() {
    std::vector<TableRow> rows;
    QString about;
    if (const auto& b = pane_->board()) {
        const Fabrication* f = nullptr;
        for (const auto& each : *document_.dossier().boards)
            if (each.id == id_) f = &each;
        for (const auto& [net, kind] : b->kinds)
            rows.push_back(kind_row(*b, net, kind, f != nullptr && f->kinds.count(net) > 0));
        // Nothing is found where nobody said what to look for.
        bool noisy = false, delicate = false;
        for (const auto& [net, kind] : b->kinds) {
            noisy = noisy || is_noisy(kind);
            delicate = delicate || is_delicate(kind);
        }
        about = rows.empty()          ? tr("No pad tells what a net is called")
                : !noisy || !delicate ? tr("Not judged: say which nets are noisy, and which picture or sound")
                : b->apart.empty()
                    ? tr("None of those named comes within %1 mm").arg(f != nullptr ? f->apart_mm : 1.0)
                    : tr("Too near: %1").arg(b->apart.size());
    }
    nets_->set_rows(std::move(rows));
    apart_->set_about(about);
    show_kind();
}

void FabMakingView::show_kind() {
    const QSignalBlocker rest(kind_);
    kind_->setEnabled(nets_->chosen() >= 0);
    if (nets_->chosen() < 0 || !pane_->board()) return;
    const auto it = pane_->board()->kinds.find(nets_->key(nets_->chosen()).toString().toStdString());
    if (it != pane_->board()->kinds.end()) kind_->setCurrentIndex(kind_->findData(to_q(word(it->second))));
}

void FabMakingView::show_place(int row) {
    const auto& b = pane_->board();
    if (row < 0 || !b || !b->rules || static_cast<std::size_t>(row) >= b->rules->violations.size()) return;
    const auto& v = b->rules->violations[static_cast<std::size_t>(row)];
    for (const auto& f : b->read->files.files)
        if (f.name == v.file) {
            if (f.role == FileRole::copper_bottom || f.role == FileRole::mask_bottom ||
                f.role == FileRole::silk_bottom)
                pane_->show_side(true);
            if (f.role == FileRole::copper_top || f.role == FileRole::mask_top ||
                f.role == FileRole::silk_top)
                pane_->show_side(false);
        }
    pane_->canvas().choose_mark(places_->key(row).toString());
    pane_->canvas().look_at(v.at);
}

void FabMakingView::select_rule(const QString& rule) {
    for (int i = 0; i < places_->row_count(); ++i)
        if (places_->key(i).toString().startsWith(rule + QLatin1Char('-'))) {
            places_->choose(i);
            return show_place(i);
        }
}

}  // namespace grayrelic::app
