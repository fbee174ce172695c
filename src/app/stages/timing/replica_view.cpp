// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/replica_view.hpp"

#include <QGridLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/item_edits.hpp"
#include "app/widgets/choice_box.hpp"
#include "core/dossier/edits.hpp"
#include "core/report/contract_figure.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

ReplicaView::ReplicaView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    pair_sheet_ = new Sheet(tr("Replica against original"));
    pairs_ = new ItemChooser({tr("Comparison"), tr("Add comparison")});
    pairs_->on_add([this] { add_pair(); });
    removes_items<GoldenPair>(*pairs_, document_);
    connect(pairs_, &ItemChooser::chosen_changed, this, &ReplicaView::select);
    pair_sheet_->add_to_title(pairs_);
    make_question();
    verdict_ = new QLabel;
    verdict_->setFont(text_font(13, true));
    verdict_->setWordWrap(true);
    verdict_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    pair_sheet_->body()->addWidget(verdict_);
    whole->addWidget(pair_sheet_);
    make_tables();
    whole->addWidget(interval_sheet_, 3);
    whole->addWidget(edge_sheet_, 2);
    open_rows(intervals_, interval_at_);
    open_rows(edges_, edge_at_);
}

/// Changes the chosen pair as told, if that changes anything.
void ReplicaView::change(const std::function<void(GoldenPair&)>& edit) {
    const auto* p = pair();
    if (p == nullptr) return;
    auto changed = *p;
    edit(changed);
    if (changed != *p) apply(std::move(changed));
}

void ReplicaView::make_question() {
    auto* row = new QGridLayout;
    row->setHorizontalSpacing(8);
    row->setVerticalSpacing(2);
    int cell = 0;
    const auto labelled = [&](const QString& text, QWidget* w) {
        auto* l = new QLabel(text);
        l->setFont(text_font(12));
        l->setBuddy(w);
        w->setProperty("compact", true);
        w->setAccessibleName(text);
        row->addWidget(l, cell / 2, cell % 2 * 2);
        row->addWidget(w, cell / 2, cell % 2 * 2 + 1);
        ++cell;
    };
    const auto capture = [&](const QString& text, std::string GoldenPair::*which) {
        auto* box = new ChoiceBox(text);
        // Long titles of captures are cut in the boxes, not at the window.
        box->setMinimumContentsLength(14);
        box->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        connect(box, &QComboBox::activated, this, [this, box, which] {
            change([&](GoldenPair& p) { p.*which = box->currentData().toString().toStdString(); });
        });
        labelled(text, box);
        return box;
    };
    original_ = capture(tr("Original"), &GoldenPair::original);
    replica_ = capture(tr("Replica"), &GoldenPair::replica);
    tolerance_ = new Field;
    tolerance_->setFont(figure_font(12));
    tolerance_->setFixedWidth(80);
    tolerance_->setToolTip(tr("Edges further apart are not the same one; empty: half their usual distance"));
    tolerance_->commit = [this](const QString& text) -> std::optional<QString> {
        const auto t = text.trimmed().isEmpty() ? Result<Time>(Time{}) : parse_time(text.toStdString());
        if (!t || *t < Time{}) return tr("Expected a time from 0 s, or nothing.");
        change([&](GoldenPair& p) { p.tolerance = *t; });
        return std::nullopt;
    };
    labelled(tr("Tolerance"), tolerance_);
    align_ = new Field;
    align_->setFont(figure_font(12));
    align_->setFixedWidth(110);
    align_->setToolTip(tr("The first such edge of both is one moment; empty: the first edge of all"));
    align_->commit = [this](const QString& text) -> std::optional<QString> {
        const auto edge = text.trimmed().toStdString();
        if (!edge.empty())
            if (const auto e = parse_edge(edge); !e) return tr("Expected %1.").arg(to_q(e.error().expected));
        change([&](GoldenPair& p) { p.align = edge; });
        return std::nullopt;
    };
    labelled(tr("Aligned on"), align_);
    row->setColumnStretch(1, 1);
    row->setColumnStretch(3, 1);
    pair_sheet_->body()->addLayout(row);
}

