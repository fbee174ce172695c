// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/checksum.hpp"

#include <openssl/evp.h>

#include <array>
#include <fstream>
#include <memory>
#include <vector>

namespace grayrelic {
namespace {

class Sum {
  public:
    Sum() : context_(EVP_MD_CTX_new(), EVP_MD_CTX_free) {
        EVP_DigestInit_ex(context_.get(), EVP_sha256(), nullptr);
    }
    void add(const char* bytes, std::size_t count) { EVP_DigestUpdate(context_.get(), bytes, count); }
    std::string hex() {
        std::array<unsigned char, EVP_MAX_MD_SIZE> digest{};
        unsigned size = 0;
        EVP_DigestFinal_ex(context_.get(), digest.data(), &size);
        constexpr std::string_view digits = "0123456789abcdef";
        constexpr unsigned low = 15;
        std::string out;
        for (unsigned i = 0; i < size; ++i) {
            out += digits[digest[i] >> 4U];
            out += digits[digest[i] & low];
        }
        return out;
    }

  private:
    std::unique_ptr<EVP_MD_CTX, decltype(&EVP_MD_CTX_free)> context_;
};

}  // namespace

std::string sha256_of(std::string_view bytes) {
    Sum sum;
    sum.add(bytes.data(), bytes.size());
    return sum.hex();
}

Result<std::string> sha256_of_file(const std::filesystem::path& path, Progress& progress) {
    std::error_code fault;
    if (!std::filesystem::is_regular_file(path, fault))
        return fail_at(path.string(), 0, "no file", "a file that can be read");
    std::ifstream in(path, std::ios::binary);
    if (!in) return fail_at(path.string(), 0, "a file that can't be opened", "a file that can be read");
    constexpr std::size_t piece = std::size_t{1} << 20U;
    std::vector<char> buffer(piece);
    Sum sum;
    while (in) {
        if (progress.cancelled()) return fail_cancelled();
        in.read(buffer.data(), static_cast<std::streamsize>(buffer.size()));
        sum.add(buffer.data(), static_cast<std::size_t>(in.gcount()));
    }
    if (in.bad())
        return fail_at(path.string(), 0, "a file that can't be read to its end", "a file that can be read");
    return sum.hex();
}

}  // namespace grayrelic
