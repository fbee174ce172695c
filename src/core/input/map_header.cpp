// SPDX-License-Identifier: GPL-3.0-or-later
// A map as a C header. What builds a report there is C that knows the entries only; what it is held against
// are the vectors that this program made.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/form.hpp"
#include "core/input/map_table.hpp"
#include "core/input/usages.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t longest_report = 32;

/// A string of C, in ASCII whatever it holds.
std::string c_string(std::string_view text) {
    std::string out = "\"";
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        if (c == '"' || c == '\\')
            out += std::string("\\") + c;
        else if (u >= 0x20 && u < 0x7F && c != '?')
            out += c;
        else
            out += fmt::format("\\{:03o}", u);
    }
    return out + "\"";
}

std::string c_bytes(const std::vector<std::uint8_t>& bytes) {
    std::string out;
    for (const auto b : bytes) out += fmt::format("{}0x{:02X}", out.empty() ? "" : ", ", b);
    return "{" + out + "}";
}

std::string guard(const MapTable& t, const std::string& name) {
    const auto upper = c_name(name);
    return fmt::format(
        "/* {0}: a map between old codes and new meanings. Made from the dossier: do not edit. */\n"
        "#ifndef {1}_MAP_H\n#define {1}_MAP_H\n\n#include <stdint.h>\n\n"
        "#define {1}_MAP_CHECKSUM 0x{2:08X}u\n",
        c_name(name, false), upper, t.checksum);
}

constexpr std::string_view old_to_new_types = R"(
/* kind: 0 nothing, 1 key, 2 character, 3 media, 4 button, 5 hat, 6 axis, 7 pointer, 8 the bridge's own.
   modifiers: bit n is the modifier 0xE0 + n. direction: of a hat 0 up, clockwise; of an axis its end. */
typedef struct {
    const char *code, *with, *release;
    uint8_t kind;
    uint16_t page, usage;
    uint8_t modifiers;
    int8_t direction;
    const char *text;
} @_map_entry;

/* What is sent for an entry, step by step: at the press, then at the release. */
typedef struct {
    uint16_t entry;
    uint8_t at_release, length;
    uint8_t report[32];
} @_map_vector;
)";

/// The places of a pad's parts in its report.
std::string pad_places(const MapTable& t, const std::string& upper) {
    int buttons = 0, axes = 0;
    bool hat = false;
    int pointer = 0;
    for (const auto& p : t.profiles) {
        if (p.kind == ProfileKind::pad) {
            buttons = p.buttons;
            axes = p.axes;
            hat = p.hat;
        }
        if (p.kind == ProfileKind::pointer) pointer = static_cast<int>(report_bytes(p));
    }
    const int bytes = (buttons + 7) / 8;
    return fmt::format(
        "#define {0}_PAD_BYTES {1}\n#define {0}_PAD_HAT_AT {2}\n#define {0}_PAD_AXES_AT {3}\n"
        "#define {0}_POINTER_BYTES {4}\n",
        upper, bytes + (hat ? 1 : 0) + axes, hat ? bytes : -1, bytes + (hat ? 1 : 0), pointer);
}

constexpr std::string_view old_to_new_code = R"(
/* The report with this one control held; its length, or 0 where there is none of this kind. */
static inline uint8_t @_map_report(const @_map_entry *e, uint8_t report[32]) {
    uint8_t length = 0, i;
    for (i = 0; i < 32; ++i) report[i] = 0;
    switch (e->kind) {
        case 1:
            length = 8;
            report[0] = e->modifiers;
            if (e->usage >= 0xE0 && e->usage <= 0xE7)
                report[0] = (uint8_t)(report[0] | (1u << (e->usage - 0xE0u)));
            else
                report[2] = (uint8_t)e->usage;
            break;
        case 3:
            length = 2;
            report[0] = (uint8_t)(e->usage & 0xFFu);
            report[1] = (uint8_t)(e->usage >> 8);
            break;
        case 4:
        case 5:
        case 6:
            length = ^_PAD_BYTES;
            if (^_PAD_HAT_AT >= 0) report[^_PAD_HAT_AT < 0 ? 0 : ^_PAD_HAT_AT] = 0x0F;
            if (e->kind == 4) report[(e->usage - 1u) / 8u] = (uint8_t)(1u << ((e->usage - 1u) % 8u));
            if (e->kind == 5) report[^_PAD_HAT_AT < 0 ? 0 : ^_PAD_HAT_AT] = (uint8_t)e->direction;
            if (e->kind == 6) report[^_PAD_AXES_AT + e->usage - 0x30u] = (uint8_t)(e->direction * 127);
            break;
        case 7:
            length = ^_POINTER_BYTES;
            if (e->page == 9) report[(e->usage - 1u) / 8u] = (uint8_t)(1u << ((e->usage - 1u) % 8u));
            break;
        default:
            break;
    }
    return length;
}

