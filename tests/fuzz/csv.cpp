// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of samples, in whatever dialect the bytes look like.
#include <algorithm>
#include <cstdlib>

#include "core/capture/csv_reader.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 1) return 0;
    CsvOptions options;
    if ((data[0] & 1U) != 0) options.rate_hz = 1e6;
    if ((data[0] & 2U) != 0) options.time_power = -6;
    if ((data[0] & 4U) != 0) options.threshold = 1.5;
    Progress progress;
    const auto c = read_csv(std::string_view(reinterpret_cast<const char*>(data) + 1, size - 1), "fuzz",
                            progress, options);
    if (!c) return 0;
    for (const auto& s : c->signals) {
        const auto edges = s.digital->edges();
        if (!std::is_sorted(edges.begin(), edges.end(), std::less_equal<>{}) && edges.size() > 1)
            std::abort();
    }
    return 0;
}
