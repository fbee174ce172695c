// SPDX-License-Identifier: GPL-3.0-or-later
// The colours of the program, by meaning: once for the day (paper, pictures, the light theme) and once for
// the night. Window, pictures, reports and printed sheets all take them from here.
#pragma once

#include <string>
#include <string_view>

namespace grayrelic {

/// Each as "#RRGGBB".
struct Palette {
    std::string_view bench, rail, panel, sheet;
    std::string_view ink, ink2, hairline;
    std::string_view umber, slate;             ///< who drives: relic, bridge
    std::string_view verdigris, brass, oxide;  ///< holds, doubt, stop
    std::string_view selection;
    bool operator==(const Palette&) const = default;
};

/// ink2 has 4.5:1 against the rail too.
inline constexpr Palette casework{"#DAD7CF", "#CFCBC1", "#ECEAE4", "#FAF9F5", "#22262A", "#50555B", "#C2BDB2",
                                  "#7A4B2A", "#24557E", "#2E6B57", "#A06F0E", "#A3281E", "#E9DFC8"};
inline constexpr Palette night_bench{"#1C1E20", "#232629", "#282B2E", "#15171A", "#E9E5DB",
                                     "#A3A69F", "#3A3E42", "#D39B6C", "#7FB2DA", "#6FBF9F",
                                     "#E0B04A", "#F07A66", "#3B3524"};

/// The day's, by short names.
namespace paper {
inline constexpr auto sheet = casework.sheet, ink = casework.ink, ink2 = casework.ink2,
                      hairline = casework.hairline, umber = casework.umber, slate = casework.slate,
                      verdigris = casework.verdigris, brass = casework.brass, oxide = casework.oxide,
                      selection = casework.selection;
}  // namespace paper

/// The text with "@ink", "@ink2", "@sheet", "@hairline", "@umber", "@slate", "@oxide" written as the day's
/// colours: for style sheets.
[[nodiscard]] std::string in_colours(std::string_view text);
/// A picture in the day's colours as it is at night.
[[nodiscard]] std::string at_night(std::string_view svg);

}  // namespace grayrelic
