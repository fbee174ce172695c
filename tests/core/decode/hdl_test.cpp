// SPDX-License-Identifier: GPL-3.0-or-later
// Circuits of each family written in a hardware description language and run by a general simulator
// (tests/data/ hdl): what each model says it sent is what the decoder must read, and identification must name
// it first.
#include <gmock/gmock.h>

#include <set>
#include <sstream>

#include "core/capture/capture_file.hpp"
#include "core/decode/identify.hpp"
#include "standin/spoken.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

struct Model {
    const char* file;
    const char* kind;
    RoleMap roles;
};
const std::vector<Model>& models() {
    static const std::vector<Model> all = {
        {"async", "async-serial", {{"data", {"line"}}}},
        {"pad", "latch-shift", {{"latch", {"latch"}}, {"clock", {"clk"}}, {"data", {"data"}}}},
        {"select_bank",
         "select-bank",
         {{"select", {"sel"}}, {"enable", {"en"}}, {"data", {"y[3]", "y[2]", "y[1]", "y[0]"}}}},
        {"pulse_width", "pulse-width", {{"data", {"wired"}}}},
        {"framed_clock", "framed-clock", {{"clock", {"clk"}}, {"data", {"data"}}}},
        {"clocked", "clocked", {{"clock", {"sck"}}, {"data", {"so"}}, {"select", {"cs"}}}},
        {"quadrature", "quadrature", {{"a", {"a"}}, {"b", {"b"}}}},
        {"strobed_bus",
         "strobed-bus",
         {{"strobe", {"stb"}}, {"data", {"d[7]", "d[6]", "d[5]", "d[4]", "d[3]", "d[2]", "d[1]", "d[0]"}}}},
        {"usb", "usb-low-full", {{"plus", {"dp"}}, {"minus", {"dm"}}}},
        {"matrix",
         "matrix",
         {{"strobe", {"s[0]", "s[1]", "s[2]", "s[3]"}}, {"sense", {"k[0]", "k[1]", "k[2]"}}}}};
    return all;
}

Capture read_model(const std::string& name) {
    Progress progress;
    return read_capture_file(test::source_folder() / "tests/data/hdl" / (name + ".vcd"), progress).value();
}

Decoding decoded(const Model& m) {
    Progress progress;
    auto d = find_decoder(m.kind).value()->decode(read_model(m.file), m.roles, {}, progress);
    EXPECT_TRUE(d) << d.error().message();
    return std::move(*d);
}

const Model& model(std::string_view file) {
    for (const auto& m : models())
        if (file == m.file) return m;
    throw std::logic_error("no such model");
}

/// The lines of the model's own record, as words.
std::vector<std::vector<std::string>> record(const std::string& name) {
    std::istringstream in(test::read_file(test::source_folder() / "tests/data/hdl" / (name + ".txt")));
    std::vector<std::vector<std::string>> out;
    for (std::string line; std::getline(in, line);) {
        std::istringstream words(line);
        out.emplace_back();
        for (std::string w; words >> w;) out.back().push_back(w);
    }
    return out;
}

TEST(HdlModels, PlainValuesAreReadBack) {
    for (const char* name : {"async", "framed_clock", "clocked", "strobed_bus"}) {
        const auto d = decoded(model(name));
        const auto said = record(name);
        ASSERT_EQ(d.frames.size(), said.size()) << name;
        for (std::size_t i = 0; i < said.size(); ++i) {
            EXPECT_EQ(d.frames[i].value, std::stoull(said[i][0])) << name << " frame " << i;
            EXPECT_TRUE(d.frames[i].errors.empty())
                << name << " frame " << i << ": " << d.frames[i].errors.front();
        }
    }
}

TEST(HdlModels, TheAsyncLineIsUnderstoodWithoutBeingTold) {
    const auto d = decoded(model("async"));
    // 6 MHz / 448; the model's bit of 74,667 ns is 13,392.797 Bd.
    EXPECT_NEAR(std::get<double>(d.settings.at("baud")), 1e9 / 74667, 0.05);
    EXPECT_EQ(std::get<std::string>(d.settings.at("parity")), "odd");
    EXPECT_EQ(std::get<long long>(d.settings.at("bits")), 8);
    EXPECT_EQ(std::get<std::string>(d.settings.at("invert")), "yes");
    EXPECT_EQ(std::get<double>(d.settings.at("stop")), 1.0);
}

