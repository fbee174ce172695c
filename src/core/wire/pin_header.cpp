// SPDX-License-Identifier: GPL-3.0-or-later
// The list of a module's pins for firmware: C, or made from the person's own text.
#include <fmt/format.h>
#include <zlib.h>

#include <algorithm>
#include <set>

#include "core/base/form.hpp"
#include "core/wire/module_pins.hpp"

namespace grayrelic {
namespace {

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
    std::vector<const SignalPin*> places;
    for (const auto& p : study.places)
        if (!p.pin.empty()) places.push_back(&p);
    std::sort(places.begin(), places.end(), [](const auto* a, const auto* b) { return a->name < b->name; });
    const FormValues all{{"module", study.part},
                         {"count", std::to_string(places.size())},
                         {"checksum", fmt::format("0x{:08X}", pins_checksum(study))}};
    FormItems signals{{"name", "pin", "number", "use"}, {}};
    std::set<std::string> taken;
    for (const auto* p : places) {
        auto name = c_name(p->name);
        for (int n = 2; !taken.insert(name).second; ++n) name = fmt::format("{}_{}", c_name(p->name), n);
        signals.values.push_back({{"name", std::move(name)},
                                  {"pin", p->pin},
                                  {"number", number_of_pin(p->pin)},
                                  {"use", std::string(word(p->use))}});
    }
    return fill_form(
        form.empty() ? c_form : std::string_view(form), all, {signals},
        "{name}, {pin}, {number} or {use} of a signal, {module}, {count} or {checksum} of all, or {{ "
        "for a brace");
}

}  // namespace grayrelic
