// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/wav_file.hpp"

#include <fmt/format.h>
#include <sndfile.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstring>

#include "core/base/text.hpp"
#include "core/signal/sampling.hpp"

namespace grayrelic {
namespace {

constexpr sf_count_t wav_frames = 65'536;

/// A byte source as libsndfile reads one.
struct Stream {
    const ByteSource* source;
    sf_count_t at = 0;
};
sf_count_t stream_length(void* s) {
    return static_cast<sf_count_t>(static_cast<Stream*>(s)->source->size());
}
sf_count_t stream_seek(sf_count_t offset, int whence, void* s) {
    auto& stream = *static_cast<Stream*>(s);
    const auto from = whence == SEEK_SET ? 0 : whence == SEEK_CUR ? stream.at : stream_length(s);
    stream.at = std::clamp<sf_count_t>(from + offset, 0, stream_length(s));
    return stream.at;
}
sf_count_t stream_read(void* into, sf_count_t count, void* s) {
    auto& stream = *static_cast<Stream*>(s);
    if (count <= 0) return 0;
    const auto n = stream.source->read_at(static_cast<std::uint64_t>(stream.at),
                                          {static_cast<char*>(into), static_cast<std::size_t>(count)});
    if (!n) return 0;
    stream.at += static_cast<sf_count_t>(*n);
    return static_cast<sf_count_t>(*n);
}
sf_count_t stream_tell(void* s) {
    return static_cast<Stream*>(s)->at;
}

/// Bytes written, in memory: a WAV file's head is written last.
struct Memory {
    std::string bytes;
    sf_count_t at = 0;
};
sf_count_t memory_length(void* m) {
    return static_cast<sf_count_t>(static_cast<Memory*>(m)->bytes.size());
}
sf_count_t memory_seek(sf_count_t offset, int whence, void* m) {
    auto& memory = *static_cast<Memory*>(m);
    const auto from = whence == SEEK_SET ? 0 : whence == SEEK_CUR ? memory.at : memory_length(m);
    return memory.at = std::max<sf_count_t>(0, from + offset);
}
sf_count_t memory_write(const void* data, sf_count_t count, void* m) {
    auto& memory = *static_cast<Memory*>(m);
    const auto end = static_cast<std::size_t>(memory.at + count);
    if (memory.bytes.size() < end) memory.bytes.resize(end);
    std::memcpy(memory.bytes.data() + memory.at, data, static_cast<std::size_t>(count));
    memory.at += count;
    return count;
}
sf_count_t memory_read(void*, sf_count_t, void*) {
    return 0;
}
sf_count_t memory_tell(void* m) {
    return static_cast<Memory*>(m)->at;
}

struct Close {
    void operator()(SNDFILE* f) const { sf_close(f); }
};
using Sound = std::unique_ptr<SNDFILE, Close>;

double rate_for(const Capture& capture) {
    for (const auto& s : capture.signals)
        if (s.analogue) return 1e12 / s.analogue->period_ps();
    if (const auto period = find_sample_period(capture); period && period->count() > 0)
        return 1e12 / static_cast<double>(period->count());
    std::int64_t shortest = 0;
    for (const auto& s : capture.signals) {
        if (!s.digital) continue;
        const auto edges = s.digital->edges();
        for (std::size_t i = 1; i < edges.size(); ++i)
            if (const auto d = (edges[i] - edges[i - 1]).count(); shortest == 0 || d < shortest) shortest = d;
    }
    return shortest == 0 ? 48'000.0 : 4e12 / static_cast<double>(shortest);
}

}  // namespace

Result<Capture> read_wav(const ByteSource& source, const std::string& name, Progress& progress,
                         std::optional<double> threshold, const WavLimits& limits) {
    SF_VIRTUAL_IO io{stream_length, stream_seek, stream_read, nullptr, stream_tell};
    Stream stream{&source};
    SF_INFO info{};
    const Sound file(sf_open_virtual(&io, SFM_READ, &info, &stream));
    if (!file) return fail_at(name, 1, sf_strerror(nullptr), "a WAV file");
    if (info.channels < 1 || info.channels > limits.channels || info.samplerate < 1)
        return fail_at(name, 1,
                       fmt::format("{} channels at {} samples a second", info.channels, info.samplerate),
                       fmt::format("1 to {} channels and a rate above zero", limits.channels));
    const auto frames = static_cast<std::uint64_t>(std::max<sf_count_t>(0, info.frames)),
               channels = static_cast<std::uint64_t>(info.channels);
    if (frames > limits.samples / channels)
        return fail_at(name, 1, fmt::format("{} samples on {} channels", frames, channels),
                       fmt::format("at most {} in all", limits.samples));
    // The head may promise more than the file holds.
    if (frames > source.size() * 8)
        return fail_at(name, 1, fmt::format("{} samples promised in {} bytes", frames, source.size()),
                       "a file that holds them");
    std::vector<std::vector<float>> samples(channels);
    for (auto& s : samples) s.reserve(frames);
    std::vector<float> buffer(static_cast<std::size_t>(wav_frames) * channels);
    std::uint64_t done = 0;
    for (;;) {
        const auto n = sf_readf_float(file.get(), buffer.data(), wav_frames);
        if (n <= 0) break;
        for (sf_count_t i = 0; i < n; ++i)
            for (std::size_t c = 0; c < channels; ++c) {
                const float v = buffer[static_cast<std::size_t>(i) * channels + c];
                samples[c].push_back(std::isfinite(v) ? v : 0.0F);
            }
        done += static_cast<std::uint64_t>(n);
        progress.report(static_cast<double>(done) / static_cast<double>(std::max<std::uint64_t>(1, frames)));
        if (progress.cancelled()) return fail_cancelled();
        if (done > frames) break;
    }
    if (done == 0) return fail_at(name, 1, "no samples", "a recording");
    Capture out;
    out.format = "wav";
    const double period = 1e12 / info.samplerate;
    out.resolution = Time::ps(static_cast<std::int64_t>(std::ceil(period)));
    out.extent = {Time{}, Time::from_seconds(static_cast<double>(done) * period * 1e-12)};
    if (done < frames)
        out.remarks.push_back(
            {fmt::format("the file ends after {} of {} promised samples", done, frames), true});
    for (std::size_t c = 0; c < channels; ++c) {
        Signal s;
        s.name = fmt::format("ch{}", c + 1);
        s.kind = SignalKind::analogue;
        s.analogue = std::make_shared<const AnalogueWaveform>(Time{}, period, std::move(samples[c]));
        auto t = guess_threshold(*s.analogue);
        if (threshold) t.level = *threshold, t.guessed = false;
        s.digital = std::make_shared<const DigitalWaveform>(levels_of(*s.analogue, t));
        if (t.guessed)
            out.remarks.push_back(
                {fmt::format("{} is taken for high above {:.3f} of full scale: nothing states a threshold",
                             s.name, t.level),
                 true});
        out.signals.push_back(std::move(s));
    }
    return out;
}

Result<double> write_wav(const Capture& capture, const std::filesystem::path& path, Progress& progress,
                         FileSystem& files, const WavLimits& limits) {
    std::vector<const Signal*> signals;
    for (const auto& s : capture.signals)
        if (s.digital || s.analogue) signals.push_back(&s);
    if (signals.empty() || signals.size() > static_cast<std::size_t>(limits.channels))
        return fail_usage(fmt::format("{} signals to write", signals.size()),
                          fmt::format("1 to {} for a WAV file", limits.channels));
    const double rate = std::round(rate_for(capture));
    const double wanted = capture.extent.length().seconds() * rate * static_cast<double>(signals.size());
    if (!(rate >= 1 && rate <= 2e9) || wanted > static_cast<double>(limits.samples))
        return fail_usage(fmt::format("{:.0f} samples at {:.0f} a second", wanted, rate),
                          fmt::format("at most {}: a shorter stretch, or .vcd or .csv", limits.samples));
    SF_INFO info{};
    info.channels = static_cast<int>(signals.size());
    info.samplerate = static_cast<int>(rate);
    info.format = SF_FORMAT_WAV | SF_FORMAT_PCM_16;
    SF_VIRTUAL_IO io{memory_length, memory_seek, memory_read, memory_write, memory_tell};
    Memory memory;
    {
        const Sound out(sf_open_virtual(&io, SFM_WRITE, &info, &memory));
        if (!out) return fail_usage(sf_strerror(nullptr), "signals that a WAV file can hold");
        const auto frames = static_cast<std::uint64_t>(std::ceil(capture.extent.length().seconds() * rate));
        std::vector<float> buffer;
        std::vector<std::size_t> next(signals.size(), 0);
        for (std::uint64_t at = 0; at < frames;) {
            const auto n = std::min<std::uint64_t>(static_cast<std::uint64_t>(wav_frames), frames - at);
            buffer.assign(n * signals.size(), 0.0F);
            for (std::size_t c = 0; c < signals.size(); ++c)
                for (std::uint64_t i = 0; i < n; ++i) {
                    const Time t =
                        capture.extent.from + Time::from_seconds(static_cast<double>(at + i) / rate);
                    float v = 0;
                    if (const auto& a = signals[c]->analogue) {
                        const double k = a->sample_at(t);
                        if (k >= -0.5 && k < static_cast<double>(a->size()) - 0.5)
                            v = a->samples()[static_cast<std::size_t>(std::lround(k))];
                    } else {
                        const auto edges = signals[c]->digital->edges();
                        while (next[c] < edges.size() && edges[next[c]] <= t) ++next[c];
                        v = signals[c]->digital->level_after(next[c]) ? 0.8F : -0.8F;
                    }
                    buffer[i * signals.size() + c] = v;
                }
            if (sf_writef_float(out.get(), buffer.data(), static_cast<sf_count_t>(n)) !=
                static_cast<sf_count_t>(n))
                return fail_usage(sf_strerror(out.get()), "a WAV file");
            at += n;
            progress.report(static_cast<double>(at) / static_cast<double>(frames));
            if (progress.cancelled()) return fail_cancelled();
        }
    }
    if (auto done = write_atomically(files, path, memory.bytes); !done) return fail(done.error());
    return rate;
}

}  // namespace grayrelic
