// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/pin_entry.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <vector>

#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"

namespace grayrelic {
namespace {

struct Words {
    std::vector<std::string_view> list;
    std::size_t at = 0;
    [[nodiscard]] bool done() const { return at >= list.size(); }
    [[nodiscard]] std::string_view look(std::size_t ahead = 0) const {
        return at + ahead < list.size() ? list[at + ahead] : std::string_view();
    }
};

Words words_in(std::string_view text) {
    Words out;
    std::size_t at = 0;
    while (at < text.size()) {
        while (at < text.size() && (text[at] == ' ' || text[at] == '\t' || text[at] == ',')) ++at;
        const auto from = at;
        while (at < text.size() && text[at] != ' ' && text[at] != '\t' && text[at] != ',') ++at;
        if (at > from) out.list.push_back(text.substr(from, at - from));
    }
    return out;
}

bool is_choice(const char* key, std::string_view word) {
    const auto& choices = find_pin_field(key)->choices;
    return std::find(choices.begin(), choices.end(), word) != choices.end();
}

bool is_quantity(std::string_view word, Unit unit) {
    return !word.empty() && word.find_first_of("0123456789") != std::string_view::npos &&
           word.ends_with(symbol(unit)) && parse_number(word, unit).has_value();
}

/// One thing that the words say from here on; nothing when the next word is no such thing.
struct Said {
    const char* key;
    std::string text;
    std::size_t words;
};

std::optional<Said> next_said(const Words& w) {
    const auto word = w.look();
    const auto text = std::string(word);
    if (word == "oc") return Said{"output", "open-collector", 1};
    if (word == "pull" && is_choice("pull", w.look(1))) return Said{"pull", std::string(w.look(1)), 2};
    if (word == "pull-up" || word == "pull-down") return Said{"pull", text.substr(5), 1};
    if (word == "idle" && is_choice("idle", w.look(1))) return Said{"idle", std::string(w.look(1)), 2};
    if (word == "wire" && !w.look(1).empty()) return Said{"colour", std::string(w.look(1)), 2};
    if (word == "gnd") return Said{"function", "ground", 1};
    for (const char* key : {"driver", "family", "output", "idle", "function"})
        if (is_choice(key, word)) return Said{key, text, 1};
    if (is_quantity(word, Unit::ampere)) return Said{"current_max", text, 1};
    if (is_quantity(word, Unit::volt))
        return Said{text.starts_with("-") ? "volts_min" : "volts_max", text, 1};
    return std::nullopt;
}

}  // namespace

Result<Pin> pin_with_entry(const Pin& pin, std::string_view line, const Evidence& evidence) {
    const auto text = trim(line);
    if (text.empty()) return pin;
    if (!is_utf8(text) || text.size() > 400) return fail_usage(in_quotes(text), "at most 400 characters");
    Pin out = pin;
    std::string name;
    Words rest;
    if (const auto comma = text.find(','); comma != std::string_view::npos) {
        name = std::string(trim(text.substr(0, comma)));
        rest = words_in(text.substr(comma + 1));
    } else {
        rest = words_in(text);
        // The first word is always the name's, so that a pin can be called "relic" or "+5V".
        name = std::string(rest.look());
        for (++rest.at; !rest.done() && !next_said(rest); ++rest.at) name += fmt::format(" {}", rest.look());
    }
    if (!name.empty() && name != "·") {
        if (auto done = set_field(out, *find_pin_field("name"), name, evidence); !done)
            return fail(done.error());
        if (is_ground_name(name) && out.function.value.empty())
            (void)set_field(out, *find_pin_field("function"), "ground", evidence);
    }
    while (!rest.done()) {
        const auto said = next_said(rest);
        if (!said) {
            // A resistance stands only behind a pull.
            const auto ohms = parse_number(rest.look(), Unit::ohm);
            if (ohms && !out.pull.value.empty() && out.pull.value != "none") {
                (void)set_field(out, *find_pin_field("pull_ohm"), rest.look(), evidence);
                ++rest.at;
                continue;
            }
            return fail_usage(in_quotes(rest.look()),
                              "who drives it, a family, a level, a voltage, a current or a pull");
        }
        if (auto done = set_field(out, *find_pin_field(said->key), said->text, evidence); !done)
            return fail(done.error());
        if (std::string_view(said->key) == "driver" && said->text == "supply" && out.function.value.empty())
            (void)set_field(out, *find_pin_field("function"),
                            is_ground_name(out.name.value) ? "ground" : "supply", evidence);
        rest.at += said->words;
    }
    return out;
}

}  // namespace grayrelic
