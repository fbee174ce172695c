// SPDX-License-Identifier: GPL-3.0-or-later
// Board's section in dossier.json.
#include <fmt/format.h>

#include "core/dossier/codec_fit.hpp"
#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

constexpr std::size_t most_boards = 64, most_pads = 50'000, most_named = 5'000;

FabConnector read_fab_connector(JsonNode& n) {
    FabConnector c;
    c.ref = read_id(n, "ref");
    c.port = n.text_or("port");
    c.connector = n.text_or("connector");
    c.numbering = n.text_or("numbering");
    c.side = read_word_or(n, "side", StandsOn::pads);
    c.half = read_word_or(n, "half", Half::socket);
    c.mates = n.text_or("mates");
    return c;
}

Json fab_connector_json(const FabConnector& c) {
    Json j = {{"ref", c.ref}};
    add_text(j, "port", c.port);
    add_text(j, "connector", c.connector);
    add_text(j, "numbering", c.numbering);
    if (c.side != StandsOn::pads) j["side"] = word(c.side);
    if (c.half != Half::socket) j["half"] = word(c.half);
    add_text(j, "mates", c.mates);
    return j;
}

FabPad read_fab_pad(JsonNode& n) {
    FabPad p;
    p.ref = read_id(n, "ref");
    p.pin = n.text_or("pin");
    p.x_mm = figure_in(n.required("x_mm"), -2000, 2000);
    p.y_mm = figure_in(n.required("y_mm"), -2000, 2000);
    p.side = read_word_or(n, "side", StandsOn::pads);
    return p;
}

Json fab_pad_json(const FabPad& p) {
    Json j = {{"ref", p.ref}};
    add_text(j, "pin", p.pin);
    j["x_mm"] = p.x_mm;
    j["y_mm"] = p.y_mm;
    if (p.side != StandsOn::pads) j["side"] = word(p.side);
    return j;
}

struct NamedWord {
    std::string name, word;
    std::string extra{};
};

Fabrication read_fabrication(JsonNode& n) {
    Fabrication f;
    f.id = read_id(n, "id");
    f.title = n.text_or("title");
    f.file = n.text_or("file");
    f.process = n.text_or("process");
    f.against = n.text_or("against");
    for (const auto& r : read_bounded<NamedWord>(
             n, "roles", most_named,
             [](JsonNode& r) {
                 return NamedWord{read_id(r, "file"), r.required("role").text(64)};
             },
             &NamedWord::name))
        f.roles.emplace(r.name, r.word);
    f.connectors =
        read_bounded<FabConnector>(n, "connectors", most_named, read_fab_connector, &FabConnector::ref);
    f.pads = read_bounded<FabPad>(n, "pads", most_pads, read_fab_pad);
    for (const auto& k : read_bounded<NamedWord>(
             n, "kinds", most_named,
             [](JsonNode& k) {
                 return NamedWord{read_id(k, "net"),
                                  std::string(word(read_word<NetKind>(k.required("kind"))))};
             },
             &NamedWord::name))
        f.kinds.emplace(k.name, *named<NetKind>(k.word));
    if (const auto apart = n.member("apart_mm")) f.apart_mm = figure_in(*apart, 0.01, 100);
    f.note = n.text_or("note");
    if (const auto thick = n.member("thick_mm")) f.thick_mm = figure_in(*thick, 0.05, 20);
    read_fits(n, f);
    read_variants(n, f);
    return f;
}

Json fabrication_json(const Fabrication& f) {
    Json j = {{"id", f.id}};
    add_text(j, "title", f.title);
    add_text(j, "file", f.file);
    add_text(j, "process", f.process);
    add_text(j, "against", f.against);
    Json roles = Json::array(), kinds = Json::array();
    for (const auto& [file, role] : f.roles) roles.push_back({{"file", file}, {"role", role}});
    if (!roles.empty()) j["roles"] = roles;
    if (!f.connectors.empty()) j["connectors"] = list_of(f.connectors, fab_connector_json);
    if (!f.pads.empty()) j["pads"] = list_of(f.pads, fab_pad_json);
    for (const auto& [net, kind] : f.kinds) kinds.push_back({{"net", net}, {"kind", word(kind)}});
    if (!kinds.empty()) j["kinds"] = kinds;
    if (f.apart_mm != 1.0) j["apart_mm"] = f.apart_mm;
    add_text(j, "note", f.note);
    if (f.thick_mm != 1.6) j["thick_mm"] = f.thick_mm;
    add_fits(j, f);
    add_variants(j, f);
    return j;
}

}  // namespace

const SectionCodec boards = codec_of<&Dossier::boards>(
    "boards",
    [](JsonNode n, Dossier& d) {
        auto list = read_items<Fabrication>(n, read_fabrication, &Fabrication::id);
        if (list.size() > most_boards)
            n.fault(fmt::format("{} boards", list.size()), fmt::format("at most {}", most_boards));
        d.boards = Section(std::move(list));
    },
    [](const Dossier& d) { return d.boards->empty() ? Json() : list_of(*d.boards, fabrication_json); });

}  // namespace grayrelic::dossier_codec