/* The number of vectors that do not hold: 0 is right. Characters are sequences of their own: their vectors are sent as
   they stand, and must end with everything released. */
static inline unsigned @_map_self_test(void) {
    unsigned wrong = 0, i, b;
    for (i = 0; i < ^_MAP_VECTORS; ++i) {
        const @_map_vector *v = &@_map_vectors[i];
        const @_map_entry *e = &@_map[v->entry];
        uint8_t report[32];
        if (e->kind == 2) {
            const int last = i + 1 == ^_MAP_VECTORS || @_map_vectors[i + 1].entry != v->entry;
            if (last)
                for (b = 0; b < v->length; ++b) wrong += v->report[b] != 0;
            continue;
        }
        if (v->at_release) {
            /* Everything at rest: zeros, and a hat in its null state. */
            const int hat = e->kind >= 4 && e->kind <= 6 ? ^_PAD_HAT_AT : -1;
            if (@_map_report(e, report) != v->length) ++wrong;
            for (b = 0; b < v->length; ++b) wrong += v->report[b] != ((int)b == hat ? 0x0F : 0);
            continue;
        }
        if (@_map_report(e, report) != v->length) ++wrong;
        for (b = 0; b < v->length; ++b) wrong += v->report[b] != report[b];
    }
    return wrong;
}
)";

constexpr std::string_view new_to_old_code = R"(
/* held: 1 for each control of @_held that is held; levels: one of each bit, in order of arrival. Bits that the map says
   nothing of stay as they are. */
static inline void @_frame(const uint8_t held[], uint8_t levels[^_BITS]) {
    unsigned i;
    for (i = 0; i < ^_LINKS; ++i) levels[@_links[i].bit] = ^_ACTIVE_LOW;
    for (i = 0; i < ^_LINKS; ++i)
        if (held[@_links[i].held]) levels[@_links[i].bit] = !^_ACTIVE_LOW;
}

/* The number of vectors that do not hold: 0 is right. */
static inline unsigned @_map_self_test(void) {
    unsigned wrong = 0, i, b;
    for (i = 0; i < ^_FRAMES; ++i) {
        uint8_t held[^_HELD + 1] = {0}, levels[^_BITS] = {0};
        if (@_frames[i].held >= 0) held[@_frames[i].held] = 1;
        @_frame(held, levels);
        for (b = 0; b < ^_BITS; ++b)
            wrong += (unsigned)(@_frames[i].levels[b] != '-' && levels[b] + '0' != @_frames[i].levels[b]);
    }
    return wrong;
}
)";

/// @ becomes the name, ^ the name in capitals.
std::string named_code(std::string_view code, const std::string& lower, const std::string& upper) {
    std::string out;
    for (const char c : code) {
        if (c == '@')
            out += lower;
        else if (c == '^')
            out += upper;
        else
            out += c;
    }
    return out;
}

std::string entries_in_c(const MapTable& t, const std::string& lower) {
    std::string out = fmt::format("\nstatic const {0}_map_entry {0}_map[] = {{\n", lower);
    for (const auto& e : t.entries) {
        const auto m = parse_meaning(e.meaning).value_or(Meaning{});
        out += fmt::format("    {{{}, {}, {}, {}, 0x{:02X}, 0x{:02X}, 0x{:02X}, {}, {}}},\n",
                           c_string(e.code), c_string(e.with), c_string(e.release), static_cast<int>(m.kind),
                           m.usage.page, m.usage.id, m.modifiers, m.direction, c_string(m.text));
    }
    return out + "};\n";
}

