// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/expand.hpp"

#include <fmt/format.h>
#include <zlib.h>
#include <zstd.h>

#include <memory>
#include <vector>

#include "core/base/quantity.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t piece = 1U << 20U;

/// Grows the output piece by piece, up to the limit.
class Output {
  public:
    /// One byte more than the limit, to tell what fits it from what does not.
    explicit Output(std::uint64_t most) : most_(most + 1) {}
    /// Room for at least one more byte; false beyond the limit.
    bool grow() {
        if (used_ < text_.size()) return true;
        if (text_.size() >= most_) return false;
        // The last step goes straight to the limit: a string that grows by one byte at its end doubles its
        // room.
        const std::uint64_t next =
            text_.size() >= most_ / 2 ? most_ : std::max<std::uint64_t>(4 * piece, text_.size() * 2);
        text_.resize(std::min(most_, next));
        return true;
    }
    [[nodiscard]] char* at() { return text_.data() + used_; }
    [[nodiscard]] std::size_t room() const { return text_.size() - used_; }
    void used(std::size_t n) { used_ += n; }
    [[nodiscard]] bool beyond() const { return used_ >= most_; }
    [[nodiscard]] std::string take() {
        text_.resize(used_);
        return std::move(text_);
    }

  private:
    std::string text_;
    std::size_t used_ = 0;
    std::uint64_t most_;
};

Failure too_large(const std::string& name, std::uint64_t most) {
    return fail_at(
        name, 1,
        fmt::format("more than {} MB once expanded", print_count(static_cast<long long>(most >> 20U))),
        "at most that: half of what reading may take on this machine");
}

Result<std::string> gunzip(const ByteSource& source, const std::string& name, Progress& progress,
                           std::uint64_t most) {
    z_stream z{};
    if (inflateInit2(&z, 15 + 16) != Z_OK) return fail_system(name, "no memory to expand it", "some");
    const std::unique_ptr<z_stream, int (*)(z_stream*)> close(&z, inflateEnd);
    std::vector<char> in(piece);
    Output out(most);
    bool ended = false;
    for (std::uint64_t at = 0; at < source.size();) {
        const auto n = source.read_at(at, in);
        if (!n) return fail(n.error());
        if (*n == 0) break;
        z.next_in = reinterpret_cast<Bytef*>(in.data());
        z.avail_in = static_cast<uInt>(*n);
        while (z.avail_in > 0) {
            if (ended) {
                // Another member, or padding of zeros behind the last.
                if (*z.next_in == 0) {
                    ++z.next_in;
                    --z.avail_in;
                    continue;
                }
                if (inflateReset(&z) != Z_OK)
                    return fail_at(name, 1, "a broken gzip file", "one that expands");
                ended = false;
            }
            if (!out.grow()) return too_large(name, most);
            z.next_out = reinterpret_cast<Bytef*>(out.at());
            const auto room = std::min<std::size_t>(out.room(), 1U << 30U);
            z.avail_out = static_cast<uInt>(room);
            const int code = inflate(&z, Z_NO_FLUSH);
            out.used(room - z.avail_out);
            if (code == Z_STREAM_END)
                ended = true;
            else if (code != Z_OK && code != Z_BUF_ERROR)
                return fail_at(name, 1,
                               fmt::format("a gzip file broken after {} bytes ({})", at + *n - z.avail_in,
                                           z.msg == nullptr ? "data error" : z.msg),
                               "one that expands");
        }
        at += *n;
        progress.report(0.4 * static_cast<double>(at) / static_cast<double>(source.size()));
        if (progress.cancelled()) return fail_cancelled();
    }
    // What is buffered inside may still want room.
    while (!ended) {
        if (!out.grow()) return too_large(name, most);
        z.next_out = reinterpret_cast<Bytef*>(out.at());
        const auto room = std::min<std::size_t>(out.room(), 1U << 30U);
        z.avail_out = static_cast<uInt>(room);
        const int code = inflate(&z, Z_FINISH);
        out.used(room - z.avail_out);
        if (code == Z_STREAM_END)
            ended = true;
        else if (z.avail_out > 0)
            return fail_at(name, 1, "a gzip file that ends early", "all of it");
    }
    if (out.beyond()) return too_large(name, most);
    return out.take();
}