void ReplicaView::make_tables() {
    interval_sheet_ = new Sheet(tr("Against the contract"));
    intervals_ = new FactTable;
    intervals_->set_columns({{tr("Interval"), 160},
                             {tr("Seen"), 66, true},
                             {tr("Least"), 80, true},
                             {tr("Most"), 80, true},
                             {tr("Allowed"), 170, true},
                             {tr("Broken"), 76, true}},
                            tr("The replica's intervals against the contract"));
    interval_sheet_->body()->addWidget(intervals_, 1);
    edge_sheet_ = new Sheet(tr("Against the original's edges"));
    edges_ = new FactTable;
    edges_->set_columns({{tr("Signal"), 120},
                         {tr("Edges"), 90, true},
                         {tr("Missing"), 80, true},
                         {tr("Extra"), 80, true},
                         {tr("Later by, usual"), 120, true},
                         {tr("at most"), 90, true},
                         {tr("Parts at"), 100, true}},
                        tr("Edges of the replica against the original"));
    edge_sheet_->body()->addWidget(edges_, 1);
}

void ReplicaView::open_rows(FactTable* table, const std::vector<std::optional<Time>>& at) {
    table->setToolTip(tr("Double click or Enter: show it in Listen"));
    connect(table, &FactTable::row_opened, this, [this, &at, table](int r) {
        const auto* p = pair();
        if (p == nullptr || r < 0 || r >= static_cast<int>(at.size()) || !at[static_cast<std::size_t>(r)])
            return;
        Q_EMIT place_wanted(
            {"capture", table == intervals_ ? p->replica : p->original, at[static_cast<std::size_t>(r)]});
    });
}

const GoldenPair* ReplicaView::pair() const {
    for (const auto& g : document_.dossier().timing->golden)
        if (g.id == selected_) return &g;
    return nullptr;
}

void ReplicaView::apply(GoldenPair changed) {
    document_.apply(tr("comparison with the original"), put(document_.dossier(), std::move(changed)));
}

void ReplicaView::add_pair() {
    const auto& captures = *document_.dossier().captures;
    if (captures.size() < 2) {
        pair_sheet_->set_about(tr("Two captures are needed: add the replica's in Listen."));
        return;
    }
    GoldenPair g;
    g.id = free_id<GoldenPair>(document_.dossier(), "replica");
    const auto& asked = document_.dossier().timing->reply.capture;
    g.original = document_.dossier().find_capture(asked) != nullptr ? asked : captures.front().id;
    for (const auto& c : captures)
        if (c.id != g.original) g.replica = c.id;
    selected_ = g.id;
    apply(std::move(g));
}

void ReplicaView::select(const QString& id) {
    selected_ = id.toStdString();
    refresh();
}

void ReplicaView::refresh() {
    const auto& all = document_.dossier().timing->golden;
    if (pair() == nullptr) selected_ = all.empty() ? std::string() : all.front().id;
    const auto* p = pair();
    fill_boxes();
    for (QWidget* w : std::initializer_list<QWidget*>{original_, replica_, tolerance_, align_})
        w->setEnabled(p != nullptr);
    interval_at_.clear();
    edge_at_.clear();
    if (p == nullptr) {
        tolerance_->show_value({});
        align_->show_value({});
        intervals_->set_rows({});
        edges_->set_rows({});
        verdict_->setText(
            tr("Record the replica with the same host, add the capture in Listen, and compare it here."));
        return;
    }
    tolerance_->show_value(p->tolerance > Time{} ? to_q(print_exact(p->tolerance)) : QString());
    align_->show_value(to_q(p->align));
    const auto* g = document_.analysis().timing->find_golden(selected_);
    if (g == nullptr || !g->result) {
        verdict_->setText(g == nullptr ? tr("The replica is being compared …") : to_q(g->problem));
        intervals_->set_rows({});
        edges_->set_rows({});
        return;
    }
    const auto& r = *g->result;
    auto says = to_q(r.says);
    if (!says.isEmpty()) says[0] = says[0].toUpper();
    verdict_->setText(tr("%1: %2.").arg(to_q(word(r.verdict)), says));
    auto palette = verdict_->palette();
    palette.setColor(QPalette::WindowText, theme().verdict(r.verdict));
    verdict_->setPalette(palette);
    fill_intervals(r);
    fill_edges(r);
}

