// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/own_part.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/json/json.hpp"

namespace grayrelic {
namespace {

constexpr auto expected =
    "new ID PACKAGE: NUMBER NAME KIND, …, such as new my-latch dip-8 family=hct: 1 IN in, 4 GND ground, 7 Q "
    "out, 8 VCC supply";

std::vector<std::string> words_in(std::string_view text) {
    std::vector<std::string> out;
    for (const auto w : split(text, ' '))
        if (!trim(w).empty()) out.emplace_back(trim(w));
    return out;
}

bool is_id(std::string_view t) {
    return !t.empty() && t.size() <= 64 && std::all_of(t.begin(), t.end(), [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-';
    });
}

}  // namespace

Result<OwnPart> own_part(std::string_view line) {
    const auto colon = line.find(':');
    if (colon == std::string_view::npos) return fail_usage(in_quotes(line), expected);
    auto head = words_in(line.substr(0, colon));
    if (head.size() < 2 || head[0] != "new") return fail_usage(in_quotes(line.substr(0, colon)), expected);
    if (!is_id(head[1])) return fail_usage(in_quotes(head[1]), "an id of small letters, digits and -");
    Json j = {{"id", head[1]}, {"name", head[1]}, {"function", "other"}, {"source", "entered by hand"}};
    for (std::size_t i = 2; i < head.size(); ++i) {
        const auto equals = head[i].find('=');
        if (equals == std::string::npos) {
            j["package"] = head[i];
            continue;
        }
        const auto key = head[i].substr(0, equals), value = head[i].substr(equals + 1);
        if (key == "function" || key == "name") {
            j[key] = value;
        } else if (key == "family") {
            j["electrical"]["family"] = value;
        } else {
            const auto v = parse_number(value, Unit::none);
            if (!v) return fail_usage(in_quotes(head[i]), "a number behind " + key + "=");
            j["electrical"][key] = *v;
        }
    }
    j["pins"] = Json::array();
    for (const auto pin : split(line.substr(colon + 1), ',')) {
        const auto words = words_in(pin);
        if (words.size() != 3) return fail_usage(in_quotes(trim(pin)), "NUMBER NAME KIND, such as 1 IN in");
        j["pins"].push_back({words[0], words[1], words[2]});
    }
    OwnPart out;
    out.json = j.dump(2) + "\n";
    auto read = part_from_json(out.json, head[1]);
    if (!read) return fail(read.error());
    out.part = std::move(*read);
    return out;
}

Status keep_own_part(FileSystem& files, const std::filesystem::path& person_folder, const OwnPart& part) {
    if (person_folder.empty()) return fail_usage("no folder of your own", "a home folder to keep parts in");
    const auto folder = person_folder / "parts";
    const auto file = folder / (part.part.id + ".json");
    if (files.exists(file))
        return fail_usage("a part " + part.part.id + " of your own",
                          "another id, or that file changed by hand");
    for (const auto& f : {person_folder, folder})
        if (!files.exists(f))
            if (auto made = files.make_folder(f); !made) return made;
    return write_atomically(files, file, part.json);
}

}  // namespace grayrelic
