// SPDX-License-Identifier: GPL-3.0-or-later
// Log in dossier.json: all of it comes back, what a newer version adds is kept, and what is wrong is named
// with its line.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <random>

#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

const std::string sum_of_nothing = "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855";

std::string with_log(const std::string& log) {
    return R"({"format": "gray-relic-dossier", "version": 2, "name": "Job", "ports": [], "captures": [],
 "log": )" +
           log + "\n}";
}

const std::string whole_log = R"({
  "trials": [{"id": "t", "day": "2026-11-02", "unit": "u", "image": "i", "setup": [{"name": "host", "value": "a", "later": 1}],
              "outcome": "partly", "degree_of": "%", "degree": 3.5, "expected": 1, "plus_minus": 0.5, "repeats": "no",
              "beside": "s", "ran_s": 60, "ahead_s": -0.5, "readings": [{"what": "w", "value": "v", "later": 2}], "note": "n",
              "later": 3}],
  "items": [{"id": "x", "kind": "device", "name": "X", "uses": ["f"], "spares": ["g"],
             "said": [{"outcome": "fails", "source": "s", "day": "2026-11-03", "unit": "u", "note": "n", "later": 4}],
             "figures": [{"key": "current", "value": 0.1, "evidence": "measured"}], "later": 5}],
  "complaints": [{"id": "c", "kind": "open-item", "says": "s", "day": "2026-11-04", "unit": "u", "found_in": 1, "cause": "c",
                  "change": "d", "changed_in": 2, "check": "e",
                  "closed": {"value": "seen", "evidence": "measured", "date": "2026-11-05"}, "later": 6}],
  "bodges": [{"id": "b", "unit": "u", "what": "w", "day": "2026-11-06", "carried": "c", "left_out": "l", "later": 7}],
  "revisions": [{"id": "2", "board": "m", "day": "2026-11-07", "says": "s", "later": 8}],
  "decisions": [{"id": "d", "says": "s", "day": "2026-11-08", "chosen": "c", "why": "w",
                 "ways": [{"name": "n", "for": "f", "against": "a", "later": 9}], "later": 10}],
  "images": [{"id": "i", "name": "fw", "version": "1", "file": "images/fw.bin",
              "sha256": "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855", "built_with": "b", "source": "s",
              "day": "2026-11-09", "note": "n", "later": 11}],
  "runs": [{"image": "i", "unit": "u", "day": "2026-11-10", "later": 12}],
  "places": [{"unit": "u", "where": "w", "day": "2026-11-11", "note": "n", "later": 13}],
  "money": {"costs": [{"id": "k", "kind": "boards", "per": "batch", "money": 9.5, "says": "s", "day": "2026-11-12", "later": 14}],
            "hours": [{"task": "t", "hours": 2.5, "day": "2026-11-13", "note": "n", "later": 15}], "batch": 5, "hours_each": 1.5,
            "hour_worth": 20, "price": 39, "original": {"value": 85, "evidence": "documented"},
            "ready_made": {"value": 50, "evidence": "assumed"}, "later": 16},
  "release": {"version": "1", "day": "2026-11-14", "rights": [{"what": "w", "who": "o", "licence": "l", "later": 17}],
              "files": [{"file": "a/b.txt", "says": "s", "later": 18}], "private_words": ["p"], "later": 19},
  "card": [{"kind": "press", "when": "w", "means": "m", "later": 20}], "later": 21})";

