// SPDX-License-Identifier: GPL-3.0-or-later
// A copy: a line with what it is a copy of, then the packed capture and its CRC-32. Numbers are in groups of
// seven bits, low ones first, the eighth says that another follows; signed ones have their sign in bit 0.
#include "core/capture/capture_cache.hpp"

#include <fmt/format.h>
#include <zlib.h>

#include <algorithm>
#include <cstring>
#include <limits>
#include <map>

#include "core/base/file_system.hpp"

namespace grayrelic {
namespace {

constexpr std::string_view magic = "gray-relic capture copy 1\n";
constexpr std::uint64_t most_items = 1ULL << 36U;

class Packer {
  public:
    void number(std::uint64_t v) {
        while (v >= 0x80) {
            out_.push_back(static_cast<char>(v | 0x80U));
            v >>= 7U;
        }
        out_.push_back(static_cast<char>(v));
    }
    void whole(std::int64_t v) {
        number((static_cast<std::uint64_t>(v) << 1U) ^ static_cast<std::uint64_t>(v >> 63));
    }
    void text(std::string_view t) {
        number(t.size());
        out_ += t;
    }
    /// Differences, so that the usual edge takes two or three bytes.
    void times(std::span<const Time> times) {
        number(times.size());
        std::int64_t before = 0;
        out_.reserve(out_.size() + 3 * times.size());
        for (const auto t : times) {
            whole(static_cast<std::int64_t>(static_cast<std::uint64_t>(t.count()) -
                                            static_cast<std::uint64_t>(before)));
            before = t.count();
        }
    }
    void spans(std::span<const Span> spans) {
        number(spans.size());
        for (const auto& s : spans) whole(s.from.count()), whole(s.to.count());
    }
    template <class T>
    void raw(const std::vector<T>& values) {
        number(values.size());
        out_.append(reinterpret_cast<const char*>(values.data()), values.size() * sizeof(T));
    }
    [[nodiscard]] std::string take() { return std::move(out_); }

  private:
    std::string out_;
};

struct Broken {};

class Unpacker {
  public:
    explicit Unpacker(std::string_view in) : at_(in.data()), end_(in.data() + in.size()) {}
    std::uint64_t number() {
        // Nearly all differences take one to three bytes.
        if (end_ - at_ >= 4) [[likely]] {
            std::uint32_t w = 0;
            std::memcpy(&w, at_, 4);
            if ((w & 0x80U) == 0) return ++at_, w & 0x7FU;
            if ((w & 0x8000U) == 0) return at_ += 2, (w & 0x7FU) | (w >> 1U & 0x3F80U);
            if ((w & 0x800000U) == 0)
                return at_ += 3, (w & 0x7FU) | (w >> 1U & 0x3F80U) | (w >> 2U & 0x1FC000U);
        }
        std::uint64_t v = 0;
        for (unsigned shift = 0; shift < 64; shift += 7) {
            if (at_ == end_) throw Broken{};
            const auto b = static_cast<unsigned char>(*at_++);
            v |= static_cast<std::uint64_t>(b & 0x7FU) << shift;
            if (b < 0x80) return v;
        }
        throw Broken{};
    }
    std::int64_t whole() {
        const auto v = number();
        return static_cast<std::int64_t>(v >> 1U) ^ -static_cast<std::int64_t>(v & 1U);
    }
    /// A count of things that take at least `bytes` each.
    std::size_t count(std::size_t bytes = 1) {
        const auto n = number();
        if (n > most_items || n * bytes > left()) throw Broken{};
        return static_cast<std::size_t>(n);
    }
    std::string text() {
        const auto n = count();
        std::string out(at_, n);
        at_ += n;
        return out;
    }
    EdgeBuffer edges() {
        const auto n = count();
        EdgeBuffer out;
        const auto times = out.extend(n);
        std::uint64_t t = 0;
        std::int64_t before = std::numeric_limits<std::int64_t>::min();
        for (std::size_t i = 0; i < n; ++i) {
            t += static_cast<std::uint64_t>(whole());
            const auto now = static_cast<std::int64_t>(t);
            if (i > 0 && now <= before) throw Broken{};
            times[i] = Time::ps(before = now);
        }
        return out;
    }
    std::vector<Span> spans() {
        std::vector<Span> out(count(2));
        for (auto& s : out) s.from = Time::ps(whole()), s.to = Time::ps(whole());
        return out;
    }
    template <class T>
    std::vector<T> raw() {
        std::vector<T> out(count(sizeof(T)));
        std::memcpy(out.data(), at_, out.size() * sizeof(T));
        at_ += out.size() * sizeof(T);
        return out;
    }
    [[nodiscard]] bool over() const { return at_ == end_; }
    [[nodiscard]] std::size_t left() const { return static_cast<std::size_t>(end_ - at_); }

