// SPDX-License-Identifier: GPL-3.0-or-later
// Descriptors against the bytes of the class definition (HID 1.11, appendices B.1, E.6 and E.10) and against
// bytes worked out by hand; read back against descriptors built from a model that knows what they mean.
#include "core/input/descriptor.hpp"

#include <fmt/format.h>

#include <random>

#include "core/input/descriptor_read.hpp"
#include "core/input/hex_text.hpp"
#include "core/input/reports.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

std::string hex_of(const char* profile) {
    return print_hex(descriptor_of(parse_profile(profile).value()));
}

TEST(Descriptor, TheBootKeyboardIsThatOfAppendixB1) {
    EXPECT_EQ(hex_of("keyboard"),
              "05 01 09 06 A1 01 05 07 19 E0 29 E7 15 00 25 01 75 01 95 08 81 02 95 01 75 08 81 01 "
              "95 05 75 01 05 08 19 01 29 05 91 02 95 01 75 03 91 01 "
              "95 06 75 08 15 00 25 65 05 07 19 00 29 65 81 00 C0");
}

TEST(Descriptor, ThePointerOfThreeButtonsIsThatOfAppendixE10) {
    EXPECT_EQ(
        hex_of("pointer:buttons=3,wheel=0"),
        "05 01 09 02 A1 01 09 01 A1 00 05 09 19 01 29 03 15 00 25 01 95 03 75 01 81 02 95 01 75 05 81 01 "
        "05 01 09 30 09 31 15 81 25 7F 75 08 95 02 81 06 C0 C0");
}

TEST(Descriptor, APadWorkedOutByHand) {
    // 10 buttons and 6 bits of padding; a hat of 0 to 7 as 0 to 315 degrees (unit 14: degrees), null state; 4
    // bits of padding with the physical range and unit taken back; three axes of −127 (81) to 127 (7F).
    EXPECT_EQ(
        hex_of("pad:buttons=10,hat=1,axes=3"),
        "05 01 09 05 A1 01 05 09 19 01 29 0A 15 00 25 01 95 0A 75 01 81 02 95 01 75 06 81 01 "
        "05 01 09 39 15 00 25 07 35 00 46 3B 01 65 14 95 01 75 04 81 42 35 00 45 00 65 00 95 01 75 04 81 01 "
        "05 01 09 30 09 31 09 32 15 81 25 7F 75 08 95 03 81 02 C0");
}

TEST(Descriptor, ReportBytesAreWhatTheDescriptorAddsUpTo) {
    for (int buttons = 0; buttons <= 40; ++buttons)
        for (int hat = 0; hat <= 1; ++hat)
            for (int axes = 0; axes <= 8; ++axes) {
                if (buttons + hat + axes == 0) continue;
                const auto p =
                    parse_profile(fmt::format("pad:buttons={},hat={},axes={}", buttons, hat, axes)).value();
                const auto d = read_descriptor(descriptor_of(p));
                ASSERT_TRUE(d.problems.empty()) << d.problems.front();
                ASSERT_EQ(d.reports.size(), 1U);
                // Worked out here: whole bytes of buttons, a byte with the hat, a byte an axis.
                EXPECT_EQ(d.reports[0].bits, 8U * static_cast<unsigned>((buttons + 7) / 8 + hat + axes));
                EXPECT_EQ(report_bytes(p) * 8, d.reports[0].bits);
            }
    for (int buttons = 1; buttons <= 16; ++buttons)
        for (int wheel = 0; wheel <= 1; ++wheel) {
            const auto p = parse_profile(fmt::format("pointer:buttons={},wheel={}", buttons, wheel)).value();
            const auto d = read_descriptor(descriptor_of(p));
            EXPECT_TRUE(d.problems.empty());
            EXPECT_EQ(d.reports.at(0).bits, 8U * static_cast<unsigned>((buttons + 7) / 8 + 2 + wheel));
            EXPECT_EQ(report_bytes(p) * 8, d.reports[0].bits);
        }
}