TEST(LogJson, AllOfItComesBack) {
    const auto d = dossier_from_json(with_log(whole_log), "d.json");
    ASSERT_TRUE(d) << d.error().message();
    const auto& log = *d->log;
    const auto& t = log.trials.front();
    EXPECT_EQ(*t.find_factor("host"), "a");
    EXPECT_EQ(t.outcome, TrialOutcome::partly);
    EXPECT_EQ(t.degree, 3.5);
    EXPECT_EQ(t.repeats, Repeats::no);
    EXPECT_EQ(t.ahead_s, -0.5);
    EXPECT_EQ(log.items.front().said.front().source, "s");
    EXPECT_EQ(log.items.front().figures.front().value.value, 0.1);
    EXPECT_TRUE(log.complaints.front().is_closed());
    EXPECT_EQ(log.bodges.front().left_out, "l");
    EXPECT_EQ(log.decisions.front().ways.front().against, "a");
    EXPECT_EQ(log.images.front().sha256, sum_of_nothing);
    EXPECT_EQ(log.money.original.value, 85);
    EXPECT_EQ(log.money.costs.front().per, CostPer::batch);
    EXPECT_EQ(log.release.private_words, std::vector<std::string>{"p"});
    EXPECT_EQ(log.card.front().kind, CardKind::press);
    const auto text = dossier_to_json(*d);
    for (int i = 1; i <= 21; ++i)
        EXPECT_THAT(text, HasSubstr("\"later\": " + std::to_string(i))) << "kept for a newer version";
    EXPECT_EQ(*dossier_from_json(text, "again.json"), *d);
}

TEST(LogJson, AnEmptyLogIsNotWritten) {
    const auto d = dossier_from_json(with_log("{}"), "d.json");
    ASSERT_TRUE(d);
    EXPECT_THAT(dossier_to_json(*d), testing::Not(HasSubstr("\"log\"")));
}

TEST(LogJson, WhatIsWrongIsNamedWithItsLine) {
    const auto message = [](const std::string& log) {
        const auto d = dossier_from_json(with_log(log), "d.json");
        return d ? std::string("taken") : d.error().message();
    };
    // Everything stands in line 2 of the file.
    const std::vector<std::pair<std::string, std::string>> wrong{
        {R"({"trials": [{"id": ""}]})", "an empty text"},
        {R"({"trials": [{"id": "a"}, {"id": "a"}]})", "\"a\" a second time"},
        {R"({"trials": [{"id": "a", "outcome": "perhaps"}]})", "not-said, works, partly or fails"},
        {R"({"trials": [{"id": "a", "day": "soon"}]})", "a day such as"},
        {R"({"trials": [{"id": "a", "setup": [{"name": "h", "value": "1"}, {"name": "h", "value": "2"}]}]})",
         "a second time"},
        {R"({"trials": [{"id": "a", "setup": [{"name": "h", "value": ""}]}]})", "an empty text"},
        {R"({"trials": [{"id": "a", "ran_s": -1}]})", "a number from 0"},
        {R"({"trials": [{"id": "a", "degree": 1e300}]})", "a number from"},
        {R"({"items": [{"id": "a", "kind": "thing"}]})", "title, key, device or mode"},
        {R"({"complaints": [{"id": "a", "found_in": -1}]})", "found_in"},
        {R"({"images": [{"id": "a", "file": "../x"}]})", "a path inside the dossier's folder"},
        {R"({"images": [{"id": "a", "file": "/x"}]})", "a path inside the dossier's folder"},
        {R"({"images": [{"id": "a", "sha256": "abc"}]})", "64 hexadecimal digits"},
        {R"({"release": {"files": [{"file": "a\\b"}]}})", "a path inside the dossier's folder"},
        {R"({"money": {"batch": 0}})", "batch"},
        {R"({"money": {"costs": [{"id": "a", "money": -3}]}})", "a number from 0"},
        {R"({"money": {"hours": [{"task": "a"}]}})", "hours"},
        {R"({"card": [{"kind": "song"}]})", "step, light, press, symptom or warning"},
        {R"([])", "log"}};
    for (const auto& [log, says] : wrong) {
        EXPECT_THAT(message(log), testing::StartsWith("d.json:2: found")) << log;
        EXPECT_THAT(message(log), HasSubstr(says)) << log;
    }
}

