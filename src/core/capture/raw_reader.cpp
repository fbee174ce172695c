// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/raw_reader.hpp"

#include <fmt/format.h>

#include <cmath>

#include "core/base/text.hpp"

namespace grayrelic {

Result<Capture> read_raw(const ByteSource& source, const std::string& name, const RawOptions& o,
                         Progress& progress) {
    const bool width_fine =
        o.width == 1 || o.width == 2 || o.width == 4 || o.width == 8 || o.width == 16 || o.width == 32;
    if (!width_fine) return fail_usage(fmt::format("{} lines in a sample", o.width), "1, 2, 4, 8, 16 or 32");
    if (!(o.rate_hz >= 1e-3 && o.rate_hz <= 1e12))
        return fail_usage(fmt::format("{} samples a second", o.rate_hz), "a rate from 0.001 to 10^12");
    const auto lines = static_cast<std::size_t>(o.width);
    const double period = 1e12 / o.rate_hz;
    const auto samples = source.size() * 8 / lines;
    if (source.size() == 0) return fail_at(name, 1, "an empty file", "packed samples");
    if (static_cast<double>(samples) * period > 4.5e18)
        return fail_at(name, 1, fmt::format("{} samples at {} a second", samples, o.rate_hz),
                       "a recording of at most 53 days");
    std::vector<EdgeBuffer> edges(lines);
    std::uint32_t level = 0, first = 0;
    const std::size_t bytes = lines <= 8 ? 1 : lines / 8;
    const std::size_t packed = lines < 8 ? 8 / lines : 1;
    const std::uint32_t mask = lines == 32 ? ~0U : (1U << lines) - 1;
    std::uint64_t sample = 0;
    const auto take = [&](std::uint32_t v) {
        if (sample == 0) first = level = v;
        for (auto changed = v ^ level; changed != 0; changed &= changed - 1)
            edges[static_cast<std::size_t>(__builtin_ctz(changed))].push_back(
                Time::ps(static_cast<std::int64_t>(std::llround(static_cast<double>(sample) * period))));
        level = v;
        ++sample;
    };
    std::vector<char> buffer(1U << 20U);
    for (std::uint64_t at = 0; at < source.size();) {
        const auto n = source.read_at(at, buffer);
        if (!n) return fail(n.error());
        const auto whole = *n / bytes * bytes;
        if (whole == 0) break;
        for (std::size_t i = 0; i < whole; i += bytes) {
            std::uint32_t v = 0;
            for (std::size_t b = 0; b < bytes; ++b)
                v |= static_cast<std::uint32_t>(
                         static_cast<unsigned char>(buffer[i + (o.big_endian ? bytes - 1 - b : b)]))
                     << (8 * b);
            for (std::size_t k = 0; k < packed; ++k)
                take(v >> (packed == 1 ? 0 : lines * (o.msb_first ? packed - 1 - k : k)) & mask);
        }
        at += whole;
        progress.report(static_cast<double>(at) / static_cast<double>(source.size()));
        if (progress.cancelled()) return fail_cancelled();
    }
    Capture out;
    out.format = "raw";
    out.resolution = Time::ps(static_cast<std::int64_t>(std::ceil(period)));
    if (period != std::floor(period)) out.rounding = Time::ps(1);
    out.sample_period = Time::ps(std::max<std::int64_t>(1, std::llround(period)));
    out.extent = {Time{},
                  Time::ps(static_cast<std::int64_t>(std::llround(static_cast<double>(sample) * period)))};
    if (const auto rest = source.size() % bytes; rest != 0)
        out.remarks.push_back({fmt::format("{} at the end make no whole sample",
                                           plural(static_cast<long long>(rest), "byte", "bytes")),
                               true});
    for (std::size_t k = 0; k < lines; ++k) {
        const auto bit = o.msb_first ? lines - 1 - k : k;
        Signal s;
        s.name = fmt::format("d{}", k);
        s.digital = std::make_shared<const DigitalWaveform>(
            DigitalWaveform::from_sorted((first >> bit & 1U) != 0, std::move(edges[bit]), {}, {}));
        out.signals.push_back(std::move(s));
    }
    return out;
}

}  // namespace grayrelic
