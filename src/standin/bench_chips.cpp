// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/bench_chips.hpp"

#include <array>
#include <cstdint>
#include <map>

namespace grayrelic::standin {
namespace {

/// Gates of two inputs (or one), four or six in a package.
class Gates : public BenchChip {
  public:
    struct Gate {
        int out, a, b;  ///< b 0: none
    };
    Gates(std::vector<Gate> gates, std::function<bool(bool, bool)> does)
        : gates_(std::move(gates)), does_(std::move(does)) {}
    int ground_pin() const override { return 7; }
    int supply_pin() const override { return 14; }
    std::vector<int> outputs() const override {
        std::vector<int> out;
        for (const auto& g : gates_) out.push_back(g.out);
        return out;
    }
    std::vector<int> inputs() const override {
        std::vector<int> out;
        for (const auto& g : gates_) {
            out.push_back(g.a);
            if (g.b != 0) out.push_back(g.b);
        }
        return out;
    }
    void change(const std::vector<bool>&, const std::vector<bool>&) override {}
    bool level(int pin, const std::vector<bool>& now) const override {
        for (const auto& g : gates_)
            if (g.out == pin)
                return does_(now[static_cast<std::size_t>(g.a)],
                             g.b != 0 && now[static_cast<std::size_t>(g.b)]);
        return false;
    }

  private:
    std::vector<Gate> gates_;
    std::function<bool(bool, bool)> does_;
};

class Sixteen : public BenchChip {
  public:
    int ground_pin() const override { return 8; }
    int supply_pin() const override { return 16; }
};

/// Eight bits in parallel while pin 1 is low, else shifted at the rising edge of 2 or 15 while the other is
/// low.
class ParallelIn : public Sixteen {
  public:
    std::vector<int> outputs() const override { return {9, 7}; }
    std::vector<int> inputs() const override { return {1, 2, 3, 4, 5, 6, 10, 11, 12, 13, 14, 15}; }
    void change(const std::vector<bool>& before, const std::vector<bool>& now) override {
        if (!now[1]) {
            // A to H: 11, 12, 13, 14, 3, 4, 5, 6.
            const std::array pins{11, 12, 13, 14, 3, 4, 5, 6};
            for (std::size_t i = 0; i < 8; ++i) bits_[i] = now[static_cast<std::size_t>(pins[i])];
            return;
        }
        const bool was = before[2] || before[15], is = now[2] || now[15];
        if (was || !is) return;
        for (std::size_t i = 7; i > 0; --i) bits_[i] = bits_[i - 1];
        bits_[0] = now[10];
    }
    bool level(int pin, const std::vector<bool>&) const override { return bits_[7] == (pin == 9); }

  private:
    std::array<bool, 8> bits_{};
};

/// Eight bits taken at the rising edge of 11, out while 1 is low.
class OctalLatch : public BenchChip {
  public:
    int ground_pin() const override { return 10; }
    int supply_pin() const override { return 20; }
    std::vector<int> outputs() const override { return {2, 5, 6, 9, 12, 15, 16, 19}; }
    std::vector<int> inputs() const override { return {3, 4, 7, 8, 13, 14, 17, 18, 11, 1}; }
    void change(const std::vector<bool>& before, const std::vector<bool>& now) override {
        if (before[11] || !now[11]) return;
        const std::array from{3, 4, 7, 8, 13, 14, 17, 18}, to{2, 5, 6, 9, 12, 15, 16, 19};
        for (std::size_t i = 0; i < 8; ++i) bits_[to[i]] = now[static_cast<std::size_t>(from[i])];
    }
    bool level(int pin, const std::vector<bool>&) const override {
        const auto it = bits_.find(pin);
        return it != bits_.end() && it->second;
    }

  private:
    std::map<int, bool> bits_;
};

/// Twelve stages that count down edges of 10, cleared while 11 is high.
class TwelveStages : public Sixteen {
  public:
    std::vector<int> outputs() const override { return {9, 7, 6, 5, 3, 2, 4, 13, 12, 14, 15, 1}; }
    std::vector<int> inputs() const override { return {10, 11}; }
    void change(const std::vector<bool>& before, const std::vector<bool>& now) override {
        if (now[11])
            count_ = 0;
        else if (before[10] && !now[10])
            ++count_;
    }
    bool level(int pin, const std::vector<bool>&) const override {
        const auto all = outputs();
        for (std::size_t i = 0; i < all.size(); ++i)
            if (all[i] == pin) return (count_ >> i & 1U) != 0;
        return false;
    }

  private:
    std::uint32_t count_ = 0;
};

/// Four times one of two, chosen by 1, low while 15 is high.
class TwoToOne : public Sixteen {
  public:
    std::vector<int> outputs() const override { return {4, 7, 9, 12}; }
    std::vector<int> inputs() const override { return {1, 2, 3, 5, 6, 10, 11, 13, 14, 15}; }
    void change(const std::vector<bool>&, const std::vector<bool>&) override {}
    bool level(int pin, const std::vector<bool>& now) const override {
        if (now[15]) return false;
        switch (pin) {
            case 4: return now[1] ? now[3] : now[2];
            case 7: return now[1] ? now[6] : now[5];
            case 9: return now[1] ? now[10] : now[11];
            default: return now[1] ? now[13] : now[14];
        }
    }
};

}  // namespace

std::unique_ptr<BenchChip> bench_chip(const std::string& part) {
    const std::vector<Gates::Gate> inverters{{2, 1, 0}, {4, 3, 0},   {6, 5, 0},
                                             {8, 9, 0}, {10, 11, 0}, {12, 13, 0}};
    const std::vector<Gates::Gate> pairs{{3, 1, 2}, {6, 4, 5}, {8, 9, 10}, {11, 12, 13}};
    const std::vector<Gates::Gate> nors{{1, 2, 3}, {4, 5, 6}, {10, 8, 9}, {13, 11, 12}};
    if (part == "74x04" || part == "74x14")
        return std::make_unique<Gates>(inverters, [](bool a, bool) { return !a; });
    if (part == "74x00") return std::make_unique<Gates>(pairs, [](bool a, bool b) { return !(a && b); });
    if (part == "74x08") return std::make_unique<Gates>(pairs, [](bool a, bool b) { return a && b; });
    if (part == "74x32") return std::make_unique<Gates>(pairs, [](bool a, bool b) { return a || b; });
    if (part == "74x86") return std::make_unique<Gates>(pairs, [](bool a, bool b) { return a != b; });
    if (part == "74x02") return std::make_unique<Gates>(nors, [](bool a, bool b) { return !(a || b); });
    if (part == "74x165") return std::make_unique<ParallelIn>();
    if (part == "74x374") return std::make_unique<OctalLatch>();
    if (part == "74x4040") return std::make_unique<TwelveStages>();
    if (part == "74x157") return std::make_unique<TwoToOne>();
    return nullptr;
}

}  // namespace grayrelic::standin
