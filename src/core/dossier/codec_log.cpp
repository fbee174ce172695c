// SPDX-License-Identifier: GPL-3.0-or-later
// Log's section in dossier.json: trials, what works with what, complaints, revisions, images.
#include <algorithm>

#include "core/dossier/codec_log.hpp"
#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

constexpr std::size_t most_log = 5'000, most_factors = 60;
constexpr double most_figure = 1e15, most_seconds = 1e9;
constexpr int highest_revision = 10'000;

std::optional<double> log_figure(JsonNode& n, const char* key, double least = -most_figure,
                                 double most = most_figure) {
    const auto child = n.member(key);
    return child ? std::optional(figure_in(*child, least, most)) : std::nullopt;
}

void add_log_figure(Json& j, const char* key, const std::optional<double>& value) {
    if (value) j[key] = *value;
}

std::optional<int> revision(JsonNode& n, const char* key) {
    const auto child = n.member(key);
    return child ? std::optional(static_cast<int>(child->whole(0, highest_revision))) : std::nullopt;
}

template <class T, class Write>
void add_records(Json& j, const char* key, const std::vector<T>& list, Write write) {
    if (!list.empty()) j[key] = list_of(list, write);
}

TrialFactor read_factor(JsonNode& n) {
    return {read_id(n, "name"), read_id(n, "value")};
}
Json factor_json(const TrialFactor& f) {
    return {{"name", f.name}, {"value", f.value}};
}
TrialReading read_trial_reading(JsonNode& n) {
    return {n.text_or("what"), n.text_or("value")};
}
Json trial_reading_json(const TrialReading& r) {
    return {{"what", r.what}, {"value", r.value}};
}

TrialRun read_trial(JsonNode& n) {
    TrialRun t;
    t.id = read_id(n, "id");
    t.day = read_day(n, "day");
    t.unit = n.text_or("unit");
    t.image = n.text_or("image");
    t.setup = read_bounded<TrialFactor>(n, "setup", most_factors, read_factor, &TrialFactor::name);
    t.outcome = read_word_or(n, "outcome", TrialOutcome::not_said);
    t.degree_of = n.text_or("degree_of");
    t.degree = log_figure(n, "degree");
    t.expected = log_figure(n, "expected");
    t.plus_minus = log_figure(n, "plus_minus", 0);
    t.repeats = read_word_or(n, "repeats", Repeats::not_said);
    t.beside = n.text_or("beside");
    t.ran_s = log_figure(n, "ran_s", 0, most_seconds);
    t.ahead_s = log_figure(n, "ahead_s", -most_seconds, most_seconds);
    t.readings = read_bounded<TrialReading>(n, "readings", most_factors, read_trial_reading);
    t.note = n.text_or("note");
    return t;
}

Json trial_json(const TrialRun& t) {
    Json j = {{"id", t.id}};
    add_text(j, "day", t.day);
    add_text(j, "unit", t.unit);
    add_text(j, "image", t.image);
    add_records(j, "setup", t.setup, factor_json);
    if (t.outcome != TrialOutcome::not_said) j["outcome"] = word(t.outcome);
    add_text(j, "degree_of", t.degree_of);
    add_log_figure(j, "degree", t.degree);
    add_log_figure(j, "expected", t.expected);
    add_log_figure(j, "plus_minus", t.plus_minus);
    if (t.repeats != Repeats::not_said) j["repeats"] = word(t.repeats);
    add_text(j, "beside", t.beside);
    add_log_figure(j, "ran_s", t.ran_s);
    add_log_figure(j, "ahead_s", t.ahead_s);
    add_records(j, "readings", t.readings, trial_reading_json);
    add_text(j, "note", t.note);
    return j;
}

