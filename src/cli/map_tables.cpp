// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli map check, export, compare: of a whole dossier.
#include <fmt/format.h>

#include <filesystem>
#include <memory>

#include "cli/input.hpp"
#include "cli/map_commands.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/input/map_analysis.hpp"
#include "core/input/map_table.hpp"

namespace grayrelic::cli {
namespace {

struct WholeMap {
    std::shared_ptr<const Analysis> analysis;
    MapTable table;
    std::string name;
};

Result<WholeMap> map_of(const std::string& path) {
    auto a = analyse_dossier(path);
    if (!a) return fail(a.error());
    WholeMap out{*a, {}, (*a)->dossier.about->name};
    const auto& map = *out.analysis->dossier.map;
    if (map.keys.empty() || !out.analysis->map)
        return fail_at(path, 0, "no map", "a dossier with keys under Map");
    out.table = map_table(map, out.analysis->map->bits, out.analysis->data->layouts.find(map.modern.layout));
    return out;
}

int map_check(const std::string& path, bool json) {
    const auto m = map_of(path);
    if (!m) return report_error(m.error());
    const auto& c = m->analysis->map->coverage;
    bool stop = false;
    Json gaps = Json::array();
    for (const auto& g : c.gaps) {
        stop = stop || g.verdict == Verdict::stop;
        gaps.push_back({{"verdict", word(g.verdict)},
                        {"keys", g.keys},
                        {"what", g.what},
                        {"says", g.says},
                        {"do", g.todo},
                        {"proposal", g.proposal ? Json(print_meaning(*g.proposal)) : Json()}});
    }
    if (json) {
        print_json({{"codes", c.codes},
                    {"codes_with_meaning", c.codes_with_meaning},
                    {"wanted", c.wanted},
                    {"reached", c.reached},
                    {"gaps", std::move(gaps)}});
    } else {
        say("{} of {} codes have a meaning; {} of {} wanted are reached\n", c.codes_with_meaning, c.codes,
            c.reached, c.wanted);
        for (const auto& g : c.gaps) say("{:<6} {} {}\n", word(g.verdict), g.says, g.todo);
    }
    return stop ? bad_answer : fine;
}

Result<std::string> table_text(const WholeMap& m, const std::string& out, const std::string& form) {
    if (!form.empty()) {
        const auto text = read_input(form, 1U << 20U);
        if (!text) return fail(text.error());
        auto made = map_form(m.table, m.name, *text);
        if (!made) {
            auto error = made.error();
            error.file = form;
            return fail(error);
        }
        return made;
    }
    const auto extension = std::filesystem::path(out).extension();
    if (extension == ".h") return map_c_header(m.table, m.name);
    if (extension == ".json") return map_json(m.table, *m.analysis->dossier.map, m.name);
    if (extension == ".csv") return map_csv(m.table);
    return fail(
        usage_error(in_quotes(out), "a file ending in .h, .json or .csv, or --form with a text of your own"));
}

int map_export(const std::string& path, const std::string& out, const std::string& form, bool json) {
    const auto m = map_of(path);
    if (!m) return report_error(m.error());
    const auto text = table_text(*m, out, form);
    if (!text) return report_error(text.error());
    if (const auto free = not_over(out, m->analysis->dossier, path); !free) return report_error(free.error());
    if (const auto written = write_apart(out, *text, {form}); !written) return report_error(written.error());
    const auto checksum = fmt::format("0x{:08X}", m->table.checksum);
    if (json)
        print_json({{"entries", m->table.entries.size()},
                    {"vectors", m->table.vectors.size() + m->table.frames.size()},
                    {"left_out", m->table.left_out},
                    {"checksum", checksum}});
    else
        say("{} entries, checksum {}\n", m->table.entries.size(), checksum);
    for (const auto& line : m->table.left_out)
        if (!json) say("left out: {}\n", line);
    return fine;
}

int map_compare(const std::string& path, const std::string& file, bool take, bool json) {
    const auto m = map_of(path);
    if (!m) return report_error(m.error());
    const auto text = read_input(file, 16U << 20U);
    if (!text) return report_error(text.error());
    const auto entries = read_map_table(*text, file);
    if (!entries) return report_error(entries.error());
    const auto changes = compare_maps(m->table.entries, *entries);
    if (take) {
        const auto folder = dossier_folder(path);
        const auto changed = put(m->analysis->dossier, take_map_table(*m->analysis->dossier.map, *entries));
        Progress progress;
        if (const auto saved = save_dossier(changed, folder, folder, disk(), progress); !saved)
            return report_error(saved.error());
    }
    if (json) {
        Json list = Json::array();
        for (const auto& c : changes) {
            const auto& e = c.kind == MapChange::Kind::added ? c.after : c.before;
            list.push_back({{"kind", c.kind == MapChange::Kind::added  ? "added"
                                     : c.kind == MapChange::Kind::gone ? "gone"
                                                                       : "changed"},
                            {"code", e.code},
                            {"with", e.with},
                            {"before", c.before.meaning},
                            {"after", c.after.meaning},
                            {"says", c.says}});
        }
        print_json({{"same", changes.empty()}, {"changes", std::move(list)}});
    } else {
        for (const auto& c : changes) say("{}\n", c.says);
        if (changes.empty()) say("no difference\n");
    }
    return changes.empty() || take ? fine : bad_answer;
}

}  // namespace

void add_map_tables(CLI::App& noun, Session& session) {
    struct Words {
        std::string path, other, form;
        bool take = false;
    };
    const auto w = std::make_shared<Words>();
    auto* v = noun.add_subcommand("check", "coverage both ways");
    v->add_option("dossier", w->path, "NAME.relic")->required();
    v->callback([&session, w] { session.run = [&session, w] { return map_check(w->path, session.json); }; });
    v = noun.add_subcommand("export", "the map as a table with test vectors");
    v->add_option("dossier", w->path, "NAME.relic")->required();
    v->add_option("out", w->other, "a file ending in .h, .json or .csv")->required();
    v->add_option("--form", w->form, "a text of your own with places such as {code} and {meaning}");
    v->callback([&session, w] {
        session.run = [&session, w] { return map_export(w->path, w->other, w->form, session.json); };
    });
    v = noun.add_subcommand("compare", "an edited table held against the dossier");
    v->add_option("dossier", w->path, "NAME.relic")->required();
    v->add_option("table", w->other, "JSON or CSV")->required();
    v->add_flag("--take", w->take, "take its meanings over into the dossier");
    v->callback([&session, w] {
        session.run = [&session, w] { return map_compare(w->path, w->other, w->take, session.json); };
    });
}

}  // namespace grayrelic::cli