void ReplicaView::fill_boxes() {
    const auto* p = pair();
    QList<ItemChooser::Item> items;
    for (const auto& g : document_.dossier().timing->golden) {
        const auto* r = document_.dossier().find_capture(g.replica);
        items << ItemChooser::Item{to_q(g.id), r == nullptr ? to_q(g.replica) : to_q(r->title), {}};
    }
    pairs_->show_items(items, to_q(selected_));
    const QSignalBlocker b(original_), c(replica_);
    for (auto* box : {original_, replica_}) {
        box->clear();
        for (const auto& capture : *document_.dossier().captures)
            box->addItem(to_q(capture.title), to_q(capture.id));
    }
    original_->setCurrentIndex(p == nullptr ? -1 : original_->findData(to_q(p->original)));
    replica_->setCurrentIndex(p == nullptr ? -1 : replica_->findData(to_q(p->replica)));
}

void ReplicaView::fill_intervals(const GoldenResult& r) {
    std::vector<TableRow> rows;
    for (const auto& i : r.intervals) {
        const auto colour = i.broken > 0 ? theme().oxide : theme().ink;
        TableRow row{{to_q(i.name), colour},         to_q(print_count(i.n)),
                     {to_q(print(i.least)), colour}, {to_q(print(i.most)), colour},
                     to_q(show_limits(i.limits)),    {to_q(print_count(i.broken)), colour}};
        row[0].key = to_q(i.id);
        row[1].sort = static_cast<double>(i.n);
        row[2].sort = i.least.seconds();
        row[3].sort = i.most.seconds();
        row[5].sort = static_cast<double>(i.broken);
        rows.push_back(std::move(row));
        interval_at_.push_back(i.first);
    }
    intervals_->set_rows(std::move(rows));
    interval_sheet_->set_about(
        r.intervals.empty() ? tr("The contract names no interval that this capture has.") : QString());
}

void ReplicaView::fill_edges(const GoldenResult& r) {
    std::vector<TableRow> rows;
    for (const auto& s : r.edges.signals) {
        const auto colour = s.first ? theme().oxide : theme().ink;
        const auto delay = [&](double v) {
            TableCell cell(s.delay.n > 0 ? to_q(print_number(v, Unit::second)) : QString());
            cell.sort = s.delay.n > 0 ? v : -1.0;
            return cell;
        };
        TableRow row{{to_q(short_name(s.name)), colour},
                     to_q(print_count(s.edges_b)),
                     {to_q(print_count(s.missing)), colour},
                     {to_q(print_count(s.extra)), colour},
                     delay(s.delay.median),
                     delay(s.delay.max),
                     {s.first ? to_q(print(*s.first, 6)) : QString(), colour}};
        row[0].key = row[0].text;
        row[1].sort = static_cast<double>(s.edges_b);
        row[2].sort = static_cast<double>(s.missing);
        row[3].sort = static_cast<double>(s.extra);
        row[6].sort = s.first ? s.first->seconds() : 1e12;
        rows.push_back(std::move(row));
        edge_at_.push_back(s.first);
    }
    edges_->set_rows(std::move(rows));
    if (r.words)
        edge_sheet_->set_about(r.words->all_same() ? tr("all %1 words the same").arg(r.words->same)
                                                   : tr("words: %1 the same, %2 differ, %3 missing, %4 extra")
                                                         .arg(r.words->same)
                                                         .arg(r.words->differ)
                                                         .arg(r.words->missing)
                                                         .arg(r.words->extra));
}

}  // namespace grayrelic::app
