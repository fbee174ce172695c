// SPDX-License-Identifier: GPL-3.0-or-later
// Points by name, interned as numbers, with other names resolved.
#pragma once

#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "core/base/result.hpp"
#include "core/dossier/trace.hpp"

namespace grayrelic {

inline constexpr std::size_t longest_point_name = 80;

/// "U2.14" is pin 14 of U2; a name without a dot belongs to no part.
struct PointName {
    std::string_view ref;  ///< empty for a via or a spot
    std::string_view pin;
};
[[nodiscard]] PointName split_point(std::string_view name);
/// Natural order: "U2.9" before "U2.10".
[[nodiscard]] bool natural_less(std::string_view a, std::string_view b);

/// Is it a name that a point can have? Gives what is wrong with it, empty when nothing is.
[[nodiscard]] std::string point_name_problem(std::string_view name);

class PointTable {
  public:
    /// Other names first: a name given to two points, or names in a circle, are refused (the error's found
    /// and expected say which).
    [[nodiscard]] static Result<PointTable> with_aliases(const std::vector<PointAlias>& aliases);
    /// The number of a point, new when it is not known yet.
    int add(std::string_view name);
    /// The number of a point, or -1.
    [[nodiscard]] int find(std::string_view name) const;
    [[nodiscard]] const std::string& name(int point) const { return names_[static_cast<std::size_t>(point)]; }
    [[nodiscard]] int size() const { return static_cast<int>(names_.size()); }

  private:
    struct Hash {
        using is_transparent = void;
        std::size_t operator()(std::string_view s) const { return std::hash<std::string_view>{}(s); }
    };
    using Map = std::unordered_map<std::string, int, Hash, std::equal_to<>>;
    [[nodiscard]] std::string_view resolve(std::string_view name) const;
    std::vector<std::string> names_;
    Map numbers_;
    std::unordered_map<std::string, std::string, Hash, std::equal_to<>> aliases_;
};

}  // namespace grayrelic
