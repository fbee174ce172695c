// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/files_view.hpp"

#include <QHBoxLayout>
#include <QSignalBlocker>

#include <algorithm>
#include <cmath>
#include <map>

#include "app/paint/marks.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

constexpr int right_width = 390;

QString role_label(FileRole role) {
    switch (role) {
        case FileRole::copper_top: return FabFilesView::tr("copper, front");
        case FileRole::copper_inner: return FabFilesView::tr("copper, within");
        case FileRole::copper_bottom: return FabFilesView::tr("copper, back");
        case FileRole::mask_top: return FabFilesView::tr("mask, front");
        case FileRole::mask_bottom: return FabFilesView::tr("mask, back");
        case FileRole::silk_top: return FabFilesView::tr("print, front");
        case FileRole::silk_bottom: return FabFilesView::tr("print, back");
        case FileRole::paste_top: return FabFilesView::tr("paste, front");
        case FileRole::paste_bottom: return FabFilesView::tr("paste, back");
        case FileRole::outline: return FabFilesView::tr("outline");
        case FileRole::drill_plated: return FabFilesView::tr("holes, plated");
        case FileRole::drill_plain: return FabFilesView::tr("holes, not plated");
        case FileRole::netlist: return FabFilesView::tr("test netlist");
        case FileRole::text: return FabFilesView::tr("no layer");
        case FileRole::unknown: break;
    }
    return FabFilesView::tr("not known");
}

QString known_by(RoleFrom from) {
    switch (from) {
        case RoleFrom::attribute: return FabFilesView::tr("its attribute");
        case RoleFrom::name: return FabFilesView::tr("its name");
        case RoleFrom::content: return FabFilesView::tr("what it holds");
        case RoleFrom::person: return FabFilesView::tr("you");
        case RoleFrom::nothing: break;
    }
    return {};
}

}  // namespace

FabFilesView::FabFilesView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    pane_ = new FabPane(document_);
    row->addWidget(pane_, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    files_sheet_ = new Sheet(tr("Files"));
    files_sheet_->setMaximumWidth(right_width);
    role_ = new ChoiceBox(tr("Role of the chosen file"), tr("What the chosen file is taken for"));
    for (const auto r : all_of<FileRole>())
        if (r != FileRole::netlist) role_->addItem(role_label(r), to_q(word(r)));
    connect(role_, &QComboBox::activated, this, [this](int at) { set_role(role_->itemData(at).toString()); });
    files_sheet_->add_to_title(role_);
    files_ = new FactTable;
    files_->set_columns(
        {{tr("File"), 170}, {tr("Role"), 110}, {tr("Known by"), 84}, {tr("Objects"), 60, true}},
        tr("Fabrication files"));
    connect(files_, &FactTable::row_chosen, this, &FabFilesView::show_role);
    files_sheet_->body()->addWidget(files_, 1);
    setTabOrder(files_, role_);  // there is nothing to say of it before a file is chosen
    right->addWidget(files_sheet_, 3);
    holes_sheet_ = new Sheet(tr("Holes"));
    holes_sheet_->setMaximumWidth(right_width);
    holes_ = new FactTable;
    holes_->set_columns(
        {{tr("Diameter"), 90, true}, {tr("Holes"), 70, true}, {tr("Slots"), 70, true}, {tr("Wall"), 110}},
        tr("Holes"));
    holes_sheet_->body()->addWidget(holes_, 1);
    right->addWidget(holes_sheet_, 2);
    row->addLayout(right, 1);
}

void FabFilesView::show_board(const std::string& id) {
    id_ = id;
    pane_->show_board(id);
    fill_files();
    fill_holes();
}

void FabFilesView::fill_files() {
    std::vector<TableRow> rows;
    const auto& b = pane_->board();
    QString about = tr("reading …");
    if (b) {
        const auto& files = b->read->files;
        for (const auto& f : files.files) {
            const bool refused = std::any_of(files.refused.begin(), files.refused.end(),
                                             [&](const Error& e) { return e.file == f.name; });
            TableCell name(to_q(printable(f.name)));
            name.key = to_q(f.name);
            if (refused || f.role == FileRole::unknown)
                name.icon = verdict_icon(refused ? Verdict::doubt : Verdict::unknown);
            TableCell objects(QString::number(f.objects()));
            objects.sort = static_cast<double>(f.objects());
            rows.push_back(
                {name, refused ? tr("can't be read") : role_label(f.role), known_by(f.from), objects});
        }
        about = b->read->problem ? to_q(b->read->problem->message())
                                 : tr("%1 × %2 mm%3")
                                       .arg(b->read->size.width_mm, 0, 'f', 2)
                                       .arg(b->read->size.height_mm, 0, 'f', 2)
                                       .arg(b->read->size.from_outline ? QString() : tr(", from the copper"));
    }
    files_->set_rows(std::move(rows));
    files_sheet_->set_about(about);
    show_role();
}

void FabFilesView::fill_holes() {
    struct Count {
        int holes = 0, slots = 0;
    };
    std::map<std::pair<long, bool>, Count> counts;
    const auto& b = pane_->board();
    if (b)
        for (const auto* f : b->read->files.drills())
            for (const auto& h : f->drill->holes) {
                auto& c = counts[{std::lround(h.diameter / 1000), h.plated}];
                ++(h.slot() ? c.slots : c.holes);
            }
    std::vector<TableRow> rows;
    for (const auto& [key, c] : counts) {
        TableCell mm(tr("%1 mm").arg(static_cast<double>(key.first) / 1000, 0, 'f', 2));
        mm.sort = static_cast<double>(key.first);
        rows.push_back({mm, QString::number(c.holes), c.slots > 0 ? QString::number(c.slots) : QString(),
                        key.second ? tr("plated") : tr("not plated")});
    }
    holes_->set_rows(std::move(rows));
    holes_sheet_->set_about(counts.empty() ? tr("no drill file") : QString());
}

void FabFilesView::show_role() {
    const QSignalBlocker rest(role_);
    const int row = files_->chosen();
    role_->setEnabled(row >= 0);
    role_->setCurrentIndex(-1);
    if (row < 0 || !pane_->board()) return;
    const auto name = files_->key(row).toString().toStdString();
    for (const auto& f : pane_->board()->read->files.files)
        if (f.name == name) role_->setCurrentIndex(role_->findData(to_q(word(f.role))));
}

void FabFilesView::set_role(const QString& role) {
    const int row = files_->chosen();
    if (row < 0) return;
    const auto name = files_->key(row).toString().toStdString();
    document_.apply(tr("role of %1").arg(to_q(name)),
                    edit<Fabrication>(document_.dossier(), id_,
                                      [&](Fabrication& f) { f.roles[name] = role.toStdString(); }));
}

}  // namespace grayrelic::app
