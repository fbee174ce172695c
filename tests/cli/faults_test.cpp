// SPDX-License-Identifier: GPL-3.0-or-later
// Disks that are full, names that would steer a terminal, files that say two things at once or nothing at
// great length, and clients that never speak: one message each, and nothing of a person's is harmed.
#include <arpa/inet.h>
#include <gmock/gmock.h>
#include <netinet/in.h>
#include <sys/socket.h>
#include <unistd.h>

#include <csignal>
#include <thread>

#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using test::run;
using testing::HasSubstr;
using testing::Not;

class Faulty : public testing::Test {
  protected:
    [[nodiscard]] std::string path(const std::string& name) const { return (folder / name).string(); }
    std::string dossier(const std::string& name, const std::string& text) {
        std::filesystem::create_directories(folder / name);
        test::write_file(folder / name / "dossier.json", text);
        return path(name);
    }
    test::TempFolder folder;
};

const std::string dump =
    "$timescale 1us $end $var wire 1 ! a $end $enddefinitions $end\n#0 0!\n#5 1!\n#9 0!\n";

TEST_F(Faulty, NothingIsLeftOfWhatFoundNoRoom) {
    // No file may grow at all: what a full disk does to the first byte.
    const std::string full = "ulimit -f 0; " GRAY_RELIC_CLI;
    auto a = run("new " + path("q.relic") + " --name q", full);
    EXPECT_EQ(a.status, 3);
    EXPECT_FALSE(std::filesystem::exists(folder / "q.relic"));
    test::write_file(folder / "grows.vcd", dump);
    a = run("capture follow " + path("grows.vcd") + " --edges 50 --out " + path("kept.vcd"), full);
    EXPECT_EQ(a.status, 3);
    EXPECT_FALSE(std::filesystem::exists(folder / "kept.vcd"));
    a = run("report " + test::demo + " " + path("report.html"), "ulimit -f 1; " GRAY_RELIC_CLI);
    EXPECT_EQ(a.status, 3);
    EXPECT_TRUE(std::filesystem::is_empty(folder / ".") || !std::filesystem::exists(folder / "report.html"));
    EXPECT_FALSE(std::filesystem::exists(folder / "report.html.part"));
}

TEST_F(Faulty, AFollowerThatFailsLaterSaysWhy) {
    test::write_file(folder / "bad.vcd", dump + "rubbish\n#20 1!\n");
    const auto a = run("capture follow " + path("bad.vcd") + " --edges 500");
    EXPECT_EQ(a.status, 3);
    EXPECT_THAT(a.err, HasSubstr("rubbish"));
}

TEST_F(Faulty, NamesDoNotSteerTheTerminal) {
    const std::string name = "red\x1b[31m\x07.vcd";
    test::write_file(folder / name, "no dump");
    const auto quoted = "'" + path(name) + "'";
    auto a = run("capture info " + quoted);
    EXPECT_EQ(a.status, 3);
    EXPECT_THAT(a.err, Not(HasSubstr("\x1b")));
    EXPECT_THAT(a.err, HasSubstr("red\\x1B[31m\\x07.vcd"));
    test::write_file(folder / name,
                     "$timescale 1us $end $var wire 1 ! a\x1b[2J $end $enddefinitions $end\n#0 0!\n#5 1!\n");
    a = run("capture info " + quoted);
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_THAT(a.out, Not(HasSubstr("\x1b")));
    // Two bytes that a terminal takes for the start of a command as well: U+009B.
    test::write_file(folder / "\xC2\x9B.vcd", "no dump");
    EXPECT_THAT(run("capture info '" + path("\xC2\x9B.vcd") + "'").err, Not(HasSubstr("\xC2\x9B")));
}

TEST_F(Faulty, ANameGivenTwiceIsRefusedWithItsLine) {
    for (const char* twice : {"\"purpose\"", "\"p\\u0075rpose\""}) {
        const auto d = dossier("twice.relic",
                               "{\"format\": \"gray-relic-dossier\", \"version\": 2, \"name\": \"x\",\n"
                               "\"purpose\": \"first\",\n\"revision\": 1,\n" +
                                   std::string(twice) + ": \"second\"}");
        const auto a = run("check " + d);
        EXPECT_EQ(a.status, 3);
        EXPECT_THAT(a.err, HasSubstr("dossier.json:4: found the name \"purpose\" for a second time"));
    }
    // The same name in two objects, and as a value, is none.
    const auto d =
        dossier("once.relic", R"({"format": "gray-relic-dossier", "version": 2, "name": "name", "revision": 1,
        "ports": [{"id": "id", "name": "id"}, {"id": "b", "name": "id"}]})");
    EXPECT_EQ(run("check " + d).status, 0) << run("check " + d).err;
}

