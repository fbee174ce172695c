// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/expression.hpp"

#include <algorithm>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

bool is_name_char(char c) {
    return (c >= '0' && c <= '9') || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_' || c == '/';
}

/// 64 cases with unknown levels.
struct Kleene {
    using Value = Levels;
    static Levels constant(bool one) { return known(one ? ~0ULL : 0); }
    static Levels not_of(Levels a) { return {a.zero, a.one}; }
    static Levels and_of(Levels a, Levels b) { return {a.one & b.one, a.zero | b.zero}; }
    static Levels or_of(Levels a, Levels b) { return {a.one | b.one, a.zero & b.zero}; }
    static Levels xor_of(Levels a, Levels b) {
        return {(a.one & b.zero) | (a.zero & b.one), (a.one & b.one) | (a.zero & b.zero)};
    }
    static Levels choose_of(Levels c, Levels a, Levels b) {
        return {(c.one & a.one) | (c.zero & b.one) | (a.one & b.one),
                (c.one & a.zero) | (c.zero & b.zero) | (a.zero & b.zero)};
    }
};

/// 64 cases in which every level is known.
struct Boolean {
    using Value = std::uint64_t;
    static Value constant(bool one) { return one ? ~0ULL : 0; }
    static Value not_of(Value a) { return ~a; }
    static Value and_of(Value a, Value b) { return a & b; }
    static Value or_of(Value a, Value b) { return a | b; }
    static Value xor_of(Value a, Value b) { return a ^ b; }
    static Value choose_of(Value c, Value a, Value b) { return (c & a) | (~c & b); }
};

template <class Algebra>
typename Algebra::Value run(const std::vector<Expression::Step>& steps,
                            std::span<const typename Algebra::Value> values) {
    using Op = Expression::Op;
    using Value = typename Algebra::Value;
    // As many operands wait at once as there are steps at most.
    std::vector<Value> heap;
    Value small[80];
    Value* stack = small;
    if (steps.size() > 80) {
        heap.resize(steps.size());
        stack = heap.data();
    }
    std::size_t n = 0;
    for (const auto& s : steps) {
        switch (s.op) {
            case Op::constant0: stack[n++] = Algebra::constant(false); break;
            case Op::constant1: stack[n++] = Algebra::constant(true); break;
            case Op::name: stack[n++] = values[static_cast<std::size_t>(s.name)]; break;
            case Op::not_: stack[n - 1] = Algebra::not_of(stack[n - 1]); break;
            case Op::and_:
                --n;
                stack[n - 1] = Algebra::and_of(stack[n - 1], stack[n]);
                break;
            case Op::or_:
                --n;
                stack[n - 1] = Algebra::or_of(stack[n - 1], stack[n]);
                break;
            case Op::xor_:
                --n;
                stack[n - 1] = Algebra::xor_of(stack[n - 1], stack[n]);
                break;
            case Op::choose:
                n -= 2;
                stack[n - 1] = Algebra::choose_of(stack[n - 1], stack[n], stack[n + 1]);
                break;
        }
    }
    return n == 0 ? Value{} : stack[0];
}

}  // namespace

/// Recursive descent; each rule leaves its steps in postfix order.
class ExpressionParser {
  public:
    explicit ExpressionParser(std::string_view text) : text_(text) {}
    Result<Expression> whole() {
        if (text_.size() > 4096)
            return fail_usage("an expression of " + std::to_string(text_.size()) + " characters",
                              "at most 4096");
        if (!choice(0)) return fail_usage(problem(), expected_);
        skip();
        if (at_ < text_.size()) {
            expected_ = "an operator: & | ^ ? or the end";
            return fail_usage(problem(), expected_);
        }
        return std::move(out_);
    }

  private:
    std::string problem() const {
        return (at_ < text_.size() ? in_quotes(text_.substr(at_)) : std::string("the end")) + " in " +
               in_quotes(text_);
    }
    void skip() {
        while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t')) ++at_;
    }
    bool take(char c) {
        skip();
        if (at_ >= text_.size() || text_[at_] != c) return false;
        ++at_;
        return true;
    }
    void add(Expression::Op op, int name = -1) { out_.steps_.push_back({op, name}); }
    bool choice(int depth) {
        if (!alternatives(depth)) return false;
        if (!take('?')) return true;
        if (!choice(depth + 1)) return false;
        if (!take(':')) {
            expected_ = "\":\" and the other case";
            return false;
        }
        if (!choice(depth + 1)) return false;
        add(Expression::Op::choose);
        return true;
    }
    bool alternatives(int depth) {
        if (!differences(depth)) return false;
        while (take('|')) {
            if (!differences(depth)) return false;
            add(Expression::Op::or_);
        }
        return true;
    }
    bool differences(int depth) {
        if (!conjunction(depth)) return false;
        while (take('^')) {
            if (!conjunction(depth)) return false;
            add(Expression::Op::xor_);
        }
        return true;
    }
    bool conjunction(int depth) {
        if (!item(depth)) return false;
        while (take('&')) {
            if (!item(depth)) return false;
            add(Expression::Op::and_);
        }
        return true;
    }
    bool item(int depth) {
        if (depth > 64) {
            expected_ = "at most 64 levels of brackets";
            return false;
        }
        if (take('!')) {
            if (!item(depth + 1)) return false;
            add(Expression::Op::not_);
            return true;
        }
        if (take('(')) {
            if (!choice(depth + 1)) return false;
            if (take(')')) return true;
            expected_ = "\")\"";
            return false;
        }
        skip();
        const auto from = at_;
        while (at_ < text_.size() && is_name_char(text_[at_])) ++at_;
        const auto word = text_.substr(from, at_ - from);
        if (word.empty()) {
            expected_ = "a pin's name, 0, 1, ! or (";
            return false;
        }
        if (word == "0")
            add(Expression::Op::constant0);
        else if (word == "1")
            add(Expression::Op::constant1);
        else {
            auto& names = out_.names_;
            auto it = std::find(names.begin(), names.end(), word);
            if (it == names.end()) it = names.insert(names.end(), std::string(word));
            add(Expression::Op::name, static_cast<int>(it - names.begin()));
        }
        return true;
    }
    std::string_view text_;
    std::size_t at_ = 0;
    std::string expected_ = "an expression";
    Expression out_;
};

Result<Expression> Expression::parse(std::string_view text) {
    return ExpressionParser(text).whole();
}

Levels Expression::evaluate(std::span<const Levels> values) const {
    return run<Kleene>(steps_, values);
}

std::uint64_t Expression::evaluate_known(std::span<const std::uint64_t> values) const {
    return run<Boolean>(steps_, values);
}

}  // namespace grayrelic