/// Logs drawn at random: whatever a log holds comes back as it was.
class RandomLog {
  public:
    explicit RandomLog(unsigned seed) : die_(seed) {}
    JobLog draw() {
        JobLog log;
        for (int i = upto(4); i > 0; --i) log.trials.push_back(trial(i));
        for (int i = upto(4); i > 0; --i) {
            CoverItem item;
            item.id = name(i);
            item.kind = one<CoverKind>();
            item.uses = {text(), text()};
            item.said.push_back({one<TrialOutcome>(), text(), day(), text(), text(), {}});
            log.items.push_back(item);
        }
        for (int i = upto(4); i > 0; --i) {
            Complaint c;
            c.id = name(i);
            c.kind = one<ComplaintKind>();
            c.says = text();
            c.cause = text();
            if (upto(1) > 0) c.found_in = upto(9);
            if (upto(1) > 0) c.closed = {text(), {}, {one<EvidenceKind>(), text(), day(), {}, text()}};
            log.complaints.push_back(c);
        }
        for (int i = upto(3); i > 0; --i) {
            CostLine c;
            c.id = name(i);
            c.kind = one<CostKind>();
            c.per = one<CostPer>();
            c.money = upto(10'000) / 100.0;
            log.money.costs.push_back(c);
            log.card.push_back({one<CardKind>(), text(), text(), {}});
            log.places.push_back({name(i), text(), day(), text(), {}});
        }
        if (upto(1) > 0) log.money.price = upto(100);
        log.money.batch = 1 + upto(20);
        return log;
    }

  private:
    TrialRun trial(int i) {
        TrialRun t;
        t.id = name(i);
        t.day = day();
        t.outcome = one<TrialOutcome>();
        t.repeats = one<Repeats>();
        for (int f = upto(3); f > 0; --f) t.setup.push_back({name(f), name(upto(3)), {}});
        if (upto(1) > 0) t.degree = upto(1000) / 8.0;
        if (upto(1) > 0) t.ran_s = upto(5000);
        t.note = text();
        return t;
    }
    int upto(int most) { return std::uniform_int_distribution<int>(0, most)(die_); }
    template <class E>
    E one() {
        return all_of<E>()[static_cast<std::size_t>(upto(static_cast<int>(words_of<E>.size()) - 1))];
    }
    static std::string name(int i) { return "n" + std::to_string(i); }
    std::string day() {
        return upto(2) == 0 ? std::string() : fmt::format("2026-{:02}-{:02}", 1 + upto(11), 1 + upto(27));
    }
    std::string text() {
        static const std::vector<std::string> texts{"",     "a",          "two words", "Ω µ −", "\"quoted\"",
                                                    "a\\b", "line\nline", "=1+1",      "\ttab"};
        return texts[static_cast<std::size_t>(upto(static_cast<int>(texts.size()) - 1))];
    }
    std::mt19937 die_;
};

TEST(LogJson, WhateverALogHoldsComesBack) {
    for (unsigned seed = 0; seed < 300; ++seed) {
        About about;
        about.name = "Job";
        const auto d = put(put(Dossier{}, about), RandomLog(seed).draw());
        const auto text = dossier_to_json(d);
        const auto back = dossier_from_json(text, "d.json");
        ASSERT_TRUE(back) << back.error().message();
        // An assumed, empty fact says nothing and is not written.
        EXPECT_EQ(dossier_to_json(*back), text) << seed;
        EXPECT_EQ(back->log->trials, d.log->trials);
        EXPECT_EQ(back->log->money, d.log->money);
        EXPECT_EQ(back->log->places, d.log->places);
    }
}

TEST(LogEdits, WhatNamedADroppedThingNoLongerDoes) {
    auto d = *dossier_from_json(with_log(whole_log), "d.json");
    EXPECT_EQ(drop<Complaint>(d, "c").log->bodges.front().carried, "");
    const auto without = drop<ImageFile>(d, "i");
    EXPECT_TRUE(without.log->runs.empty());
    EXPECT_EQ(without.log->trials.front().image, "");
    TrialRun beside;
    beside.id = "s";
    d = put(d, beside);
    EXPECT_EQ(drop<TrialRun>(d, "s").log->trials.front().beside, "");
}

}  // namespace
}  // namespace grayrelic
