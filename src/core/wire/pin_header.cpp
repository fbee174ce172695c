// SPDX-License-Identifier: GPL-3.0-or-later
// The list of a module's pins for firmware: C, or made from the person's own text.
#include <fmt/format.h>
#include <zlib.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <map>
#include <set>

#include "core/base/text.hpp"
#include "core/wire/module_pins.hpp"

namespace grayrelic {
namespace {

std::string in_c(const std::string& name) {
    std::string out;
    for (const char c : name)
        out += std::isalnum(static_cast<unsigned char>(c)) != 0
                   ? static_cast<char>(std::toupper(static_cast<unsigned char>(c)))
                   : '_';
    if (out.empty() || std::isdigit(static_cast<unsigned char>(out.front())) != 0) out.insert(0, "N");
    return out;
}

/// "7" of "P7"; the name itself in quotes where it has no number.
std::string number_of_pin(const std::string& pin) {
    const auto at = pin.find_first_of("0123456789");
    const auto digits = at == std::string::npos ? std::string() : pin.substr(at);
    const bool plain = !digits.empty() &&
                       std::all_of(digits.begin(), digits.end(), [](char c) { return c >= '0' && c <= '9'; });
    return plain ? digits : "\"" + pin + "\"";
}

constexpr std::string_view c_form = R"(/* Pins of {module}. Made from the circuit: do not edit. */
#ifndef PINS_H
#define PINS_H
#define PINS_COUNT {count}
#define PINS_CHECKSUM {checksum}u
#define PIN_{name} {number}
#endif
)";

using Values = std::map<std::string, std::string, std::less<>>;

/// One line with its words in braces replaced; an unknown one is returned as what was found.
Result<std::string> filled(std::string_view line, long number, const Values& values) {
    std::string out;
    for (std::size_t i = 0; i < line.size(); ++i) {
        const char c = line[i];
        const bool twice = i + 1 < line.size() && line[i + 1] == c;
        if ((c == '{' || c == '}') && twice) {
            out += c;
            ++i;
            continue;
        }
        if (c != '{') {
            out += c;
            continue;
        }
        const auto end = line.find('}', i);
        const auto key =
            line.substr(i + 1, end == std::string_view::npos ? std::string_view::npos : end - i - 1);
        const auto at = end == std::string_view::npos ? values.end() : values.find(key);
        if (at == values.end())
            return fail_at("form", number,
                           in_quotes("{" + std::string(key) + (end == std::string_view::npos ? "" : "}")),
                           "{name}, {pin}, {number} or {use} of a signal, {module}, {count} or {checksum} of "
                           "all, or {{ for a brace");
        out += at->second;
        i = end;
    }
    return out;
}

bool is_repeated(std::string_view line) {
    constexpr std::array keys{"{name}", "{pin}", "{number}", "{use}"};
    return std::any_of(keys.begin(), keys.end(),
                       [&](const char* key) { return line.find(key) != std::string_view::npos; });
}

}  // namespace

unsigned long pins_checksum(const PinStudy& study) {
    std::vector<std::string> lines;
    for (const auto& p : study.places)
        if (!p.pin.empty()) lines.push_back(p.name + "=" + p.pin + "\n");
    std::sort(lines.begin(), lines.end());
    std::string all;
    for (const auto& l : lines) all += l;
    return crc32(crc32(0, nullptr, 0), reinterpret_cast<const Bytef*>(all.data()),
                 static_cast<uInt>(all.size()));
}

Result<std::string> pin_header(const PinStudy& study, const std::string& form) {
    constexpr std::size_t most_form = 64 * 1024;
    if (form.size() > most_form) return fail_at("form", 1, "more than 64 KiB", "a text of at most 64 KiB");
    std::vector<const SignalPin*> places;
    for (const auto& p : study.places)
        if (!p.pin.empty()) places.push_back(&p);
    std::sort(places.begin(), places.end(), [](const auto* a, const auto* b) { return a->name < b->name; });
    Values values{{"module", study.part},
                  {"count", std::to_string(places.size())},
                  {"checksum", fmt::format("0x{:08X}", pins_checksum(study))}};
    std::set<std::string> taken;
    std::vector<std::string> names;
    for (const auto* p : places) {
        auto name = in_c(p->name);
        for (int n = 2; !taken.insert(name).second; ++n) name = fmt::format("{}_{}", in_c(p->name), n);
        names.push_back(std::move(name));
    }
    std::string_view text = form.empty() ? c_form : std::string_view(form);
    if (text.ends_with('\n')) text.remove_suffix(1);
    std::string out;
    long number = 0;
    for (const auto line : split(text, '\n')) {
        ++number;
        if (!is_repeated(line)) {
            auto made = filled(line, number, values);
            if (!made) return made;
            out += *made + "\n";
            continue;
        }
        for (std::size_t i = 0; i < places.size(); ++i) {
            auto own = values;
            own["name"] = names[i];
            own["pin"] = places[i]->pin;
            own["number"] = number_of_pin(places[i]->pin);
            own["use"] = std::string(word(places[i]->use));
            auto made = filled(line, number, own);
            if (!made) return made;
            out += *made + "\n";
        }
    }
    return out;
}

}  // namespace grayrelic
