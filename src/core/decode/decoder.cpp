// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/decoder.hpp"

#include <algorithm>

#include "core/base/text.hpp"
#include "core/decode/async_serial.hpp"
#include "core/decode/clocked.hpp"
#include "core/decode/framed_clock.hpp"
#include "core/decode/latch_shift.hpp"
#include "core/decode/matrix.hpp"
#include "core/decode/pulse_width.hpp"
#include "core/decode/quadrature.hpp"
#include "core/decode/select_bank.hpp"
#include "core/decode/strobed_bus.hpp"
#include "core/decode/usb_low_full.hpp"

namespace grayrelic {
namespace {

std::string listed(const std::vector<std::string>& words) {
    std::string out;
    for (const auto& w : words) out += (out.empty() ? "" : ", ") + w;
    return out;
}

}  // namespace

long Decoding::frames_with_errors() const {
    return static_cast<long>(
        std::count_if(frames.begin(), frames.end(), [](const Frame& f) { return !f.errors.empty(); }));
}

std::optional<std::string> Decoder::Input::setting(const std::string& name) const {
    const auto it = settings.find(name);
    return it == settings.end() ? std::nullopt : std::optional(it->second);
}

Result<Decoding> Decoder::decode(const Capture& capture, const RoleMap& roles, const SettingMap& settings,
                                 Progress& progress) const {
    Input input;
    input.extent = capture.extent;
    const auto known_roles = this->roles();
    std::vector<std::string> names;
    names.reserve(known_roles.size());
    for (const auto& r : known_roles) names.push_back(r.name);
    for (const auto& [role, signals] : roles)
        if (std::find(names.begin(), names.end(), role) == names.end())
            return fail_usage("role " + in_quotes(role), "one of " + listed(names) + " for " + kind());
    for (const auto& spec : known_roles) {
        const auto it = roles.find(spec.name);
        const auto count = it == roles.end() ? 0 : it->second.size();
        if (count == 0 && !spec.optional)
            return fail_usage("no signal for the role " + spec.name, spec.name + "=SIGNAL for " + kind());
        if (count > 1 && !spec.repeated)
            return fail_usage("several signals for the role " + spec.name, "one");
        if (count == 0) continue;
        for (const auto& name : it->second) {
            const auto waveform = capture.find_digital(name);
            if (!waveform) return fail(waveform.error());
            input.waveforms[spec.name].push_back(*waveform);
            input.names[spec.name].push_back((*capture.find(name))->name);
        }
    }
    const auto known_settings = this->settings();
    for (const auto& [name, value] : settings) {
        const auto spec = std::find_if(known_settings.begin(), known_settings.end(),
                                       [&n = name](const SettingSpec& s) { return s.name == n; });
        if (spec == known_settings.end()) {
            std::vector<std::string> all;
            all.reserve(known_settings.size());
            for (const auto& s : known_settings) all.push_back(s.name);
            return fail_usage("setting " + in_quotes(name), "one of " + listed(all) + " for " + kind());
        }
        if (value == "auto") continue;
        if (!spec->choices.empty() &&
            std::find(spec->choices.begin(), spec->choices.end(), value) == spec->choices.end())
            return fail_usage(name + " " + in_quotes(value), "auto, " + listed(spec->choices));
        input.settings[name] = value;
    }
    auto decoding = run(input, progress);
    if (!decoding) return decoding;
    decoding->kind = kind();
    // What was stated is not in doubt.
    std::erase_if(decoding->unsure, [&](const Unsure& u) { return input.settings.count(u.what) != 0; });
    for (const auto& frame : decoding->frames)
        for (const auto& e : frame.errors) ++decoding->error_counts[e];
    return decoding;
}

const std::vector<std::unique_ptr<Decoder>>& decoders() {
    static const auto all = [] {
        std::vector<std::unique_ptr<Decoder>> list;
        list.push_back(make_latch_shift());
        list.push_back(make_async_serial());
        list.push_back(make_select_bank());
        list.push_back(make_pulse_width());
        list.push_back(make_framed_clock());
        list.push_back(make_clocked());
        list.push_back(make_quadrature());
        list.push_back(make_strobed_bus());
        list.push_back(make_usb_low_full());
        list.push_back(make_matrix());
        return list;
    }();
    return all;
}

Result<const Decoder*> find_decoder(std::string_view kind) {
    std::vector<std::string> kinds;
    for (const auto& d : decoders()) {
        if (d->kind() == kind) return d.get();
        kinds.push_back(d->kind());
    }
    return fail_usage("decoder " + in_quotes(kind), "one of " + listed(kinds));
}

std::optional<std::uint64_t> value_of(std::string_view levels, bool msb_first) {
    if (levels.size() > 64) return std::nullopt;
    std::uint64_t value = 0;
    for (std::size_t i = 0; i < levels.size(); ++i) {
        const char c = msb_first ? levels[i] : levels[levels.size() - 1 - i];
        if (c != '0' && c != '1') return std::nullopt;
        value = (value << 1U) | (c == '1' ? 1U : 0U);
    }
    return value;
}

}  // namespace grayrelic
