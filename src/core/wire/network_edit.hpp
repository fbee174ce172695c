// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of a network's text that leave everything else of it as the person wrote it: comments, order,
// spacing.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace grayrelic {

/// Of a part, or of a port as "port J1".
struct PinPlace {
    std::string ref, pin;
    bool operator==(const PinPlace&) const = default;
};

/// `PIN=NET` of this part or port becomes `PIN=net`; false when the text has no such pin.
[[nodiscard]] bool move_pin(std::string& text, const PinPlace& place, std::string_view net);
/// Joins a pin that is open: the part's last line gets `PIN=net`; false when the text has no such part.
[[nodiscard]] bool join_pin(std::string& text, const PinPlace& place, std::string_view net);
/// The first word behind the part's kind (its family or value) becomes another, or is added.
[[nodiscard]] bool change_word(std::string& text, std::string_view ref, std::string_view word);
/// `package=…` behind the part's value; an empty one is taken out.
[[nodiscard]] bool set_package(std::string& text, std::string_view ref, std::string_view package);
/// Two pins of one part or port exchange their nets.
[[nodiscard]] bool swap_pins(std::string& text, const PinPlace& a, const PinPlace& b);
/// The part's lines are taken out; false when there are none.
[[nodiscard]] bool remove_part(std::string& text, std::string_view ref);
/// At the end, on a line of its own.
void add_line(std::string& text, std::string_view line);

}  // namespace grayrelic
