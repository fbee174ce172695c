// SPDX-License-Identifier: GPL-3.0-or-later
// Sums, what is private, and what a pack leaves out.
#include <gmock/gmock.h>

#include <algorithm>
#include <filesystem>

#include "core/dossier/edits.hpp"

#include "core/record/checksum.hpp"
#include "core/record/log_analysis.hpp"
#include "core/record/privacy.hpp"
#include "core/record/release_pack.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

TEST(Sums, AreThoseOfTheStandard) {
    // FIPS 180-4, examples of SHA-256: the empty text, "abc", and the text of 448 bits.
    EXPECT_EQ(sha256_of(""), "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855");
    EXPECT_EQ(sha256_of("abc"), "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
    const std::string long_one = "abcdbcdecdefdefgefghfghighijhijkijkljklmklmnlmnomnopnopq";
    const std::string sum = "248d6a61d20638b8e5c026930c3e6039a33ce45964ff2167f6ecedd419db06c1";
    EXPECT_EQ(sha256_of(long_one), sum);
    const test::TempFolder folder;
    test::write_file(folder / "f", long_one);
    Progress progress;
    EXPECT_EQ(sha256_of_file(folder / "f", progress).value(), sum);
    EXPECT_FALSE(sha256_of_file(folder / "none", progress));
    EXPECT_FALSE(sha256_of_file(folder.path(), progress));
    progress.cancel();
    EXPECT_FALSE(sha256_of_file(folder / "f", progress));
}

std::vector<std::string> found_in(std::string_view bytes, std::vector<std::string> words = {}) {
    Progress progress;
    std::vector<std::string> out;
    for (const auto& hit : private_things(bytes, "f", {std::move(words)}, progress))
        out.push_back(std::to_string(hit.line) + " " + hit.found);
    return out;
}

TEST(Private, AddressesPathsAndWordsAreFound) {
    EXPECT_THAT(found_in("one\nask some.body+x@mail.example.org, please\n"),
                ElementsAre("2 some.body+x@mail.example.org"));
    EXPECT_THAT(found_in("file /home/jule/boards/a.zip\n"), ElementsAre("1 /home/jule/boards/a.zip"));
    EXPECT_THAT(found_in("C:\\Users\\jule\\a.zip\r\n"), ElementsAre("1 \\Users\\jule\\a.zip"));
    EXPECT_THAT(found_in("Built by JULE at the mill", {"jule", "mill"}), ElementsAre("1 JULE", "1 mill"));
    // No address, no home, no whole word, too short a word.
    EXPECT_THAT(found_in("R1@V5, 5 V @ 20 mA, x@y, a@b.c", {}), ElementsAre());
    EXPECT_THAT(found_in("see /usr/share/home and home/", {}), ElementsAre());
    EXPECT_THAT(found_in("the milliner", {"mill", "he"}), ElementsAre());
}

std::string chunk(const std::string& kind, const std::string& body) {
    std::string out;
    for (int i = 3; i >= 0; --i)
        out += static_cast<char>(body.size() >> (8 * static_cast<unsigned>(i)) & 0xFFU);
    return out + kind + body + "sums";
}

TEST(Private, PicturesTellWhatStandsBesideThem) {
    const std::string png = std::string("\x89PNG\r\n\x1a\n", 8);
    EXPECT_THAT(found_in(png + chunk("IHDR", std::string(13, '\0')) + chunk("IEND", "")), ElementsAre());
    EXPECT_THAT(found_in(png + chunk("eXIf", "data") + chunk("IEND", "")), ElementsAre("0 eXIf"));
    EXPECT_THAT(found_in(png + chunk("tEXt", std::string("Author\0jule", 11)), {"jule"}),
                ElementsAre("1 jule"));
    // A length that leads out of the file ends the look.
    EXPECT_THAT(found_in(png + std::string("\xff\xff\xff\xffIDAT", 8)), ElementsAre());
    const std::string jpeg =
        std::string("\xFF\xD8\xFF\xE1\x00\x08", 6) + "Exif" + std::string(2, '\0') + "\xFF\xDA";
    EXPECT_THAT(found_in(jpeg), ElementsAre("0 Exif"));
    EXPECT_THAT(found_in(std::string("\xFF\xD8\xFF\xE1\xFF\xFF", 6)), ElementsAre());
    const auto zip = pack({{{"inner.txt", "ask a@mail.example.org"}}, {}});
    ASSERT_TRUE(zip);
    EXPECT_THAT(found_in(*zip), ElementsAre("1 a@mail.example.org"));
    EXPECT_EQ(found_in("PK\x03\x04 broken").size(), 1U);
}

Dossier to_publish() {
    Dossier d;
    About about;
    about.name = "Adapter";
    d = put(d, about);
    ImageFile ours, theirs;
    ours.id = "ours";
    ours.file = "images/ours.bin";
    theirs.id = "theirs";
    theirs.file = "images/theirs.bin";
    d = put(put(d, ours), theirs);
    Order order;
    order.id = "o";
    order.from = "somebody's shop";
    d = put(d, order);
    JobUnit unit;
    unit.id = "u";
    unit.worth = 300;
    d = put(d, unit);
    return edit(d, &Dossier::log, [](JobLog& log) {
        log.release.version = "1";
        log.release.rights = {{"documents", "", "CC-BY-SA-4.0", {}}, {"ours", "", "GPL-3.0-or-later", {}}};
        log.places = {{"u", "with a friend", "2026-11-01", {}, {}}};
        log.money.price = 40;
    });
}

class Pack : public testing::Test {
  protected:
    Pack() {
        test::write_file(folder / "x", "");
        std::filesystem::create_directories(folder / "images");
        test::write_file(folder / "images/ours.bin", "code");
        test::write_file(folder / "images/theirs.bin", "not ours");
    }
    ReleasePack made(const Dossier& d) {
        Progress progress;
        return make_pack(d, folder.path(), {{"report.html", "<p>all</p>"}}, {}, progress).value();
    }
    static const PackedFile* file(const ReleasePack& p, const std::string& name) {
        for (const auto& f : p.folder.files)
            if (f.name == name) return &f;
        return nullptr;
    }
    static bool says(const ReleasePack& p, Verdict verdict, const std::string& text) {
        return std::any_of(p.problems.begin(), p.problems.end(), [&](const PackProblem& x) {
            return x.verdict == verdict && x.says.find(text) != std::string::npos;
        });
    }
    test::TempFolder folder;
};

TEST_F(Pack, HoldsWhatMayBePassedOnAndNothingElse) {
    const auto p = made(to_publish());
    EXPECT_TRUE(p.may_go());
    ASSERT_NE(file(p, "images/ours.bin"), nullptr);
    EXPECT_EQ(file(p, "images/theirs.bin"), nullptr);
    EXPECT_TRUE(says(p, Verdict::doubt, "\"theirs\" is left out"));
    const auto& dossier = file(p, "dossier.json")->text;
    for (const auto* secret : {"somebody's shop", "with a friend", "300", "theirs.bin", "\"price\""})
        EXPECT_THAT(dossier, testing::Not(HasSubstr(secret)));
    EXPECT_THAT(file(p, "SHA256SUMS")->text, HasSubstr(sha256_of("code") + "  images/ours.bin\n"));
    EXPECT_THAT(file(p, "README.txt")->text, HasSubstr("\"theirs\" is left out"));
}

TEST_F(Pack, IsRefusedWithoutALicence) {
    const auto d = edit(to_publish(), &Dossier::log, [](JobLog& log) { log.release.rights.clear(); });
    const auto p = made(d);
    EXPECT_FALSE(p.may_go());
    EXPECT_TRUE(says(p, Verdict::stop, "documents"));
    EXPECT_FALSE(write_pack(p, folder / "out.zip", disk()));
    EXPECT_FALSE(std::filesystem::exists(folder / "out.zip"));
}

TEST_F(Pack, IsRefusedWithSomethingPrivateOrAFileThatLeadsOut) {
    test::write_file(folder / "images/ours.bin", "built in /home/jule/x\n");
    EXPECT_TRUE(
        says(made(to_publish()), Verdict::stop, "images/ours.bin, line 1: a path in somebody's home"));
    test::write_file(folder / "images/ours.bin", "code of the Windmill");
    auto d = edit(to_publish(), &Dossier::log, [](JobLog& log) { log.release.private_words = {"windmill"}; });
    EXPECT_TRUE(says(made(d), Verdict::stop, "a word that is to stay private"));
    // A link out of the folder, a file that is gone.
    std::filesystem::remove(folder / "images/ours.bin");
    EXPECT_TRUE(says(made(to_publish()), Verdict::stop, "can't be read"));
    std::filesystem::create_symlink("/etc/hostname", folder / "images/ours.bin");
    EXPECT_TRUE(says(made(to_publish()), Verdict::stop, "a link that leads out"));
    d = edit(to_publish(), &Dossier::log, [](JobLog& log) {
        log.release.files = {
            {"a\x01"
             "b",
             "odd",
             {}}};
    });
    EXPECT_FALSE(made(d).may_go());
}

TEST_F(Pack, OfAFolderNeedsAnEmptyOne) {
    const auto p = made(to_publish());
    ASSERT_TRUE(write_pack(p, folder / "new/folder", disk()));
    EXPECT_EQ(test::read_file(folder / "new/folder/images/ours.bin"), "code");
    EXPECT_FALSE(write_pack(p, folder / "images", disk()));
    ASSERT_TRUE(write_pack(p, folder / "out.zip", disk()));
    Progress progress;
    EXPECT_EQ(read_packed(folder / "out.zip", progress)->files.size(), p.folder.files.size());
}

TEST_F(Pack, ImagesAreSummedWhereTheyLie) {
    Progress progress;
    auto d = to_publish();
    std::filesystem::remove(folder / "images/theirs.bin");
    const auto a = analyse_log(*d.log, folder.path(), progress);
    ASSERT_TRUE(a);
    EXPECT_EQ(a->sums.at("ours"), sha256_of("code"));
    EXPECT_THAT(a->problems.at("theirs"), HasSubstr("no such file"));
}

}  // namespace
}  // namespace grayrelic
