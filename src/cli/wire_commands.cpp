// SPDX-License-Identifier: GPL-3.0-or-later
// wire parts: what the chosen way to build needs, and what of it must be bought.
#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/dossier/store.hpp"
#include "core/library/data_library.hpp"
#include "core/person/person.hpp"
#include "core/plan/parts_list.hpp"
#include "core/port/connector_library.hpp"

namespace grayrelic::cli {
namespace {

struct Arguments {
    std::string dossier, drawer, csv;
};

Result<Drawer> drawer_of(const std::string& file) {
    if (file.empty()) {
        const auto folder = user_data_folder();
        return folder.empty() ? Drawer{} : read_drawer(disk(), drawer_file(folder));
    }
    const auto text = disk().read(file, most_person_bytes);
    if (!text) return fail(text.error());
    return file.ends_with(".csv") ? drawer_from_csv(*text, file) : drawer_from_json(*text, file);
}

Json row_json(const PartsRow& r) {
    Json j = {{"part", r.part},         {"refs", r.refs},       {"need", r.need},
              {"spare", r.spare},       {"drawer", r.drawer},   {"order", r.order},
              {"state", word(r.state)}, {"kind", word(r.kind)}, {"per_board", r.per_board}};
    if (!r.question.empty()) j["question"] = r.question;
    if (!r.not_to_be_had.empty()) j["not_to_be_had"] = r.not_to_be_had;
    if (r.on_order > 0) j["on_order"] = r.on_order;
    if (r.arrived > 0) j["arrived"] = r.arrived;
    if (r.buy) j["buy"] = *r.buy;
    if (r.cost) j["cost"] = *r.cost;
    if (!r.supplier.empty()) j["supplier"] = r.supplier;
    if (r.lead_days_from) j["lead_days_from"] = *r.lead_days_from;
    if (r.lead_days_to) j["lead_days_to"] = *r.lead_days_to;
    if (!r.alternates.empty()) {
        j["alternates"] = Json::array();
        for (const auto& [part, count] : r.alternates)
            j["alternates"].push_back({{"part", part}, {"drawer", count}});
    }
    return j;
}

void say_row(const PartsRow& r) {
    std::string refs;
    for (const auto& ref : r.refs) refs += (refs.empty() ? "" : " ") + ref;
    say("{:<28} {:>5} {:>5} {:>6} {:>5}  {:<9} {}\n", shortened(r.part, 28), r.need, r.spare, r.drawer,
        r.order, word(r.state), shortened(refs, 40));
    if (!r.question.empty()) say("    do not order yet: {}\n", r.question);
    if (!r.not_to_be_had.empty()) say("    not to be had: {}\n", r.not_to_be_had);
    for (const auto& [part, count] : r.alternates) say("    or {}: {} in the drawer\n", part, count);
}

/// Bad when something that is needed can't be had at all, or nothing is needed.
int status_of(const PartsList& list) {
    if (list.rows.empty()) return bad_answer;
    for (const auto& r : list.rows) {
        const bool wanted = r.order > 0 && (r.state == PartState::order || r.state == PartState::undecided);
        bool helped = r.not_to_be_had.empty();
        for (const auto& [part, count] : r.alternates) helped = helped || count >= r.order;
        if (wanted && !helped) return bad_answer;
    }
    return fine;
}

int wire_parts(const Arguments& a, bool json) {
    const auto dossier = load_dossier(dossier_folder(a.dossier));
    if (!dossier) return report_error(dossier.error());
    const auto drawer = drawer_of(a.drawer);
    if (!drawer) return report_error(drawer.error());
    const auto data = DataLibrary::load_installed();
    const auto list = parts_list(*dossier, &data->logic, *drawer);
    if (!a.csv.empty()) {
        if (auto apart = not_over(a.csv, *dossier, a.dossier); !apart) return report_error(apart.error());
        if (auto written = write_apart(a.csv, parts_to_csv(list, dossier->supply->parts), {a.drawer});
            !written)
            return report_error(written.error());
    }
    if (json) {
        Json lines = Json::array();
        for (const auto& r : list.rows) lines.push_back(row_json(r));
        Json out = {
            {"boards", list.boards}, {"lines", std::move(lines)}, {"without_price", list.without_price}};
        if (list.cost) out["cost"] = *list.cost;
        if (!list.gaps.empty()) out["gaps"] = list.gaps;
        print_json(out);
        return status_of(list);
    }
    for (const auto& gap : list.gaps) say("{}\n", gap);
    if (list.rows.empty()) {
        say("no parts\n");
        return bad_answer;
    }
    say("{}\n{:<28} {:>5} {:>5} {:>6} {:>5}  {:<9} {}\n", plural(list.boards, "board", "boards"), "part",
        "need", "spare", "drawer", "order", "state", "refs");
    for (const auto& r : list.rows) say_row(r);
    return status_of(list);
}

}  // namespace

void add_wire_commands(CLI::App& app, Session& session) {
    auto* noun = app.add_subcommand("wire", "what goes between the two connectors");
    noun->require_subcommand(1);
    const auto a = std::make_shared<Arguments>();
    auto* v =
        noun->add_subcommand("parts", "what the chosen way to build needs, and what of it must be bought");
    v->add_option("DOSSIER", a->dossier)->required();
    v->add_option("--drawer", a->drawer, "a drawer as JSON or CSV, instead of your own");
    v->add_option("--csv", a->csv, "writes the list there as a table");
    v->callback([&session, a] { session.run = [&session, a] { return wire_parts(*a, session.json); }; });
    add_wire_circuit(*noun, session);
    add_wire_values(*noun, session);
    add_wire_rails(*noun, session);
}

}  // namespace grayrelic::cli
