// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/capture_file.hpp"

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/signal/csv_reader.hpp"
#include "core/signal/csv_writer.hpp"
#include "core/signal/vcd_reader.hpp"
#include "core/signal/vcd_writer.hpp"

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

Result<Capture> read_capture_file(const std::filesystem::path& path, Progress& progress,
                                  const CsvOptions& options) {
    const auto file = FileSource::open(path);
    if (!file) return fail(file.error());
    // What begins with neither is named for what its ending promises.
    const char first = first_character(**file);
    const bool dump =
        first == '$' || path.extension() == ".vcd" || (first == 0 && path.extension() != ".csv");
    if (dump) return read_vcd(**file, path.string(), progress);
    return read_csv(**file, path.string(), progress, options);
}

Result<WrittenCapture> write_capture_file(const Capture& capture, const std::filesystem::path& path,
                                          Progress& progress, FileSystem& files) {
    const auto ending = path.extension();
    if (ending != ".vcd" && ending != ".csv")
        return fail_usage("the ending " + in_quotes(ending.string()), "an output named .vcd or .csv");
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
