// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers are in groups of seven bits, low ones first, the eighth says that another follows; signed ones have
// their sign in bit 0. Edges stand as they are in memory, at a multiple of eight bytes from the beginning.
#include "core/capture/capture_pack.hpp"

#include <algorithm>
#include <cstring>
#include <map>
#include <span>
#include <vector>

namespace grayrelic {
namespace {

constexpr std::uint64_t most_items = 1ULL << 36U;

/// Packs into a sink, in pieces.
class Packer {
  public:
    using Sink = std::function<void(std::string_view)>;
    explicit Packer(Sink sink) : sink_(std::move(sink)) {}
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
    void times(std::span<const Time> times) {
        number(times.size());
        std::int64_t before = 0;
        for (const auto t : times) {
            whole(static_cast<std::int64_t>(static_cast<std::uint64_t>(t.count()) -
                                            static_cast<std::uint64_t>(before)));
            before = t.count();
        }
    }
    /// As in memory, at a multiple of eight bytes.
    void edges(std::span<const Time> times) {
        number(times.size());
        while ((gone_ + out_.size()) % sizeof(Time) != 0) out_.push_back('\0');
        flush();
        give({reinterpret_cast<const char*>(times.data()), times.size_bytes()});
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
    void flush() {
        give(out_);
        out_.clear();
    }

  private:
    void give(std::string_view bytes) {
        sink_(bytes);
        gone_ += bytes.size();
    }
    Sink sink_;
    std::string out_;
    std::size_t gone_ = 0;
};
static_assert(sizeof(Time) == 8 && std::is_trivially_copyable_v<Time>);

struct Broken {};

class Unpacker {
  public:
    /// `owner` keeps `in` in place for edges that are not copied; null to copy them.
    Unpacker(std::string_view in, std::shared_ptr<const void> owner)
        : begin_(in.data()), at_(in.data()), end_(in.data() + in.size()), owner_(std::move(owner)) {}
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
        const auto n = number();
        while ((at_ - begin_) % static_cast<std::ptrdiff_t>(sizeof(Time)) != 0) {
            if (at_ == end_ || *at_++ != '\0') throw Broken{};
        }
        if (n > left() / sizeof(Time)) throw Broken{};
        const auto count = static_cast<std::size_t>(n);
        const char* from = at_;
        at_ += count * sizeof(Time);
        EdgeBuffer out;
        if (owner_ && reinterpret_cast<std::uintptr_t>(from) % alignof(Time) == 0) {
            out = EdgeBuffer::borrowed({reinterpret_cast<const Time*>(from), count}, owner_);
        } else if (count > 0) {
            std::memcpy(static_cast<void*>(out.extend(count).data()), from, count * sizeof(Time));
        }
        const auto times = out.view();
        bool rising = true;
        for (std::size_t i = 1; i < count; ++i) rising &= times[i - 1] < times[i];
        if (!rising) throw Broken{};
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
        if (!out.empty()) std::memcpy(out.data(), at_, out.size() * sizeof(T));
        at_ += out.size() * sizeof(T);
        return out;
    }
    [[nodiscard]] bool over() const { return at_ == end_; }
    [[nodiscard]] std::size_t left() const { return static_cast<std::size_t>(end_ - at_); }

  private:
    const char* begin_;
    const char* at_;
    const char* end_;
    std::shared_ptr<const void> owner_;
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

}  // namespace

void pack_capture(const Capture& c, const std::function<void(std::string_view)>& sink) {
    Packer packer(sink);
    packer.text(c.format);
    packer.whole(c.resolution.count());
    packer.whole(c.rounding.count());
    packer.whole(c.extent.from.count());
    packer.whole(c.extent.to.count());
    packer.whole(c.sample_period.value_or(Time{}).count());
    packer.number(c.remarks.size());
    for (const auto& r : c.remarks) packer.text(r.says), packer.number(r.guessed ? 1 : 0);
    const auto digital = distinct(c, &Signal::digital);
    const auto real = distinct(c, &Signal::real);
    const auto analogue = distinct(c, &Signal::analogue);
    packer.number(digital.size());
    for (const auto* d : digital) {
        packer.number(d->first_level() ? 1 : 0);
        packer.edges(d->edges());
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
    packer.flush();
}

std::optional<Capture> unpack_capture(std::string_view bytes, std::shared_ptr<const void> owner) {
    try {
        Unpacker u(bytes, std::move(owner));
        Capture c;
        c.format = u.text();
        c.resolution = Time::ps(u.whole());
        c.rounding = Time::ps(u.whole());
        c.extent.from = Time::ps(u.whole());
        c.extent.to = Time::ps(u.whole());
        if (const auto period = u.whole(); period > 0) c.sample_period = Time::ps(period);
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

std::string pack_capture(const Capture& c) {
    std::string out;
    pack_capture(c, [&](std::string_view bytes) { out += bytes; });
    return out;
}

}  // namespace grayrelic
