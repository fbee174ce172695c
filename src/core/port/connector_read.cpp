// SPDX-License-Identifier: GPL-3.0-or-later
// A connector's data file: contacts as points, rows, a circle or a grid; numberings by list or by rule.
#include <fmt/format.h>

#include <cmath>
#include <numbers>

#include "core/base/text.hpp"
#include "core/json/json_node.hpp"
#include "core/port/connector_library.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_contacts = 1000;
/// Row and column letters that are left out, since they are misread: edge connectors leave out four, grids
/// six.
constexpr std::string_view edge_letters = "ABCDEFHJKLMNPRSTUVWXYZ";
constexpr std::string_view grid_letters = "ABCDEFGHJKLMNPRTUVWY";

double millimetres(const JsonNode& n, double low = -1000.0, double high = 1000.0) {
    const double v = n.number();
    if (!std::isfinite(v) || v < low || v > high)
        n.fault(n.shown(), fmt::format("millimetres from {} to {} for {}", low, high, print_path(n.path())));
    return v;
}

double millimetres(JsonNode& n, const std::string& key, double otherwise) {
    const auto child = n.member(key);
    return child ? millimetres(*child) : otherwise;
}

double size_mm(JsonNode& n, const std::string& key) {
    return millimetres(n.required(key), 0.01, 1000.0);
}

/// Text that must not be empty.
std::string some_text(JsonNode& n, const std::string& key) {
    const auto child = n.required(key);
    auto text = child.text(1000);
    if (trim(text).empty()) child.fault("an empty text", "words for " + print_path(child.path()));
    return text;
}

void refuse_unknown(const JsonNode& n) {
    const auto unknown = n.unknown_member();
    if (!unknown) return;
    auto path = n.path();
    path.push_back({*unknown, 0, false});
    throw JsonFault{path, in_quotes(*unknown), "a field of the connector format"};
}

Place read_place(const JsonNode& n) {
    const auto pair = n.elements(2);
    if (pair.size() != 2) n.fault(fmt::format("{} numbers", pair.size()), "two numbers, x and y");
    return {millimetres(pair[0]), millimetres(pair[1])};
}

struct ContactForm {
    double width = 1.0;
    double height = 1.0;
    bool round = true;
};

ContactForm read_form(JsonNode n) {
    ContactForm f;
    f.round = n.member("diameter_mm").has_value();
    if (f.round) {
        f.width = f.height = size_mm(n, "diameter_mm");
    } else {
        f.width = size_mm(n, "width_mm");
        f.height = size_mm(n, "height_mm");
    }
    refuse_unknown(n);
    return f;
}

/// Everything that the reading of one file carries along.
struct ConnectorReader {
    JsonNode root;
    ConnectorSize size;
    Connector out;
    ContactForm form;
    int columns = 0;  // of a grid
    int rows = 0;

    void add(const JsonNode& where, std::string number, double x, double y) {
        if (out.contacts.size() >= most_contacts)
            where.fault("more contacts", fmt::format("at most {}", most_contacts));
        Contact c;
        c.number = std::move(number);
        c.x_mm = x;
        c.y_mm = y;
        c.width_mm = form.width;
        c.height_mm = form.height;
        c.round = form.round;
        out.contacts.push_back(std::move(c));
    }

    void points(const JsonNode& list) {
        for (auto& n : list.elements(most_contacts)) {
            n.require_object();
            add(n, n.required("number").text(16), millimetres(n.required("x_mm")),
                millimetres(n.required("y_mm")));
            auto& c = out.contacts.back();
            c.ring = n.flag("ring");
            if (const auto own = n.member("contact")) {
                const auto f = read_form(*own);
                c.width_mm = f.width;
                c.height_mm = f.height;
                c.round = f.round;
            }
            refuse_unknown(n);
        }
    }

    void in_rows(const JsonNode& list) {
        for (auto& n : list.elements(100)) {
            n.require_object();
            const auto numbers = n.required("numbers").elements(most_contacts);
            const double pitch = size_mm(n, "pitch_mm");
            const double y = millimetres(n.required("y_mm"));
            const double left =
                millimetres(n, "x_mm", 0.0) - pitch * (static_cast<double>(numbers.size()) - 1) / 2;
            for (std::size_t i = 0; i < numbers.size(); ++i)
                add(n, numbers[i].text(16), left + pitch * static_cast<double>(i), y);
            refuse_unknown(n);
        }
    }

