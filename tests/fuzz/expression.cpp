// SPDX-License-Identifier: GPL-3.0-or-later
// Logic expressions: what is understood is spelt anew and means the same.
#include "core/logic/expression.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto e = Expression::parse(fuzz::text_of(data, size));
    if (!e) return 0;
    const auto again = Expression::parse(e->text([](const std::string& name) { return name; }));
    // Fully bracketed it may be longer and deeper than what may be typed.
    if (!again && again.error().expected.find("at most") != std::string::npos) return 0;
    if (!again || again->names() != e->names()) std::abort();
    std::vector<std::uint64_t> known(e->names().size());
    std::vector<Levels> levels(e->names().size());
    for (std::size_t i = 0; i < known.size(); ++i) {
        known[i] = 0x9E3779B97F4A7C15ULL * (i + 1);
        levels[i] = grayrelic::known(known[i]);
    }
    if (e->evaluate_known(known) != again->evaluate_known(known)) std::abort();
    if (e->evaluate(levels).one != e->evaluate_known(known)) std::abort();
    return 0;
}
