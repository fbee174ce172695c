// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/read_links.hpp"

#include <QStringList>

#include "app/paint/marks.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

/// Each line of the new capture answers to the name that the other one has for its role, and is tied to the
/// same pin.
void map_lines(const CaptureRef& like, const Candidate& candidate, CaptureRef& into) {
    if (into.port.empty() || into.ties.empty()) into.port = like.port;
    for (const auto& [role, there] : like.decode.roles) {
        const auto here = candidate.roles.find(role);
        if (here == candidate.roles.end()) continue;
        for (std::size_t i = 0; i < std::min(there.size(), here->second.size()); ++i) {
            const auto& signal = here->second[i];
            if (const auto name = short_name(there[i]); name != short_name(signal)) into.names[name] = signal;
            const auto* tie = like.find_tie(there[i]);
            if (tie != nullptr && into.port == like.port && into.find_tie(signal) == nullptr)
                into.ties.push_back({signal, tie->pin});
        }
    }
}

DecodeSetup setup_of(const Candidate& c) {
    DecodeSetup setup;
    setup.kind = c.kind;
    setup.roles = c.roles;
    setup.settings = c.settings;
    return setup;
}

}  // namespace

QString roles_text(const RoleMap& roles) {
    QStringList out;
    for (const auto& [role, names] : roles) {
        QStringList list;
        for (const auto& n : names) list << to_q(short_name(n));
        out << QStringLiteral("%1 %2").arg(to_q(role), list.join(QLatin1Char(' ')));
    }
    return out.join(QStringLiteral(", "));
}

const CaptureRef* same_talk(const Dossier& dossier, const std::string& capture, const Candidate& candidate) {
    for (const auto& other : *dossier.captures) {
        if (other.id == capture || other.decode.kind != candidate.kind) continue;
        bool same_roles = other.decode.roles.size() == candidate.roles.size(), other_names = false;
        for (const auto& [role, names] : other.decode.roles) {
            const auto here = candidate.roles.find(role);
            same_roles = same_roles && here != candidate.roles.end() && here->second.size() == names.size();
            for (std::size_t i = 0; same_roles && i < names.size(); ++i)
                other_names = other_names || short_name(names[i]) != short_name(here->second[i]);
        }
        if (same_roles && other_names) return &other;
    }
    return nullptr;
}

void read_links(Document& document, const std::string& capture, const std::vector<Candidate>& links) {
    const auto* ref = document.dossier().find_capture(capture);
    if (ref == nullptr || links.empty()) return;
    auto changed = *ref;
    changed.decode = setup_of(links.front());
    changed.also.clear();
    for (std::size_t i = 1; i < links.size(); ++i) changed.also.push_back(setup_of(links[i]));
    if (const auto* like = same_talk(document.dossier(), capture, links.front()))
        map_lines(*like, links.front(), changed);
    const auto what = links.size() == 1
                          ? QObject::tr("read %1 as %2").arg(to_q(ref->title), to_q(links.front().kind))
                          : QObject::tr("read %1 as %2 links").arg(to_q(ref->title)).arg(links.size());
    document.apply(what, put(document.dossier(), std::move(changed)));
}

}  // namespace grayrelic::app
