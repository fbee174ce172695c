// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/device_view.hpp"

#include <QDate>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/stages/map/modern_keys.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/file_system.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/input/device_table.hpp"
#include "core/input/map_analysis.hpp"
#include "core/input/walk_capture.hpp"

namespace grayrelic::app {
DeviceView::DeviceView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    ask_out = [this] {
        return QFileDialog::getSaveFileName(this, tr("Write the keys"), QStringLiteral("keys.csv"),
                                            tr("Tables (*.csv)"));
    };
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    sheet_ = new Sheet(tr("The old device"));
    make_head();
    canvas_ = new DeviceCanvas;
    connect(canvas_, &DeviceCanvas::chosen, this, &DeviceView::select);
    connect(canvas_, &DeviceCanvas::opened, this, [this](const QString& id) {
        select(id);
        panel_->begin_search();
    });
    connect(canvas_, &DeviceCanvas::moved, this, [this](const QString& id, double x, double y) {
        document_.apply(tr("move a key"), edit<MapKey>(document_.dossier(), id.toStdString(), [&](MapKey& k) {
                            k.x = x;
                            k.y = y;
                        }));
    });
    connect(canvas_, &DeviceCanvas::dropped, this, [this](const QString& id, const QString& meaning) {
        select(id);
        static_cast<void>(panel_->assign(meaning));
    });
    connect(canvas_, &DeviceCanvas::pressed, this, &DeviceView::assign_pressed);
    sheet_->body()->addWidget(canvas_, 1);
    walk_ = new Field;
    walk_->setPlaceholderText(
        tr("Next key, row by row:  7 0x1C   ·   ENTER 2x1 0x0D key:enter   ·   / 4   ·   +0.5 F1"));
    walk_->setAccessibleName(tr("The next key of the device"));
    walk_->setToolTip(
        tr("The legend, then its code, its size and its meaning where they are known. / begins a new row, "
           "+0.5 leaves room"));
    walk_->commit = [this](const QString& text) { return add_walked(text); };
    auto* below = new QHBoxLayout;
    below->setSpacing(6);
    below->addWidget(walk_, 3);
    below->addWidget(way_, 1);
    sheet_->body()->addLayout(below);
    row->addWidget(sheet_, 5);
    panel_ = new KeyPanel(document_);
    panel_->setMinimumWidth(190);
    row->addWidget(panel_, 2);
}

void DeviceView::make_head() {
    way_ = new ChoiceBox(tr("Which side is operated"),
                         tr("Whether a hand works on the old device or on the modern one"));
    way_->addItems({tr("old device, new host"), tr("new device, old host")});
    connect(way_, &QComboBox::activated, this, [this](int at) {
        document_.apply(tr("which side is operated"),
                        edit(document_.dossier(), &Dossier::map,
                             [&](DeviceMap& m) { m.way = all_of<MapWay>()[static_cast<std::size_t>(at)]; }));
    });
    pressing_ = compact_button(tr("By pressing"), tr("While on: press a key of your own keyboard, and the "
                                                     "chosen key becomes it; then the next one is chosen"));
    pressing_->setCheckable(true);
    connect(pressing_, &QPushButton::toggled, this, [this](bool on) { canvas_->set_pressing(on); });
    proposals_ = compact_button(
        tr("By legends"),
        tr("Gives every key without meaning what its legend says; undo takes all of them back"));
    connect(proposals_, &QPushButton::clicked, this, &DeviceView::take_proposals);
    remove_ = compact_button(tr("Remove"), tr("Takes the chosen key away; undo brings it back"));
    connect(remove_, &QPushButton::clicked, this,
            [this] { document_.apply(tr("remove a key"), drop<MapKey>(document_.dossier(), chosen_)); });
    write_ = compact_button(tr("Table …"), tr("The keys as a table, to edit elsewhere and drop here again"));
    connect(write_, &QPushButton::clicked, this, &DeviceView::write_table);
    recording_ =
        compact_button(tr("From bits"), tr("Keys for the bits that Listen has named in a recording"));
    recording_->setMenu(new QMenu(recording_));
    recording_->setProperty("menu", true);
    auto* tools = new QHBoxLayout;
    tools->setSpacing(6);
    for (auto* b : {pressing_, proposals_, recording_, remove_, write_}) tools->addWidget(b);
    tools->addStretch(1);
    sheet_->body()->addLayout(tools);
}

void DeviceView::begin() {
    if (document_.dossier().map->keys.empty())
        walk_->setFocus();
    else
        canvas_->setFocus();
}

void DeviceView::select(const QString& key) {
    chosen_ = key.toStdString();
    refresh();
}

