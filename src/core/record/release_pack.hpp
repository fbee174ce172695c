// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that somebody else needs to build the thing, in one folder: files, licences, credits, evidence
// that is missing, checksums. Nothing private.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/progress.hpp"
#include "core/base/verdict.hpp"
#include "core/board/zip_folder.hpp"
#include "core/dossier/dossier.hpp"
#include "core/record/privacy.hpp"

namespace grayrelic {

struct PackProblem {
    Verdict verdict = Verdict::doubt;  ///< stop: the pack is not written. doubt, unknown: it says so inside
    std::string says;
    std::string todo;
    std::string place;  ///< "log/release/rights", "dossier.json:12"
};

struct ReleasePack {
    PackedFolder folder;                ///< with README.txt, LICENCES.txt and SHA256SUMS
    std::vector<PackProblem> problems;  ///< the worst first
    [[nodiscard]] bool may_go() const {
        for (const auto& p : problems)
            if (p.verdict == Verdict::stop) return false;
        return true;
    }
};

/// The dossier without what is nobody's business: orders, money, hours, worth and places of units, the words
/// that are to stay private.
[[nodiscard]] Dossier public_dossier(const Dossier& dossier);

/// What is missing before it can be published, without reading any file: rights, a version, the report's
/// assumed facts, open complaints.
[[nodiscard]] std::vector<PackProblem> missing_in_release(const Dossier& dossier);

/// `made`: what the program writes for it, such as report and card, by their names in the pack. An image
/// whose right to be passed on is not said is left out, and so is what the pack can't hold. Fails only when
/// stopped; a file that can't be read is a problem.
[[nodiscard]] Result<ReleasePack> make_pack(const Dossier& dossier, const std::filesystem::path& folder,
                                            const std::vector<PackedFile>& made, const PrivateWords& words,
                                            Progress& progress);

/// Into a zip archive, or as a folder that is not there yet or empty. Refused where may_go() is false.
[[nodiscard]] Status write_pack(const ReleasePack& pack, const std::filesystem::path& to, FileSystem& files);

}  // namespace grayrelic
