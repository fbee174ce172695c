// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/job/outlook.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {
namespace {

std::string range_of(const Must& m) {
    if (m.least && m.most) return fmt::format("{} to {} mm", *m.least, *m.most);
    if (m.least) return fmt::format("at least {} mm", *m.least);
    return fmt::format("at most {} mm", *m.most);
}

/// A measured length against its limits, at its tolerance.
void by_dimension(const Dossier& d, MustState& s) {
    const auto& m = s.must;
    const auto at = std::find_if(d.dimensions->begin(), d.dimensions->end(),
                                 [&](const Dimension& x) { return x.id == m.thing; });
    if (at == d.dimensions->end()) {
        s.why = "there is no dimension " + in_quotes(m.thing);
        return;
    }
    const auto name = at->name.empty() ? at->id : at->name;
    if (!at->mm.value) {
        s.why = name + " is not known";
        return;
    }
    const double v = *at->mm.value;
    const double pm = at->mm.uncertainty.value_or(0);
    const auto shown = fmt::format("{} {}{} mm", name, v, pm > 0 ? fmt::format(" ± {}", pm) : "");
    if (!m.least && !m.most) {
        s.why = shown + "; no limit is said";
        return;
    }
    constexpr double rounding = 1e-9;  // 0.1 + 0.2 is not above 0.3
    const auto inside = [&](double x) {
        return (!m.least || x >= *m.least - rounding) && (!m.most || x <= *m.most + rounding);
    };
    const bool all = inside(v - pm) && inside(v + pm);
    const bool none = (m.least && v + pm < *m.least - rounding) || (m.most && v - pm > *m.most + rounding);
    s.verdict = none ? Verdict::stop : all ? Verdict::holds : Verdict::doubt;
    s.why = fmt::format("{}, {}{}", shown, range_of(m),
                        all || none ? "" : ": its tolerance reaches over the limit");
    if (at->mm.evidence.kind == EvidenceKind::assumed) {
        if (s.verdict != Verdict::stop) s.verdict = Verdict::unknown;
        s.why += "; it was only assumed";
    }
}

void by_pin(const Dossier& d, MustState& s) {
    const auto slash = s.must.thing.find('/');
    const auto* port = d.find_port(s.must.thing.substr(0, slash));
    const auto* pin = port == nullptr || slash == std::string::npos
                          ? nullptr
                          : port->find_pin(s.must.thing.substr(slash + 1));
    if (pin == nullptr) {
        s.why = "there is no pin " + in_quotes(s.must.thing);
        return;
    }
    const auto role = role_of(*pin);
    const bool level = pin->volts_max.value.has_value() || !pin->family.value.empty();
    const auto& from = pin->volts_max.value ? pin->volts_max.evidence : pin->family.evidence;
    if (pin->name.value.empty() || role == PinRole::unknown) {
        s.why = "nobody knows what it is for";
    } else if (role == PinRole::signal && !level) {
        s.why = pin->name.value + ": its level is not known";
    } else if (role == PinRole::signal && from.kind == EvidenceKind::assumed) {
        s.why = pin->name.value + ": its level was only assumed";
    } else {
        s.verdict = Verdict::holds;
        s.why = fmt::format("{}: {}{}", pin->name.value, word(from.kind),
                            from.source.empty() ? "" : ", " + from.source);
    }
}

void by_interval(const Analysis& a, MustState& s) {
    const auto* figure = a.find_figure(s.must.thing);
    if (figure == nullptr) {
        s.why = "the contract has no interval " + in_quotes(s.must.thing);
    } else if (!figure->problem.empty()) {
        s.why = figure->problem;
    } else if (figure->evidence.kind == EvidenceKind::assumed) {
        s.why = figure->interval.name + " was only assumed";
    } else {
        s.verdict = Verdict::holds;
        s.why = fmt::format("{}: {}", figure->interval.name, word(figure->evidence.kind));
    }
}

void by_reply(const Analysis& a, MustState& s) {
    const auto* chosen = a.find_option(a.dossier.timing->chosen);
    if (chosen == nullptr) {
        s.why = "no way to build is chosen";
        return;
    }
    s.verdict = chosen->verdict;
    s.why = fmt::format("{} {}", chosen->option.name,
                        chosen->verdict == Verdict::holds   ? "answers in time"
                        : chosen->verdict == Verdict::doubt ? "answers in time, with too little room"
                        : chosen->verdict == Verdict::stop  ? "answers too late"
                                                            : "is not judged yet");
}

void by_word(MustState& s) {
    const auto& met = s.must.met;
    if (!met.value) {
        s.why = "nothing shows it yet";
        return;
    }
    const auto& e = met.evidence;
    const auto from =
        e.source.empty() ? std::string(word(e.kind)) : fmt::format("{}, {}", word(e.kind), e.source);
    s.why = fmt::format("{}: {}", *met.value ? "met" : "not met", from);
    if (!*met.value)
        s.verdict = Verdict::stop;
    else if (e.kind != EvidenceKind::assumed)
        s.verdict = Verdict::holds;
}

MustState judge(const Analysis& a, Must must) {
    MustState s;
    s.must = std::move(must);
    if (!s.must.waived.empty()) {
        s.verdict = Verdict::holds;
        s.why = "need not be: " + s.must.waived;
        return s;
    }
    switch (s.must.tie) {
        case MustTie::none: by_word(s); break;
        case MustTie::dimension: by_dimension(a.dossier, s); break;
        case MustTie::pin: by_pin(a.dossier, s); break;
        case MustTie::interval: by_interval(a, s); break;
        case MustTie::reply: by_reply(a, s); break;
    }
    return s;
}

}  // namespace

std::vector<MustState> judge_musts(const Analysis& a, const JobKind* kind) {
    std::vector<MustState> out;
    const auto& own = a.dossier.plan->musts;
    if (kind != nullptr)
        for (const auto& asked : kind->musts) {
            if (std::any_of(own.begin(), own.end(), [&](const Must& m) { return m.id == asked.id; }))
                continue;
            Must must;
            must.id = asked.id;
            must.says = asked.says;
            out.push_back(judge(a, std::move(must)));
            out.back().of_kind = true;
        }
    for (const auto& m : own) out.push_back(judge(a, m));
    return out;
}

}  // namespace grayrelic
