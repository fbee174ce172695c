// SPDX-License-Identifier: GPL-3.0-or-later
// Build's section in dossier.json.
#include <fmt/format.h>

#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

constexpr std::size_t most_builds = 500, most_fitted = 5'000;
constexpr double most_value = 1e15;

FittedPart read_fitted(JsonNode& n) {
    FittedPart p;
    p.ref = read_id(n, "ref");
    p.marking = n.text_or("marking");
    if (const auto value = n.member("measured")) p.measured = figure_in(*value, 0, most_value);
    p.day = read_day(n, "day");
    p.note = n.text_or("note");
    return p;
}

Json fitted_json(const FittedPart& p) {
    Json j = {{"ref", p.ref}};
    add_text(j, "marking", p.marking);
    if (p.measured) j["measured"] = *p.measured;
    add_text(j, "day", p.day);
    add_text(j, "note", p.note);
    return j;
}

UnitBuild read_build(JsonNode& n) {
    UnitBuild b;
    b.id = read_id(n, "id");
    b.board = n.text_or("board");
    b.variant = n.text_or("variant");
    b.fitted = read_bounded<FittedPart>(n, "fitted", most_fitted, read_fitted, &FittedPart::ref);
    b.note = n.text_or("note");
    return b;
}

Json build_json(const UnitBuild& b) {
    Json j = {{"id", b.id}};
    add_text(j, "board", b.board);
    add_text(j, "variant", b.variant);
    if (!b.fitted.empty()) j["fitted"] = list_of(b.fitted, fitted_json);
    add_text(j, "note", b.note);
    return j;
}

}  // namespace

const SectionCodec builds = codec_of<&Dossier::builds>(
    "builds",
    [](JsonNode n, Dossier& d) {
        auto list = read_items<UnitBuild>(n, read_build, &UnitBuild::id);
        if (list.size() > most_builds)
            n.fault(fmt::format("{} builds", list.size()), fmt::format("at most {}", most_builds));
        d.builds = Section(std::move(list));
    },
    [](const Dossier& d) { return d.builds->empty() ? Json() : list_of(*d.builds, build_json); });

}  // namespace grayrelic::dossier_codec
