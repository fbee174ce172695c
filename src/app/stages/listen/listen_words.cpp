// SPDX-License-Identifier: GPL-3.0-or-later
// What Listen says of itself in the header and the rail.
#include "app/paint/marks.hpp"
#include "app/stages/listen/listen_page.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

QString ListenPage::sentence() const {
    const auto* ref = document_.dossier().find_capture(id_);
    return ref == nullptr ? tr("Listen") : to_q(ref->title);
}

QString ListenPage::detail() const {
    const auto c = current();
    if (!c) return document_.dossier().captures->empty() ? tr("nothing recorded yet") : tr("reading …");
    if (!c->capture) return c->under_way.empty() ? tr("can't be read") : tr("reading …");
    const auto rate = c->sample_period ? to_q(print(Hertz(1.0 / c->sample_period->seconds())))
                                             .replace(QStringLiteral("Hz"), QStringLiteral("S/s"))
                                       : tr("rate not known");
    return tr("%1 · %2 signals · %3 edges")
        .arg(rate)
        .arg(c->capture->signals.size())
        .arg(to_q(print_count(static_cast<long long>(c->capture->edge_count()))));
}

QString ListenPage::rail_line() const {
    const auto& all = document_.analysis().listen->captures;
    const auto read = std::count_if(
        all.begin(), all.end(), [](const auto& c) { return c->decoding && !c->decoding->frames.empty(); });
    return tr("%1 · %2 read")
        .arg(
            to_q(plural(static_cast<long long>(document_.dossier().captures->size()), "capture", "captures")))
        .arg(read);
}

bool ListenPage::has_content() const {
    return grayrelic::has_content(document_.dossier(), Stage::listen);
}

}  // namespace grayrelic::app
