// SPDX-License-Identifier: GPL-3.0-or-later
// What becomes known of a matrix: positions typed one by one, a walk in a recording, lines that a meter
// joined.
#include <QMenu>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/stages/map/matrix_view.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/input/map_analysis.hpp"
#include "core/input/walk_capture.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

void MatrixView::fill_walks() {
    auto* menu = recording_->menu();
    menu->clear();
    for (const auto& c : *document_.dossier().captures) {
        if (c.decode.kind != "matrix" || c.moments.empty()) continue;
        const auto id = to_q(c.id);
        connect(menu->addAction(to_q(c.title.empty() ? c.id : c.title)), &QAction::triggered, this,
                [this, id] { take_walk_of(id); });
    }
    recording_->setVisible(!menu->isEmpty());
}

void MatrixView::take_walk_of(const QString& capture) {
    const auto* c = document_.analysis().find_capture(capture.toStdString());
    const auto* ref = document_.dossier().find_capture(capture.toStdString());
    if (c == nullptr || ref == nullptr || !c->decoding)
        return sheet_->set_about(tr("That recording is not read yet, or can't be."), true);
    const auto taken = take_walk(*document_.dossier().map, walk_presses(*c->decoding, ref->moments));
    document_.apply(tr("walk of %1").arg(capture), put(document_.dossier(), taken.map));
    auto says = tr("%1 keys found at their rows and columns.").arg(taken.placed);
    for (const auto& d : taken.doubts) says += QLatin1Char(' ') + to_q(d) + QLatin1Char('.');
    sheet_->set_about(says, true);
}

QString MatrixView::take_probes(const std::string& text, const QString& name) {
    const auto probes = read_probe_table(text, name.toStdString());
    if (!probes) return to_q(probes.error().message());
    const auto found = matrix_from_probing(*probes);
    if (!found.model) {
        QStringList keys;
        for (const auto& k : found.contradicting) keys << to_q(k);
        return tr("No rows and columns fit: %1 would join two lines of one side. Probe them again.")
            .arg(keys.join(QStringLiteral(", ")));
    }
    std::vector<WalkPress> presses;
    for (const auto& k : found.model->keys)
        presses.push_back({k.name, {{found.model->rows[k.row], found.model->columns[k.column]}}});
    const auto taken = take_walk(*document_.dossier().map, presses);
    document_.apply(tr("matrix from %1").arg(name), put(document_.dossier(), taken.map));
    auto says = tr("%1 keys from %2, %3 rows and %4 columns.")
                    .arg(taken.placed)
                    .arg(name)
                    .arg(found.model->rows.size())
                    .arg(found.model->columns.size());
    if (found.several)
        says += tr(" The lines hang together in several groups: which side of each is rows can't be told.");
    for (const auto& d : taken.doubts) says += QLatin1Char(' ') + to_q(d) + QLatin1Char('.');
    return says;
}

std::optional<QString> MatrixView::add_position(const QString& text) {
    const auto parts = text.simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    if (parts.isEmpty()) return std::nullopt;
    if (parts.size() < 3 || (parts.size() == 4 && parts[3] != QStringLiteral("diode")) || parts.size() > 4)
        return tr("A legend, a row, a column, and “diode” where it has one: ENTER R5 C8 diode");
    auto map = *document_.dossier().map;
    const auto legend = parts[0].toStdString();
    // Of several keys with one legend the first that has no position yet.
    MapKey* key = nullptr;
    for (auto& k : map.keys)
        if ((k.legend == legend || k.id == legend) &&
            (key == nullptr || (!key->row.empty() && k.row.empty())))
            key = &k;
    if (key == nullptr) {
        MapKey fresh;
        fresh.legend = legend;
        fresh.id = free_id<MapKey>(document_.dossier(), legend);
        fresh.x = static_cast<double>(map.keys.size() % 10);
        fresh.y = map.keys.empty() ? 0
                                   : std::max_element(
                                         map.keys.begin(), map.keys.end(),
                                         [](const auto& l, const auto& r) {
                                             return l.y < r.y;
                                         })->y +
                                         (map.keys.size() % 10 == 0 ? 1 : 0);
        map.keys.push_back(fresh);
        key = &map.keys.back();
    }
    key->row = parts[1].toStdString();
    key->column = parts[2].toStdString();
    key->diode = parts.size() == 4;
    const auto add = [](std::vector<std::string>& lines, const std::string& line) {
        if (std::find(lines.begin(), lines.end(), line) == lines.end()) lines.push_back(line);
    };
    add(map.matrix.rows, key->row);
    add(map.matrix.columns, key->column);
    walk_->clear();
    document_.apply(tr("position of %1").arg(parts[0]), put(document_.dossier(), std::move(map)));
    return std::nullopt;
}

}  // namespace grayrelic::app