CoverSaid read_cover_said(JsonNode& n) {
    return {read_word_or(n, "outcome", TrialOutcome::not_said), n.text_or("source"), read_day(n, "day"),
            n.text_or("unit"), n.text_or("note")};
}
Json cover_said_json(const CoverSaid& s) {
    Json j = {{"outcome", word(s.outcome)}};
    add_text(j, "source", s.source);
    add_text(j, "day", s.day);
    add_text(j, "unit", s.unit);
    add_text(j, "note", s.note);
    return j;
}
CoverItem read_item(JsonNode& n) {
    CoverItem i;
    i.id = read_id(n, "id");
    i.kind = read_word_or(n, "kind", CoverKind::title);
    i.name = n.text_or("name");
    i.uses = read_texts(n, "uses");
    i.spares = read_texts(n, "spares");
    i.said = read_bounded<CoverSaid>(n, "said", most_log, read_cover_said);
    i.figures = read_bounded<NumberFact>(n, "figures", most_factors, read_number_fact, &NumberFact::key);
    return i;
}
Json item_json(const CoverItem& i) {
    Json j = {{"id", i.id}, {"kind", word(i.kind)}};
    add_text(j, "name", i.name);
    if (!i.uses.empty()) j["uses"] = i.uses;
    if (!i.spares.empty()) j["spares"] = i.spares;
    add_records(j, "said", i.said, cover_said_json);
    add_records(j, "figures", i.figures, number_json);
    return j;
}

Complaint read_complaint(JsonNode& n) {
    Complaint c;
    c.id = read_id(n, "id");
    c.kind = read_word_or(n, "kind", ComplaintKind::complaint);
    c.says = n.text_or("says");
    c.day = read_day(n, "day");
    c.unit = n.text_or("unit");
    c.found_in = revision(n, "found_in");
    c.cause = n.text_or("cause");
    c.change = n.text_or("change");
    c.changed_in = revision(n, "changed_in");
    c.check = n.text_or("check");
    c.closed = read_fact<std::string>(n, "closed", plain_text);
    return c;
}
Json complaint_json(const Complaint& c) {
    Json j = {{"id", c.id}, {"kind", word(c.kind)}};
    add_text(j, "says", c.says);
    add_text(j, "day", c.day);
    add_text(j, "unit", c.unit);
    if (c.found_in) j["found_in"] = *c.found_in;
    add_text(j, "cause", c.cause);
    add_text(j, "change", c.change);
    if (c.changed_in) j["changed_in"] = *c.changed_in;
    add_text(j, "check", c.check);
    add_fact(j, "closed", c.closed);
    return j;
}

Bodge read_bodge(JsonNode& n) {
    Bodge b;
    b.id = read_id(n, "id");
    b.unit = n.text_or("unit");
    b.what = n.text_or("what");
    b.day = read_day(n, "day");
    b.carried = n.text_or("carried");
    b.left_out = n.text_or("left_out");
    return b;
}
Json bodge_json(const Bodge& b) {
    Json j = {{"id", b.id}};
    add_text(j, "unit", b.unit);
    add_text(j, "what", b.what);
    add_text(j, "day", b.day);
    add_text(j, "carried", b.carried);
    add_text(j, "left_out", b.left_out);
    return j;
}

RevisionNote read_revision(JsonNode& n) {
    RevisionNote r;
    r.id = read_id(n, "id");
    r.board = n.text_or("board");
    r.day = read_day(n, "day");
    r.says = n.text_or("says");
    return r;
}
Json revision_json(const RevisionNote& r) {
    Json j = {{"id", r.id}};
    add_text(j, "board", r.board);
    add_text(j, "day", r.day);
    add_text(j, "says", r.says);
    return j;
}

WeighedWay read_weighed(JsonNode& n) {
    return {read_id(n, "name"), n.text_or("for"), n.text_or("against")};
}
Json weighed_json(const WeighedWay& w) {
    Json j = {{"name", w.name}};
    add_text(j, "for", w.for_it);
    add_text(j, "against", w.against);
    return j;
}
LoggedDecision read_decision(JsonNode& n) {
    LoggedDecision d;
    d.id = read_id(n, "id");
    d.says = n.text_or("says");
    d.day = read_day(n, "day");
    d.chosen = n.text_or("chosen");
    d.why = n.text_or("why");
    d.ways = read_bounded<WeighedWay>(n, "ways", most_factors, read_weighed, &WeighedWay::name);
    return d;
}
Json decision_json(const LoggedDecision& d) {
    Json j = {{"id", d.id}};
    add_text(j, "says", d.says);
    add_text(j, "day", d.day);
    add_text(j, "chosen", d.chosen);
    add_text(j, "why", d.why);
    add_records(j, "ways", d.ways, weighed_json);
    return j;
}

