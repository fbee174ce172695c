// SPDX-License-Identifier: GPL-3.0-or-later
// The files that a dossier names: captures, photos, scans. One walk for all that treats them alike (saving,
// the journal, opening a copy); a section with files of its own is added here and nowhere else.
#pragma once

#include <functional>
#include <string>

#include "core/dossier/dossier.hpp"

namespace grayrelic {

/// One file as the dossier names it; `file` and `outside` may be changed in place.
struct DossierFile {
    std::string key;          ///< names it within the dossier: "minute", "photo:J1/0", "scan:front"
    std::string placeholder;  ///< stands for its place while it has none: "captures/minute.outside"
    std::string folder;       ///< below the dossier's where its kind is kept: "captures"
    std::string title;        ///< for messages: the photo "front"
    std::string& file;        ///< below the dossier's folder; empty while it is only outside
    std::string& outside;     ///< absolute path of one not yet copied in, else empty
};

/// Calls `visit` with each file in the order of the dossier and gives the dossier with what it changed.
/// Sections in which nothing changed stay the same version.
[[nodiscard]] Dossier visit_files(const Dossier& dossier,
                                  const std::function<void(const DossierFile&)>& visit);

}  // namespace grayrelic
