// SPDX-License-Identifier: GPL-3.0-or-later
// The work of read_gerber(): the state of a plotter, command by command.
#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/board/aperture_macro.hpp"
#include "core/board/gerber.hpp"
#include "core/board/gerber_words.hpp"

namespace grayrelic {

class GerberReader {
  public:
    GerberReader(const std::string& name, Progress& progress) : name_(name), progress_(progress) {}

    Result<GerberLayer> read(std::string_view text);

  private:
    [[nodiscard]] Failure fault(std::string found, std::string expected) const;
    void note(std::string text);

    // ---- extended commands

    Status extended(const GerberWord& word);

    Status extended_block(std::string_view block);

    /// Image commands of old files: fine where they do nothing.
    Status take_neutral(std::string_view code, std::string_view rest, std::string_view block);

    Status take_format(std::string_view rest);

    Status take_unit(bool inch, bool mm, std::string_view block);

    Status take_macro(const GerberWord& word);

    Status take_aperture(std::string_view rest);

    Result<Aperture> shape_aperture(std::string_view form, const std::vector<double>& values);

    // ---- step and repeat, block apertures: objects are gathered apart and put back when they end

    struct Frame {
        bool block = false;
        int code = 0;  ///< of a block
        int across = 1, up = 1;
        double step_x = 0, step_y = 0;
        std::vector<GerberObject> outside;
        bool outside_dark = true;
    };

    Status take_repeat(std::string_view rest);

    Status begin_frame(Frame f);

    Status end_repeat();

    Status take_block(std::string_view rest);

    /// The object moved, and turned as an aperture is: mirrored, then turned, then scaled.
    Status put_moved(GerberObject o, BoardXY by, const ApertureTurn& turn, bool dark);

    [[nodiscard]] std::size_t total() const;

    Status push(const GerberObject& o);

    std::uint32_t index_of_turn(const ApertureTurn& t);

    // ---- attributes

    Status take_attribute(std::string_view code, std::string_view rest);

    std::uint32_t current_marks();

    // ---- data blocks

    /// The words of one block.
    struct Block {
        std::optional<double> x, y, i, j;
        std::optional<int> d;
    };
    Status data(std::string_view block);
    Status remark(std::string_view block);
    Status take_word(Block& b, char letter, std::string_view digits);

    Result<double> coordinate(std::string_view text);

    Status take_g(int code);

    Status operate(int d, std::optional<double> x, std::optional<double> y, std::optional<double> i,
                   std::optional<double> j);

    Status flash_block(const GerberObject& at);

    Status arc_middle(GerberObject& o, Nm i, Nm j);

    // ---- regions

    Status extend_contour(const GerberObject& o, bool arc);

    void close_contour();

    Status end_region();

    const std::string& name_;
    Progress& progress_;
    GerberLayer out_;
    long line_ = 0;
    std::optional<double> unit_;  ///< nanometres
    int whole_digits_ = 0, decimals_ = 0;
    bool format_known_ = false, trailing_omitted_ = false;
    bool ended_ = false, dark_ = true, in_region_ = false, single_quadrant_ = false, marks_stale_ = false;
    int motion_ = 1;
    std::optional<int> last_d_;
    std::optional<std::uint32_t> aperture_;
    BoardXY here_;
    ApertureTurn turn_;
    std::uint32_t marks_ = 0, region_marks_ = 0;
    std::size_t region_points_ = 0, aperture_corners_ = 0;
    Ring contour_;
    Rings contours_;
    std::map<int, std::uint32_t> known_;
    std::map<std::string, ApertureMacro> macros_;
    std::map<std::uint32_t, int> block_of_;
    std::map<int, std::vector<GerberObject>> blocks_;
    std::map<std::string, std::string> aperture_attributes_, object_attributes_;
    std::vector<Frame> frames_;
    std::set<std::string> said_;
};

}  // namespace grayrelic
