// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/analysis/finding.hpp"

#include "core/base/text.hpp"

namespace grayrelic {

std::string_view word(Severity s) {
    switch (s) {
        case Severity::stop: return "stop";
        case Severity::doubt: return "doubt";
        case Severity::note: return "note";
    }
    return "note";
}

FindingCounts count(const Findings& findings, std::optional<Stage> stage) {
    FindingCounts c;
    for (const auto& f : findings) {
        if (stage && f.stage != *stage) continue;
        (f.severity == Severity::stop ? c.stop : f.severity == Severity::doubt ? c.doubt : c.note) += 1;
    }
    return c;
}

std::string print(const FindingCounts& c) {
    std::string out;
    const auto add = [&](long n, const char* one, const char* many) {
        if (n > 0) out += (out.empty() ? "" : " · ") + plural(n, one, many);
    };
    add(c.stop, "stop", "stops");
    add(c.doubt, "doubt", "doubts");
    add(c.note, "note", "notes");
    return out.empty() ? "nothing found" : out;
}

Verdict verdict(const FindingCounts& c) {
    return c.stop > 0 ? Verdict::stop : c.doubt > 0 ? Verdict::doubt : Verdict::holds;
}

}  // namespace grayrelic
