// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/connector.hpp"

#include <array>
#include <cmath>
#include <cstdlib>

#include "core/base/file_system.hpp"
#include "core/base/text.hpp"
#include "core/dossier/json_node.hpp"

namespace grayrelic {
namespace {

struct ViewpointWords {
    Viewpoint viewpoint;
    std::string_view word;
    std::string_view label;
};
constexpr std::array<ViewpointWords, 4> viewpoints{
    {{Viewpoint::into_socket, "into-socket", "into the socket"},
     {Viewpoint::into_plug, "into-plug", "into the plug"},
     {Viewpoint::socket_solder, "socket-solder", "socket, solder side"},
     {Viewpoint::plug_solder, "plug-solder", "plug, solder side"}}};

double millimetres(JsonNode& n, const std::string& key) {
    const auto child = n.required(key);
    const double v = child.number();
    if (!std::isfinite(v) || std::abs(v) > 1000.0)
        child.fault(child.shown(), "millimetres from -1000 to 1000");
    return v;
}

}  // namespace

std::string_view word(Viewpoint v) {
    return viewpoints[static_cast<std::size_t>(v)].word;
}
std::string_view label(Viewpoint v) {
    return viewpoints[static_cast<std::size_t>(v)].label;
}

Viewpoint viewpoint_named(std::string_view text) {
    for (const auto& v : viewpoints)
        if (v.word == text) return v.viewpoint;
    return Viewpoint::into_socket;
}

bool is_mirrored(Viewpoint v) {
    return v == Viewpoint::into_plug || v == Viewpoint::socket_solder;
}

Place place_of(const Contact& c, Viewpoint v) {
    return {is_mirrored(v) ? -c.x_mm : c.x_mm, c.y_mm};
}

Result<Connector> connector_from_json(std::string_view text, const std::string& file) {
    const auto json = nlohmann::json::parse(text, nullptr, false);
    if (json.is_discarded()) return fail_at(file, 1, "no JSON", "a connector as JSON");
    try {
        JsonNode root(json, {});
        Connector c;
        c.id = root.required("id").text(64);
        c.name = root.required("name").text(200);
        c.source = root.text_or("source");
        c.shell_diameter_mm = millimetres(root, "shell_diameter_mm");
        c.contact_diameter_mm = millimetres(root, "contact_diameter_mm");
        c.key_angle_deg = root.required("key_angle_deg").number();
        c.key_width_mm = millimetres(root, "key_width_mm");
        for (auto& contact : root.required("contacts").elements(1000)) {
            const auto number = contact.required("number").text(16);
            c.contacts.push_back({number, millimetres(contact, "x_mm"), millimetres(contact, "y_mm")});
        }
        return c;
    } catch (const JsonFault& fault) {
        return fail_at(file, line_of(text, fault.path), fault.found, fault.expected);
    }
}

Result<Connector> load_connector(const std::string& id, const std::filesystem::path& data_folder) {
    for (const char ch : id)
        if (!((ch >= 'a' && ch <= 'z') || (ch >= '0' && ch <= '9') || ch == '-'))
            return fail_usage("connector " + in_quotes(id), "an id of small letters, digits and dashes");
    const auto path = data_folder / "connectors" / (id + ".json");
    const auto text = disk().read(path, 1U << 20U);
    if (!text) return fail(text.error());
    return connector_from_json(*text, path.string());
}

std::filesystem::path data_folder() {
    namespace fs = std::filesystem;
    if (const char* set = std::getenv("GRAY_RELIC_DATA"); set != nullptr && *set != '\0') return set;
    std::error_code code;
    const auto program = fs::read_symlink("/proc/self/exe", code);
    if (!code) {
        const auto installed = program.parent_path().parent_path() / "share" / "gray-relic" / "data";
        if (fs::exists(installed, code)) return installed;
    }
    return GRAY_RELIC_SOURCE_DATA;
}

}  // namespace grayrelic