    void on_circle(JsonNode n) {
        n.require_object();
        const double radius = size_mm(n, "diameter_mm") / 2;
        for (auto& c : n.required("contacts").elements(most_contacts)) {
            const double angle = c.required("angle_deg").number() * std::numbers::pi / 180.0;
            if (!std::isfinite(angle)) c.fault(c.shown(), "degrees");
            add(c, c.required("number").text(16), radius * std::cos(angle), radius * std::sin(angle));
            refuse_unknown(c);
        }
        refuse_unknown(n);
    }

    void in_grid(JsonNode n) {
        n.require_object();
        const auto count = [&](const char* key, int wanted) {
            const auto child = n.required(key);
            if (child.is_text()) return std::max(1, wanted);
            return static_cast<int>(child.whole(1, 100));
        };
        rows = count("rows", size.rows);
        columns = count("columns", size.columns);
        double pitch = size_mm(n, "pitch_mm");
        double row_pitch = millimetres(n, "row_pitch_mm", pitch);
        if (size.pitch_mm > 0) {
            // In most grids the rows follow the pitch; where they stand apart on their own they stay.
            if (std::abs(row_pitch - pitch) < 1e-9) row_pitch = size.pitch_mm;
            pitch = size.pitch_mm;
        }
        const auto first = n.text_or("first_column", "left");
        if (first != "left" && first != "right")
            n.required("first_column").fault(in_quotes(first), "left or right");
        for (int r = 0; r < rows; ++r)
            for (int c = 0; c < columns; ++c) {
                const double x = (c - (columns - 1) / 2.0) * pitch;
                add(n, fmt::format("{}", r * columns + c + 1), first == "left" ? x : -x,
                    ((rows - 1) / 2.0 - r) * row_pitch);
            }
        if (size.key_column > 0) {
            Outline key;
            key.role = Outline::Role::key;
            const double x = (size.key_column - 0.5 - (columns - 1) / 2.0) * pitch;
            key.middle = {first == "left" ? x : -x, 0.0};
            key.width_mm = pitch * 0.35;
            key.height_mm = (rows - 1) * row_pitch + 4.0;
            out.outlines.push_back(key);
        }
        refuse_unknown(n);
    }

    std::string by_rule(const JsonNode& where, std::string_view rule, int r, int c) const {
        const auto lettered = [](std::string_view letters, int i) {
            const int n = static_cast<int>(letters.size());
            std::string text;
            if (i >= n) text += letters[static_cast<std::size_t>(i / n - 1) % letters.size()];
            return text + letters[static_cast<std::size_t>(i % n)];
        };
        if (rule == "zigzag") return fmt::format("{}", c * rows + r + 1);
        if (rule == "rows") return fmt::format("{}", r * columns + c + 1);
        if (rule == "around")
            return fmt::format("{}", r % 2 == 0 ? r * columns + c + 1 : (r + 1) * columns - c);
        if (rule == "letters-below") return r == 0 ? fmt::format("{}", c + 1) : lettered(edge_letters, c);
        if (rule == "letter-and-number") return fmt::format("{}{}", lettered(grid_letters, r), c + 1);
        where.fault(in_quotes(rule), "zigzag, rows, around, letters-below or letter-and-number");
    }

