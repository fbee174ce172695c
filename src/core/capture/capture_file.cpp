// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/capture_file.hpp"

#include "core/base/long_work.hpp"

#include <new>
#include "core/base/machine.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/capture/csv_reader.hpp"
#include "core/capture/csv_writer.hpp"
#include "core/capture/expand.hpp"
#include "core/capture/vcd_reader.hpp"
#include "core/capture/vcd_writer.hpp"
#include "core/capture/wav_file.hpp"

namespace grayrelic {
namespace {

/// The first byte that is no blank and no byte-order mark; 0 when there is none among the first 4096.
char first_character(const ByteSource& source) {
    char head[4096];
    const auto n = source.read_at(0, head);
    if (!n) return 0;
    auto text = std::string_view(head, *n);
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    text = trim(text);
    return text.empty() ? '\0' : text.front();
}

}  // namespace

namespace {

Result<Capture> read_whole_file(const std::filesystem::path& path, Progress& progress,
                                const CaptureOptions& options) {
    const auto file = FileSource::open(path);
    if (!file) return fail(file.error());
    const ByteSource* source = file->get();
    const auto name = path.string();
    std::string text;
    std::optional<MemorySource> expanded;
    auto ending = path.extension();
    if (compression_of(*source) != Compression::none) {
        auto whole = expand(*source, name, progress);
        if (!whole) return fail(whole.error());
        text = std::move(*whole);
        source = &expanded.emplace(text);
        ending = path.stem().extension();  // "a.vcd.gz"
    }
    if (options.raw) return read_raw(*source, name, *options.raw, progress);
    char head[12] = {};
    if (const auto n = source->read_at(0, head);
        n && *n == 12 && std::string_view(head, 4) == "RIFF" && std::string_view(head + 8, 4) == "WAVE")
        return read_wav(*source, name, progress, options.table.threshold);
    if (ending == ".wav") return read_wav(*source, name, progress, options.table.threshold);
    // What begins with neither is named for what its ending promises.
    const char first = first_character(*source);
    const bool dump = first == '$' || ending == ".vcd" || (first == 0 && ending != ".csv");
    if (dump) return read_vcd(*source, name, progress);
    return read_csv(*source, name, progress, options.table);
}

}  // namespace

Result<Capture> read_capture_file(const std::filesystem::path& path, Progress& progress,
                                  const CaptureOptions& options) {
    long_work("read_capture_file");
    try {
        return read_whole_file(path, progress, options);
    } catch (const std::bad_alloc&) {
        return fail_memory(path.string());
    }
}

Result<WrittenCapture> write_capture_file(const Capture& capture, const std::filesystem::path& path,
                                          Progress& progress, FileSystem& files) {
    const auto ending = path.extension();
    if (ending != ".vcd" && ending != ".csv" && ending != ".wav")
        return fail_usage("the ending " + in_quotes(ending.string()), "an output named .vcd, .csv or .wav");
    if (ending == ".wav") {
        const auto rate = write_wav(capture, path, progress, files);
        if (!rate) return fail(rate.error());
        WrittenCapture written;
        written.remarks.push_back(
            {"written at " + print_number(*rate, Unit::hertz) + "; edges lie on its samples from here on",
             false});
        return written;
    }
    auto file = AtomicFile::open(files, path);
    if (!file) return fail(file.error());
    const TextSink sink = [&](std::string_view text) { return file->write(text); };
    WrittenCapture result;
    if (ending == ".csv") {
        if (auto done = write_csv(capture, sink, progress); !done) return fail(done.error());
    } else {
        const auto written = write_vcd(capture, {}, sink, progress);
        if (!written) return fail(written.error());
        if (written->shift > Time{})
            result.remarks.push_back(
                {"all times moved by " + print_exact(written->shift) + ": a dump begins at zero or later",
                 false});
        if (written->renamed)
            result.remarks.push_back({"blanks in names became \"_\": a dump's names hold none", false});
    }
    if (auto done = file->commit(); !done) return fail(done.error());
    return result;
}

}  // namespace grayrelic