std::string vectors_in_c(const MapTable& t, const std::string& lower, std::size_t& count) {
    std::string out;
    const auto add = [&](std::size_t entry, const std::vector<std::vector<std::uint8_t>>& reports,
                         int release) {
        for (const auto& r : reports) {
            if (r.size() > longest_report) continue;
            out += fmt::format("    {{{}, {}, {}, {}}},\n", entry, release, r.size(), c_bytes(r));
            ++count;
        }
    };
    for (const auto& v : t.vectors) {
        add(v.entry, v.press, 0);
        add(v.entry, v.release, 1);
    }
    if (count == 0) out = "    {0, 0, 0, {0}},\n";
    return fmt::format("\nstatic const {0}_map_vector {0}_map_vectors[] = {{\n{1}}};\n", lower, out);
}

std::string descriptors_in_c(const MapTable& t, const std::string& lower) {
    std::string out;
    for (std::size_t i = 0; i < t.profiles.size(); ++i) {
        const auto bytes = descriptor_of(t.profiles[i]);
        out += fmt::format("\n/* {} */\nstatic const uint8_t {}_descriptor_{}[{}] = {};\n",
                           print_profile(t.profiles[i]), lower, i, bytes.size(), c_bytes(bytes));
    }
    return out;
}

std::string old_to_new_header(const MapTable& t, const std::string& lower, const std::string& upper) {
    std::size_t vectors = 0;
    const auto list = vectors_in_c(t, lower, vectors);
    std::string out = fmt::format("#define {0}_MAP_COUNT {1}\n#define {0}_MAP_VECTORS {2}\n", upper,
                                  t.entries.size(), vectors);
    out += pad_places(t, upper) + named_code(old_to_new_types, lower, upper);
    return out + entries_in_c(t, lower) + list + descriptors_in_c(t, lower) +
           named_code(old_to_new_code, lower, upper);
}

std::string new_to_old_header(const MapTable& t, const std::string& lower, const std::string& upper) {
    std::vector<std::string> held;
    std::string links, frames, names;
    std::size_t link_count = 0;
    for (const auto& f : t.frames) {
        if (f.held.empty()) continue;
        held.push_back(f.held);
        names += fmt::format("    {},\n", c_string(f.held));
        for (std::size_t b = 0; b < f.levels.size(); ++b)
            if ((f.levels[b] == '0') == t.active_low) {
                links += fmt::format("    {{{}, {}}},\n", held.size() - 1, b);
                ++link_count;
            }
    }
    int n = -1;
    for (const auto& f : t.frames)
        frames += fmt::format("    {{{}, {}}},\n", f.held.empty() ? -1 : ++n, c_string(f.levels));
    std::string out = fmt::format(
        "#define {0}_BITS {1}\n#define {0}_HELD {2}\n#define {0}_LINKS {3}\n#define {0}_FRAMES {4}\n"
        "#define {0}_ACTIVE_LOW {5}\n",
        upper, std::max<std::size_t>(1, t.bits.size()), held.size(), link_count, t.frames.size(),
        t.active_low ? 1 : 0);
    if (names.empty()) names = "    \"\",\n";
    if (links.empty()) links = "    {0, 0},\n";
    if (frames.empty()) frames = "    {-1, \"\"},\n";
    out += fmt::format(
        "\nstatic const char *const {0}_held[] = {{\n{1}}};\n"
        "static const struct {{ uint16_t held, bit; }} {0}_links[] = {{\n{2}}};\n"
        "static const struct {{ int held; const char *levels; }} {0}_frames[] = {{\n{3}}};\n",
        lower, names, links, frames);
    return out + named_code(new_to_old_code, lower, upper);
}

}  // namespace

std::string map_c_header(const MapTable& t, const std::string& name) {
    const auto lower = c_name(name, false), upper = c_name(name);
    const auto body =
        t.way == MapWay::old_to_new ? old_to_new_header(t, lower, upper) : new_to_old_header(t, lower, upper);
    return guard(t, name) + body + "\n#endif\n";
}

}  // namespace grayrelic