TEST(HdlModels, BanksSidesAndScans) {
    auto d = decoded(model("select_bank"));
    auto said = record("select_bank");
    ASSERT_EQ(d.frames.size(), said.size());
    for (std::size_t i = 0; i < said.size(); ++i) {
        EXPECT_EQ(std::get<long long>(d.frames[i].extra.at("bank")), std::stoll(said[i][0]));
        EXPECT_EQ(d.frames[i].value, std::stoull(said[i][1])) << i;
    }
    d = decoded(model("pulse_width"));
    said = record("pulse_width");
    ASSERT_EQ(d.frames.size(), said.size());
    for (std::size_t i = 0; i < said.size(); ++i) {
        EXPECT_EQ(std::get<long long>(d.frames[i].extra.at("side")), std::stoll(said[i][0])) << i;
        EXPECT_EQ(d.frames[i].value, std::stoull(said[i][1])) << i;
    }
    d = decoded(model("matrix"));
    said = record("matrix");
    ASSERT_EQ(d.frames.size(), said.size());
    bool ghosts = false;
    for (std::size_t i = 0; i < said.size(); ++i) {
        EXPECT_EQ(d.frames[i].levels, said[i][0]) << i;
        const auto& closed =
            std::get<std::vector<std::pair<std::string, std::string>>>(d.frames[i].extra.at("closed"));
        EXPECT_EQ(closed.size(),
                  static_cast<std::size_t>(std::count(said[i][0].begin(), said[i][0].end(), '0')))
            << i;
        ghosts = ghosts || std::get<bool>(d.frames[i].extra.at("ghost_possible"));
    }
    EXPECT_FALSE(ghosts) << "the model never closes a rectangle";
}

TEST(HdlModels, TheWheelTurnsAsFarAsItWasTurned) {
    const auto d = decoded(model("quadrature"));
    const auto said = record("quadrature");
    EXPECT_EQ(d.counts.at("forward"), std::stol(said[0][0]));
    EXPECT_EQ(d.counts.at("backward"), std::stol(said[0][1]));
    EXPECT_EQ(d.counts.at("position"), std::stol(said[0][2]));
    EXPECT_EQ(d.counts.at("illegal"), 0);
}

TEST(HdlModels, PacketsChecksAndTheReset) {
    const auto d = decoded(model("usb"));
    const auto said = record("usb");
    ASSERT_EQ(d.frames.size(), said.size() + 1);
    EXPECT_EQ(std::get<std::string>(d.frames[0].extra.at("pid")), "RESET");
    EXPECT_EQ(d.counts.at("resets"), 1);
    for (std::size_t i = 0; i < said.size(); ++i) {
        const auto& f = d.frames[i + 1];
        EXPECT_EQ(f.value, std::stoull(said[i][0])) << i;
        EXPECT_TRUE(f.errors.empty()) << i << ": " << f.errors.front();
        std::string data;
        for (std::size_t k = 1; k < said[i].size(); ++k) data += (data.empty() ? "" : " ") + said[i][k];
        if (!data.empty()) {
            EXPECT_EQ(std::get<std::string>(f.extra.at("data")), data);
        }
        if (f.value == 0x69) {
            EXPECT_EQ(std::get<long long>(f.extra.at("address")), 3);
            EXPECT_EQ(std::get<long long>(f.extra.at("endpoint")), 1);
        }
    }
}

TEST(HdlModels, EachIsIdentifiedFirstAloneAndInCompany) {
    for (const auto& m : models())
        for (const bool company : {false, true}) {
            auto c = read_model(m.file);
            // Only wires: a model's inner numbers are no signals.
            std::vector<std::string> wires;
            std::set<std::string> named;
            for (const auto& [role, names] : m.roles)
                for (const auto& n : names) wires.push_back((*c.find(n))->name);
            if (company)
                for (std::uint64_t k = 0; k < 4; ++k) {
                    auto w = standin::chatter("stray" + std::to_string(k), 70 + k, c.extent.to,
                                              c.extent.length() / static_cast<std::int64_t>(300 + 500 * k));
                    c.signals.push_back(w.signal());
                    wires.push_back(c.signals.back().name);
                }
            IdentifyOptions o;
            o.signals = wires;
            Progress progress;
            const auto list = identify(c, o, progress).value();
            std::string shown;
            for (const auto& x : list) shown += x.kind + " " + std::to_string(x.score) + "; ";
            ASSERT_FALSE(list.empty()) << m.file;
            EXPECT_EQ(list[0].kind, m.kind) << m.file << (company ? " in company: " : ": ") << shown;
            EXPECT_GE(list[0].score, least_fit) << m.file;
        }
}

}  // namespace
}  // namespace grayrelic