ImageFile read_image(JsonNode& n) {
    ImageFile i;
    i.id = read_id(n, "id");
    i.name = n.text_or("name");
    i.version = n.text_or("version");
    if (n.member("file")) i.file = read_inner_file(n);
    i.sha256 = read_sha256(n, "sha256");
    i.built_with = n.text_or("built_with");
    i.source = n.text_or("source");
    i.day = read_day(n, "day");
    i.note = n.text_or("note");
    return i;
}
Json image_json(const ImageFile& i) {
    Json j = {{"id", i.id}};
    add_text(j, "name", i.name);
    add_text(j, "version", i.version);
    add_text(j, "file", i.file);
    add_text(j, "sha256", i.sha256);
    add_text(j, "built_with", i.built_with);
    add_text(j, "source", i.source);
    add_text(j, "day", i.day);
    add_text(j, "note", i.note);
    return j;
}
ImageRun read_run(JsonNode& n) {
    return {read_id(n, "image"), n.text_or("unit"), read_day(n, "day")};
}
Json run_json(const ImageRun& r) {
    Json j = {{"image", r.image}};
    add_text(j, "unit", r.unit);
    add_text(j, "day", r.day);
    return j;
}
UnitPlace read_unit_place(JsonNode& n) {
    return {read_id(n, "unit"), n.text_or("where"), read_day(n, "day"), n.text_or("note")};
}
Json unit_place_json(const UnitPlace& p) {
    Json j = {{"unit", p.unit}};
    add_text(j, "where", p.where);
    add_text(j, "day", p.day);
    add_text(j, "note", p.note);
    return j;
}

JobLog read_log(JsonNode& n) {
    JobLog l;
    l.trials = read_bounded<TrialRun>(n, "trials", most_log, read_trial, &TrialRun::id);
    l.items = read_bounded<CoverItem>(n, "items", most_log, read_item, &CoverItem::id);
    l.complaints = read_bounded<Complaint>(n, "complaints", most_log, read_complaint, &Complaint::id);
    l.bodges = read_bounded<Bodge>(n, "bodges", most_log, read_bodge, &Bodge::id);
    l.revisions = read_bounded<RevisionNote>(n, "revisions", most_log, read_revision, &RevisionNote::id);
    l.decisions = read_bounded<LoggedDecision>(n, "decisions", most_log, read_decision, &LoggedDecision::id);
    l.images = read_bounded<ImageFile>(n, "images", most_log, read_image, &ImageFile::id);
    l.runs = read_bounded<ImageRun>(n, "runs", most_log, read_run);
    l.places = read_bounded<UnitPlace>(n, "places", most_log, read_unit_place);
    if (const auto money = n.member("money")) l.money = read_money(*money);
    if (const auto release = n.member("release")) l.release = read_release(*release);
    l.card = read_user_card(n, "card");
    return l;
}

Json log_json(const JobLog& l) {
    Json j = Json::object();
    add_records(j, "trials", l.trials, trial_json);
    add_records(j, "items", l.items, item_json);
    add_records(j, "complaints", l.complaints, complaint_json);
    add_records(j, "bodges", l.bodges, bodge_json);
    add_records(j, "revisions", l.revisions, revision_json);
    add_records(j, "decisions", l.decisions, decision_json);
    add_records(j, "images", l.images, image_json);
    add_records(j, "runs", l.runs, run_json);
    add_records(j, "places", l.places, unit_place_json);
    if (!(l.money == Economics{})) j["money"] = money_json(l.money);
    if (!(l.release == Release{})) j["release"] = release_json(l.release);
    if (!l.card.empty()) j["card"] = user_card_json(l.card);
    return j;
}

}  // namespace

const SectionCodec log = codec_of<&Dossier::log>(
    "log", [](JsonNode n, Dossier& d) { d.log = Section(read_record<JobLog>(n, read_log)); },
    [](const Dossier& d) { return *d.log == JobLog{} ? Json() : record(*d.log, log_json); });

}  // namespace grayrelic::dossier_codec