    void numberings() {
        const auto list = root.member("numberings");
        if (!list) {
            Numbering own{"standard", "standard numbers", {}};
            std::set<std::string> seen;
            for (const auto& c : out.contacts) {
                if (!seen.insert(c.number).second)
                    root.fault("number " + in_quotes(c.number) + " twice", "each number once");
                own.numbers.push_back(c.number);
            }
            out.numberings.push_back(std::move(own));
            return;
        }
        for (auto& n : list->elements(20)) {
            n.require_object();
            Numbering numbering{some_text(n, "id"), some_text(n, "name"), {}};
            if (const auto rule = n.member("rule")) {
                if (columns == 0) rule->fault(rule->shown(), "a rule only where the contacts are a grid");
                for (int r = 0; r < rows; ++r)
                    for (int c = 0; c < columns; ++c)
                        numbering.numbers.push_back(by_rule(*rule, rule->text(64), r, c));
            } else if (const auto numbers = n.member("numbers")) {
                for (const auto& t : numbers->elements(most_contacts))
                    numbering.numbers.push_back(t.text(16));
            } else {
                for (const auto& c : out.contacts) numbering.numbers.push_back(c.number);
            }
            if (numbering.numbers.size() != out.contacts.size())
                n.fault(fmt::format("{} numbers", numbering.numbers.size()),
                        fmt::format("{}, one for each contact", out.contacts.size()));
            std::set<std::string> seen;
            for (const auto& number : numbering.numbers) {
                if (number.empty()) n.fault("an empty number", "a number for each contact");
                if (!seen.insert(number).second)
                    n.fault("number " + in_quotes(number) + " twice", "each number once");
            }
            refuse_unknown(n);
            out.numberings.push_back(std::move(numbering));
        }
        if (out.numberings.empty()) list->fault("no numbering", "at least one");
        for (std::size_t i = 0; i < out.contacts.size(); ++i)
            out.contacts[i].number = out.numberings.front().numbers[i];
    }

    void outline(JsonNode n) {
        n.require_object();
        Outline o;
        const auto role = n.required("role").text(32);
        if (role == "shell" || role == "insert" || role == "key")
            o.role = role == "shell"    ? Outline::Role::shell
                     : role == "insert" ? Outline::Role::insert
                                        : Outline::Role::key;
        else
            n.required("role").fault(in_quotes(role), "shell, insert or key");
        o.corner_mm = millimetres(n, "corner_mm", 0.0);
        if (const auto d = n.member("diameter_mm")) {
            o.form = Outline::Form::circle;
            o.width_mm = o.height_mm = millimetres(*d, 0.01);
        } else if (const auto points = n.member("points_mm")) {
            o.form = Outline::Form::polygon;
            for (const auto& p : points->elements(1000)) o.points.push_back(read_place(p));
            if (o.points.size() < 3) points->fault("too few points", "three points or more");
        } else if (const auto margin = n.member("margin_mm")) {
            const double m = 2 * millimetres(*margin, 0.0);
            double w = 0, h = 0;
            const auto middle = out.middle();
            for (const auto& c : out.contacts) {
                w = std::max(w, 2 * std::abs(c.x_mm - middle.x_mm) + c.width_mm);
                h = std::max(h, 2 * std::abs(c.y_mm - middle.y_mm) + c.height_mm);
            }
            o.middle = middle;
            o.width_mm = w + m;
            o.height_mm = h + m;
        } else {
            o.width_mm = size_mm(n, "width_mm");
            o.height_mm = size_mm(n, "height_mm");
        }
        if (const auto at = n.member("at_mm")) o.middle = read_place(*at);
        refuse_unknown(n);
        out.outlines.push_back(std::move(o));
    }

    void ways() {
        const auto list = root.member("wrong_ways");
        if (!list) return;
        for (auto& n : list->elements(8)) {
            n.require_object();
            Connector::Way w{};
            const auto way = n.required("way").text(32);
            const auto can = n.required("possible").text(32);
            bool known = false;
            for (const auto x :
                 {WrongWay::reversed, WrongWay::mirrored, WrongWay::rows_swapped, WrongWay::shifted})
                if (word(x) == way) {
                    w.way = x;
                    known = true;
                }
            if (!known)
                n.required("way").fault(in_quotes(way), "reversed, mirrored, rows-swapped or shifted");
            known = false;
            for (const auto x : {Possible::easy, Possible::forced, Possible::prevented, Possible::by_hand})
                if (word(x) == can) {
                    w.possible = x;
                    known = true;
                }
            if (!known) n.required("possible").fault(in_quotes(can), "easy, forced, prevented or by-hand");
            w.why = n.text_or("why");
            w.only_smaller = n.flag("only_smaller");
            refuse_unknown(n);
            out.ways.push_back(std::move(w));
        }
        if (size.key_column > 0)
            for (auto& w : out.ways)
                if (w.way == WrongWay::reversed || w.way == WrongWay::shifted) {
                    const bool middle = w.way == WrongWay::reversed && size.key_column * 2 == columns;
                    if (!middle) w.possible = Possible::prevented;
                }
    }