  private:
    const char* at_;
    const char* end_;
};

/// Waveforms that several signals share are written once.
template <class T>
std::vector<const T*> distinct(const Capture& c, std::shared_ptr<const T> Signal::*which) {
    std::vector<const T*> out;
    std::map<const T*, bool> seen;
    for (const auto& s : c.signals)
        if (s.*which && !seen[(s.*which).get()])
            seen[(s.*which).get()] = true, out.push_back((s.*which).get());
    return out;
}
template <class T>
std::uint64_t place(const std::vector<const T*>& list, const std::shared_ptr<const T>& one) {
    return one ? static_cast<std::uint64_t>(std::find(list.begin(), list.end(), one.get()) - list.begin()) + 1
               : 0;
}
template <class T>
std::shared_ptr<const T> pick(const std::vector<std::shared_ptr<const T>>& list, std::uint64_t place) {
    if (place == 0) return nullptr;
    if (place > list.size()) throw Broken{};
    return list[place - 1];
}

std::string identity(const std::filesystem::path& path, const ReadAs& read_as) {
    std::error_code code;
    const auto whole = std::filesystem::canonical(path, code);
    if (code) return {};
    const auto size = std::filesystem::file_size(whole, code);
    if (code || size < least_cached) return {};
    const auto changed = std::filesystem::last_write_time(whole, code);
    if (code) return {};
    auto out = fmt::format("{}\n{}\n{}\n", whole.string(), size, changed.time_since_epoch().count());
    for (const auto& [key, value] : read_as) out += fmt::format("{}={}\n", key, value);
    return out;
}

std::filesystem::path copy_path(const std::filesystem::path& folder, const std::string& of) {
    std::uint64_t hash = 1469598103934665603ULL;  // FNV-1a; the copy itself holds what it is a copy of
    for (const char c : of) hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    return folder / fmt::format("{:016x}.capture", hash);
}

std::uint32_t sum_of(std::string_view bytes) {
    return static_cast<std::uint32_t>(crc32_z(0, reinterpret_cast<const Bytef*>(bytes.data()), bytes.size()));
}

std::optional<Capture> read_copy(const std::filesystem::path& file, const std::string& of) {
    auto bytes = disk().read(file, most_cached);
    if (!bytes) return std::nullopt;
    std::string_view rest = *bytes;
    const auto head = std::string(magic) + of + "\n";
    if (!rest.starts_with(head) || rest.size() < head.size() + 4) return std::nullopt;
    rest.remove_prefix(head.size());
    std::uint32_t sum = 0;
    std::memcpy(&sum, rest.data() + rest.size() - 4, 4);
    rest.remove_suffix(4);
    if (sum != sum_of(rest)) return std::nullopt;
    return unpack_capture(rest);
}

void write_copy(const std::filesystem::path& folder, const std::filesystem::path& file, const std::string& of,
                const Capture& capture) {
    const auto packed = pack_capture(capture);
    if (packed.size() > most_cached / 2) return;
    if (!disk().exists(folder) && !disk().make_folder(folder)) return;
    const auto sum = sum_of(packed);
    auto out = AtomicFile::open(disk(), file);
    if (!out) return;
    if (!out->write(std::string(magic) + of + "\n") || !out->write(packed) ||
        !out->write({reinterpret_cast<const char*>(&sum), 4}))
        return;
    (void)out->commit();
}

void make_room(const std::filesystem::path& folder) {
    struct Copy {
        std::filesystem::file_time_type used;
        std::uint64_t size;
        std::filesystem::path path;
    };
    std::vector<Copy> copies;
    std::error_code code;
    std::uint64_t all = 0;
    for (const auto& e : std::filesystem::directory_iterator(folder, code))
        if (e.path().extension() == ".capture" && e.is_regular_file(code))
            copies.push_back({e.last_write_time(code), e.file_size(code), e.path()}),
                all += copies.back().size;
    std::sort(copies.begin(), copies.end(), [](const Copy& a, const Copy& b) { return a.used < b.used; });
    for (const auto& c : copies) {
        if (all <= most_cached) return;
        std::filesystem::remove(c.path, code);
        all -= c.size;
    }
}

}  // namespace

std::string pack_capture(const Capture& c) {
    Packer packer;
    packer.text(c.format);
    packer.whole(c.resolution.count());
    packer.whole(c.rounding.count());
    packer.whole(c.extent.from.count());
    packer.whole(c.extent.to.count());
    packer.number(c.remarks.size());
    for (const auto& r : c.remarks) packer.text(r.says), packer.number(r.guessed ? 1 : 0);
    const auto digital = distinct(c, &Signal::digital);
    const auto real = distinct(c, &Signal::real);
    const auto analogue = distinct(c, &Signal::analogue);
    packer.number(digital.size());
    for (const auto* d : digital) {
        packer.number(d->first_level() ? 1 : 0);
        packer.times(d->edges());
        packer.spans(d->unknown());
        packer.spans(d->floating());
    }
    packer.number(real.size());
    for (const auto* r : real) packer.times(r->times), packer.raw(r->values);
    packer.number(analogue.size());
    for (const auto* a : analogue)
        packer.whole(a->start().count()), packer.raw(std::vector<double>{a->period_ps()}),
            packer.raw(a->samples());
    packer.number(c.signals.size());
    for (const auto& s : c.signals) {
        packer.text(s.name);
        packer.text(s.vector);
        packer.number(static_cast<std::uint64_t>(s.kind));
        packer.number(place(digital, s.digital));
        packer.number(place(real, s.real));
        packer.number(place(analogue, s.analogue));
    }
    return packer.take();
}

std::optional<Capture> unpack_capture(std::string_view bytes) {
    try {
        Unpacker u(bytes);
        Capture c;
        c.format = u.text();
        c.resolution = Time::ps(u.whole());
        c.rounding = Time::ps(u.whole());
        c.extent.from = Time::ps(u.whole());
        c.extent.to = Time::ps(u.whole());
        for (auto n = u.count(2); n > 0; --n) {
            auto says = u.text();
            c.remarks.push_back({std::move(says), u.number() != 0});
        }
        std::vector<std::shared_ptr<const DigitalWaveform>> digital;
        for (auto n = u.count(4); n > 0; --n) {
            const bool first = u.number() != 0;
            auto edges = u.edges();
            auto unknown = u.spans();
            auto floating = u.spans();
            digital.push_back(std::make_shared<const DigitalWaveform>(DigitalWaveform::from_sorted(
                first, std::move(edges), std::move(unknown), std::move(floating))));
        }
        std::vector<std::shared_ptr<const RealWaveform>> real;
        for (auto n = u.count(2); n > 0; --n) {
            RealWaveform r;
            std::int64_t t = 0;
            r.times.resize(u.count());
            for (auto& time : r.times)
                time = Time::ps(t = static_cast<std::int64_t>(static_cast<std::uint64_t>(t) +
                                                              static_cast<std::uint64_t>(u.whole())));
            r.values = u.raw<double>();
            if (r.values.size() != r.times.size()) throw Broken{};
            real.push_back(std::make_shared<const RealWaveform>(std::move(r)));
        }
        std::vector<std::shared_ptr<const AnalogueWaveform>> analogue;
        for (auto n = u.count(3); n > 0; --n) {
            const auto start = Time::ps(u.whole());
            const auto period = u.raw<double>();
            if (period.size() != 1 || !(period[0] > 0)) throw Broken{};
            analogue.push_back(std::make_shared<const AnalogueWaveform>(start, period[0], u.raw<float>()));
        }
        for (auto n = u.count(6); n > 0; --n) {
            Signal s;
            s.name = u.text();
            s.vector = u.text();
            const auto kind = u.number();
            if (kind > static_cast<std::uint64_t>(SignalKind::analogue)) throw Broken{};
            s.kind = static_cast<SignalKind>(kind);
            s.digital = pick(digital, u.number());
            s.real = pick(real, u.number());
            s.analogue = pick(analogue, u.number());
            c.signals.push_back(std::move(s));
        }
        if (!u.over()) throw Broken{};
        return c;
    } catch (const Broken&) {
        return std::nullopt;
    }
}

Result<Capture> read_capture_cached(const std::filesystem::path& path, const ReadAs& read_as,
                                    const CaptureOptions& options, const std::filesystem::path& folder,
                                    Progress& progress) {
    const auto of = folder.empty() ? std::string() : identity(path, read_as);
    if (of.empty()) return read_capture_file(path, progress, options);
    const auto file = copy_path(folder, of);
    if (auto kept = read_copy(file, of)) {
        std::error_code code;
        std::filesystem::last_write_time(file, std::filesystem::file_time_type::clock::now(),
                                         code);  // used just now
        progress.report(1.0);
        return std::move(*kept);
    }
    auto capture = read_capture_file(path, progress, options);
    if (capture && identity(path, read_as) == of) {  // not while it is being written
        write_copy(folder, file, of, *capture);
        make_room(folder);
    }
    return capture;
}

}  // namespace grayrelic
