// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli wire parts: keys, states, statuses.
#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using test::keys;
using test::run;
using testing::HasSubstr;

class WireParts : public testing::Test {
  protected:
    /// A dossier of two boards with these parts, as JSON.
    std::string dossier(const std::string& parts) {
        const auto path = folder / "job.relic";
        std::filesystem::create_directories(path);
        test::write_file(path / "dossier.json",
                         R"({"format": "gray-relic-dossier", "version": 2, "name": "Job",
            "supply": {"boards": 2, "parts": [)" +
                             parts + "]}}");
        return path.string();
    }
    std::string drawer(const std::string& text, const std::string& name = "drawer.csv") {
        test::write_file(folder / name, text);
        return " --drawer " + (folder / name).string();
    }
    test::TempFolder folder;
};

TEST_F(WireParts, TheKeysAndTheArithmetic) {
    const auto job = dossier(R"({"id": "plug", "part": "plug", "refs": ["P1"], "yield": {"value": 0.8}},
                                {"id": "b", "part": "bare board", "per_board": 1, "question": "which files?"})");
    const auto a = run("wire parts " + job + drawer("part,count\nplug,1\n") + " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    EXPECT_EQ(j["boards"], 2);
    const auto& plug = j["lines"][0];
    for (const auto* key : {"part", "refs", "need", "spare", "drawer", "order", "state"})
        EXPECT_TRUE(plug.contains(key)) << key;
    // 2 needed; of 4 at 0.8 two are good with 0.9728; 2 + 2 − 1 = 3.
    EXPECT_EQ(plug["need"], 2);
    EXPECT_EQ(plug["spare"], 2);
    EXPECT_EQ(plug["drawer"], 1);
    EXPECT_EQ(plug["order"], 3);
    EXPECT_EQ(plug["state"], "order");
    EXPECT_EQ(plug["refs"], nlohmann::json({"P1"}));
    EXPECT_EQ(j["lines"][1]["state"], "undecided");
    EXPECT_EQ(j["lines"][1]["question"], "which files?");
    const auto text = run("wire parts " + job).out;
    EXPECT_THAT(text, HasSubstr("do not order yet: which files?"));
}

TEST_F(WireParts, TheStatusesOfBadAnswersAndBadInput) {
    EXPECT_EQ(run("wire parts " + dossier("")).status, 1) << "no parts";
    const auto gone = dossier(R"({"id": "a", "part": "a", "per_board": 1, "not_to_be_had": "looked in May",
                                  "alternates": ["b"]})");
    EXPECT_EQ(run("wire parts " + gone + drawer("part,count\nb,1\n")).status, 1);
    EXPECT_EQ(run("wire parts " + gone + drawer("part,count\nb,2\n")).status, 0) << "the alternate is there";
    EXPECT_EQ(run("wire parts " + gone + drawer("part,count\na,2\n")).status, 0) << "it is there itself";
    const auto broken = run("wire parts " + gone + drawer("part,count\na,-2\n"));
    EXPECT_EQ(broken.status, 3);
    EXPECT_THAT(broken.err, HasSubstr("drawer.csv:2"));
    const auto json =
        run("wire parts " + gone +
            drawer("{\"format\": \"gray-relic-drawer\",\n\"version\": 1, \"parts\": 3}", "drawer.json"));
    EXPECT_EQ(json.status, 3);
    EXPECT_THAT(json.err, HasSubstr("drawer.json:2"));
    EXPECT_EQ(run("wire parts " + (folder / "none").string()).status, 3);
    EXPECT_EQ(run("wire parts").status, 2);
}

TEST_F(WireParts, TheListAsATable) {
    const auto job = dossier(R"({"id": "plug", "part": "plug", "per_board": 2})");
    const auto out = (folder / "parts.csv").string();
    EXPECT_EQ(run("wire parts " + job + " --csv " + out).status, 0);
    EXPECT_THAT(test::read_file(out), HasSubstr("plug,other,,2,"));
    const auto over = run("wire parts " + job + " --csv " + job + "/dossier.json");
    EXPECT_EQ(over.status, 2) << "evidence is never written over";
}

TEST_F(WireParts, TheDemoBringsItsNetwork) {
    const auto own = (test::source_folder() / "demos/person/gray-relic/drawer.json").string();
    const auto j = run("wire parts " + test::demo + " --drawer " + own + " --json").json();
    EXPECT_EQ(j["lines"][1]["part"], "74x165 hct");
    // Three registers a board on two boards, two in the drawer.
    EXPECT_EQ(j["lines"][1]["need"], 6);
    EXPECT_EQ(j["lines"][1]["order"], 4);
    EXPECT_EQ(j["lines"][0]["state"], "drawer");
}

}  // namespace
}  // namespace grayrelic
