// SPDX-License-Identifier: GPL-3.0-or-later
// The edit journal: what was changed since the last save, kept beside the dossier so that it outlives the
// program.
//
// A text file of JSON lines (docs/formats/journal.md). The first line names the dossier it starts from by a
// sum over its text; each further line is one step: an RFC 6902 patch from the state before, with the sum of
// the state after it. A line that was cut off by a crash ends the journal there; everything before it counts.
#pragma once

#include <filesystem>
#include <memory>
#include <optional>
#include <string>

#include "core/base/file_system.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

inline constexpr const char* journal_file = "dossier.journal";
inline constexpr const char* lock_file = "dossier.lock";

/// What a journal left behind holds beyond the dossier it stands beside.
struct LeftEdits {
    Dossier dossier;                   ///< with all of its edits
    long edits = 0;                    ///< steps since the dossier's state
    std::vector<std::string> outside;  ///< captures it refers to outside the folder
    std::string trouble;               ///< why it ends early; empty when it is whole
};

/// Nothing when there is no journal, or when it holds nothing that the dossier does not. An error when it
/// can't be read, or belongs to another state of the dossier; then it is left as it is.
[[nodiscard]] Result<std::optional<LeftEdits>> read_journal(const std::filesystem::path& path,
                                                            const Dossier& base, FileSystem& files = disk());

class JournalWriter {
  public:
    /// Nothing is written before the first step.
    JournalWriter(std::filesystem::path path, Dossier base, FileSystem& files = disk());
    ~JournalWriter();
    JournalWriter(const JournalWriter&) = delete;
    JournalWriter& operator=(const JournalWriter&) = delete;

    /// Adds the step to this state and flushes it. The folder is never made: where it has vanished, this
    /// fails. After a failure the next call writes the journal anew, so that a disk that was full for a while
    /// leaves no gap. The first call replaces a journal that was left behind, as a whole, so its edits must
    /// be in the state by then.
    [[nodiscard]] Status record(const Dossier& next);
    /// After a save, or when changes are thrown away on purpose. One that was left behind goes too: its edits
    /// are in the state, or were thrown away.
    void remove();

  private:
    struct State;
    std::unique_ptr<State> state_;
};

/// Journals of dossiers that were never saved lie in this folder of the person's state.
[[nodiscard]] std::filesystem::path unsaved_folder();

}  // namespace grayrelic
