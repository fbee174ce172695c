// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/descriptor_read.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <optional>

#include "core/input/hex_text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_bytes = 65'535, most_depth = 64, most_pushed = 32, most_usages = 65'536,
                      most_fields = 4'096, most_problems = 64, most_report_bits = 65'535UL * 8,
                      most_shapes = 512;

struct Globals {
    std::uint32_t page = 0;
    long long logical_min = 0, logical_max = 0;
    std::uint32_t logical_max_raw = 0;
    std::uint32_t size = 0, count = 0;
    int id = 0;
};

struct Locals {
    /// One usage of four bytes brings its page with it; others take the page that is declared last before the
    /// main item (6.2.2.8).
    struct Range {
        std::uint32_t first = 0, last = 0;
        bool own_page = false;
    };
    std::vector<Range> usages;
    std::optional<Range> first, last;  ///< `first` of each counts
};

/// An item's data: one, two or four bytes, low byte first (6.2.2.2).
struct Item {
    std::size_t offset = 0;
    std::uint8_t tag = 0;  ///< with the type, as in the prefix's upper six bits
    std::size_t size = 0;
    std::uint32_t raw = 0;
    [[nodiscard]] long long with_sign() const {
        if (size == 1) return static_cast<std::int8_t>(raw);
        if (size == 2) return static_cast<std::int16_t>(raw);
        return static_cast<std::int32_t>(raw);
    }
};

constexpr std::array collection_names{"physical",    "application",  "logical",       "report",
                                      "named array", "usage switch", "usage modifier"};

class DescriptorReader {
  public:
    explicit DescriptorReader(std::span<const std::uint8_t> bytes) : bytes_(bytes) {}

    ReportDescriptor run() {
        if (bytes_.empty()) problem(0, "no byte");
        if (bytes_.size() > most_bytes) {
            problem(most_bytes, "longer than the 65,535 bytes that a descriptor can have");
            bytes_ = bytes_.first(most_bytes);
        }
        for (std::size_t at = 0; at < bytes_.size() && !stopped_;) at = take(at);
        if (!open_.empty())
            problem(bytes_.size(),
                    fmt::format("{} still open", open_.size() == 1 ? "a collection is" : "collections are"));
        if (!pushed_.empty()) problem(bytes_.size(), "a state pushed and never taken back");
        if (out_.reports.empty() && out_.problems.empty()) problem(bytes_.size(), "no report");
        finish();
        return std::move(out_);
    }

  private:
    void problem(std::size_t at, const std::string& says) {
        if (out_.problems.size() < most_problems) out_.problems.push_back(fmt::format("at {}: {}", at, says));
    }

    std::size_t take(std::size_t at) {
        const auto prefix = bytes_[at];
        if (prefix == 0xFE) return take_long(at);
        Item item{at, static_cast<std::uint8_t>(prefix & 0xFCU), (prefix & 3U) == 3 ? 4U : prefix & 3U};
        if (at + 1 + item.size > bytes_.size()) {
            problem(at, fmt::format("item {:02X} needs {} bytes of data, {} left: truncated", prefix,
                                    item.size, bytes_.size() - at - 1));
            stopped_ = true;
            return bytes_.size();
        }
        for (std::size_t i = 0; i < item.size; ++i)
            item.raw |= static_cast<std::uint32_t>(bytes_[at + 1 + i]) << (8 * i);
        const auto end = at + 1 + item.size;
        const int depth = static_cast<int>(open_.size()) - (item.tag == 0xC0 && !open_.empty() ? 1 : 0);
        const auto says = do_item(item);
        out_.items.push_back({at,
                              {bytes_.begin() + static_cast<std::ptrdiff_t>(at),
                               bytes_.begin() + static_cast<std::ptrdiff_t>(end)},
                              depth,
                              says});
        return end;
    }

    /// A long item (6.2.2.3): none is defined; it is passed over.
    std::size_t take_long(std::size_t at) {
        if (at + 3 > bytes_.size() || at + 3 + bytes_[at + 1] > bytes_.size()) {
            problem(at, "a long item is truncated");
            stopped_ = true;
            return bytes_.size();
        }
        const auto end = at + 3 + bytes_[at + 1];
        out_.items.push_back({at,
                              {bytes_.begin() + static_cast<std::ptrdiff_t>(at),
                               bytes_.begin() + static_cast<std::ptrdiff_t>(end)},
                              static_cast<int>(open_.size()),
                              "long item, passed over"});
        return end;
    }

    std::string do_item(const Item& item) {
        switch (item.tag & 0x0CU) {
            case 0x00: return do_main(item);
            case 0x04: return do_global(item);
            case 0x08: return do_local(item);
            default: problem(item.offset, "an item of a type that is reserved"); return "reserved";
        }
    }

