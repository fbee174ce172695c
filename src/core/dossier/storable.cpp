// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/storable.hpp"

#include <algorithm>

#include "core/base/limits.hpp"
#include "core/base/text.hpp"
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

Status check_about(const About& about) {
    for (const auto& [text, name] : {std::pair{&about.name, "name"}, {&about.purpose, "purpose"}}) {
        if (text->size() > most_text)
            return fail_usage(std::to_string(text->size()) + " bytes",
                              "at most " + std::to_string(most_text) + " for " + name);
        if (!is_utf8(*text)) return fail_usage(in_quotes(*text), std::string("UTF-8 for ") + name);
    }
    if (about.name.empty()) return fail_usage("an empty text", "a name for name");
    if (about.revision < 1 || about.revision > 1'000'000'000)
        return fail_usage(std::to_string(about.revision), "a whole number from 1 to 1000000000 for revision");
    return {};
}

/// What JSON can't hold is replaced by the writer, so it is looked for in what came back.
Status check_section(const SectionCodec& codec, const Dossier& dossier) {
    const auto written = codec.write(dossier);
    if (written.is_null()) return {};
    const auto text = written.dump(-1, ' ', false, Json::error_handler_t::replace);
    const auto parsed = SortedJson::parse(text, nullptr, false);
    if (parsed.is_discarded())
        return fail_usage("a value that JSON can't hold", std::string("another one in ") + codec.key);
    Dossier back;
    try {
        codec.read(JsonNode(parsed, JsonPath{{codec.key}}), back);
    } catch (const JsonFault& fault) {
        return fail_usage(fault.found, fault.expected);
    }
    if (!codec.same(back, dossier))
        return fail_usage(std::string("something in ") + codec.key + " that would not come back as it is",
                          "UTF-8 text and finite numbers");
    return {};
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
