// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/unit_history.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "core/dossier/reading_text.hpp"
#include "core/record/trial_table.hpp"

namespace grayrelic {
namespace {

using Events = std::vector<UnitEvent>;

void add_build(const UnitBuild& b, UnitHistory& out) {
    auto& events = out.events;
    for (const auto& p : b.fitted) {
        auto says = p.ref + " fitted";
        if (!p.marking.empty()) says += ", marked " + p.marking;
        events.push_back({p.day, "part", std::move(says)});
    }
    for (const auto& m : b.measured)
        events.push_back({m.day, "hold",
                          fmt::format("{}: {} = {:.6g}{}", m.hold, m.reading, m.value,
                                      m.tool.empty() ? "" : " (" + m.tool + ")")});
    for (const auto& p : b.passed)
        events.push_back({p.day, "hold", fmt::format("{} passed all the same: {}", p.hold, p.reason)});
    for (const auto& t : b.ties) {
        events.push_back({t.day, "tie", t.what + " put on"});
        if (!t.off.empty()) events.push_back({t.off, "tie", t.what + " taken off"});
    }
    for (const auto& f : b.found)
        events.push_back({f.day, "fault", f.fault + (f.note.empty() ? "" : ": " + f.note)});
    for (const auto& w : b.work) {
        auto says = fmt::format("{}, {:.4g} min", word(w.kind), w.minutes);
        if (w.degrees) says += fmt::format(", {:.4g} °C", *w.degrees);
        if (w.count) says += fmt::format(", {:.4g}", *w.count);
        if (!w.note.empty()) says += ": " + w.note;
        events.push_back({w.day, "work", std::move(says)});
        out.minutes += w.minutes;
        if (w.kind == WorkKind::reflow || w.kind == WorkKind::hot_air) ++out.reflows;
    }
}

std::string last_reflow(const UnitBuild& b) {
    std::string last;
    for (const auto& w : b.work)
        if (w.kind == WorkKind::reflow || w.kind == WorkKind::hot_air) last = std::max(last, w.day);
    return last;
}

void add_log(const Dossier& d, const std::string& id, UnitHistory& out) {
    std::string day_of_image, day_of_place;
    for (const auto& t : d.log->trials) {
        if (t.unit != id) continue;
        ++out.trials;
        if (t.outcome == TrialOutcome::fails || t.outcome == TrialOutcome::partly) ++out.failed;
        std::vector<std::string> setup;
        for (const auto& f : t.setup) setup.push_back(f.name + " " + f.value);
        out.events.push_back({t.day, "trial",
                              fmt::format("{}: {}{}{}", t.id, word(t.outcome), setup.empty() ? "" : " with ",
                                          fmt::join(setup, ", "))});
    }
    for (const auto& b : d.log->bodges)
        if (b.unit == id) out.events.push_back({b.day, "bodge", b.what});
    for (const auto& r : d.log->runs) {
        if (r.unit != id) continue;
        auto name = r.image;
        for (const auto& i : d.log->images)
            if (i.id == r.image) name = image_name(i);
        out.events.push_back({r.day, "image", "runs " + name});
        if (r.day >= day_of_image) {
            day_of_image = r.day;
            out.image = r.image;
        }
    }
    for (const auto& p : d.log->places) {
        if (p.unit != id) continue;
        out.events.push_back({p.day, "place", p.where + (p.note.empty() ? "" : ": " + p.note)});
        if (p.day >= day_of_place) {
            day_of_place = p.day;
            out.where = p.where;
        }
    }
}

}  // namespace

std::vector<UnitHistory> unit_histories(const Dossier& d) {
    std::vector<UnitHistory> out;
    for (const auto& unit : *d.units) {
        UnitHistory h;
        h.unit = &unit;
        std::string reflow;
        for (const auto& b : *d.builds)
            if (b.id == unit.id) {
                add_build(b, h);
                reflow = last_reflow(b);
            }
        for (const auto& r : *d.readings) {
            if (r.unit != unit.id) continue;
            const auto& day = r.date;
            h.events.push_back({day, "reading", fmt::format("{} to {}: {}", r.a, r.b, show_reading(r))});
            if (!reflow.empty() && !day.empty() && day < reflow) ++h.joints_before_reflow;
        }
        for (const auto& c : *d.captures)
            if (c.unit == unit.id) h.events.push_back({{}, "capture", c.title.empty() ? c.id : c.title});
        add_log(d, unit.id, h);
        std::stable_sort(h.events.begin(), h.events.end(),
                         [](const UnitEvent& a, const UnitEvent& b) { return a.day < b.day; });
        out.push_back(std::move(h));
    }
    return out;
}

std::vector<ImageState> image_states(const Dossier& d, const std::map<std::string, std::string>& sums) {
    std::vector<ImageState> out;
    const auto histories = unit_histories(d);
    for (const auto& i : d.log->images) {
        ImageState s;
        s.image = &i;
        for (const auto& h : histories)
            if (h.image == i.id) s.units.push_back(h.unit->name.empty() ? h.unit->id : h.unit->name);
        for (const auto& t : d.log->trials)
            if (t.image == i.id) s.trials.push_back(t.id);
        const auto sum = sums.find(i.id);
        if (i.file.empty()) {
            s.verdict = Verdict::doubt;
            s.says = "the file is not kept here: nobody can run it again";
        } else if (i.sha256.empty()) {
            s.verdict = Verdict::doubt;
            s.says = "no sum was written down";
        } else if (sum == sums.end()) {
            s.says = "not read yet";
        } else if (sum->second != i.sha256) {
            s.verdict = Verdict::stop;
            s.says = fmt::format("the file has another sum ({:.8}…) than was written down ({:.8}…)",
                                 sum->second, i.sha256);
        } else {
            s.verdict = Verdict::holds;
            s.says = "the file is the one whose sum was written down";
        }
        out.push_back(std::move(s));
    }
    return out;
}

}  // namespace grayrelic
