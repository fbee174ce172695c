// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cctype>
#include <charconv>
#include <set>

#include "core/base/text.hpp"
#include "core/board/board_files.hpp"

namespace grayrelic {
namespace {

std::string lower(std::string_view text) {
    std::string out(text);
    for (auto& c : out) c = static_cast<char>(c >= 'A' && c <= 'Z' ? c + 32 : c);
    return out;
}

enum class Matter { none, copper, inner, mask, silk, paste, outline, drill };
enum class Side { none, top, bottom };

FileRole role_with(Matter m, Side s) {
    const bool top = s == Side::top;
    if (m == Matter::outline) return FileRole::outline;
    if (m == Matter::inner) return FileRole::copper_inner;
    if (s == Side::none) return FileRole::unknown;
    switch (m) {
        case Matter::copper: return top ? FileRole::copper_top : FileRole::copper_bottom;
        case Matter::mask: return top ? FileRole::mask_top : FileRole::mask_bottom;
        case Matter::silk: return top ? FileRole::silk_top : FileRole::silk_bottom;
        case Matter::paste: return top ? FileRole::paste_top : FileRole::paste_bottom;
        default: return FileRole::unknown;
    }
}

/// Words of letters and words of digits: "In2_Cu" gives in, 2, cu; "TopCopper" gives top, copper.
std::vector<std::string> words_in(std::string_view name) {
    std::vector<std::string> out;
    std::string word;
    const auto kind = [](char c) {
        return std::isdigit(static_cast<unsigned char>(c))   ? 1
               : std::isalpha(static_cast<unsigned char>(c)) ? 2
                                                             : 0;
    };
    for (std::size_t i = 0; i < name.size(); ++i) {
        const char c = name[i];
        const bool hump = i > 0 && c >= 'A' && c <= 'Z' && name[i - 1] >= 'a' && name[i - 1] <= 'z';
        if (!word.empty() && (kind(c) != kind(word.back()) || hump)) {
            out.push_back(lower(word));
            word.clear();
        }
        if (kind(c) != 0) word += c;
    }
    if (!word.empty()) out.push_back(lower(word));
    return out;
}

Matter matter_of(const std::string& w) {
    static const std::map<std::string, Matter> words{
        {"copper", Matter::copper},     {"cu", Matter::copper},         {"signal", Matter::copper},
        {"conductor", Matter::copper},  {"conductive", Matter::copper}, {"track", Matter::copper},
        {"tracks", Matter::copper},     {"kupfer", Matter::copper},     {"inner", Matter::inner},
        {"inr", Matter::inner},         {"internal", Matter::inner},    {"mask", Matter::mask},
        {"soldermask", Matter::mask},   {"resist", Matter::mask},       {"solderresist", Matter::mask},
        {"sm", Matter::mask},           {"stop", Matter::mask},         {"stopmask", Matter::mask},
        {"silk", Matter::silk},         {"silkscreen", Matter::silk},   {"legend", Matter::silk},
        {"overlay", Matter::silk},      {"silks", Matter::silk},        {"ident", Matter::silk},
        {"print", Matter::silk},        {"silkscr", Matter::silk},      {"paste", Matter::paste},
        {"stencil", Matter::paste},     {"cream", Matter::paste},       {"solderpaste", Matter::paste},
        {"pastemask", Matter::paste},   {"outline", Matter::outline},   {"profile", Matter::outline},
        {"contour", Matter::outline},   {"edge", Matter::outline},      {"edges", Matter::outline},
        {"border", Matter::outline},    {"boundary", Matter::outline},  {"cuts", Matter::outline},
        {"dimension", Matter::outline}, {"keepout", Matter::outline},   {"mechanical", Matter::outline},
        {"milling", Matter::outline},   {"drill", Matter::drill},       {"drills", Matter::drill},
        {"drilling", Matter::drill},    {"holes", Matter::drill},       {"hole", Matter::drill},
        {"pth", Matter::drill},         {"npth", Matter::drill}};
    const auto it = words.find(w);
    return it == words.end() ? Matter::none : it->second;
}

Side side_of(const std::string& w) {
    if (w == "top" || w == "front" || w == "f" || w == "t" || w == "component" || w == "upper" ||
        w == "tcu" || w == "fcu")
        return Side::top;
    if (w == "bottom" || w == "bot" || w == "back" || w == "b" || w == "lower" || w == "bcu" || w == "rear")
        return Side::bottom;
    return Side::none;
}

/// Customary endings for layers where all files share one name: g, then the side, then the layer.
FileRole role_of_ending(const std::string& ending, int& inner) {
    static const std::map<std::string, FileRole> endings{
        {"gtl", FileRole::copper_top},  {"gbl", FileRole::copper_bottom}, {"gts", FileRole::mask_top},
        {"gbs", FileRole::mask_bottom}, {"gto", FileRole::silk_top},      {"gbo", FileRole::silk_bottom},
        {"gtp", FileRole::paste_top},   {"gbp", FileRole::paste_bottom},  {"gko", FileRole::outline},
        {"gml", FileRole::outline},     {"gm1", FileRole::outline},       {"gm", FileRole::outline}};
    if (const auto it = endings.find(ending); it != endings.end()) return it->second;
    const auto digits = ending.starts_with("gl")  ? ending.substr(2)
                        : ending.starts_with("g") ? ending.substr(1)
                                                  : std::string();
    int n = 0;
    if (!digits.empty() && digits.size() <= 2 &&
        std::from_chars(digits.data(), digits.data() + digits.size(), n).ptr ==
            digits.data() + digits.size() &&
        n >= 1) {
        inner = ending.starts_with("gl") ? n : n + 1;
        return FileRole::copper_inner;
    }
    return FileRole::unknown;
}

FileRole role_of_drill_name(const std::string& flat) {
    for (const std::string_view plain :
         {"npth", "non-plated", "nonplated", "non_plated", "unplated", "non plated", "notplated"})
        if (flat.find(plain) != std::string::npos) return FileRole::drill_plain;
    return FileRole::drill_plated;
}

/// What the words of a name say, each word for itself.
struct Said {
    std::set<Matter> matters;
    std::set<Side> sides;
    int number = 0;  ///< behind "in", "inner", "layer"
};

Said said_by(const std::vector<std::string>& words) {
    Said said;
    for (std::size_t i = 0; i < words.size(); ++i) {
        const auto& w = words[i];
        if (const auto m = matter_of(w); m != Matter::none) said.matters.insert(m);
        if (const auto side = side_of(w); side != Side::none) said.sides.insert(side);
        const bool counts = w == "in" || w == "inner" || w == "layer" || w == "l";
        if (!counts || i + 1 >= words.size() || words[i + 1].size() > 2 ||
            std::isdigit(static_cast<unsigned char>(words[i + 1][0])) == 0)
            continue;
        std::from_chars(words[i + 1].data(), words[i + 1].data() + words[i + 1].size(), said.number);
        if (w == "in" || w == "inner") said.matters.insert(Matter::inner);
    }
    return said;
}

/// Where words say two things, which of them counts.
void settle(Said& said, const std::vector<std::string>& words) {
    // "solder mask", "solder paste": "solder" alone is an old word for the bottom.
    const bool solder = std::find(words.begin(), words.end(), "solder") != words.end();
    if (solder && said.sides.empty()) said.sides.insert(Side::bottom);
    if (said.matters.count(Matter::inner) != 0) said.matters.erase(Matter::copper);
    // "edge cuts", "board outline": of the outline any of them; "solder paste mask" is paste.
    if (said.matters.count(Matter::paste) != 0) said.matters.erase(Matter::mask);
    if (said.matters.count(Matter::outline) != 0 && said.matters.size() > 1)
        said.matters.erase(Matter::outline);
    if (said.sides.size() < 2) return;
    // Single letters count as sides only where no word does.
    said.sides.clear();
    for (const auto& w : words)
        if (const auto side = side_of(w); w.size() > 1 && side != Side::none) said.sides.insert(side);
}

}  // namespace

FileRole role_of_function(std::string_view function, int& inner) {
    const auto cells = split(function, ',');
    if (cells.empty()) return FileRole::unknown;
    const auto what = trim(cells[0]);
    const auto has = [&](std::string_view w) {
        return std::any_of(cells.begin(), cells.end(), [&](auto c) { return trim(c) == w; });
    };
    if (what == "Copper") {
        if (cells.size() > 1) {
            const auto l = trim(cells[1]);
            if (l.starts_with('L')) std::from_chars(l.data() + 1, l.data() + l.size(), inner);
        }
        return has("Top")   ? FileRole::copper_top
               : has("Bot") ? FileRole::copper_bottom
                            : FileRole::copper_inner;
    }
    const auto sided = [&](FileRole top, FileRole bottom) {
        return has("Top") ? top : has("Bot") ? bottom : FileRole::unknown;
    };
    if (what == "Soldermask") return sided(FileRole::mask_top, FileRole::mask_bottom);
    if (what == "Legend") return sided(FileRole::silk_top, FileRole::silk_bottom);
    if (what == "Paste") return sided(FileRole::paste_top, FileRole::paste_bottom);
    if (what == "Profile") return FileRole::outline;
    if (what == "Plated") return FileRole::drill_plated;
    if (what == "NonPlated") return FileRole::drill_plain;
    return FileRole::unknown;
}

FileRole role_of_name(std::string_view name, bool drill, int& inner) {
    const auto slash = name.find_last_of('/');
    const auto base = slash == std::string_view::npos ? name : name.substr(slash + 1);
    if (drill) return role_of_drill_name(lower(base));
    const auto dot = base.find_last_of('.');
    const auto ending = dot == std::string_view::npos ? std::string() : lower(base.substr(dot + 1));
    const auto words = words_in(dot == std::string_view::npos ? base : base.substr(0, dot));
    auto said = said_by(words);
    settle(said, words);
    if (said.matters.count(Matter::inner) != 0) inner = said.number;
    const auto side = said.sides.size() == 1 ? *said.sides.begin() : Side::none;
    if (said.matters.size() == 1)
        if (const auto role = role_with(*said.matters.begin(), side); role != FileRole::unknown) return role;
    if (const auto role = role_of_ending(ending, inner); role != FileRole::unknown) return role;
    // A side alone means copper: "top.gbr".
    const bool whole_word = std::any_of(words.begin(), words.end(), [](const std::string& w) {
        return w.size() > 2 && side_of(w) != Side::none;
    });
    if (!said.matters.empty() || side == Side::none || !whole_word) return FileRole::unknown;
    return side == Side::top ? FileRole::copper_top : FileRole::copper_bottom;
}

}  // namespace grayrelic
