// SPDX-License-Identifier: GPL-3.0-or-later
// Networks without storage, computed for all input settings at once: truth tables, hazards.
//
// Inputs that the net list holds at a level are constants; the others are variables, in the net list's order,
// the first one the most significant bit of a row's number.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/logic/network.hpp"
#include "core/logic/simulate.hpp"

namespace grayrelic {

/// A network flattened to straight-line code over 64-bit words, one bit a row.
class Tabulator {
  public:
    /// Refused: a network that is not computable, stores, or has a loop of gates.
    [[nodiscard]] static Result<Tabulator> of(const Network& network);
    [[nodiscard]] const std::vector<std::string>& inputs() const { return inputs_; }
    [[nodiscard]] const std::vector<std::string>& outputs() const { return outputs_; }
    /// 64 rows; levels of inputs() in, of outputs() out. Open outputs come as unknown.
    void evaluate(const std::vector<Levels>& in, std::vector<Levels>& out) const;

    static constexpr std::size_t block_words = 8;  ///< rows of a block: 512
    using Block = std::array<std::uint64_t, block_words>;
    /// True when every level is always known and driven, so that blocks may be used.
    [[nodiscard]] bool two_valued() const { return two_valued_; }
    /// Rows of the block numbered `block`; registers are scratch space kept between calls.
    void evaluate_block(std::uint64_t block, std::vector<Block>& registers) const;
    [[nodiscard]] const Block& output(std::size_t i, const std::vector<Block>& registers) const {
        return registers[static_cast<std::size_t>(output_register_[i])];
    }

  private:
    struct Gate {
        const Expression* value;
        const Expression* enable;
        std::vector<PinNet> value_nets, enable_nets;
        int net;
    };
    struct Code {
        Expression::Op op;
        int to, a, b, c;
    };
    void flatten();
    int emit(const Expression& e, const std::vector<PinNet>& nets);
    std::vector<std::string> inputs_, outputs_;
    std::vector<int> input_nets_, output_nets_, net_register_, output_register_;
    std::vector<std::pair<int, bool>> held_;  ///< nets at a level
    std::vector<std::pair<int, int>> pulls_;  ///< net and 0, 1
    std::vector<Gate> gates_;                 ///< in an order in which each follows what it reads
    std::vector<bool> shared_;                ///< nets with an output that may let go
    std::size_t nets_ = 0;
    std::vector<Code> code_;
    int registers_ = 0;
    bool two_valued_ = true;
};

struct TruthTable {
    std::vector<std::string> inputs, outputs;
    std::vector<std::vector<Level>>
        rows;  ///< [row][output]; row number: inputs as bits, first most significant
};
inline constexpr std::size_t most_table_inputs = 16;
[[nodiscard]] Result<TruthTable> truth_table(const Network& network, Progress& progress);
[[nodiscard]] std::string truth_csv(const TruthTable& table);

/// A change of one input that leaves an output's level as it is, but may let it twitch on the way.
struct Hazard {
    std::string input, output;
    std::vector<bool> at;  ///< levels of the inputs, the changing one at 0
    bool level = false;    ///< where the output stands before and after
};
struct HazardReport {
    std::vector<Hazard> hazards;  ///< the first 1,000
    long count = 0;
    long transitions = 0;  ///< how many changes of one input were looked at
};
/// Static hazards by three-valued evaluation with the changing input unknown (Eichelberger). At most 20
/// inputs.
[[nodiscard]] Result<HazardReport> find_hazards(const Network& network, Progress& progress);

}  // namespace grayrelic