    Connector read() {
        out.id = some_text(root, "id");
        out.name = some_text(root, "name");
        out.group = some_text(root, "group");
        out.source = some_text(root, "source");
        out.rule = some_text(root, "rule");
        out.check = root.text_or("check");
        out.shape = root.text_or("shape", out.id);
        if (const auto also = root.member("also_into"))
            for (const auto& shape : also->elements(20)) out.also_into.push_back(shape.text(64));
        out.socket_name = root.text_or("socket", "socket");
        out.plug_name = root.text_or("plug", "plug");
        if (root.member("metal_shell")) out.metal_shell = root.flag("metal_shell");
        form = read_form(root.required("contact"));
        if (const auto n = root.member("contacts")) points(*n);
        if (const auto n = root.member("rows")) in_rows(*n);
        if (const auto n = root.member("circle")) on_circle(*n);
        if (const auto n = root.member("grid")) in_grid(*n);
        (void)root.member("family");
        if (out.contacts.empty())
            root.fault("no contacts", "\"contacts\", \"rows\", \"circle\" or \"grid\" in the file");
        numberings();
        auto keys = std::exchange(out.outlines, {});
        if (const auto n = root.member("outline"))
            for (const auto& o : n->elements(50)) outline(o);
        out.outlines.insert(out.outlines.end(), keys.begin(), keys.end());
        ways();
        refuse_unknown(root);
        std::set<std::pair<long, long>> taken;
        for (const auto& c : out.contacts)
            if (!taken.insert({std::lround(c.x_mm * 100), std::lround(c.y_mm * 100)}).second)
                root.fault("contact " + in_quotes(c.number) + " on top of another", "one contact in a place");
        return std::move(out);
    }
};

constexpr const char* expected_here = "a connector as JSON";

}  // namespace

Result<Connector> connector_from_json(std::string_view text, const std::string& file,
                                      const ConnectorSize& size) {
    return read_json(text, file, expected_here, [&](JsonNode& root) {
        return ConnectorReader{root, size, {}, {}}.read();
    });
}

Result<ConnectorFile> connector_file_from_json(std::string text, const std::string& file) {
    auto read = read_json(text, file, expected_here, [&](JsonNode& root) {
        ConnectorFile f;
        f.file = file;
        f.id = some_text(root, "id");
        for (const char ch : f.id)
            if (!((ch >= 'a' && ch <= 'z') || (ch >= '0' && ch <= '9') || ch == '-'))
                root.required("id").fault(in_quotes(f.id), "small letters, digits and dashes");
        f.name = some_text(root, "name");
        f.group = some_text(root, "group");
        if (auto family = root.member("family")) {
            f.family = true;
            if (const auto rows = family->member("rows")) f.rows = static_cast<int>(rows->whole(1, 100));
            f.most = static_cast<int>(family->required("most").whole(1, 100));
            if (const auto pitches = family->member("pitches_mm"))
                for (const auto& p : pitches->elements(20))
                    f.pitches_mm.push_back(millimetres(p, 0.1, 100.0));
            f.may_have_key = family->flag("key");
            const auto ending = f.rows > 0 ? fmt::format("-{}xn", f.rows) : std::string("-mxn");
            if (!f.id.ends_with(ending))
                root.required("id").fault(in_quotes(f.id), "an id that ends in " + in_quotes(ending));
        }
        return f;
    });
    if (!read) return read;
    // A family must hold for its sizes, so one of them is tried.
    ConnectorSize tried;
    tried.rows = read->rows > 0 ? read->rows : 2;
    tried.columns = 3;
    if (auto whole = connector_from_json(text, file, tried); !whole) return fail(whole.error());
    read->text = std::move(text);
    return read;
}

}  // namespace grayrelic
