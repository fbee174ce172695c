// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/resistors.hpp"

#include <algorithm>
#include <cctype>
#include <cmath>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/electrical/series.hpp"

namespace grayrelic {

std::string short_ohm(double ohm) {
    // As it stands on the part and in the text: 4k7, 330, 1M.
    auto text = print_exact(ohm, Unit::ohm);
    std::string out;
    for (const char c : text)
        if (c != ' ') out += c;
    for (const std::string_view sign : {"Ω"})
        if (const auto at = out.find(sign); at != std::string::npos) out.erase(at);
    if (const auto dot = out.find('.');
        dot != std::string::npos && !out.empty() && std::isalpha(out.back())) {
        const char prefix = out.back();
        out.pop_back();
        out[dot] = prefix;
    }
    return out;
}

Resistors::Resistors(const Drawer& drawer) {
    for (const auto& p : drawer.parts) {
        const auto words = split(p.part, ' ');
        if (words.size() < 2 || words[0] != "resistor" || p.count <= 0) continue;
        auto text = words[1];
        if (text.ends_with(',')) text.remove_suffix(1);
        if (const auto v = parse_number(text, Unit::ohm); v && *v > 0) have_[*v] += p.count;
    }
}

int Resistors::count(double ohm) const {
    for (const auto& [v, n] : have_)
        if (std::abs(v / ohm - 1) < 1e-6) return n;
    return 0;
}

std::optional<Stocked> Resistors::nearest_to(double ohm) const {
    constexpr double most_ratio = 1.5;
    std::optional<Stocked> out;
    const auto off = [&](double v) { return std::abs(std::log(v / ohm)); };
    for (const auto& [v, n] : have_)
        if (off(v) <= std::log(most_ratio) && (!out || off(v) < off(out->ohm))) out = Stocked{v, n};
    return out;
}

std::vector<Stocked> Resistors::between(double least, double most) const {
    std::vector<Stocked> own, bought;
    for (const auto& [v, n] : have_)
        if (v >= least && v <= most) own.push_back({v, n});
    for (double v = at_least(least, Series::e12); v <= most * (1 + 1e-9); v = next_above(v, Series::e12))
        bought.push_back({v, 0});
    const double middle = std::sqrt(least * most);
    const auto nearer = [&](const Stocked& a, const Stocked& b) {
        return std::abs(std::log(a.ohm / middle)) < std::abs(std::log(b.ohm / middle));
    };
    std::stable_sort(own.begin(), own.end(), nearer);
    std::stable_sort(bought.begin(), bought.end(), nearer);
    if (own.size() > 2) own.resize(2);
    if (bought.size() > 2) bought.resize(2);
    own.insert(own.end(), bought.begin(), bought.end());
    return own;
}

}  // namespace grayrelic
