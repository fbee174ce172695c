// SPDX-License-Identifier: GPL-3.0-or-later
// Packages as data: how large a part is, how high it stands, where its pads lie and how it is soldered. One
// JSON file for each shape in data/packages with the sizes it comes in, the person's own override by id;
// format: docs/formats/packages.md. Millimetres.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/board_side.hpp"
#include "core/base/file_system.hpp"
#include "core/base/result.hpp"
#include "core/base/words.hpp"

namespace grayrelic {

enum class PackageMount { hole, surface };
template <>
inline constexpr std::array words_of<PackageMount>{"hole", "surface"};

/// How the pins stand: seen from above, pin 1 first.
enum class PinForm {
    two_rows,    ///< down the left side, up the right one
    one_row,     ///< along a line
    four_sides,  ///< counter-clockwise from the upper left corner
    two_ends,    ///< of a part with two ends
    pairs,       ///< odd numbers in one row, even ones in the other
    three,       ///< two on one side, the third between them on the other
};
template <>
inline constexpr std::array words_of<PinForm>{"two-rows", "one-row", "four-sides",
                                              "two-ends", "pairs",   "three"};

/// How hard it is with an iron: what the bench's record counts under.
enum class SolderClass { easy, fair, hard, hot_air };
template <>
inline constexpr std::array words_of<SolderClass>{"easy", "fair", "hard", "hot-air"};

struct PackageSize {
    std::string id;  ///< "dip-16"
    int pins = 0;
    double length = 0, width = 0;  ///< of the body, along the row and across
    double row = 0;                ///< between the middles of the rows of pads; of two ends, between them
    bool operator==(const PackageSize&) const = default;
};

struct PackageShape {
    std::string id;    ///< "dip"
    std::string name;  ///< "two rows of pins through the board"
    std::string source;
    PackageMount mount = PackageMount::hole;
    PinForm form = PinForm::two_rows;
    double pitch = 0, height = 0;  ///< height over the board, most
    double pad_length = 0, pad_width = 0;
    double hole = 0;              ///< diameter; 0 for surface mount
    std::string first_pin;        ///< how pin 1 is known: "notch or dot at the end of pin 1"
    std::optional<double> belly;  ///< side of a pad below the body
    SolderClass solder = SolderClass::easy;
    std::string bench;  ///< what the bench's record calls it
    std::vector<PackageSize> sizes;
};

/// A package with one size.
struct Package {
    const PackageShape* shape = nullptr;  ///< owned by the library
    PackageSize size;
};

struct Pad {
    std::string number;
    double x = 0, y = 0;           ///< from the middle of the body, x right, y down
    double length = 0, width = 0;  ///< along x, along y
    bool belly = false;
};

struct PackageLibrary {
    std::vector<PackageShape> shapes;
    std::vector<Error> problems;  ///< files that were skipped
    [[nodiscard]] static PackageLibrary load(FileSystem& files,
                                             const std::vector<std::filesystem::path>& folders);
    /// "dip-16", "dip-28-15.24", "axial-10.16": nothing when no shape has it.
    [[nodiscard]] std::optional<Package> find(std::string_view name) const;
};

[[nodiscard]] Result<PackageShape> package_from_json(std::string_view text, const std::string& file);
/// Where its pads lie; a belly pad comes last.
[[nodiscard]] std::vector<Pad> pads_of(const Package& package);

}  // namespace grayrelic
