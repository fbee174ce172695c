// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/log_analysis.hpp"

#include "core/dossier/store.hpp"
#include "core/record/checksum.hpp"

namespace grayrelic {

Result<LogAnalysis> analyse_log(const JobLog& log, const std::filesystem::path& folder, Progress& progress) {
    LogAnalysis out;
    for (const auto& i : log.images) {
        if (i.file.empty() && i.outside.empty()) continue;
        const auto path = image_path(i, folder);
        auto sum = path ? sha256_of_file(*path, progress) : Result<std::string>(fail(path.error()));
        if (sum)
            out.sums[i.id] = std::move(*sum);
        else if (sum.error().kind == Error::Kind::cancelled)
            return fail(sum.error());
        else
            out.problems[i.id] = sum.error().message();
    }
    return out;
}

}  // namespace grayrelic
