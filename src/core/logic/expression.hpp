// SPDX-License-Identifier: GPL-3.0-or-later
// A Boolean expression over named pins, and its evaluation for 64 cases at once with unknown levels.
//
// Grammar, binding loosest first:  c ? a : b   a | b   a ^ b   a & b   !a   (a)   0   1   NAME
// A name is letters, digits, _ and / and is not 0 or 1: "1A", "/OE", "q3".
// Unknown levels follow Kleene's three-valued logic; c ? a : b with unknown c is known where a equals b.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"

namespace grayrelic {

/// 64 levels: bit i of `one` says that case i is 1, of `zero` that it is 0; neither: unknown. Never both.
struct Levels {
    std::uint64_t one = 0, zero = 0;
    bool operator==(const Levels&) const = default;
};
[[nodiscard]] constexpr Levels known(std::uint64_t ones) {
    return {ones, ~ones};
}

class Expression {
  public:
    enum class Op : unsigned char { constant0, constant1, name, not_, and_, or_, xor_, choose };
    struct Step {
        Op op;
        int name = -1;  ///< index into names() for Op::name
    };
    Expression() = default;
    /// At most 4096 characters and 64 levels of brackets. The error says what stands there.
    [[nodiscard]] static Result<Expression> parse(std::string_view text);

    [[nodiscard]] const std::vector<std::string>& names() const {
        return names_;
    }                                                                        ///< each once, as they appear
    [[nodiscard]] const std::vector<Step>& steps() const { return steps_; }  ///< in postfix order
    /// `values` in the order of names().
    [[nodiscard]] Levels evaluate(std::span<const Levels> values) const;
    [[nodiscard]] std::uint64_t evaluate_known(std::span<const std::uint64_t> values) const;
    /// Written anew, fully bracketed, each name as `spell` says; `!` as the given sign.
    template <class Spell>
    [[nodiscard]] std::string text(Spell spell, const char* inversion = "!") const;

  private:
    friend class ExpressionParser;
    std::vector<std::string> names_;
    std::vector<Step> steps_;
};

template <class Spell>
std::string Expression::text(Spell spell, const char* inversion) const {
    std::vector<std::string> stack;
    const auto pop = [&] {
        auto s = std::move(stack.back());
        stack.pop_back();
        return s;
    };
    for (const auto& step : steps_) {
        const auto two = [&](const char* sign) {
            const auto b = pop(), a = pop();
            stack.push_back("(" + a + " " + sign + " " + b + ")");
        };
        switch (step.op) {
            case Op::constant0: stack.push_back(spell(std::string("0"))); break;
            case Op::constant1: stack.push_back(spell(std::string("1"))); break;
            case Op::name: stack.push_back(spell(names_[static_cast<std::size_t>(step.name)])); break;
            case Op::not_: stack.push_back(inversion + pop()); break;
            case Op::and_: two("&"); break;
            case Op::or_: two("|"); break;
            case Op::xor_: two("^"); break;
            case Op::choose: {
                const auto b = pop(), a = pop(), c = pop();
                stack.push_back("(" + c + " ? " + a + " : " + b + ")");
                break;
            }
        }
    }
    return stack.empty() ? std::string() : stack.back();
}

}  // namespace grayrelic
