// SPDX-License-Identifier: GPL-3.0-or-later
// Edit journals: beside an empty dossier, from memory.
#include "core/dossier/journal.hpp"

using namespace grayrelic;

namespace {

class OneFile final : public FileSystem {
  public:
    explicit OneFile(std::string text) : text_(std::move(text)) {}
    Result<std::string> read(const std::filesystem::path&, std::size_t) override { return text_; }
    Result<std::unique_ptr<FileWriter>> create(const std::filesystem::path&) override {
        return fail_usage("", "");
    }
    Status rename(const std::filesystem::path&, const std::filesystem::path&) override { return {}; }
    Status flush_folder(const std::filesystem::path&) override { return {}; }
    Status make_folder(const std::filesystem::path&) override { return {}; }
    bool exists(const std::filesystem::path&) override { return true; }
    void remove(const std::filesystem::path&) override {}

  private:
    std::string text_;
};

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    OneFile file(std::string(reinterpret_cast<const char*>(data), size));
    (void)read_journal("fuzz", Dossier{}, file);
    return 0;
}
