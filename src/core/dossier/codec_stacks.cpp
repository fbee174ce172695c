// SPDX-License-Identifier: GPL-3.0-or-later
// Stacks of boards in dossier.json, and the ways in which a board is fitted.
#include <fmt/format.h>

#include "core/dossier/codec_fit.hpp"
#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

constexpr std::size_t most_variants = 50, most_refs = 5'000, most_stacks = 64, most_levels = 32,
                      most_joins = 200;
constexpr double most_gap_mm = 1000;

struct JumperLine {
    std::string ref, joins;
    std::string extra{};
};

std::vector<std::string> read_refs(JsonNode& n, const char* key) {
    auto refs = read_texts(n, key);
    if (refs.size() > most_refs)
        n.fault(fmt::format("{} parts", refs.size()), fmt::format("at most {}", most_refs));
    return refs;
}

BoardVariant read_variant(JsonNode& n) {
    BoardVariant v;
    v.name = read_id(n, "name");
    v.omit = read_refs(n, "omit");
    v.only = read_refs(n, "only");
    for (const auto& j : read_bounded<JumperLine>(
             n, "jumpers", most_refs,
             [](JsonNode& j) {
                 return JumperLine{read_id(j, "ref"), j.required("joins").text(64)};
             },
             &JumperLine::ref))
        v.jumpers.emplace(j.ref, j.joins);
    v.note = n.text_or("note");
    return v;
}

Json variant_json(const BoardVariant& v) {
    Json j = {{"name", v.name}};
    if (!v.omit.empty()) j["omit"] = v.omit;
    if (!v.only.empty()) j["only"] = v.only;
    Json jumpers = Json::array();
    for (const auto& [ref, joins] : v.jumpers) jumpers.push_back({{"ref", ref}, {"joins", joins}});
    if (!jumpers.empty()) j["jumpers"] = jumpers;
    add_text(j, "note", v.note);
    return j;
}

StackLevel read_level(JsonNode& n) {
    StackLevel l;
    l.name = read_id(n, "name");
    l.board = read_id(n, "board");
    l.variant = n.text_or("variant");
    if (const auto x = n.member("x_mm")) l.x_mm = figure_in(*x, -2000, 2000);
    if (const auto y = n.member("y_mm")) l.y_mm = figure_in(*y, -2000, 2000);
    if (const auto turn = n.member("turn_deg")) {
        l.turn_deg = static_cast<int>(turn->whole(0, 270));
        if (l.turn_deg % 90 != 0) turn->fault(turn->shown(), "0, 90, 180 or 270");
    }
    l.over = n.flag("over");
    l.dimension = n.text_or("dimension");
    l.gap = read_fact<std::optional<double>>(
        n, "gap_mm", [](const JsonNode& g) -> std::optional<double> { return figure_in(g, 0, most_gap_mm); });
    return l;
}

Json level_json(const StackLevel& l) {
    Json j = {{"name", l.name}, {"board", l.board}};
    add_text(j, "variant", l.variant);
    if (l.x_mm != 0) j["x_mm"] = l.x_mm;
    if (l.y_mm != 0) j["y_mm"] = l.y_mm;
    if (l.turn_deg != 0) j["turn_deg"] = l.turn_deg;
    if (l.over) j["over"] = true;
    add_text(j, "dimension", l.dimension);
    add_fact(j, "gap_mm", l.gap, l.gap.value ? Json(*l.gap.value) : Json());
    return j;
}

StackJoin read_join(JsonNode& n) {
    StackJoin j;
    j.lower = read_id(n, "lower");
    j.upper = read_id(n, "upper");
    j.kind = read_word_or(n, "kind", JoinKind::plugged);
    return j;
}

Json join_json(const StackJoin& join) {
    Json j = {{"lower", join.lower}, {"upper", join.upper}};
    if (join.kind != JoinKind::plugged) j["kind"] = word(join.kind);
    return j;
}

BoardStack read_board_stack(JsonNode& n) {
    BoardStack s;
    s.id = read_id(n, "id");
    s.name = n.text_or("name");
    s.levels = read_bounded<StackLevel>(n, "levels", most_levels, read_level, &StackLevel::name);
    s.joins = read_bounded<StackJoin>(n, "joins", most_joins, read_join);
    s.note = n.text_or("note");
    return s;
}

Json board_stack_json(const BoardStack& s) {
    Json j = {{"id", s.id}};
    add_text(j, "name", s.name);
    if (!s.levels.empty()) j["levels"] = list_of(s.levels, level_json);
    if (!s.joins.empty()) j["joins"] = list_of(s.joins, join_json);
    add_text(j, "note", s.note);
    return j;
}

}  // namespace

void read_variants(JsonNode& n, Fabrication& f) {
    f.variants = read_bounded<BoardVariant>(n, "variants", most_variants, read_variant, &BoardVariant::name);
}

void add_variants(Json& j, const Fabrication& f) {
    if (!f.variants.empty()) j["variants"] = list_of(f.variants, variant_json);
}

const SectionCodec stacks = codec_of<&Dossier::stacks>(
    "stacks",
    [](JsonNode n, Dossier& d) {
        auto list = read_items<BoardStack>(n, read_board_stack, &BoardStack::id);
        if (list.size() > most_stacks)
            n.fault(fmt::format("{} stacks", list.size()), fmt::format("at most {}", most_stacks));
        d.stacks = Section(std::move(list));
    },
    [](const Dossier& d) { return d.stacks->empty() ? Json() : list_of(*d.stacks, board_stack_json); });

}  // namespace grayrelic::dossier_codec
