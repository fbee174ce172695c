// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/storable.hpp"

#include "core/dossier/dossier_files.hpp"
#include "core/dossier/section_codec.hpp"

namespace grayrelic {
namespace {

/// Files that are still outside get their place when the dossier is saved.
Dossier with_places(const Dossier& dossier) {
    return visit_files(dossier, [](const DossierFile& f) {
        if (f.file.empty()) f.file = f.placeholder;
        f.outside.clear();
    });
}

/// Writes, and reads what was written. What JSON can't hold is replaced by the writer, so it is looked for in
/// what came back: `same` reads and compares.
template <class Same>
Status prove(const Json& written, JsonPath path, const std::string& name, Same same) {
    const auto text = written.dump(-1, ' ', false, Json::error_handler_t::replace);
    const auto parsed = SortedJson::parse(text, nullptr, false);
    if (parsed.is_discarded()) return fail_usage("a value that JSON can't hold", "another one in " + name);
    try {
        if (same(JsonNode(parsed, std::move(path)))) return {};
    } catch (const JsonFault& fault) {
        return fail_usage(fault.found, fault.expected);
    }
    return fail_usage("something in " + name + " that would not come back as it is",
                      "UTF-8 text and finite numbers");
}

Status check_about(const About& about) {
    Json written = Json::object();
    dossier_codec::write_about(about, written);
    return prove(written, {}, "name and purpose", [&](JsonNode root) {
        auto back = dossier_codec::read_about(root);
        back.extra = about.extra;
        return back == about;
    });
}

Status check_section(const SectionCodec& codec, const Dossier& dossier) {
    const auto written = codec.write(dossier);
    if (written.is_null()) return {};
    return prove(written, JsonPath{{codec.key}}, codec.key, [&](const JsonNode& section) {
        Dossier back;
        codec.read(section, back);
        return codec.same(back, dossier);
    });
}

}  // namespace

Status storable(const Dossier& dossier, const Dossier* before) {
    if (before == nullptr || !dossier.about.same_version(before->about))
        if (auto checked = check_about(*dossier.about); !checked) return checked;
    const auto placed = with_places(dossier);
    for (const auto& codec : section_codecs()) {
        if (before != nullptr && codec.same_version(dossier, *before)) continue;
        if (auto checked = check_section(codec, placed); !checked) return checked;
    }
    return {};
}

}  // namespace grayrelic