    std::string do_main(const Item& item) {
        std::string says;
        switch (item.tag) {
            case 0x80: says = do_field(item, ReportKind::input); break;
            case 0x90: says = do_field(item, ReportKind::output); break;
            case 0xB0: says = do_field(item, ReportKind::feature); break;
            case 0xA0: says = do_collection(item); break;
            case 0xC0:
                says = "end of collection";
                if (open_.empty())
                    problem(item.offset, "a collection ends that none began");
                else
                    open_.pop_back();
                break;
            default:
                problem(item.offset, fmt::format("main item {:02X} is reserved", item.tag));
                says = "reserved";
        }
        if (locals_.first.has_value() != locals_.last.has_value())
            problem(item.offset, locals_.first ? "a usage minimum without its maximum"
                                               : "a usage maximum without its minimum");
        locals_ = {};
        return says;
    }

    std::string do_collection(const Item& item) {
        if (open_.size() >= most_depth) {
            problem(item.offset, fmt::format("collections more than {} deep", most_depth));
            stopped_ = true;
            return "collection";
        }
        open_.push_back(item.raw);
        const std::string kind = item.raw < collection_names.size() ? collection_names.at(item.raw)
                                 : item.raw >= 0x80                 ? "vendor's"
                                                                    : "reserved";
        if (open_.size() == 1 && item.raw != 1)
            problem(item.offset, "the outermost collection is " + kind + ", not an application");
        return "collection, " + kind;
    }

    std::string do_global(const Item& item) {
        switch (item.tag) {
            case 0x04:
                g_.page = item.raw;
                if (item.raw == 0 || item.raw > 0xFFFF)
                    problem(item.offset, fmt::format("usage page {}", item.raw));
                return fmt::format("usage page {:02X}", item.raw);
            case 0x14:
                g_.logical_min = item.with_sign();
                return fmt::format("logical minimum {}", g_.logical_min);
            case 0x24:
                g_.logical_max = item.with_sign();
                g_.logical_max_raw = item.raw;
                return fmt::format("logical maximum {}", g_.logical_max);
            case 0x34: return fmt::format("physical minimum {}", item.with_sign());
            case 0x44: return fmt::format("physical maximum {}", item.with_sign());
            case 0x54: return fmt::format("unit exponent {}", item.with_sign());
            case 0x64: return fmt::format("unit {:X}", item.raw);
            case 0x74: g_.size = item.raw; return fmt::format("size {} bits", item.raw);
            case 0x84: return set_id(item);
            case 0x94: g_.count = item.raw; return fmt::format("count {}", item.raw);
            case 0xA4:
                if (pushed_.size() >= most_pushed)
                    problem(item.offset, fmt::format("more than {} states pushed", most_pushed));
                else
                    pushed_.push_back(g_);
                return "push";
            case 0xB4:
                if (pushed_.empty()) {
                    problem(item.offset, "a state is taken back that none pushed");
                } else {
                    g_ = pushed_.back();
                    pushed_.pop_back();
                }
                return "pop";
            default:
                problem(item.offset, fmt::format("global item {:02X} is reserved", item.tag));
                return "reserved";
        }
    }

    std::string set_id(const Item& item) {
        if (item.raw == 0 || item.raw > 255)
            problem(item.offset, fmt::format("report id {}: 1 to 255 are allowed", item.raw));
        else
            g_.id = static_cast<int>(item.raw);
        return fmt::format("report id {}", item.raw);
    }

    std::string do_local(const Item& item) {
        const Locals::Range one{item.raw, item.raw, item.size == 4};
        switch (item.tag) {
            case 0x08: add_range(one); return "usage " + shown(one);
            case 0x18: locals_.first = one; return close_range(item, "usage minimum " + shown(one));
            case 0x28: locals_.last = one; return close_range(item, "usage maximum " + shown(one));
            case 0x38: return "designator";
            case 0x48:
            case 0x58: return "designator range";
            case 0x78: return "string";
            case 0x88:
            case 0x98: return "string range";
            case 0xA8: return "delimiter";
            default:
                problem(item.offset, fmt::format("local item {:02X} is reserved", item.tag));
                return "reserved";
        }
    }

    [[nodiscard]] std::uint32_t page_of(const Locals::Range& range) const {
        return range.own_page ? range.first >> 16U : g_.page;
    }
    /// With the page that is declared so far.
    [[nodiscard]] std::string shown(const Locals::Range& r) const {
        return print_usage({static_cast<std::uint16_t>(page_of(r)), static_cast<std::uint16_t>(r.first)});
    }

    std::string close_range(const Item& item, std::string says) {
        if (!locals_.first || !locals_.last) return says;
        const Locals::Range range{locals_.first->first, locals_.last->first, locals_.last->own_page};
        if (locals_.first->own_page != range.own_page ||
            (range.own_page && range.first >> 16U != range.last >> 16U))
            problem(item.offset, "a usage range over two pages");
        else if (range.first > range.last)
            problem(item.offset, "a usage minimum above its maximum");
        else
            add_range(range);
        locals_.first.reset();
        locals_.last.reset();
        return says;
    }

    void add_range(const Locals::Range& range) {
        if (locals_.usages.size() < most_fields) locals_.usages.push_back(range);
    }

