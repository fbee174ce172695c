// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/build/build_page.hpp"

#include <QSignalBlocker>

#include <algorithm>

#include "app/widgets/compact_button.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/stage_content.hpp"

namespace grayrelic::app {

BuildPage::BuildPage(const StageContext& context)
    : TabbedPage(Stage::build, context.document, Rests::builds | Rests::units | Rests::boards),
      document_(context.document) {
    const unsigned all = Rests::builds | Rests::boards | Rests::units | Rests::readings |
                         Rests::board_analysis | Rests::wire_analysis | Rests::data;
    constexpr int scrolls_under = 380;
    assembly_ = new AssemblyView(document_);
    joints_ = new JointsView(document_);
    add_view(
        {QStringLiteral("order"), tr("Order of work"), Picture::day, QStringLiteral("calder-sound-tile")},
        assembly_, all, [this] { refresh_bench(); }, scrolls_under);
    add_view(
        {QStringLiteral("joints"), tr("Joints"), Picture::none, QStringLiteral("calder-sound-tile")}, joints_,
        all, [this] { refresh_bench(); }, scrolls_under);
    holds_ = new HoldsView(document_);
    faults_ = new FaultView(document_);
    work_ = new WorkView(document_);
    add_view(
        {QStringLiteral("holds"), tr("Holds"), Picture::none, QStringLiteral("calder-sound-tile")}, holds_,
        all | Rests::ports,
        [this] {
            refresh_bench();
            holds_->show_bench(bench_, seen_unit());
        },
        scrolls_under);
    add_view(
        {QStringLiteral("fault"), tr("Find the fault"), Picture::night, QStringLiteral("calder-dial-pad")},
        faults_, all | Rests::ports,
        [this] {
            refresh_bench();
            faults_->show_unit(seen_unit());
        },
        scrolls_under);
    add_view(
        {QStringLiteral("work"), tr("Work"), Picture::none, QStringLiteral("calder-sound-tile")}, work_,
        all | Rests::supply,
        [this] {
            refresh_bench();
            work_->show_bench(bench_, seen_unit());
        },
        scrolls_under);
    units_ = new ChoiceBox(tr("Which unit is on the bench"), tr("Whose parts and joints are ticked"));
    boards_ = new ChoiceBox(tr("Which board it is"), tr("Which board it is, and how it is fitted"));
    connect(units_, &QComboBox::activated, this, &BuildPage::choose_unit);
    connect(boards_, &QComboBox::activated, this, &BuildPage::choose_board);
    add_beside_tabs(boards_);
    add_beside_tabs(units_);
    auto* more = compact_button(tr("New unit"), tr("Another board of this kind is put together"));
    add_beside_tabs(more);
    connect(more, &QPushButton::clicked, this, &BuildPage::begin_unit);
    make_empty();
    set_empty(empty_);
    refresh_page();
}

void BuildPage::make_empty() {
    empty_ = new Sheet(tr("Nothing to put together yet"));
    empty_->set_about(tr("As soon as Wire has a circuit, or Board has a board with a netlist, its parts "
                         "stand here in the order in which they go on, "
                         "with what to check between, and the shortest list of beeps that proves every "
                         "joint. Nothing needs power for it."),
                      true);
    empty_->body()->addWidget(make_example_button(), 0, Qt::AlignLeft);
    empty_->body()->addStretch(1);
}

const UnitBuild* BuildPage::build() const {
    const auto id = units_->currentData().toString().toStdString();
    for (const auto& b : *document_.dossier().builds)
        if (b.id == id) return &b;
    return nullptr;
}

bool BuildPage::has_content() const {
    return grayrelic::has_content(document_.dossier(), Stage::build);
}

void BuildPage::refresh_page() {
    const auto& d = document_.dossier();
    {
        const QSignalBlocker rest(units_);
        const auto before = units_->currentData();
        units_->clear();
        for (const auto& b : *d.builds) {
            const auto* unit = d.find_unit(b.id);
            units_->addItem(to_q(unit == nullptr || unit->name.empty() ? b.id : unit->name), to_q(b.id));
        }
        units_->setCurrentIndex(std::max(0, units_->findData(before)));
        units_->setVisible(units_->count() > 0);
    }
    const QSignalBlocker rest(boards_);
    const auto* b = build();
    const auto before = b != nullptr ? QVariant(to_q(b->board + "/" + b->variant)) : boards_->currentData();
    boards_->clear();
    for (const auto& f : *d.boards) {
        const auto title = to_q(f.title.empty() ? f.id : f.title);
        boards_->addItem(title, to_q(f.id + "/"));
        for (const auto& v : f.variants)
            boards_->addItem(tr("%1, as %2").arg(title, to_q(v.name)), to_q(f.id + "/" + v.name));
    }
    if (boards_->count() == 0) boards_->addItem(tr("Wire's circuit"), QStringLiteral("/"));
    boards_->setCurrentIndex(std::max(0, boards_->findData(before)));
    boards_->setVisible(boards_->count() > 1);
    const bool circuit = !d.boards->empty() || grayrelic::has_content(d, Stage::wire);
    show_empty(!circuit && d.builds->empty());
}

UnitBuild BuildPage::seen_unit() const {
    if (const auto* b = build()) return *b;
    UnitBuild seen;
    const auto key = boards_->currentData().toString();
    seen.board = key.section(QLatin1Char('/'), 0, 0).toStdString();
    seen.variant = key.section(QLatin1Char('/'), 1).toStdString();
    return seen;
}

void BuildPage::refresh_bench() {
    const auto* b = build();
    const auto seen = seen_unit();
    // With what was just entered: the analysis may be a moment behind.
    auto now = document_.analysis();
    now.dossier = document_.dossier();
    auto bench = unit_on_bench(now, seen);
    if (!bench && b == nullptr) bench = unit_on_bench(now, UnitBuild{});
    bench_ = bench ? std::make_shared<const UnitOnBench>(std::move(*bench)) : nullptr;
    assembly_->show_bench(bench_, seen.id);
    joints_->show_bench(bench_, seen.id);
    Q_EMIT header_changed();
}

void BuildPage::choose_unit() {
    refresh_page();
    refresh_view();
}

void BuildPage::choose_board() {
    const auto* b = build();
    const auto key = boards_->currentData().toString();
    if (b == nullptr) return choose_unit();
    document_.apply(tr("which board a unit is"),
                    edit<UnitBuild>(document_.dossier(), b->id, [&](UnitBuild& u) {
                        u.board = key.section(QLatin1Char('/'), 0, 0).toStdString();
                        u.variant = key.section(QLatin1Char('/'), 1).toStdString();
                    }));
}

/// A unit of Plan that is not on the bench yet, else a new one of both.
void BuildPage::begin_unit() {
    if (!document_.is_open()) return;
    auto d = document_.dossier();
    const auto key = boards_->currentData().toString();
    UnitBuild b;
    b.board = key.section(QLatin1Char('/'), 0, 0).toStdString();
    b.variant = key.section(QLatin1Char('/'), 1).toStdString();
    JobUnit unit;
    unit.id = free_id<JobUnit>(d, "unit-1");
    unit.kind = UnitKind::board;
    unit.state = UnitState::built;
    unit.name = tr("Unit %1").arg(d.builds->size() + 1).toStdString();
    b.id = unit.id;
    d = put(put(d, unit), b);
    document_.apply(tr("a new unit"), d);
    units_->setCurrentIndex(std::max(0, units_->findData(to_q(b.id))));
    choose_unit();
}

QString BuildPage::sentence() const {
    return bench_ ? tr("In which order, and what should the meter say?") : tr("Build");
}

QString BuildPage::detail() const {
    if (!bench_) return {};
    return bench_->unit.empty() ? tr("no unit on the bench yet")
                                : tr("%1 of %2 parts on, %3 of %4 lines as they should be")
                                      .arg(bench_->fitted)
                                      .arg(bench_->parts.size())
                                      .arg(bench_->proven)
                                      .arg(bench_->joints.size());
}

QString BuildPage::rail_line() const {
    const auto& builds = *document_.dossier().builds;
    if (builds.empty()) return tr("no unit yet");
    return builds.size() == 1 ? tr("one unit") : tr("%1 units").arg(builds.size());
}

void BuildPage::show_place(const FindingPlace& place) {
    const auto id = to_q(place.id);
    const auto unit = id.section(QLatin1Char('/'), 0, 0), thing = id.section(QLatin1Char('/'), 1);
    units_->setCurrentIndex(std::max(0, units_->findData(unit)));
    if (thing.startsWith(QStringLiteral("joint:"))) {
        show_view(QStringLiteral("joints"));
        choose_unit();
        return joints_->select(thing.mid(6));
    }
    if (thing.startsWith(QStringLiteral("hold:"))) {
        show_view(QStringLiteral("holds"));
        choose_unit();
        return holds_->select(thing.mid(5).section(QLatin1Char('/'), 0, 0),
                              thing.section(QLatin1Char('/'), 1));
    }
    show_view(QStringLiteral("order"));
    choose_unit();
    if (thing.startsWith(QStringLiteral("part:"))) assembly_->select(thing.mid(5));
}

}  // namespace grayrelic::app
