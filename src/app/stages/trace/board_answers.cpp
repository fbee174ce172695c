// SPDX-License-Identifier: GPL-3.0-or-later
// What the Board view says of the scans, and its answer to a click.
#include "app/stages/trace/board_view.hpp"

#include <cmath>

#include "app/shell/document.hpp"

#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/trace/scan_look.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {

void BoardView::take_click(ClickKind kind, QPointF at) {
    found_->setChecked(true);
    change_scan(tr("what the picture shows"), [&](Scan& scan) {
        scan.clicks.push_back({kind, at.x(), at.y()});
    });
}

/// Clicks on the shown side that the last reading does not know, and the scan it read there.
std::pair<std::size_t, std::vector<ScanClick>> BoardView::unread_clicks() const {
    const auto& t = document_.analysis().trace;
    if (!t || !t->scan || !t->scan->scanned) return {};
    for (std::size_t i = 0; i < t->scan->scans.size(); ++i) {
        const auto& known = t->scan->scans[i];
        if (known.side != shown_side() || !t->scan->pixels[i]) continue;
        for (const auto& now : things<Scan>(document_.dossier()))
            if (now.id == known.id && now.clicks.size() > known.clicks.size())
                return {i,
                        {now.clicks.begin() + static_cast<std::ptrdiff_t>(known.clicks.size()),
                         now.clicks.end()}};
        break;
    }
    return {};
}

/// The part in sight as clicks have it that are not read yet; the nets follow when the whole is read. Nothing
/// stays of clicks that were taken back, or of the other side.
void BoardView::answer_at_once() {
    auto [scan, clicks] = unread_clicks();
    const auto asked = std::pair{shown_side(), clicks};
    if (asked == asked_) {
        if (!answer_.isEmpty()) hint_->setText(answer_);
        return;
    }
    asked_ = asked;
    answer_.clear();
    sight_.cancel();
    canvas_->clear_sight();
    const std::size_t layer = shown_side() == BoardSide::front ? 0 : 1;
    if (clicks.empty() || layer >= document_.analysis().trace->scan->scanned->layers.size()) return;
    const auto& t = document_.analysis().trace;
    sight_.ask([pixels = t->scan->pixels[scan], board = t->scan->scanned, layer, clicks = std::move(clicks),
                seen = canvas_->seen()](
                   Progress&) { return look_again(*pixels, board->layers[layer], clicks, seen); },
               [this](const std::optional<ScanSight>& sight) {
                   if (!sight) return;
                   canvas_->show_sight(*sight);
                   answer_ = tr("That changes %1 mm² in sight. The nets follow when both pictures are read.")
                                 .arg(sight->changed_mm2, 0, 'f', 1);
                   hint_->setText(answer_);
               });
}

/// A length taken in the picture is right to a pixel, and to what its references disagree.
std::optional<QString> BoardView::keep_measure(const QString& name) {
    const auto& t = document_.analysis().trace;
    if (name.isEmpty() || measured_mm_ <= 0 || !t || !t->scan) return std::nullopt;
    Dimension d;
    d.id = free_id<Dimension>(document_.dossier(), name.toStdString());
    d.name = name.toStdString();
    d.unit = t->unit;
    d.mm.value = std::round(measured_mm_ * 1000) / 1000;
    d.mm.evidence.kind = EvidenceKind::measured;
    for (std::size_t i = 0; i < t->scan->scans.size(); ++i)
        if (const auto& p = t->scan->placements[i]; p && t->scan->scans[i].side == shown_side()) {
            d.mm.uncertainty = std::round((1 / p->px_per_mm + p->residual_mm.value_or(0)) * 1000) / 1000;
            d.mm.evidence.source = "scan " + t->scan->scans[i].title;
            break;
        }
    document_.apply(tr("a dimension"), put(document_.dossier(), std::move(d)));
    keep_->clear();
    keep_->show_value({});
    hint_->setText(tr("“%1” is kept in Plan, Dimensions.").arg(name));
    return std::nullopt;
}