TEST(Descriptor, TheKeyboardsFieldsAreReadAsTheStandardSaysThem) {
    const auto d = read_descriptor(descriptor_of({}));
    ASSERT_TRUE(d.problems.empty());
    ASSERT_EQ(d.reports.size(), 2U);
    const auto& in = d.reports[0];
    EXPECT_EQ(in.kind, ReportKind::input);
    EXPECT_EQ(in.bits, 64U);
    ASSERT_EQ(in.fields.size(), 2U);
    EXPECT_EQ(in.fields[0].bit, 0U);
    EXPECT_EQ(in.fields[0].count, 8U);
    EXPECT_EQ(in.fields[0].usages.front(), (Usage{7, 0xE0}));
    EXPECT_EQ(in.fields[0].usages.back(), (Usage{7, 0xE7}));
    EXPECT_EQ(in.fields[1].bit, 16U);
    EXPECT_FALSE(in.fields[1].variable);
    EXPECT_EQ(in.fields[1].usages.size(), 0x66U);
    EXPECT_EQ(d.reports[1].kind, ReportKind::output);
    EXPECT_EQ(d.reports[1].bits, 8U);
}

struct WrongBytes {
    const char* name;
    const char* hex;
    const char* says;
};
void PrintTo(const WrongBytes& w, std::ostream* out) {
    *out << w.name;
}
class DescriptorProblems : public testing::TestWithParam<WrongBytes> {};
TEST_P(DescriptorProblems, AreSaid) {
    const auto d = read_descriptor(read_hex(GetParam().hex, "t").value());
    EXPECT_THAT(d.problems, testing::Contains(testing::HasSubstr(GetParam().says)));
}
constexpr const char* inside = "05 01 09 06 A1 01 ";
INSTANTIATE_TEST_SUITE_P(
    All, DescriptorProblems,
    testing::Values(
        WrongBytes{"Truncated", "05 01 09 06 A1 01 75 08 95 01 81",
                   "at 10: item 81 needs 1 bytes of data, 0 left"},
        WrongBytes{"TruncatedLong", "05 01 26 FF", "needs 2 bytes of data, 1 left"},
        WrongBytes{"Open", "05 01 09 06 A1 01", "a collection is still open"},
        WrongBytes{"NeverBegan", "05 01 C0", "a collection ends that none began"},
        WrongBytes{"PopWithoutPush", "B4", "none pushed"},
        WrongBytes{"PushedForEver", "A4", "never taken back"},
        WrongBytes{"MinAboveMax", "05 01 09 06 A1 01 15 05 25 01 09 30 75 08 95 01 81 02 C0",
                   "maximum 1 below the minimum 5"},
        WrongBytes{"SignOfTheUpperBit", "05 01 09 06 A1 01 15 00 25 FF 09 30 75 08 95 01 81 02 C0",
                   "255 has its upper bit set"},
        WrongBytes{"UsageRange", "05 07 09 06 A1 01 19 20 29 10 15 00 25 01 75 01 95 08 81 02 C0",
                   "minimum above its maximum"},
        WrongBytes{"HalfARange", "05 07 09 06 A1 01 19 20 15 00 25 01 75 01 95 08 81 02 C0",
                   "without its maximum"},
        WrongBytes{"NoUsage", "05 01 09 06 A1 01 15 00 25 01 75 01 95 08 81 02 C0", "without usage"},
        WrongBytes{"NoPage", "09 06 A1 01 09 30 15 00 25 01 75 01 95 08 81 02 C0", "without any usage page"},
        WrongBytes{"TooNarrow", "05 01 09 06 A1 01 09 30 15 00 25 10 75 04 95 01 81 02 C0",
                   "0 to 16 does not fit into 4 bits"},
        WrongBytes{"TooWide", "05 01 09 06 A1 01 09 30 15 00 25 10 75 28 95 01 81 02 C0",
                   "a value of 40 bits"},
        WrongBytes{"IdZero", "05 01 09 06 A1 01 85 00 C0", "report id 0"},
        WrongBytes{"SomeWithoutId",
                   "05 01 09 06 A1 01 09 30 15 00 25 01 75 08 95 01 81 02 85 02 09 31 81 02 C0",
                   "has no id, others have one"},
        WrongBytes{"Reserved", "05 01 09 06 A1 01 F0 C0", "reserved"},
        WrongBytes{"Outside", "05 01 09 30 15 00 25 01 75 08 95 01 81 02", "outside of any collection"},
        WrongBytes{"SizeZero", "05 01 09 06 A1 01 09 30 15 00 25 01 75 00 95 01 81 02 C0",
                   "a size of 0 bits"},
        WrongBytes{"Huge", "05 01 09 06 A1 01 09 30 15 00 25 01 75 20 97 FF FF FF 0F 81 03 C0",
                   "more than 65,535 bytes"}),
    [](const auto& one) { return std::string(one.param.name); });

