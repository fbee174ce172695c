// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/csv_preview.hpp"

#include "core/base/long_work.hpp"

#include <algorithm>

#include "core/base/byte_source.hpp"
#include "core/base/text.hpp"
#include "core/capture/expand.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t preview_bytes = 64U << 10U;
constexpr std::size_t rows_shown = 12;
constexpr std::size_t lines_above = 6;

/// Whole lines only, unless there is a single one.
std::string_view whole_lines(const std::string& text) {
    if (text.size() < preview_bytes) return text;
    const auto end = text.rfind('\n');
    return end == std::string::npos ? std::string_view(text) : std::string_view(text).substr(0, end + 1);
}

std::string shown(std::string_view text) {
    if (text.ends_with('\r')) text.remove_suffix(1);
    std::string out(text.substr(0, 200));
    const bool readable = is_utf8(out);
    for (auto& c : out) {
        const auto u = static_cast<unsigned char>(c);
        if (u == '\t')
            c = ' ';
        else if (u < 0x20 || (u >= 0x80 && !readable))
            c = '?';
    }
    return out;
}

}  // namespace

Result<CsvPreview> preview_csv(const std::filesystem::path& path, const CsvOptions& options) {
    long_work("preview_csv");
    const auto head = head_of_file(path, preview_bytes);
    if (!head) return fail(head.error());
    CsvPreview out;
    const auto text = whole_lines(*head);
    auto dialect = find_csv_dialect(text, path.filename().string(), options);
    if (!dialect)
        out.problem = dialect.error().message();
    else
        out.dialect = std::move(*dialect);
    // The lines: those above the first row, and the first rows.
    std::vector<std::string> above;
    std::vector<std::string_view> row;
    const std::uint64_t first = dialect ? out.dialect.data : text.size();
    for (std::size_t at = text.starts_with("\xEF\xBB\xBF") ? 3 : 0;
         at < text.size() && out.rows.size() < rows_shown;) {
        const auto end = std::min(text.find('\n', at), text.size());
        auto line = text.substr(at, end - at);
        if (line.ends_with('\r')) line.remove_suffix(1);
        if (at < first) {
            if (dialect || above.size() < rows_shown) above.push_back(shown(line));
        } else if (!is_csv_comment(line)) {
            (void)split_csv_row(line, out.dialect.delimiter, CsvLimits{}.columns, row);
            auto& cells = out.rows.emplace_back();
            for (const auto f : row) cells.push_back(shown(f));
        }
        at = end + 1;
    }
    const auto skipped = dialect && above.size() > lines_above ? above.size() - lines_above : 0;
    out.above.assign(above.begin() + static_cast<std::ptrdiff_t>(skipped), above.end());
    for (std::size_t c = 0; c < out.dialect.names.size(); ++c) {
        const bool levels = std::all_of(out.rows.begin(), out.rows.end(), [&](const auto& r) {
            return c >= r.size() || digital_csv_value(trim(r[c])) != 0;
        });
        const auto use = out.dialect.time == c
                             ? (out.dialect.numbered ? ColumnUse::sample_number : ColumnUse::time)
                         : levels ? ColumnUse::levels
                                  : ColumnUse::analogue;
        out.columns.push_back({out.dialect.names[c], use});
    }
    return out;
}

bool looks_like_table(const std::filesystem::path& path) {
    const auto head = head_of_file(path, preview_bytes);
    if (!head || head->empty()) return false;
    const auto text = trim(std::string_view(*head).substr(0, 4096));
    if (text.empty() || text.front() == '$' || text.starts_with("RIFF")) return false;
    // Text: no control characters but those between fields and lines.
    return std::none_of(text.begin(), text.end(), [](char c) {
        return static_cast<unsigned char>(c) < 0x20 && c != '\t' && c != '\r' && c != '\n';
    });
}

}  // namespace grayrelic
