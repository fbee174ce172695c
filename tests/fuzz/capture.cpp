// SPDX-License-Identifier: GPL-3.0-or-later
// Captures of whatever kind the bytes look like, by way of a file, with words on how to read it in front of
// the first line end; and what the import window shows of it. What was read can be written as a dump, a table
// and a waveform.
#include "core/base/text.hpp"
#include "core/capture/capture_file.hpp"
#include "core/capture/csv_preview.hpp"
#include "core/capture/import_options.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto all = fuzz::text_of(data, size);
    const auto end = all.find('\n');
    if (end == std::string_view::npos || end > 200) return 0;
    ReadAs words;
    for (const auto word : split(all.substr(0, end), ' ')) {
        const auto equals = word.find('=');
        if (equals == std::string_view::npos) continue;
        words[std::string(word.substr(0, equals))] = std::string(word.substr(equals + 1));
    }
    const auto options = capture_options(words);
    if (!options) return 0;
    const fuzz::MemoryFile file(all.substr(end + 1));
    Progress progress;
    (void)looks_like_table(file.path());
    (void)preview_csv(file.path(), options->table);
    const auto c = read_capture_file(file.path(), progress, *options);
    if (!c) return 0;
    fuzz::check_edges(*c);
    if (c->edge_count() > 2'000) return 0;
    for (const char* name : {"out.vcd", "out.csv", "out.wav"}) {
        // A waveform has samples between the edges as well, a hundred million of them if it is asked for.
        if (std::string_view(name) == "out.wav" && c->extent.length() > Time::us(50)) continue;
        fuzz::HeldFile held;
        (void)write_capture_file(*c, name, progress, held);
    }
    return 0;
}
