// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/library/cautions.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/electrical/rails.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

constexpr double high_rail_v = 30, strong_rail_a = 5;
constexpr std::array<std::string_view, 6> rail_words_known{"battery", "linear",    "switched",
                                                           "two",     "above-30v", "strong"};

std::vector<std::string> words(JsonNode& n, const std::string& key) {
    std::vector<std::string> out;
    if (const auto list = n.member(key))
        for (const auto& e : list->elements(50)) out.push_back(e.text(64));
    return out;
}

template <Vocabulary E>
std::vector<E> kinds(JsonNode& n, const std::string& key) {
    std::vector<E> out;
    if (const auto list = n.member(key))
        for (const auto& e : list->elements(50)) {
            const auto text = e.text(64);
            const auto kind = named<E>(text);
            if (!kind) e.fault(in_quotes(text), one_of<E>());
            out.push_back(*kind);
        }
    return out;
}

CautionTrigger read_trigger(JsonNode& n) {
    CautionTrigger t;
    n.require_object();
    if (const auto list = n.member("stages"))
        for (const auto& e : list->elements(50)) {
            const auto word = e.text(64);
            const auto stage = named<Stage>(word);
            if (!stage) e.fault(in_quotes(word), one_of<Stage>());
            t.stages.push_back(*stage);
        }
    t.steps = words(n, "steps");
    t.nearby = words(n, "nearby");
    if (const auto v = n.member("rail_above_v")) {
        if (!std::isfinite(v->number()) || v->number() < 0) v->fault(v->shown(), "volts, zero or more");
        t.rail_above_v = v->number();
    }
    t.has_rail = n.flag("has_rail");
    t.static_sensitive = n.flag("static_sensitive");
    t.places = words(n, "places");
    t.parts = kinds<PartKind>(n, "parts");
    t.instruments = kinds<InstrumentKind>(n, "instruments");
    t.processes = kinds<Process>(n, "processes");
    t.has_original = n.flag("has_original");
    t.has_donor = n.flag("has_donor");
    t.both_supplied = n.flag("both_supplied");
    t.circuit = words(n, "circuit");
    t.rails = words(n, "rails");
    for (const auto& word : t.rails)
        if (std::find(rail_words_known.begin(), rail_words_known.end(), word) == rail_words_known.end())
            n.fault("rails " + in_quotes(word), "battery, linear, switched, two, above-30v or strong");
    return t;
}

bool among(const std::vector<std::string>& list, std::string_view word) {
    return list.empty() || std::find(list.begin(), list.end(), word) != list.end();
}

bool port_fires(const CautionTrigger& t, const Port& port, const FamilyLibrary& families) {
    if (!t.nearby.empty() && std::none_of(port.nearby.begin(), port.nearby.end(),
                                          [&](const auto& w) { return among(t.nearby, w); }))
        return false;
    const auto any = [&](auto holds) { return std::any_of(port.pins.begin(), port.pins.end(), holds); };
    if (t.has_rail && !any([](const Pin& p) { return role_of(p) == PinRole::rail; })) return false;
    if (t.rail_above_v && !any([&](const Pin& p) {
            const auto v = rail_volts(p);
            return role_of(p) == PinRole::rail && v && std::abs(*v) > *t.rail_above_v;
        }))
        return false;
    if (t.static_sensitive && !any([&](const Pin& p) {
            if (role_of(p) != PinRole::signal) return false;
            const auto* f = families.find(p.family.value);
            return f == nullptr ? port.side == Side::relic : f->static_sensitive;
        }))
        return false;
    return true;
}

template <class T, class List, class Kind>
bool any_of_kind(const std::vector<T>& wanted, const List& list, Kind kind) {
    return wanted.empty() || std::any_of(list.begin(), list.end(), [&](const auto& item) {
               return std::find(wanted.begin(), wanted.end(), kind(item)) != wanted.end();
           });
}

bool supplied(const Dossier& d, Side side) {
    return std::any_of(d.ports->begin(), d.ports->end(), [&](const Port& p) {
        return p.side == side && std::any_of(p.pins.begin(), p.pins.end(),
                                             [](const Pin& pin) { return role_of(pin) == PinRole::rail; });
    });
}

/// Has the circuit a part whose kind begins with one of these?
bool stands_in_circuit(const Dossier& d, const std::vector<std::string>& kinds) {
    const auto bridge = bridge_text(*d.wire, *d.timing);
    for (const auto line : split(bridge.text, '\n')) {
        // "REF KIND …:": the second word of a part's line.
        const auto colon = line.find(':');
        if (colon == std::string_view::npos || line.starts_with(' ') || line.starts_with('#')) continue;
        const auto head = line.substr(0, colon);
        const auto from = head.find_first_not_of(' ', std::min(head.find(' '), head.size()));
        if (from == std::string_view::npos) continue;
        for (const auto& k : kinds)
            if (head.substr(from).starts_with(k)) return true;
    }
    return false;
}

/// Is one of these true of the rails, as their text says them?
bool rails_have(const Dossier& d, const std::vector<std::string>& words) {
    const auto tree = read_rails(d.wire->rails).tree;
    const auto any_part = [&](RailPartKind kind) {
        return std::any_of(tree.parts.begin(), tree.parts.end(),
                           [&](const auto& p) { return p.kind == kind; });
    };
    const auto any_source = [&](auto holds) {
        return std::any_of(tree.sources.begin(), tree.sources.end(), holds);
    };
    for (const auto& word : words) {
        if (word == "battery" && any_source([](const auto& s) { return s.battery.has_value(); })) return true;
        if (word == "linear" && any_part(RailPartKind::linear)) return true;
        if (word == "switched" && any_part(RailPartKind::switched)) return true;
        if (word == "two" && tree.sources.size() > 1) return true;
        if (word == "above-30v" && any_source([](const auto& s) { return s.volts > high_rail_v; }))
            return true;
        if (word == "strong" &&
            any_source([](const auto& s) { return s.limit_a.value_or(strong_rail_a + 1) > strong_rail_a; }))
            return true;
    }
    return false;
}