TEST(DescriptorRead, CollectionsWithoutEndStopAtABound) {
    std::vector<std::uint8_t> bytes;
    for (int i = 0; i < 30'000; ++i) {
        bytes.push_back(0xA1);
        bytes.push_back(0x01);
    }
    const auto d = read_descriptor(bytes);
    EXPECT_THAT(d.problems, testing::Contains(testing::HasSubstr("more than 64 deep")));
    EXPECT_LT(d.items.size(), 100U);
}

TEST(DescriptorRead, UsagesAreBoundedWhateverTheRangesSay) {
    // 40 fields that each name 65,536 usages.
    std::string hex = "05 09 09 01 A1 01 15 00 26 FF 7F 75 10 95 01";
    for (int i = 0; i < 40; ++i) hex += " 19 00 2A FF FF 81 00";
    const auto d = read_descriptor(read_hex(hex + " C0", "t").value());
    std::size_t usages = 0;
    for (const auto& f : d.reports.at(0).fields) usages += f.usages.size();
    EXPECT_LE(usages, 65'536U);
    EXPECT_THAT(d.problems, testing::Contains(testing::HasSubstr("65,536 usages")));
}

// A model of reports, and the bytes that say it: written from the class definition, in every order and size
// that it allows. What is expected comes from the model.
struct ModelField {
    std::vector<Usage> usages;
    unsigned size = 1, count = 1;
    long long low = 0, high = 1;
    bool constant = false, variable = true, relative = false, null_state = false;
};

class ModelWriter {
  public:
    explicit ModelWriter(unsigned seed) : random_(seed) {}

    std::vector<std::uint8_t> bytes;
    std::map<std::pair<int, int>, std::vector<std::pair<ModelField, std::size_t>>>
        expected;  // kind, id; field, bit
    std::map<std::pair<int, int>, std::size_t> bits;

    void write() {
        const bool ids = pick(2) == 1;
        item(0x04, 1);
        item(0x08, 4);
        item(0xA0, 1);
        const auto fields = 1 + pick(8);
        for (unsigned i = 0; i < fields; ++i) {
            const int id = ids ? static_cast<int>(1 + pick(3)) : 0;
            const int kind = static_cast<int>(pick(3));
            if (ids) item(0x84, static_cast<std::uint32_t>(id));
            if (pick(4) == 0) item(0xA0, 2), ++open_;
            field(kind, id);
            if (open_ > 0 && pick(2) == 0) bytes.push_back(0xC0), --open_;
        }
        for (; open_ > 0; --open_) bytes.push_back(0xC0);
        bytes.push_back(0xC0);
    }

  private:
    unsigned pick(unsigned n) { return std::uniform_int_distribution<unsigned>(0, n - 1)(random_); }

    /// In the least size that holds it, or a larger one.
    void item(unsigned tag, std::uint32_t value, bool widen = true) {
        unsigned size = value <= 0xFF ? 1 : value <= 0xFFFF ? 2 : 4;
        if (widen && pick(5) == 0) size = size == 1 ? 2 : 4;
        put(tag, value, size);
    }
    void signed_item(unsigned tag, long long value) {
        const unsigned size = value >= -128 && value <= 127 ? 1 : value >= -32768 && value <= 32767 ? 2 : 4;
        put(tag, static_cast<std::uint32_t>(value), pick(4) == 0 ? 4 : size);
    }
    void put(unsigned tag, std::uint32_t value, unsigned size) {
        bytes.push_back(static_cast<std::uint8_t>(tag | (size == 4 ? 3U : size)));
        for (unsigned i = 0; i < size; ++i) bytes.push_back(static_cast<std::uint8_t>(value >> (8 * i)));
    }

    void field(int kind, int id) {
        ModelField f;
        f.constant = pick(5) == 0;
        f.variable = pick(3) != 0;
        f.relative = f.variable && pick(3) == 0;
        f.null_state = f.variable && pick(4) == 0;
        f.size = 1 + pick(16);
        f.count = 1 + pick(6);
        const auto most = (1LL << f.size) - 1;
        const bool negative = f.variable && f.size > 1 && pick(3) == 0;
        f.low = negative ? -(1LL << (f.size - 1)) : 0;
        f.high = negative ? (1LL << (f.size - 1)) - 1 : most;
        const auto page = static_cast<std::uint16_t>(1 + pick(12));
        usages(f, page);
        // The page may stand behind the usages: the one declared last before the main item counts (6.2.2.8).
        signed_item(0x14, f.low);
        signed_item(0x24, f.high);
        if (pick(3) == 0) {
            // What is pushed comes back, whatever stands between.
            item(0x74, f.size);
            item(0x94, f.count);
            put(0xA4, 0, 0);
            item(0x74, 1 + pick(30));
            item(0x94, 1 + pick(30));
            put(0xB4, 0, 0);
        } else {
            item(0x94, f.count);
            item(0x74, f.size);
        }
        const unsigned data = (f.constant ? 1U : 0U) | (f.variable ? 2U : 0U) | (f.relative ? 4U : 0U) |
                              (f.null_state ? 0x40U : 0U);
        static constexpr unsigned tags[] = {0x80, 0x90, 0xB0};
        item(tags[kind], data);
        auto& at = bits[{kind, id}];
        if (!f.constant) expected[{kind, id}].emplace_back(f, at);
        at += std::size_t{f.size} * f.count;
    }

    void usages(ModelField& f, std::uint16_t page) {
        const auto first = static_cast<std::uint16_t>(1 + pick(200));
        const unsigned wanted = f.variable ? f.count : 1 + pick(20);
        const auto way = pick(3);
        const bool late = pick(3) == 0;
        if (!late) item(0x04, page);
        if (way == 0) {
            item(0x18, first);
            item(0x28, first + wanted - 1);
            for (unsigned i = 0; i < wanted; ++i)
                f.usages.push_back({page, static_cast<std::uint16_t>(first + i)});
        } else {
            for (unsigned i = 0; i < wanted; ++i) {
                const auto id = static_cast<std::uint16_t>(1 + pick(300));
                // Four bytes bring a page of their own.
                const bool own = way == 2 && pick(2) == 0;
                const auto of = own ? static_cast<std::uint16_t>(1 + pick(12)) : page;
                if (own)
                    put(0x08, static_cast<std::uint32_t>(of) << 16U | id, 4);
                else
                    put(0x08, id, id <= 0xFF ? 1 : 2);
                f.usages.push_back({of, id});
            }
        }
        if (late) item(0x04, page);
    }

    std::mt19937 random_;
    int open_ = 0;
};

TEST(DescriptorRead, FourHundredThatNobodyRehearsedAreReadAsTheirModelSays) {
    int right = 0;
    for (unsigned seed = 1; seed <= 400; ++seed) {
        ModelWriter model(seed);
        model.write();
        const auto d = read_descriptor(model.bytes);
        SCOPED_TRACE(fmt::format("seed {}: {}", seed, print_hex(model.bytes)));
        EXPECT_TRUE(d.problems.empty()) << (d.problems.empty() ? "" : d.problems.front());
        bool same = d.reports.size() == model.bits.size();
        EXPECT_TRUE(same);
        for (const auto& r : d.reports) {
            const std::pair key{static_cast<int>(r.kind), r.id};
            EXPECT_EQ(r.bits, model.bits[key]);
            const auto& fields = model.expected[key];
            ASSERT_EQ(r.fields.size(), fields.size());
            for (std::size_t i = 0; i < fields.size(); ++i) {
                const auto& [f, bit] = fields[i];
                EXPECT_EQ(r.fields[i].usages, f.usages);
                EXPECT_EQ(r.fields[i].bit, bit);
                EXPECT_EQ(r.fields[i].size_bits, f.size);
                EXPECT_EQ(r.fields[i].count, f.count);
                EXPECT_EQ(r.fields[i].logical_min, f.low);
                EXPECT_EQ(r.fields[i].logical_max, f.high);
                EXPECT_EQ(r.fields[i].variable, f.variable);
                EXPECT_EQ(r.fields[i].relative, f.relative);
                EXPECT_EQ(r.fields[i].null_state, f.null_state);
            }
        }
        right += same ? 1 : 0;
    }
    EXPECT_EQ(right, 400);
}

TEST(Profile, WrongOnesAreRefusedInWords) {
    for (const auto* text :
         {"", "mouse", "pad:buttons=129", "pad:buttons=-1", "pad:hat=2", "pad:axes=9", "pointer:buttons=0",
          "pad:buttons=0,hat=0,axes=0", "keyboard:keys=3", "pad:wheel=1", "pad:buttons", "pointer:wheel=yes"})
        EXPECT_FALSE(parse_profile(text)) << text;
    for (const auto* text : {"keyboard", "media", "pad:buttons=8,hat=1,axes=2", "pointer:buttons=3,wheel=1"})
        EXPECT_EQ(print_profile(parse_profile(text).value()), text);
}

TEST(HexText, IsTakenAsPeopleWriteIt) {
    const std::vector<std::uint8_t> want{0x05, 0x01, 0xA1};
    for (const auto* text :
         {"05 01 A1", "0501a1", "0x05, 0x01, 0xA1", "{0x05,0x01,0xa1};", "05h 01h A1h", "\\x05\\x01\\xA1",
          "0000: 05 01 A1  |...|", "05 01 // page\nA1", "05 /* page */ 01\n# the rest\nA1", "0x5 0x1 0xA1",
          "const uint8_t d[] = {\n 0x05, 0x01,\n 0xA1\n};", "\"05 01 A1\"", "[0x05, 0x01, 0xA1]"})
        EXPECT_EQ(read_hex(text, "t").value_or(std::vector<std::uint8_t>{}), want) << text;
}

TEST(HexText, WhatIsNoByteIsToldWithItsLine) {
    EXPECT_EQ(test::message(read_hex("05 01\n0G", "t")),
              "t:2: found \"0G\", expected bytes in hexadecimal such as \"05 01\"");
    EXPECT_EQ(test::message(read_hex("05 1", "t")),
              "t:1: found \"1\", expected two hexadecimal digits a byte");
    EXPECT_EQ(test::message(read_hex("0x0501", "t")),
              "t:1: found \"0x0501\", expected one byte such as 0x05");
    EXPECT_EQ(test::message(read_hex("", "t")),
              "t:1: found no byte, expected bytes in hexadecimal such as \"05 01\"");
    EXPECT_THAT(test::message(read_hex(std::string(100, '0'), "t", 10)),
                testing::HasSubstr("more than 10 bytes"));
}

}  // namespace
}  // namespace grayrelic