    std::string do_field(const Item& item, ReportKind kind) {
        const bool constant = (item.raw & 1U) != 0;
        auto says = fmt::format("{}, {}", word(kind),
                                constant                  ? std::string("constant")
                                : (item.raw & 2U) == 0    ? std::string("array")
                                : (item.raw & 4U) != 0    ? std::string("variable, relative")
                                : (item.raw & 0x40U) != 0 ? std::string("variable, with null state")
                                                          : std::string("variable"));
        if (open_.empty()) problem(item.offset, "a report outside of any collection");
        if (!fits(item, constant)) return says;
        auto* shape = shape_of(item, kind);
        if (shape == nullptr) return says;
        const auto bits = std::size_t{g_.size} * g_.count;
        if (bits > most_report_bits || shape->bits + bits > most_report_bits) {
            problem(item.offset, "a report of more than 65,535 bytes");
            stopped_ = true;
            return says;
        }
        const auto at = shape->bits;
        shape->bits += bits;
        if (!constant) add_field(item, *shape, at);
        return says;
    }

    bool fits(const Item& item, bool constant) {
        if (g_.size == 0 || g_.count == 0)
            problem(item.offset, g_.size == 0 ? "a size of 0 bits" : "a count of 0");
        else if (!constant && g_.size > 32)
            problem(item.offset, fmt::format("a value of {} bits: 32 at most", g_.size));
        return g_.size != 0 || g_.count != 0;
    }

    ReportShape* shape_of(const Item& item, ReportKind kind) {
        for (auto& r : out_.reports)
            if (r.kind == kind && r.id == g_.id) return &r;
        if (out_.reports.size() >= most_shapes) {
            problem(item.offset, "too many reports");
            stopped_ = true;
            return nullptr;
        }
        out_.reports.push_back({g_.id, kind, 0, {}});
        return &out_.reports.back();
    }

    void add_field(const Item& item, ReportShape& shape, std::size_t at) {
        if (g_.size == 0 || g_.count == 0) return;
        ReportField f;
        f.bit = at;
        f.size_bits = g_.size;
        f.count = g_.count;
        f.logical_min = g_.logical_min;
        f.logical_max = g_.logical_max;
        f.variable = (item.raw & 2U) != 0;
        f.relative = (item.raw & 4U) != 0;
        f.null_state = (item.raw & 0x40U) != 0;
        if (f.logical_min > f.logical_max)
            problem(item.offset, f.logical_min >= 0
                                     ? fmt::format("logical maximum {} below the minimum {}; {} has its "
                                                   "upper bit set and needs one more byte",
                                                   f.logical_max, f.logical_min, g_.logical_max_raw)
                                     : fmt::format("logical maximum {} below the minimum {}", f.logical_max,
                                                   f.logical_min));
        else
            check_range(item, f);
        if (locals_.usages.empty()) problem(item.offset, "a field without usage");
        take_usages(item, f);
        if (shape.fields.size() < most_fields)
            shape.fields.push_back(std::move(f));
        else
            problem(item.offset, fmt::format("more than {} fields", most_fields));
    }

    /// Whether the logical range can be written in that many bits.
    void check_range(const Item& item, const ReportField& f) {
        if (f.size_bits >= 32) return;
        const bool with_sign = f.logical_min < 0;
        const long long most = with_sign ? (1LL << (f.size_bits - 1)) - 1 : (1LL << f.size_bits) - 1;
        const long long least = with_sign ? -(1LL << (f.size_bits - 1)) : 0;
        if (f.logical_max > most || f.logical_min < least)
            problem(item.offset, fmt::format("{} to {} does not fit into {} bits", f.logical_min,
                                             f.logical_max, f.size_bits));
    }

    /// A variable's last usage goes on for the elements that are left (6.2.2.8).
    void take_usages(const Item& item, ReportField& f) {
        const std::size_t most = f.variable ? f.count : most_usages;
        for (const auto& r : locals_.usages) {
            const auto page = static_cast<std::uint16_t>(page_of(r));
            if (page == 0) problem(item.offset, "a usage without any usage page");
            for (std::uint64_t u = r.first; u <= r.last && f.usages.size() < most; ++u) {
                if (used_ >= most_usages) {
                    problem(item.offset, "more than 65,536 usages in all");
                    stopped_ = true;
                    return;
                }
                ++used_;
                f.usages.push_back({page, static_cast<std::uint16_t>(u)});
            }
        }
        if (!f.variable || f.usages.empty()) return;
        while (f.usages.size() < f.count && used_ < most_usages) {
            f.usages.push_back(f.usages.back());
            ++used_;
        }
    }

    /// Ids for all reports or for none (6.2.2.7).
    void finish() {
        if (!out_.has_ids()) return;
        for (const auto& r : out_.reports)
            if (r.id == 0)
                problem(bytes_.size(), fmt::format("the {} report has no id, others have one", word(r.kind)));
    }

    std::span<const std::uint8_t> bytes_;
    ReportDescriptor out_;
    Globals g_;
    Locals locals_;
    std::vector<std::uint32_t> open_;
    std::vector<Globals> pushed_;
    std::size_t used_ = 0;
    bool stopped_ = false;
};

}  // namespace

ReportDescriptor read_descriptor(std::span<const std::uint8_t> bytes) {
    return DescriptorReader(bytes).run();
}

}  // namespace grayrelic