Result<std::string> unzstd(const ByteSource& source, const std::string& name, Progress& progress,
                           std::uint64_t most) {
    const std::unique_ptr<ZSTD_DStream, std::size_t (*)(ZSTD_DStream*)> z(ZSTD_createDStream(),
                                                                          ZSTD_freeDStream);
    if (!z) return fail_system(name, "no memory to expand it", "some");
    std::vector<char> in(piece);
    Output out(most);
    std::size_t left = 1;
    for (std::uint64_t at = 0; at < source.size();) {
        const auto n = source.read_at(at, in);
        if (!n) return fail(n.error());
        if (*n == 0) break;
        ZSTD_inBuffer input{in.data(), *n, 0};
        bool full = true;
        while (input.pos < input.size || full) {
            if (!out.grow()) return too_large(name, most);
            ZSTD_outBuffer output{out.at(), out.room(), 0};
            left = ZSTD_decompressStream(z.get(), &output, &input);
            if (ZSTD_isError(left) != 0)
                return fail_at(name, 1,
                               fmt::format("a Zstandard file broken after {} bytes ({})", at + input.pos,
                                           ZSTD_getErrorName(left)),
                               "one that expands");
            out.used(output.pos);
            full = output.pos == output.size;
        }
        at += *n;
        progress.report(0.4 * static_cast<double>(at) / static_cast<double>(source.size()));
        if (progress.cancelled()) return fail_cancelled();
    }
    if (left != 0) return fail_at(name, 1, "a Zstandard file that ends early", "all of it");
    if (out.beyond()) return too_large(name, most);
    return out.take();
}

}  // namespace

Compression compression_of(const ByteSource& source) {
    char head[4] = {};
    const auto n = source.read_at(0, head);
    if (!n || *n < 4) return Compression::none;
    const std::string_view text(head, 4);
    if (text.starts_with("\x1F\x8B")) return Compression::gzip;
    return text == "\x28\xB5\x2F\xFD" ? Compression::zstd : Compression::none;
}

Result<std::string> expand(const ByteSource& source, const std::string& name, Progress& progress,
                           std::uint64_t most) {
    switch (compression_of(source)) {
        case Compression::gzip: return gunzip(source, name, progress, most);
        case Compression::zstd: return unzstd(source, name, progress, most);
        case Compression::none: break;
    }
    return fail_at(name, 1, "no compressed file", "gzip or Zstandard");
}

Result<std::string> expand_head(const ByteSource& source, const std::string& name, std::size_t wanted) {
    std::vector<char> in(std::min<std::uint64_t>(source.size(), wanted + piece));
    const auto n = source.read_at(0, in);
    if (!n) return fail(n.error());
    std::string out(wanted, '\0');
    if (compression_of(source) == Compression::gzip) {
        z_stream z{};
        if (inflateInit2(&z, 15 + 16) != Z_OK) return fail_system(name, "no memory to expand it", "some");
        const std::unique_ptr<z_stream, int (*)(z_stream*)> close(&z, inflateEnd);
        z.next_in = reinterpret_cast<Bytef*>(in.data());
        z.avail_in = static_cast<uInt>(*n);
        z.next_out = reinterpret_cast<Bytef*>(out.data());
        z.avail_out = static_cast<uInt>(out.size());
        const int code = inflate(&z, Z_SYNC_FLUSH);
        if (code != Z_OK && code != Z_STREAM_END && code != Z_BUF_ERROR)
            return fail_at(name, 1, "a broken gzip file", "one that expands");
        out.resize(out.size() - z.avail_out);
        return out;
    }
    const std::unique_ptr<ZSTD_DStream, std::size_t (*)(ZSTD_DStream*)> z(ZSTD_createDStream(),
                                                                          ZSTD_freeDStream);
    if (!z) return fail_system(name, "no memory to expand it", "some");
    ZSTD_inBuffer input{in.data(), *n, 0};
    ZSTD_outBuffer output{out.data(), out.size(), 0};
    while (input.pos < input.size && output.pos < output.size) {
        const auto left = ZSTD_decompressStream(z.get(), &output, &input);
        if (ZSTD_isError(left) != 0) return fail_at(name, 1, "a broken Zstandard file", "one that expands");
        if (left == 0) break;
    }
    out.resize(output.pos);
    return out;
}

Result<std::string> head_of_file(const std::filesystem::path& path, std::size_t bytes) {
    const auto file = FileSource::open(path);
    if (!file) return fail(file.error());
    if (compression_of(**file) != Compression::none) return expand_head(**file, path.string(), bytes);
    std::string head(std::min<std::uint64_t>(bytes, (*file)->size()), '\0');
    const auto n = (*file)->read_at(0, head);
    if (!n) return fail(n.error());
    head.resize(*n);
    return head;
}

}  // namespace grayrelic
