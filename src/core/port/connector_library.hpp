// SPDX-License-Identifier: GPL-3.0-or-later
// The library of connectors: every data file of the shipped folder and of the person's own, which override by
// id. A file that breaks the rules of the format is skipped and said; the rest loads.
//
// A family file (its id ends in "-2xn" or "-mxn") stands for all its sizes. An id of it names the size, and
// where it differs from the file's own, the pitch in millimetres and the column of a key:
// "header-2x10", "header-2x10-p2.0", "edge-2x15-p2.54-k6".
#pragma once

#include <filesystem>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/port/connector.hpp"

namespace grayrelic {

/// The size of one member of a family; zero where the file's own value holds.
struct ConnectorSize {
    int rows = 0;
    int columns = 0;
    double pitch_mm = 0.0;
    int key_column = 0;  ///< a key stands after this column; 0 for none
};

/// A data file as far as it does not depend on the size.
struct ConnectorFile {
    std::string id;  ///< "dsub-9", or of a family "header-2xn"
    std::string name;
    std::string group;
    std::string file;
    std::string text;     ///< the JSON, read again for each size
    bool family = false;  ///< rows, columns or both are free
    int rows = 0;         ///< of a family; 0 when free
    int most = 0;         ///< of a family, columns (and rows where they are free)
    std::vector<double> pitches_mm;
    bool may_have_key = false;
};

[[nodiscard]] Result<ConnectorFile> connector_file_from_json(std::string text, const std::string& file);
/// `size` is ignored when the file is of no family.
[[nodiscard]] Result<Connector> connector_from_json(std::string_view text, const std::string& file,
                                                    const ConnectorSize& size = {});

class ConnectorLibrary {
  public:
    /// Later folders override earlier ones. A folder that is missing is empty.
    [[nodiscard]] static ConnectorLibrary load(FileSystem& files,
                                               const std::vector<std::filesystem::path>& folders);
    [[nodiscard]] const std::vector<ConnectorFile>& files() const {
        return files_;
    }  ///< by group, then by size
    /// What was skipped, one message for each file.
    [[nodiscard]] const std::vector<Error>& problems() const { return problems_; }
    [[nodiscard]] Result<Connector> find(const std::string& id) const;
    /// The family's file and the size that an id names; nothing when it names no family.
    struct Member {
        const ConnectorFile* file;
        ConnectorSize size;
    };
    [[nodiscard]] std::optional<Member> member(std::string_view id) const;
    /// The id of a family's member.
    [[nodiscard]] static std::string id_of(const ConnectorFile& file, const ConnectorSize& size);

  private:
    void add(ConnectorFile file);
    std::vector<ConnectorFile> files_;
    std::vector<Error> problems_;
};

/// GRAY_RELIC_DATA, else the folder beside an installed program, else the source tree's.
[[nodiscard]] std::filesystem::path data_folder();
/// $XDG_DATA_HOME/gray-relic, where a person's own data files live.
[[nodiscard]] std::filesystem::path user_data_folder();

}  // namespace grayrelic
