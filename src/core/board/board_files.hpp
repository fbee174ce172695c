// SPDX-License-Identifier: GPL-3.0-or-later
// The fabrication files of one board: what each is, and what was read from it.
#pragma once

#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/words.hpp"
#include "core/board/drill.hpp"
#include "core/board/gerber.hpp"
#include "core/board/zip_folder.hpp"
#include "core/trace/netlist.hpp"

namespace grayrelic {

enum class FileRole {
    unknown,
    copper_top,
    copper_inner,
    copper_bottom,
    mask_top,
    mask_bottom,
    silk_top,
    silk_bottom,
    paste_top,
    paste_bottom,
    outline,
    drill_plated,
    drill_plain,
    netlist,
    text,  ///< a table or remark that is no layer
};
template <>
inline constexpr std::array words_of<FileRole>{"unknown",     "copper-top",   "copper-inner", "copper-bottom",
                                               "mask-top",    "mask-bottom",  "silk-top",     "silk-bottom",
                                               "paste-top",   "paste-bottom", "outline",      "drill-plated",
                                               "drill-plain", "netlist",      "text"};
[[nodiscard]] constexpr bool is_copper(FileRole r) {
    return r == FileRole::copper_top || r == FileRole::copper_inner || r == FileRole::copper_bottom;
}

/// How a role was found.
enum class RoleFrom { nothing, attribute, name, content, person };
template <>
inline constexpr std::array words_of<RoleFrom>{"nothing", "attribute", "name", "content", "person"};

struct BoardFile {
    std::string name;
    FileRole role = FileRole::unknown;
    RoleFrom from = RoleFrom::nothing;
    int inner = 0;  ///< of an inner layer: counted from the top, which is 1
    std::shared_ptr<const GerberLayer> layer{};
    std::shared_ptr<const DrillFile> drill{};
    std::shared_ptr<const Netlist> netlist{};
    [[nodiscard]] std::size_t objects() const;
};

struct BoardFiles {
    std::string name;  ///< of the folder or archive
    std::vector<BoardFile> files;
    std::vector<Error>
        problems;  ///< what is remarkable, guessed or could not be read; each with its file and line
    std::vector<Error> refused;  ///< those of them for which a file, or an entry, was not read at all
    [[nodiscard]] const BoardFile* find(FileRole role) const;     ///< the first
    [[nodiscard]] std::vector<const BoardFile*> coppers() const;  ///< from the top to the bottom
    [[nodiscard]] std::vector<const BoardFile*> drills() const;
};

/// Roles that a person corrected: by the file's name.
using RoleCorrections = std::map<std::string, FileRole>;

[[nodiscard]] Result<BoardFiles> read_board(const std::filesystem::path& path, Progress& progress,
                                            const RoleCorrections& corrected = {});
[[nodiscard]] BoardFiles board_of(const PackedFolder& folder, const std::string& name, Progress& progress,
                                  const RoleCorrections& corrected = {});

/// From ".FileFunction": "Copper,L1,Top", "Soldermask,Bot" …; unknown where it says none of them. `inner`
/// gets the layer's number.
[[nodiscard]] FileRole role_of_function(std::string_view function, int& inner);
/// From the words of a name: "board-copper-top.gbr", "main.gtl"; unknown where they say nothing, or two
/// things.
[[nodiscard]] FileRole role_of_name(std::string_view name, bool drill, int& inner);

}  // namespace grayrelic
