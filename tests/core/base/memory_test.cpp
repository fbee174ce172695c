// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/memory.hpp"

#include <gmock/gmock.h>

#include <atomic>
#include <chrono>
#include <new>
#include <thread>

namespace grayrelic {
namespace {

using namespace std::chrono_literals;

struct Sum {
    int value = 0;
    bool passing = false;
};

std::shared_ptr<const Sum> add(Memory& memory, MemoryRun& run, int a, int b) {
    return memory.recall<Sum>(run, "sum", std::tuple(a, b), 1,
                              [a, b](Progress&) -> Result<Sum> { return Sum{a + b}; });
}

TEST(Memory, MakesAPartOnlyWhenItsInputsChange) {
    Memory memory;
    Progress progress;
    MemoryRun run(progress, 1);
    const auto first = add(memory, run, 2, 3);
    ASSERT_TRUE(first);
    EXPECT_EQ(first->value, 5);
    EXPECT_EQ(add(memory, run, 2, 3), first);
    EXPECT_EQ(add(memory, run, 2, 4)->value, 6);
    EXPECT_EQ(memory.times_made().at("sum"), 2);
    EXPECT_DOUBLE_EQ(progress.fraction(), 1.0);
}

TEST(Memory, APartThatFindsNoMemoryEndsTheRunAndNothingElse) {
    Memory memory;
    Progress progress;
    MemoryRun run(progress, 2);
    ASSERT_TRUE(add(memory, run, 2, 3));
    EXPECT_FALSE(run.failure());
    const auto none =
        memory.recall<Sum>(run, "greedy", 1, 1, [](Progress&) -> Result<Sum> { throw std::bad_alloc(); });
    EXPECT_FALSE(none);
    ASSERT_TRUE(run.failure());
    EXPECT_EQ(
        run.failure()->message(),
        "greedy: found more than there is memory for, expected something smaller, or other programs closed");
    MemoryRun later(progress, 2);
    EXPECT_TRUE(add(memory, later, 2, 3)) << "what was made stays";
    EXPECT_FALSE(later.failure());
}

TEST(Memory, OfADifferentKindIsNotTakenForIt) {
    Memory memory;
    Progress progress;
    MemoryRun run(progress, 1);
    (void)add(memory, run, 2, 3);
    EXPECT_TRUE(memory.last<Sum>("sum"));
    EXPECT_FALSE(memory.last<int>("sum"));
    EXPECT_FALSE(memory.last<Sum>("other"));
}

TEST(Memory, DoesNotKeepWhatPasses) {
    Memory memory;
    Progress progress;
    MemoryRun run(progress, 1);
    for (int i = 0; i < 2; ++i) {
        const auto made = memory.recall<Sum>(run, "sum", 1, 1, [](Progress&) -> Result<Sum> {
            return Sum{0, true};
        });
        EXPECT_TRUE(made);
    }
    EXPECT_EQ(memory.times_made().at("sum"), 2);
}

/// A part that takes until it is told to end.
struct Slow {
    std::atomic<int> begun{0}, cancelled{0};
    std::atomic<bool> end{false};
    std::shared_ptr<const Sum> ask(Memory& memory, MemoryRun& run, int input) {
        return memory.recall<Sum>(run, "slow", input, 1, [this, input](Progress& p) -> Result<Sum> {
            ++begun;
            while (!end && !p.cancelled()) std::this_thread::sleep_for(1ms);
            if (p.cancelled()) {
                ++cancelled;
                return fail_cancelled();
            }
            return Sum{input};
        });
    }
};

TEST(Memory, APartThatAnEditDoesNotTouchGoesOnWhileItsRunIsInterrupted) {
    Slow slow;
    Memory memory;
    // Edits come faster than the part is made: each interrupts the run before it.
    for (int edit = 0; edit < 5; ++edit) {
        Progress progress;
        MemoryRun run(progress, 1);
        std::thread editing([&] {
            std::this_thread::sleep_for(30ms);
            progress.cancel();
        });
        EXPECT_FALSE(slow.ask(memory, run, 1));
        editing.join();
    }
    slow.end = true;
    Progress progress;
    MemoryRun run(progress, 1);
    ASSERT_TRUE(slow.ask(memory, run, 1));
    EXPECT_EQ(slow.begun, 1);  // never begun anew
    EXPECT_EQ(slow.cancelled, 0);
}

TEST(Memory, StopsAPartWhoseInputsChanged) {
    Slow slow;
    Memory memory;
    {
        Progress progress;
        progress.cancel();
        MemoryRun run(progress, 1);
        EXPECT_FALSE(slow.ask(memory, run, 1));
        EXPECT_EQ(slow.begun, 0);  // an interrupted run begins nothing
    }
    std::thread first([&] {
        Progress progress;
        MemoryRun run(progress, 1);
        EXPECT_FALSE(slow.ask(memory, run, 1));  // its part is stopped for the other's
    });
    while (slow.begun < 1) std::this_thread::sleep_for(1ms);
    std::thread second([&] {
        Progress progress;
        MemoryRun run(progress, 1);
        const auto made = slow.ask(memory, run, 2);
        ASSERT_TRUE(made);
        EXPECT_EQ(made->value, 2);
    });
    while (slow.begun < 2) std::this_thread::sleep_for(1ms);
    slow.end = true;
    first.join();
    second.join();
    EXPECT_EQ(slow.cancelled, 1);
}

TEST(Memory, ForgetsWhatAWholeRunDidNotAskFor) {
    Memory memory;
    Progress progress;
    MemoryRun run(progress, 2);
    (void)add(memory, run, 1, 1);
    MemoryRun other(progress, 1);
    (void)memory.recall_here<Sum>(other, "here", 1, [] { return Sum{1}; });
    memory.forget_all_but(other);
    EXPECT_EQ(memory.times_made().count("sum"), 0U);
    EXPECT_EQ(memory.times_made().at("here"), 1);
}

TEST(Memory, ProgressNeverGoesBack) {
    Memory memory;
    Progress progress;
    MemoryRun run(progress, 4);
    double last = 0;
    for (int part = 0; part < 4; ++part) {
        (void)memory.recall<Sum>(run, std::to_string(part), 0, 1, [](Progress& p) -> Result<Sum> {
            for (const double f : {0.9, 0.1, 1.0, 0.3}) {  // as a part of several steps reports
                p.report(f);
                std::this_thread::sleep_for(25ms);
            }
            return Sum{};
        });
        EXPECT_GE(progress.fraction(), last);
        EXPECT_GE(progress.fraction(), 0.25 * (part + 1) - 1e-9);
        last = progress.fraction();
    }
}

}  // namespace
}  // namespace grayrelic