/// Places between two named nets that the picture leaves open, and joins that it does not show all of.
QStringList BoardView::to_probe() const {
    const auto& t = document_.analysis().trace;
    QStringList lines;
    const auto list = [&](bool guesses, int most, const QString& head) {
        int found = 0;
        for (const auto& q : t->scan_nets.questions) {
            if (q.a < 0 || q.b < 0 || q.is_guess != guesses) continue;
            if (++found > most) continue;
            if (found == 1) lines << QString() << head;
            lines << tr("%1 and %2: %3, at %4, %5 mm.")
                         .arg(to_q(t->name(q.a)), to_q(t->name(q.b)), to_q(q.place.why))
                         .arg(q.place.x_mm, 0, 'f', 1)
                         .arg(q.place.y_mm, 0, 'f', 1);
        }
        if (found > most) lines << tr("and %1 more.").arg(found - most);
    };
    list(false, 6, tr("To probe, since the picture can't tell:"));
    list(true, 4, tr("Taken for one net; a probe would prove it:"));
    return lines;
}

/// What was found in the pictures, and what they do not hold.
QStringList BoardView::seen_in_scans() const {
    const auto& t = document_.analysis().trace;
    const auto& scanned = *t->scan->scanned;
    QStringList lines;
    double unknown = 0;
    for (const auto& l : scanned.layers) unknown += l.unknown_mm2;
    long touched = 0, sure = 0;
    for (const auto& n : t->scan_nets.nets) {
        touched += n.touches_unknown ? 1 : 0;
        sure += n.confidence >= sure_join ? 1 : 0;
    }
    lines << QString()
          << tr("Board %1 × %2 mm.").arg(scanned.width_mm, 0, 'f', 2).arg(scanned.height_mm, 0, 'f', 2);
    lines << tr("%1 holes, %2 pads.").arg(scanned.holes.size()).arg(scanned.pads.size());
    if (scanned.registration_mm)
        lines << tr("Back laid onto the front by its holes, to %1 mm.")
                     .arg(*scanned.registration_mm, 0, 'f', 3);
    lines << tr("%1 between named points, %2 of them with a confidence of %3 or more.")
                 .arg(to_q(plural(static_cast<long long>(t->scan_nets.nets.size()), "net", "nets")))
                 .arg(sure)
                 .arg(sure_join);
    lines << to_probe() << QString();
    if (unknown > 0.5)
        lines << tr("%1 mm² can't be seen; %2 into it.")
                     .arg(unknown, 0, 'f', 0)
                     .arg(to_q(plural(touched, "net leads", "nets lead")));
    if (t->scan_against_ledger) {
        const auto& c = *t->scan_against_ledger;
        lines << tr("Against the ledger: %1 the same, %2 contradicted, %3 that readings do not prove yet.")
                     .arg(c.same)
                     .arg(c.split.size())
                     .arg(c.unproven.size());
    }
    for (std::size_t k = 0; k < scanned.layers.size(); ++k)
        if (const auto& l = scanned.layers[k]; !l.doubt.empty())
            lines << tr("%1: %2. Nothing is taken for copper here; click with \"say: copper\" and \"say: "
                        "board\".")
                         .arg(k == 0 ? tr("Front") : tr("Back"), to_q(l.doubt));
        else if (l.grey_step > 0)
            lines << tr("%1: copper and board are %2 levels apart, noise %3.")
                         .arg(k == 0 ? tr("Front") : tr("Back"))
                         .arg(l.grey_step, 0, 'f', 0)
                         .arg(l.noise, 0, 'f', 1);
    if (t->scan->changed_mm2)
        lines << tr("The last change altered %1 mm².").arg(*t->scan->changed_mm2, 0, 'f', 1);
    return lines;
}

}  // namespace grayrelic::app
