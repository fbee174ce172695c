// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/user_card.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/text.hpp"
#include "core/input/meaning.hpp"
#include "core/record/cover_study.hpp"
#include "core/report/card_pages.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

struct CardText {
    std::string title;
    std::vector<std::string> lines;
    bool may_be_cut = false;  ///< where the page is full
};

std::string as_line(const UserCardLine& l) {
    return l.when.empty() ? l.means : l.means.empty() ? l.when : l.when + ": " + l.means;
}

void add_said(const JobLog& log, CardKind kind, CardText& into) {
    for (const auto& l : log.card)
        if (l.kind == kind) into.lines.push_back(as_line(l));
}

std::string port_title(const Port& p) {
    return p.name.empty() ? p.id : p.name;
}

CardText plugging(const Analysis& a) {
    CardText out{"Plugging in", {}, false};
    for (const auto& c : *a.dossier.cables) {
        if (c.stripe.empty()) {
            if (!c.a.label.empty() || !c.b.label.empty())
                out.lines.push_back(fmt::format("{}: {} and {}.", c.name.empty() ? c.id : c.name,
                                                c.a.label.empty() ? c.a.port : c.a.label,
                                                c.b.label.empty() ? c.b.port : c.b.label));
            continue;
        }
        std::string far;
        for (const auto& w : c.wires)
            if (w.a == c.stripe) far = w.b;
        out.lines.push_back(fmt::format("{}: the marked wire is at pin {}{}.", c.name.empty() ? c.id : c.name,
                                        c.stripe,
                                        far.empty() ? "" : " on one side and pin " + far + " on the other"));
    }
    std::set<std::string> said;
    for (const auto& f : a.findings)
        if (f.id == "misinsert-destroys" && f.severity == Severity::stop && said.insert(f.says).second)
            out.lines.push_back("Look twice: " + f.says + ".");
    return out;
}

/// What must not be on while something else is off.
CardText switching(const Analysis& a) {
    CardText out{"Switching on", {}, false};
    add_said(*a.dossier.log, CardKind::step, out);
    for (std::size_t i = 0; i < out.lines.size(); ++i)
        out.lines[i] = fmt::format("{}. {}", i + 1, out.lines[i]);
    if (out.lines.empty()) out.lines.emplace_back("Plug in with everything off; then switch on.");
    if (a.wire)
        for (const auto& b : a.wire->rails.back_feed)
            if (b.verdict == Verdict::stop)
                out.lines.push_back(fmt::format("Never: {}. Current would run backwards from {} into {}.",
                                                b.when, b.from, b.to));
    for (const auto& s : a.dossier.wire->settings)
        if (s.back)
            out.lines.push_back(fmt::format("{}{}: back to {:.4g} V before anything else is plugged in.",
                                            s.name, s.where.empty() ? "" : " (" + s.where + ")", *s.back));
    return out;
}

/// "button 1" for "button:1".
std::string said(const std::string& meaning) {
    const auto read = parse_meaning(meaning);
    return read ? say_meaning(*read) : meaning;
}

CardText presses(const Analysis& a) {
    CardText out{"Presses", {}, true};
    add_said(*a.dossier.log, CardKind::press, out);
    for (const auto& k : a.dossier.map->keys)
        if (!k.meaning.empty() && k.meaning != "none")
            out.lines.push_back(fmt::format("{}: {}", k.legend.empty() ? k.id : k.legend, said(k.meaning)));
    return out;
}

CardText symptoms(const Analysis& a) {
    CardText out{"When it does not work", {}, true};
    add_said(*a.dossier.log, CardKind::symptom, out);
    const auto cover = study_cover(a.dossier.log->items);
    for (const auto& s : cover.items) {
        if (s.outcome != TrialOutcome::fails && s.outcome != TrialOutcome::partly) continue;
        std::string note;
        for (const auto& said : s.item->said)
            if (said.outcome == s.outcome && !said.note.empty()) note = ": " + said.note;
        out.lines.push_back(
            fmt::format("{} {}{}", s.item->name.empty() ? s.item->id : s.item->name,
                        s.outcome == TrialOutcome::fails ? "does not work with it" : "works in part", note));
    }
    return out;
}

Card write(const Analysis& a, const std::vector<CardText>& texts, std::size_t most, Paper paper) {
    CardPages pages(a, paper);
    const auto& release = a.dossier.log->release;
    std::string about = "For whoever uses it";
    if (!release.version.empty()) about += " · version " + release.version;
    about += fmt::format(" · revision {}", a.dossier.about->revision);
    pages.begin(a.dossier.about->name, about);
    if (!a.dossier.about->purpose.empty()) pages.paragraph(a.dossier.about->purpose);
    for (const auto& t : texts) {
        if (t.lines.empty()) continue;
        pages.advance(6);
        pages.title(t.title);
        const auto count = t.may_be_cut ? std::min(most, t.lines.size()) : t.lines.size();
        for (std::size_t i = 0; i < count; ++i) pages.paragraph(t.lines[i]);
        if (count < t.lines.size())
            pages.paragraph(fmt::format("and {} more, in the full description", t.lines.size() - count));
    }
    if (a.data) {
        const Port* relic = nullptr;
        for (const auto& p : *a.dossier.ports)
            if (relic == nullptr && p.side == Side::relic) relic = &p;
        // What is for the bench stays there.
        pages.cautions(Stage::port, "plug", relic,
                       {"hot-plugging", "two-supplies", "wrong-supply", "host-setting", "mains", "lithium",
                        "hot-parts"});
    }
    pages.end();
    return pages.take();
}

}  // namespace

Result<Card> user_card(const Analysis& a, Paper paper) {
    if (a.dossier.ports->empty() && a.dossier.log->card.empty())
        return fail_usage("a dossier without a port and without lines of a card",
                          "a port in Port, or lines in Log");
    CardText lights{"Lights", {}, true}, warnings{"Mind", {}, false};
    add_said(*a.dossier.log, CardKind::light, lights);
    add_said(*a.dossier.log, CardKind::warning, warnings);
    CardText ports{"What is what", {}, false};
    for (const auto& p : *a.dossier.ports)
        ports.lines.push_back(fmt::format("{}: {}, on the {} side", p.id, port_title(p),
                                          p.side == Side::relic ? "old" : "new"));
    const std::vector<CardText> texts{ports,      plugging(a), switching(a), lights,
                                      presses(a), symptoms(a), warnings};
    std::size_t most = 0;
    for (const auto& t : texts) most = std::max(most, t.lines.size());
    for (;; most = most > 1 ? most * 3 / 4 : 0) {
        auto card = write(a, texts, most, paper);
        if (card.pages.size() <= 1 || most == 0) return card;
    }
}

}  // namespace grayrelic
