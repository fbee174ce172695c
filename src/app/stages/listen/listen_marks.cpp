// SPDX-License-Identifier: GPL-3.0-or-later
// What is said of a capture from its waves: presses, and which pin a line is.
#include <QMenu>

#include "app/paint/marks.hpp"
#include "app/stages/listen/listen_page.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

void ListenPage::mark_moment() {
    const auto* ref = document_.dossier().find_capture(id_);
    const auto& c = waves_->cursors();
    if (ref == nullptr || !c.a || !c.b || *c.a == *c.b) return;
    auto changed = *ref;
    changed.moments.push_back({std::min(*c.a, *c.b), std::max(*c.a, *c.b),
                               tr("press %1").arg(ref->moments.size() + 1).toStdString()});
    document_.apply(tr("mark a moment of %1").arg(to_q(ref->title)),
                    put(document_.dossier(), std::move(changed)));
    show_view(QStringLiteral("buttons"));
}

void ListenPage::pin_menu(const QString& signal, const QPoint& at) {
    const auto* ref = document_.dossier().find_capture(id_);
    if (ref == nullptr || document_.dossier().ports->empty()) return;
    QMenu menu(this);
    for (const auto& port : *document_.dossier().ports)
        for (const auto& pin : port.pins)
            menu.addAction(tr("%1 %2  %3").arg(to_q(port.id), to_q(pin.number), to_q(pin.name.value)))
                ->setData(QStringList{to_q(port.id), to_q(pin.number)});
    if (const auto* picked = menu.exec(at)) {
        const auto place = picked->data().toStringList();
        tie(signal.toStdString(), place.at(0).toStdString(), place.at(1).toStdString());
    }
}

void ListenPage::tie(const std::string& signal, const std::string& port, const std::string& pin) {
    const auto* found = document_.dossier().find_capture(id_);
    if (found == nullptr) return;
    auto changed = *found;
    changed.port = port;
    const auto* known = changed.find_tie(signal);
    const auto name = known == nullptr ? signal : known->signal;
    std::erase_if(changed.ties, [&](const SignalTie& t) { return t.signal == name; });
    changed.ties.push_back({name, pin});
    document_.apply(tr("tie %1 to pin %2").arg(to_q(short_name(name)), to_q(pin)),
                    put(document_.dossier(), std::move(changed)));
}

}  // namespace grayrelic::app
