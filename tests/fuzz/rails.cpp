// SPDX-License-Identifier: GPL-3.0-or-later
// Rails as text, positions and signals as a person types them, and the form of a list of pins: read and
// judged; all of it must end.
#include "core/electrical/rails_study.hpp"
#include "core/wire/module_pins.hpp"
#include "core/wire/settings.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, std::min<std::size_t>(size, 4000));
    const auto read = read_rails(text);
    // Large trees are bounded by their lines; here by what a fuzzer has time for.
    if (read.faults.empty() && read.tree.parts.size() <= 20 && read.tree.sources.size() <= 4 &&
        read.tree.modes.size() <= 4) {
        const auto s = study_rails(read.tree);
        for (const auto& m : s.modes)
            for (const auto& r : m.rails)
                if (r.volts != r.volts || r.load_a != r.load_a) std::abort();
        if (!s.modes.empty() && !read.tree.sources.empty()) {
            WireSetting setting;
            setting.source = read.tree.sources.front().name;
            setting.least = 1;
            setting.most = 30;
            (void)study_setting(setting, read.tree);
        }
    }
    const auto end = text.find('\n');
    (void)position_from_text(text.substr(0, end));
    (void)need_from_text(text.substr(0, end));
    PinStudy pins;
    pins.part = "module";
    pins.places.push_back({"A", "a", PinUse::plain, "P3", true, Verdict::holds, {}});
    (void)pin_header(pins, std::string(text));
    return 0;
}