/// What hangs on the job and the bench, not on a port.
bool job_fires(const CautionTrigger& t, const Dossier& d, const Bench* bench) {
    static const Bench nothing;
    const auto& b = bench == nullptr ? nothing : *bench;
    if (!any_of_kind(t.parts, d.supply->parts, [](const PartLine& p) { return p.kind; })) return false;
    if (!any_of_kind(t.instruments, b.instruments, [](const Instrument& i) { return i.kind; })) return false;
    if (!any_of_kind(t.processes, b.processes, [](Process p) { return p; })) return false;
    const auto is_original = [](const JobUnit& u) { return u.state == UnitState::original; };
    const auto is_relic = [](const Port& p) { return p.side == Side::relic; };
    if (t.has_original && std::none_of(d.units->begin(), d.units->end(), is_original) &&
        std::none_of(d.ports->begin(), d.ports->end(), is_relic))
        return false;
    if (t.has_donor && d.trace->donors.empty()) return false;
    if (!t.circuit.empty() && !stands_in_circuit(d, t.circuit)) return false;
    if (!t.rails.empty() && !rails_have(d, t.rails)) return false;
    return !t.both_supplied || (supplied(d, Side::relic) && supplied(d, Side::modern));
}

bool about_a_port(const CautionTrigger& t) {
    return !t.nearby.empty() || t.has_rail || t.rail_above_v || t.static_sensitive;
}

}  // namespace

Result<std::vector<Caution>> cautions_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "cautions as JSON", [](JsonNode& root) {
        std::vector<Caution> out;
        for (auto& n : root.required("cautions").elements(1000)) {
            n.require_object();
            Caution c;
            c.id = n.required("id").text(64);
            c.title = n.required("title").text(200);
            c.says = n.required("says").text(2000);
            c.defer = n.required("defer").text(500);
            for (auto& t : n.required("when").elements(20)) c.triggers.push_back(read_trigger(t));
            if (c.triggers.empty())
                n.required("when").fault("an empty list", "at least one place where it stands");
            out.push_back(std::move(c));
        }
        return out;
    });
}

CautionLibrary CautionLibrary::load(FileSystem& files, const std::vector<std::filesystem::path>& folders) {
    CautionLibrary out;
    for (const auto& folder : folders) {
        const auto path = folder / "cautions.json";
        if (folder.empty() || !files.exists(path)) continue;
        const auto text = files.read(path, 1U << 20U);
        auto read = text ? cautions_from_json(*text, path.string()) : fail(text.error());
        if (!read) {
            out.problems.push_back(read.error());
            continue;
        }
        for (auto& c : *read) {
            std::erase_if(out.cautions, [&](const Caution& old) { return old.id == c.id; });
            out.cautions.push_back(std::move(c));
        }
    }
    return out;
}

std::vector<const Caution*> cautions_of_job(const CautionLibrary& library, const FamilyLibrary& families,
                                            const Dossier& d, const Bench* bench,
                                            const std::vector<std::string>& named_ids) {
    const auto about_the_job = [](const CautionTrigger& t) {
        return !t.parts.empty() || !t.instruments.empty() || !t.processes.empty() || t.has_original ||
               t.has_donor || t.both_supplied || !t.circuit.empty() || !t.rails.empty();
    };
    const auto fires = [&](const CautionTrigger& t) {
        if (!about_the_job(t) && !about_a_port(t)) return false;
        return job_fires(t, d, bench) &&
               (!about_a_port(t) || std::any_of(d.ports->begin(), d.ports->end(),
                                                [&](const Port& p) { return port_fires(t, p, families); }));
    };
    std::vector<const Caution*> out;
    for (const auto& c : library.cautions)
        if (std::find(named_ids.begin(), named_ids.end(), c.id) != named_ids.end() ||
            std::any_of(c.triggers.begin(), c.triggers.end(), fires))
            out.push_back(&c);
    return out;
}

std::vector<Stage> stages_of(const Caution& caution) {
    std::vector<Stage> out;
    for (const auto s : all_of<Stage>())
        if (std::any_of(caution.triggers.begin(), caution.triggers.end(), [&](const CautionTrigger& t) {
                return t.stages.empty() || std::find(t.stages.begin(), t.stages.end(), s) != t.stages.end();
            }))
            out.push_back(s);
    return out;
}

std::vector<const Caution*> cautions_for(const CautionLibrary& library, const FamilyLibrary& families,
                                         const Dossier& dossier, std::optional<Stage> stage,
                                         std::string_view step, const Port* port, const Bench* bench,
                                         std::string_view place) {
    const auto fires = [&](const CautionTrigger& t) {
        if (stage && !t.stages.empty() &&
            std::find(t.stages.begin(), t.stages.end(), *stage) == t.stages.end())
            return false;
        if (!step.empty() && !among(t.steps, step)) return false;
        if (!place.empty() && !among(t.places, place)) return false;
        if (!job_fires(t, dossier, bench)) return false;
        if (!about_a_port(t)) return true;
        if (port != nullptr) return port_fires(t, *port, families);
        return std::any_of(dossier.ports->begin(), dossier.ports->end(),
                           [&](const Port& p) { return port_fires(t, p, families); });
    };
    std::vector<const Caution*> out;
    for (const auto& c : library.cautions)
        if (std::any_of(c.triggers.begin(), c.triggers.end(), fires)) out.push_back(&c);
    return out;
}

}  // namespace grayrelic
