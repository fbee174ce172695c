// SPDX-License-Identifier: GPL-3.0-or-later
// Which edges of many pieces lie near a place (a packed R-tree of Boost.Geometry).
#pragma once

#include <functional>
#include <memory>
#include <optional>

#include "core/board/shape.hpp"

namespace grayrelic {

struct PieceEdge {
    std::uint32_t piece = 0;
    std::uint32_t ring = 0;    ///< 0: the outer one; then the holes
    std::uint32_t number = 0;  ///< within the ring: from this corner to the next
    BoardXY a, b;
};

class EdgeIndex {
  public:
    /// Refers to the pieces, which must outlive it.
    explicit EdgeIndex(const BoardPieces& pieces);
    ~EdgeIndex();
    EdgeIndex(EdgeIndex&&) noexcept;
    EdgeIndex& operator=(EdgeIndex&&) noexcept;

    /// Edges whose box meets this one; the visitor returns false to stop.
    void near(const Extent& box, const std::function<bool(const PieceEdge&)>& visit) const;
    /// The piece that covers the place, on its edge too.
    [[nodiscard]] std::optional<std::uint32_t> piece_at(BoardXY p) const;
    /// All pieces with copper within this distance of the way; sorted.
    [[nodiscard]] std::vector<std::uint32_t> pieces_near(const std::vector<BoardXY>& way,
                                                         double within) const;

  private:
    struct Tree;
    const BoardPieces* pieces_;
    std::unique_ptr<Tree> tree_;
};

/// How often a ring crosses itself; nothing where it is more than `most`, or where finding out takes too
/// long.
[[nodiscard]] std::optional<std::size_t> crossings_of(const Ring& ring, std::size_t most);

}  // namespace grayrelic