TEST_F(Faulty, EmptyListsByTheMillionAreRefusedBeforeTheyTakeMemory) {
    if (test::takes_all_addresses) GTEST_SKIP() << "the sanitizer's own addresses are many";
    std::string text =
        R"({"format": "gray-relic-dossier", "version": 2, "name": "x", "revision": 1, "extra": [)";
    for (int i = 0; i < 20'000'000; ++i) text += "[],";
    text += "[]]}";
    ASSERT_LT(text.size(), 64U << 20U);
    const auto d = dossier("lists.relic", text);
    const auto a = run("check " + d, "ulimit -v 700000; " GRAY_RELIC_CLI);
    EXPECT_EQ(a.status, 3);
    EXPECT_THAT(a.err, HasSubstr("more than 4000000 values"));
}

TEST_F(Faulty, EachCauseHasItsOwnSentence) {
    test::write_file(folder / "file", "x");
    EXPECT_THAT(run("new " + path("file") + " --name x").err,
                HasSubstr("found a file, expected a new or empty folder"));
    const auto scans = [&](const std::string& scan) {
        return dossier("scans.relic",
                       R"({"format": "gray-relic-dossier", "version": 2, "name": "x", "revision": 1,
            "trace": {"scans": [)" +
                           scan + "]}}");
    };
    const std::string references =
        R"("references": [{"x_px": 1, "y_px": 1, "x_mm": 0, "y_mm": 0}, {"x_px": 90, "y_px": 1, "x_mm": 9, "y_mm": 0}])";
    auto d = scans(R"({"id": "f", "title": "front", "file": "scans/none.png", "side": "front", )" +
                   references + "}");
    auto a = run("trace scan " + d);
    EXPECT_EQ(a.status, 3);
    EXPECT_THAT(a.err, HasSubstr("no such file"));
    std::filesystem::create_directories(folder / "scans.relic/scans");
    test::write_file(folder / "scans.relic/scans/none.png", "\x89PNG\r\n\x1a\n and then nothing of the kind");
    a = run("trace scan " + d);
    EXPECT_EQ(a.status, 3);
    EXPECT_THAT(a.err, HasSubstr("none.png"));
    EXPECT_EQ(std::count(a.err.begin(), a.err.end(), '\n'), 1) << a.err;  // and no line of the decoder's own
    d = scans(R"({"id": "b", "title": "back", "file": "scans/none.png", "side": "back", )" + references +
              "}");
    EXPECT_THAT(run("trace scan " + d).err, HasSubstr("found no scan of the front"));
}

TEST_F(Faulty, NamesInLongChainsLeadToTheirPoint) {
    std::string names;
    constexpr int many = 99'999;  // a dossier takes one more
    for (int i = 0; i < many; ++i)
        names += (i == 0 ? "" : ",") + std::string(R"({"name": "n)") + std::to_string(i) +
                 R"(", "point": ")" + (i + 1 == many ? "U1.1" : "n" + std::to_string(i + 1)) + "\"}";
    const auto with = [&](const std::string& more) {
        return dossier("chain.relic",
                       R"({"format": "gray-relic-dossier", "version": 2, "name": "x", "revision": 1,
            "trace": {"aliases": [)" +
                           names + more +
                           R"(]}, "readings": [{"a": "n0", "b": "U2.1", "reading": "beep"}]})");
    };
    const auto a = run("trace nets " + with("") + " --json");
    ASSERT_EQ(a.status, 0) << a.err;
    EXPECT_THAT(a.out, HasSubstr("U1.1"));
    EXPECT_THAT(run("check " + with(R"(,{"name": "U1.1", "point": "n50000"})")).out,
                HasSubstr("leads back to itself"));
}

TEST_F(Faulty, AnIdleClientHoldsUpNobody) {
    const auto command = std::string(GRAY_RELIC_STANDIN) + " logic --kind clocked --speed 5 >" +
                         path("port") + " 2>&1 & echo $! >" + path("pid");
    ASSERT_EQ(std::system(command.c_str()), 0);
    for (int i = 0; i < 500 && test::read_file(folder / "port").find('\n') == std::string::npos; ++i)
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
    const auto port = std::atoi(test::read_file(folder / "port").c_str());
    ASSERT_GT(port, 0);
    const int idle = ::socket(AF_INET, SOCK_STREAM, 0);
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    address.sin_port = htons(static_cast<std::uint16_t>(port));
    ASSERT_EQ(::connect(idle, reinterpret_cast<sockaddr*>(&address), sizeof address), 0);
    // It reads nothing, and the program that sends is held up by it; another is served all the same.
    const auto a = run("capture follow 'port " + std::to_string(port) + "' --edges 300 --json",
                       "timeout 60 " GRAY_RELIC_CLI);
    EXPECT_EQ(a.status, 0) << a.err;
    ::close(idle);
    ::kill(std::atoi(test::read_file(folder / "pid").c_str()), SIGTERM);
}

}  // namespace
}  // namespace grayrelic