void DeviceView::refresh() {
    const auto& map = *document_.dossier().map;
    if (map.find_key(chosen_) == nullptr) chosen_ = map.keys.empty() ? std::string() : map.keys.front().id;
    way_->setCurrentIndex(static_cast<int>(map.way));
    canvas_->show_map(map, document_.analysis().map, chosen_);
    panel_->show_key(chosen_);
    remove_->setEnabled(!chosen_.empty());
    write_->setEnabled(!map.keys.empty());
    pressing_->setEnabled(!map.keys.empty());
    const auto& a = document_.analysis().map;
    std::size_t open = 0;
    if (a)
        for (const auto& g : a->coverage.gaps) open += g.kind == GapKind::no_meaning && g.proposal ? 1 : 0;
    proposals_->setEnabled(open > 0);
    fill_recordings();
    if (!problem_.isEmpty()) return sheet_->set_about(problem_);
    if (map.keys.empty())
        return sheet_->set_about(tr("Type its keys below, row by row, or drop a table of them here."));
    sheet_->set_about(tr("%1 umber is sent, blue is what it becomes")
                          .arg(to_q(plural(std::ssize(map.keys), "key:", "keys:"))));
}

void DeviceView::fill_recordings() {
    auto* menu = recording_->menu();
    menu->clear();
    for (const auto& c : *document_.dossier().captures) {
        if (c.decode.bits.empty()) continue;
        connect(menu->addAction(to_q(c.title.empty() ? c.id : c.title)), &QAction::triggered, this,
                [this, id = c.id] {
                    const auto* capture = document_.dossier().find_capture(id);
                    if (capture == nullptr) return;
                    auto map = take_bits(*document_.dossier().map, capture->decode.bits,
                                         {EvidenceKind::measured, capture->title, {}, {}, {}});
                    map.capture = id;
                    document_.apply(tr("keys from bits"), put(document_.dossier(), std::move(map)));
                });
    }
    recording_->setVisible(!menu->isEmpty());
}

std::optional<QString> DeviceView::add_walked(const QString& text) {
    if (text.trimmed().isEmpty()) return std::nullopt;
    const auto line = parse_walk_line(text.toStdString());
    if (!line) return tr("Expected %1.").arg(to_q(line.error().expected));
    auto key = walked_key(document_.dossier().map->keys, *line);
    if (!key.code.value.empty()) key.code.evidence.kind = EvidenceKind::assumed;
    chosen_ = key.id;
    walk_->clear();
    const auto what = tr("add %1").arg(to_q(key.legend));
    document_.apply(what, put(document_.dossier(), std::move(key)));
    return std::nullopt;
}

void DeviceView::assign_pressed(QKeyEvent* event) {
    const auto* layout = document_.data().layouts.find(document_.dossier().map->modern.layout);
    const auto m = meaning_of_press(*event, layout);
    if (!m) {
        problem_ = tr("That key is not known by its number; search for it instead.");
        return refresh();
    }
    problem_.clear();
    if (panel_->assign(to_q(print_meaning(*m)))) return;
    next_key();
}

void DeviceView::next_key() {
    const auto& keys = document_.dossier().map->keys;
    for (std::size_t i = 0; i + 1 < keys.size(); ++i)
        if (keys[i].id == chosen_) return select(to_q(keys[i + 1].id));
}

void DeviceView::take_proposals() {
    const auto& a = document_.analysis().map;
    if (!a) return;
    auto map = *document_.dossier().map;
    for (const auto& g : a->coverage.gaps) {
        if (g.kind != GapKind::no_meaning || !g.proposal || g.keys.empty()) continue;
        for (auto& k : map.keys)
            if (k.id == g.keys.front() && k.meaning.empty()) k.meaning = print_meaning(*g.proposal);
    }
    document_.apply(tr("meanings by legends"), put(document_.dossier(), std::move(map)));
}

QString DeviceView::take_table(const std::string& text, const QString& name) {
    const Evidence evidence{EvidenceKind::documented,
                            name.toStdString(),
                            QDate::currentDate().toString(Qt::ISODate).toStdString(),
                            {},
                            {}};
    auto keys = read_device_table(text, name.toStdString(), evidence);
    if (!keys) return to_q(keys.error().message());
    auto map = *document_.dossier().map;
    const auto before = map.keys.size();
    map.keys = std::move(*keys);
    // The matrix takes the lines that the keys name.
    for (const auto& k : map.keys) {
        auto add = [](std::vector<std::string>& lines, const std::string& line) {
            if (!line.empty() && std::find(lines.begin(), lines.end(), line) == lines.end())
                lines.push_back(line);
        };
        add(map.matrix.rows, k.row);
        add(map.matrix.columns, k.column);
    }
    const auto n = map.keys.size();
    document_.apply(tr("keys from %1").arg(name), put(document_.dossier(), std::move(map)));
    return before == 0
               ? tr("%1 keys from %2.").arg(n).arg(name)
               : tr("%1 keys from %2 in place of %3; undo brings those back.").arg(n).arg(name).arg(before);
}

void DeviceView::write_table() {
    const auto path = ask_out();
    if (path.isEmpty()) return;
    const auto done =
        write_atomically(disk(), path.toStdString(), write_device_table(document_.dossier().map->keys));
    problem_ = done ? tr("Written: %1").arg(path) : to_q(done.error().message());
    refresh();
    problem_.clear();
}

}  // namespace grayrelic::app
