// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/quadrature.hpp"

#include <algorithm>

#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

/// Place of a pair of levels (a << 1 | b) in the forward order 00, 10, 11, 01.
constexpr int place[] = {0, 3, 1, 2};

class Quadrature final : public Decoder {
  public:
    std::string kind() const override { return "quadrature"; }
    std::string about() const override {
        return "Two lines a quarter apart: a wheel, a ball or a dial, with its direction.";
    }
    std::vector<RoleSpec> roles() const override {
        return {{"a", false, false, "the line that leads forward"},
                {"b", false, false, "the line that follows"}};
    }
    std::vector<SettingSpec> settings() const override {
        return {{"detent", {}, "steps in one detent, 1 to 64"}};
    }

  protected:
    Result<Decoding> run(const Input& input, Progress& progress) const override {
        const auto& a = input.role("a");
        const auto& b = input.role("b");
        const auto detent = whole_setting(input.setting("detent"), "detent", 1, 64);
        if (!detent) return fail(detent.error());
        const auto ea = a.edges(), eb = b.edges();
        Decoding out;
        long forward = 0, backward = 0, illegal = 0;
        std::size_t i = 0, j = 0;
        int state = (a.first_level() ? 2 : 0) + (b.first_level() ? 1 : 0);
        out.frames.reserve(ea.size() + eb.size());
        while (i < ea.size() || j < eb.size()) {
            if (((i + j) & 4095U) == 0) {
                progress.report(static_cast<double>(i + j) / static_cast<double>(ea.size() + eb.size()));
                if (progress.cancelled()) return fail_cancelled();
            }
            const Time t = j == eb.size() || (i < ea.size() && ea[i] <= eb[j]) ? ea[i] : eb[j];
            if (i < ea.size() && ea[i] == t) ++i;
            if (j < eb.size() && eb[j] == t) ++j;
            const int next = (a.level_after(i) ? 2 : 0) + (b.level_after(j) ? 1 : 0);
            const int turn = (place[next] - place[state] + 4) % 4;
            Frame f;
            f.start = f.end = t;
            f.value = static_cast<std::uint64_t>(next);
            f.levels = {static_cast<char>('0' + next / 2), static_cast<char>('0' + next % 2)};
            f.bit_times = {t, t};
            const long long step = turn == 1 ? 1 : turn == 3 ? -1 : 0;
            f.extra["step"] = step;
            if (turn == 1)
                ++forward;
            else if (turn == 3)
                ++backward;
            else
                ++illegal, f.errors.emplace_back("illegal");
            state = next;
            out.frames.push_back(std::move(f));
        }
        out.counts = {{"forward", forward},
                      {"backward", backward},
                      {"illegal", illegal},
                      {"position", forward - backward}};
        if (*detent) {
            out.settings["detent"] = static_cast<long long>(**detent);
            out.counts["detents"] = (forward - backward) / **detent;
        } else {
            out.settings["detent"] = std::string("auto");
        }
        progress.report(1.0);
        return out;
    }
};

}  // namespace

std::unique_ptr<Decoder> make_quadrature() {
    return std::make_unique<Quadrature>();
}

}  // namespace grayrelic
