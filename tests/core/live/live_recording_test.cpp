// SPDX-License-Identifier: GPL-3.0-or-later
// Sources that are followed: a stream on the loopback, a file that grows; nothing is lost, whatever happens
// to them.
#include "live/live_recording.hpp"

#include <gmock/gmock.h>

#include <thread>

#include "core/capture/vcd_reader.hpp"
#include "standin/logic_stream.hpp"
#include "standin/spoken.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using live::Recording;
using live::State;

template <class Holds>
bool within_ten_seconds(Holds holds) {
    for (int i = 0; i < 1000 && !holds(); ++i) std::this_thread::sleep_for(std::chrono::milliseconds(10));
    return holds();
}

/// A stand-in that sends this conversation; gives its port.
int serve(const Capture& capture, standin::StreamPace pace) {
    auto port = std::make_shared<std::atomic<int>>(0);
    std::thread([capture, pace, port] {
        (void)standin::serve_logic([&capture] { return standin::LogicStream(capture); }, 0, pace,
                                   [&port](int p) { *port = p; });
    }).detach();
    EXPECT_TRUE(within_ten_seconds([&] { return *port > 0; }));
    return *port;
}

TEST(LiveRecording, AStreamIsReadWithoutLossToItsEnd) {
    const auto spoken = standin::speak("latch-shift", {.seed = 8, .words = 400});
    const double length = spoken.capture.extent.length().seconds();
    const double seconds = 40 * length;
    const int port = serve(spoken.capture, {.speed = seconds / 0.5, .seconds = seconds});
    test::TempFolder folder;
    auto started = Recording::start("port " + std::to_string(port), {}, folder / "copy.vcd");
    ASSERT_TRUE(started) << test::message(started);
    auto& r = **started;
    ASSERT_TRUE(within_ten_seconds([&] { return r.state().phase != State::Phase::running; }));
    const auto s = r.state();
    EXPECT_EQ(s.phase, State::Phase::ended) << s.why;
    // What was sent is known: the stream made once more, as far as it went.
    standin::LogicStream again(spoken.capture);
    std::string sent = again.definitions();
    again.changes(Time::from_seconds(seconds), sent);
    EXPECT_EQ(s.edges, again.edges());
    // The copy holds the bytes as they came.
    EXPECT_EQ(test::read_file(folder / "copy.vcd").substr(0, sent.size()), sent);
    Progress progress;
    const auto copy = read_vcd(test::read_file(folder / "copy.vcd"), "copy", progress);
    ASSERT_TRUE(copy) << test::message(copy);
    const auto whole = r.take();
    EXPECT_EQ(whole.edge_count(), copy->edge_count());
    EXPECT_EQ(whole.extent, copy->extent);
}

TEST(LiveRecording, AFileThatGrowsIsFollowedUntilItIsStopped) {
    test::TempFolder folder;
    const auto path = folder / "growing.vcd";
    const auto spoken = standin::speak("clocked", {.seed = 3, .words = 300});
    const double seconds = spoken.capture.extent.length().seconds();
    std::thread writer([&] {
        EXPECT_TRUE(standin::write_logic(standin::LogicStream(spoken.capture), path,
                                         {.speed = seconds / 0.3, .seconds = seconds}));
    });
    ASSERT_TRUE(within_ten_seconds([&] { return std::filesystem::exists(path); }));
    auto started = Recording::start(path.string(), {}, {});
    ASSERT_TRUE(started) << test::message(started);
    writer.join();
    auto& r = **started;
    ASSERT_TRUE(within_ten_seconds([&] { return r.state().bytes == std::filesystem::file_size(path); }));
    EXPECT_EQ(r.state().phase, State::Phase::running) << "a file has no end of its own";
    const auto last = r.last(Time::ms(1));
    EXPECT_LE(last.extent.length(), Time::ms(1));
    r.stop();
    EXPECT_EQ(r.state().edges, spoken.capture.edge_count());
    EXPECT_EQ(r.take().edge_count(), spoken.capture.edge_count());
}

TEST(LiveRecording, AFileThatShrinksVanishesOrBreaks) {
    test::TempFolder folder;
    const auto path = folder / "shrinks.vcd";
    const std::string head =
        "$timescale 1 ns $end\n$var wire 1 ! a $end\n$enddefinitions $end\n#0\n0!\n#10\n1!\n#20\n";
    test::write_file(path, head);
    auto started = Recording::start(path.string(), {}, {});
    ASSERT_TRUE(started);
    ASSERT_TRUE(within_ten_seconds([&] { return (*started)->state().edges == 1; }));
    test::write_file(path, "short");
    ASSERT_TRUE(within_ten_seconds([&] { return (*started)->state().phase == State::Phase::failed; }));
    EXPECT_THAT((*started)->state().why, testing::HasSubstr("shorter"));
    EXPECT_EQ((*started)->take().edge_count(), 1U) << "what came so far is kept";
    // A file that is removed goes on being read: the descriptor still holds it.
    const auto other = folder / "goes.vcd";
    test::write_file(other, head);
    auto gone = Recording::start(other.string(), {}, {});
    ASSERT_TRUE(gone);
    std::filesystem::remove(other);
    std::this_thread::sleep_for(std::chrono::milliseconds(80));
    EXPECT_EQ((*gone)->state().phase, State::Phase::running);
    test::write_file(path, head + "#30\nwhat is this\n#40\n");
    auto broken = Recording::start(path.string(), {}, {});
    ASSERT_TRUE(broken);
    ASSERT_TRUE(within_ten_seconds([&] { return (*broken)->state().phase == State::Phase::failed; }));
    EXPECT_THAT((*broken)->state().why, testing::HasSubstr("shrinks.vcd:10"));
}

TEST(LiveRecording, ConditionsStopIt) {
    const auto spoken = standin::speak("latch-shift", {.seed = 8, .words = 400});
    const double length = spoken.capture.extent.length().seconds();
    StopWhen when;
    when.edges = 2000;
    const int port = serve(spoken.capture, {.speed = length, .seconds = 0});
    auto r = Recording::start("localhost:" + std::to_string(port), when, {});
    ASSERT_TRUE(r) << test::message(r);
    ASSERT_TRUE(within_ten_seconds([&] { return (*r)->state().phase == State::Phase::reached; }));
    EXPECT_GE((*r)->state().edges, 2000U);
    when.edges.reset();
    when.found = FindQuery{};
    when.found->levels = {{"NOBODY", true}};
    auto wrong = Recording::start("127.0.0.1:" + std::to_string(port), when, {});
    ASSERT_TRUE(wrong);
    ASSERT_TRUE(within_ten_seconds([&] { return (*wrong)->state().phase == State::Phase::failed; }));
    EXPECT_THAT((*wrong)->state().why, testing::HasSubstr("NOBODY"));
}

TEST(LiveRecording, WhatCannotBeOpenedIsRefused) {
    test::TempFolder folder;
    for (const std::string& source :
         {std::string("port 1"), (folder / "missing").string(), folder.path().string(),
          std::string("port 99999"), std::string("/dev/null")}) {
        const auto r = Recording::start(source, {}, {});
        ASSERT_FALSE(r) << source;
        EXPECT_FALSE(r.error().message().empty());
    }
    test::write_file(folder / "a.vcd", "");
    EXPECT_FALSE(Recording::start((folder / "a.vcd").string(), {}, folder / "no" / "such" / "folder.vcd"));
}

}  // namespace
}  // namespace grayrelic
