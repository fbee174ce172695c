// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/dossier_json.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/dossier/codec_tools.hpp"
#include "core/dossier/migrate.hpp"
#include "core/dossier/section_codec.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

int version_of(JsonNode root) {
    root.require_object();
    const auto format = root.required("format");
    if (format.text() != "gray-relic-dossier") format.fault(format.shown(), "\"gray-relic-dossier\"");
    const auto version = root.required("version");
    if (version.is_number() && version.number() > dossier_version)
        version.fault(version.shown(),
                      fmt::format("a version up to {}; this dossier was written by a newer Gray Relic",
                                  dossier_version));
    return static_cast<int>(version.whole(1, dossier_version));
}

Dossier read_dossier(JsonNode& root) {
    (void)root.member("format");
    (void)root.member("version");
    Dossier d;
    auto about = dossier_codec::read_about(root);
    for (const auto& codec : section_codecs())
        if (const auto section = root.member(codec.key)) codec.read(*section, d);
    about.extra = root.unknown_members();
    d.about = Section(std::move(about));
    return d;
}

}  // namespace

About dossier_codec::read_about(JsonNode& root) {
    About about;
    about.name = read_id(root, "name");
    about.purpose = root.text_or("purpose");
    about.relic = root.text_or("relic");
    about.modern = root.text_or("modern");
    if (const auto revision = root.member("revision"))
        about.revision = static_cast<int>(revision->whole(1, 1'000'000'000));
    return about;
}

void dossier_codec::write_about(const About& about, Json& root) {
    root["name"] = about.name;
    add_text(root, "purpose", about.purpose);
    add_text(root, "relic", about.relic);
    add_text(root, "modern", about.modern);
    root["revision"] = about.revision;
}

const std::vector<SectionCodec>& section_codecs() {
    using namespace dossier_codec;
    static const std::vector<SectionCodec> all{ports,    cables,     units,  captures, timing, trace,
                                               readings, dimensions, supply, plan,     wire,   map,
                                               boards,   stacks,     builds, log};
    return all;
}

Result<int> dossier_version_in(std::string_view text, const std::string& file) {
    return read_json(text, file, "a dossier as JSON", [](JsonNode& root) { return version_of(root); });
}

Result<Dossier> dossier_from_json(std::string_view text, const std::string& file) {
    auto document = JsonDocument::parse(text, file, "a dossier as JSON");
    if (!document) return fail(document.error());
    try {
        if (const int version = version_of(document->root()); version < dossier_version)
            document->rearrange([&](SortedJson& d) { migrate(d, version); }, migration_moves(version));
        auto root = document->root();
        return read_dossier(root);
    } catch (const JsonFault& fault) {
        return fail(document->error(fault));
    } catch (const std::bad_alloc&) {
        return fail_memory(file);
    }
}

std::string dossier_to_json(const Dossier& d) {
    long_work("dossier_to_json");
    Json j = {{"format", "gray-relic-dossier"}, {"version", dossier_version}};
    dossier_codec::write_about(*d.about, j);
    for (const auto& codec : section_codecs())
        if (auto section = codec.write(d); !section.is_null()) j[codec.key] = std::move(section);
    dossier_codec::add_extra(j, d.about->extra);
    return j.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

}  // namespace grayrelic
