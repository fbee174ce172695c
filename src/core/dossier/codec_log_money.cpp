// SPDX-License-Identifier: GPL-3.0-or-later
// Log's money, release and user's card in dossier.json.
#include "core/dossier/codec_log.hpp"
#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

constexpr std::size_t most_lines = 5'000;
constexpr double most_spent = 1e9, most_hours = 1e6;
constexpr int largest_batch = 1'000'000;

CostLine read_cost(JsonNode& n) {
    CostLine c;
    c.id = read_id(n, "id");
    c.kind = read_word_or(n, "kind", CostKind::other);
    c.per = read_word_or(n, "per", CostPer::once);
    c.says = n.text_or("says");
    c.money = figure_in(n.required("money"), 0, most_spent);
    c.day = read_day(n, "day");
    return c;
}
Json cost_json(const CostLine& c) {
    Json j = {{"id", c.id}, {"kind", word(c.kind)}, {"per", word(c.per)}, {"money", c.money}};
    add_text(j, "says", c.says);
    add_text(j, "day", c.day);
    return j;
}
HoursSpent read_hours(JsonNode& n) {
    return {read_id(n, "task"), figure_in(n.required("hours"), 0, most_hours), read_day(n, "day"),
            n.text_or("note")};
}
Json hours_json(const HoursSpent& h) {
    Json j = {{"task", h.task}, {"hours", h.hours}};
    add_text(j, "day", h.day);
    add_text(j, "note", h.note);
    return j;
}
std::optional<double> spent(JsonNode& n, const char* key, double most) {
    const auto child = n.member(key);
    return child ? std::optional(figure_in(*child, 0, most)) : std::nullopt;
}
std::optional<double> money_value(const JsonNode& n) {
    return figure_in(n, 0, most_spent);
}
void add_money_fact(Json& j, const char* key, const Fact<std::optional<double>>& fact) {
    add_fact(j, key, fact, fact.value ? Json(*fact.value) : Json());
}

Economics money_members(JsonNode& n) {
    Economics e;
    e.costs = read_bounded<CostLine>(n, "costs", most_lines, read_cost, &CostLine::id);
    e.hours = read_bounded<HoursSpent>(n, "hours", most_lines, read_hours);
    if (const auto batch = n.member("batch")) e.batch = static_cast<int>(batch->whole(1, largest_batch));
    e.hours_each = spent(n, "hours_each", most_hours);
    e.hour_worth = spent(n, "hour_worth", most_spent);
    e.price = spent(n, "price", most_spent);
    e.original = read_fact<std::optional<double>>(n, "original", money_value);
    e.ready_made = read_fact<std::optional<double>>(n, "ready_made", money_value);
    return e;
}

SourceRight read_right(JsonNode& n) {
    return {n.text_or("what"), n.text_or("who"), n.text_or("licence")};
}
Json right_json(const SourceRight& r) {
    Json j = {{"what", r.what}};
    add_text(j, "who", r.who);
    add_text(j, "licence", r.licence);
    return j;
}
PublishedFile read_published(JsonNode& n) {
    return {read_inner_file(n), n.text_or("says")};
}
Json published_json(const PublishedFile& f) {
    Json j = {{"file", f.file}};
    add_text(j, "says", f.says);
    return j;
}
Release release_members(JsonNode& n) {
    Release r;
    r.version = n.text_or("version");
    r.day = read_day(n, "day");
    r.rights = read_bounded<SourceRight>(n, "rights", most_lines, read_right);
    r.files = read_bounded<PublishedFile>(n, "files", most_lines, read_published, &PublishedFile::file);
    r.private_words = read_texts(n, "private_words");
    return r;
}

UserCardLine read_card_line(JsonNode& n) {
    return {read_word_or(n, "kind", CardKind::step), n.text_or("when"), n.text_or("means")};
}
Json card_line_json(const UserCardLine& l) {
    Json j = {{"kind", word(l.kind)}};
    add_text(j, "when", l.when);
    add_text(j, "means", l.means);
    return j;
}

}  // namespace

std::string read_sha256(JsonNode& n, const char* key) {
    constexpr std::size_t digits = 64;
    const auto child = n.member(key);
    if (!child) return {};
    auto sum = child->text(digits * 2);
    const bool hexadecimal = sum.find_first_not_of("0123456789abcdef") == std::string::npos;
    if (!sum.empty() && (sum.size() != digits || !hexadecimal))
        child->fault(in_quotes(sum),
                     "64 hexadecimal digits in small letters for " + print_path(child->path()));
    return sum;
}

Economics read_money(const JsonNode& n) {
    return read_record<Economics>(n, money_members);
}

Json money_json(const Economics& money) {
    return record(money, [](const Economics& e) {
        Json j = Json::object();
        if (!e.costs.empty()) j["costs"] = list_of(e.costs, cost_json);
        if (!e.hours.empty()) j["hours"] = list_of(e.hours, hours_json);
        if (e.batch != 1) j["batch"] = e.batch;
        if (e.hours_each) j["hours_each"] = *e.hours_each;
        if (e.hour_worth) j["hour_worth"] = *e.hour_worth;
        if (e.price) j["price"] = *e.price;
        add_money_fact(j, "original", e.original);
        add_money_fact(j, "ready_made", e.ready_made);
        return j;
    });
}

Release read_release(const JsonNode& n) {
    return read_record<Release>(n, release_members);
}

Json release_json(const Release& release) {
    return record(release, [](const Release& r) {
        Json j = Json::object();
        add_text(j, "version", r.version);
        add_text(j, "day", r.day);
        if (!r.rights.empty()) j["rights"] = list_of(r.rights, right_json);
        if (!r.files.empty()) j["files"] = list_of(r.files, published_json);
        if (!r.private_words.empty()) j["private_words"] = r.private_words;
        return j;
    });
}

std::vector<UserCardLine> read_user_card(JsonNode& parent, const char* key) {
    return read_bounded<UserCardLine>(parent, key, most_lines, read_card_line);
}

Json user_card_json(const std::vector<UserCardLine>& card) {
    return list_of(card, card_line_json);
}

}  // namespace grayrelic::dossier_codec
