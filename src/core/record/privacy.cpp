// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/privacy.hpp"

#include <pwd.h>
#include <unistd.h>

#include <algorithm>
#include <array>

#include "core/base/text.hpp"
#include "core/board/zip_folder.hpp"

namespace grayrelic {
namespace {

bool letter_or_digit(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9');
}

bool in_address(char c) {
    return letter_or_digit(c) || c == '.' || c == '_' || c == '-' || c == '+' || c == '%';
}

std::string small(std::string_view text) {
    std::string out(text);
    for (auto& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

/// "somebody@example.org" around an @; empty for none.
std::string address_at(std::string_view line, std::size_t at) {
    std::size_t from = at, to = at + 1;
    while (from > 0 && in_address(line[from - 1])) --from;
    while (to < line.size() && in_address(line[to]) && line[to] != '_' && line[to] != '%' && line[to] != '+')
        ++to;
    auto domain = line.substr(at + 1, to - at - 1);
    while (!domain.empty() && !letter_or_digit(domain.back())) domain.remove_suffix(1);
    const auto dot = domain.rfind('.');
    const bool ends = dot != std::string_view::npos && dot > 0 && domain.size() - dot > 2 &&
                      std::all_of(domain.begin() + static_cast<std::ptrdiff_t>(dot) + 1, domain.end(),
                                  [](char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); });
    return from < at && ends ? std::string(line.substr(from, at - from + 1)) + std::string(domain)
                             : std::string();
}

/// The path from `at`, where a name of somebody follows; empty for none.
std::string home_at(std::string_view line, std::string_view lower) {
    for (const std::string_view home : {"/home/", "/users/", "\\users\\", "/root/"})
        for (auto at = lower.find(home); at != std::string_view::npos; at = lower.find(home, at + 1)) {
            if (at > 0 && in_address(line[at - 1])) continue;  // a folder of that name somewhere else
            auto to = at + home.size();
            while (to < line.size() && (in_address(line[to]) || line[to] == '/' || line[to] == '\\')) ++to;
            if (to > at + home.size()) return std::string(line.substr(at, to - at));
        }
    return {};
}

class Looker {
  public:
    Looker(const std::string& name, const PrivateWords& words, std::vector<PrivateHit>& out)
        : name_(name), out_(out) {
        constexpr std::size_t least = 3;
        for (const auto& w : words.words)
            if (w.size() >= least) words_.push_back(small(w));
    }
    void text(std::string_view all) {
        long number = 0;
        std::size_t from = 0;
        while (from <= all.size() && out_.size() < most_private_hits) {
            const auto to = std::min(all.find('\n', from), all.size());
            line(all.substr(from, to - from), ++number);
            from = to + 1;
        }
    }
    void add(long at, std::string what, std::string_view found) {
        constexpr std::size_t longest = 60;
        if (out_.size() < most_private_hits)
            out_.push_back({name_, at, std::move(what), shortened(found, longest)});
    }

  private:
    void line(std::string_view text, long number) {
        for (auto at = text.find('@'); at != std::string_view::npos; at = text.find('@', at + 1))
            if (const auto address = address_at(text, at); !address.empty())
                add(number, "an e-mail address", address);
        const auto lower = small(text);
        if (const auto home = home_at(text, lower); !home.empty())
            add(number, "a path in somebody's home", home);
        for (const auto& w : words_)
            for (auto at = lower.find(w); at != std::string::npos; at = lower.find(w, at + 1)) {
                const bool begins = at == 0 || !letter_or_digit(lower[at - 1]);
                const bool ends = at + w.size() >= lower.size() || !letter_or_digit(lower[at + w.size()]);
                if (!begins || !ends) continue;
                add(number, "a word that is to stay private", text.substr(at, w.size()));
                break;
            }
    }
    const std::string& name_;
    std::vector<PrivateHit>& out_;
    std::vector<std::string> words_;
};

constexpr std::string_view png_sign = "\x89PNG\r\n\x1a\n";
constexpr std::string_view jpeg_sign = "\xFF\xD8\xFF";
constexpr std::string_view zip_sign = "PK\x03\x04";

std::size_t number_at(std::string_view bytes, std::size_t at, std::size_t count) {
    std::size_t out = 0;
    for (std::size_t i = 0; i < count; ++i) out = out << 8U | static_cast<unsigned char>(bytes[at + i]);
    return out;
}

/// Chunks that hold words or a camera's data (ISO 15948).
void look_into_png(std::string_view bytes, Looker& look) {
    std::size_t at = png_sign.size();
    while (at + 12 <= bytes.size()) {
        const auto size = number_at(bytes, at, 4);
        const auto kind = bytes.substr(at + 4, 4);
        if (size > bytes.size() - at - 12) return;
        const auto body = bytes.substr(at + 8, size);
        if (kind == "eXIf") look.add(0, "what the camera wrote (time, perhaps the place)", kind);
        if (kind == "tEXt" || kind == "iTXt" || kind == "zTXt") {
            if (kind != "tEXt")
                look.add(0, "a text inside the picture", body.substr(0, body.find('\0')));
            else
                look.text(body);
        }
        at += 12 + size;
    }
}

/// Application segment 1 and comments (ISO 10918-1).
void look_into_jpeg(std::string_view bytes, Looker& look) {
    std::size_t at = 2;
    while (at + 4 <= bytes.size() && bytes[at] == '\xFF') {
        const auto kind = static_cast<unsigned char>(bytes[at + 1]);
        constexpr unsigned begin_of_scan = 0xDA, application_1 = 0xE1, comment = 0xFE;
        if (kind == begin_of_scan) return;
        const auto size = number_at(bytes, at + 2, 2);
        if (size < 2 || at + 2 + size > bytes.size()) return;
        const auto body = bytes.substr(at + 4, size - 2);
        if (kind == application_1)
            look.add(0, "what the camera wrote (time, perhaps the place)", body.substr(0, 4));
        if (kind == comment) look.text(body);
        at += 2 + size;
    }
}

}  // namespace

PrivateWords words_of_machine() {
    PrivateWords out;
    constexpr std::array common{"root", "user",   "admin", "localhost", "home",
                                "test", "debian", "build", "none"};
    const auto add = [&](const char* text) {
        if (text == nullptr) return;
        const auto word = small(text);
        if (std::find(common.begin(), common.end(), word) == common.end()) out.words.push_back(word);
    };
    constexpr std::size_t longest = 256;
    std::array<char, longest> host{};
    if (gethostname(host.data(), host.size() - 1) == 0) add(host.data());
    std::array<char, std::size_t{16} * 1024> buffer{};
    passwd entry{};
    passwd* found = nullptr;
    if (getpwuid_r(getuid(), &entry, buffer.data(), buffer.size(), &found) == 0 && found != nullptr)
        add(found->pw_name);
    return out;
}

std::vector<PrivateHit> private_things(std::string_view bytes, const std::string& name,
                                       const PrivateWords& words, Progress& progress) {
    std::vector<PrivateHit> out;
    Looker look(name, words, out);
    if (bytes.starts_with(png_sign)) {
        look_into_png(bytes, look);
    } else if (bytes.starts_with(jpeg_sign)) {
        look_into_jpeg(bytes, look);
    } else if (bytes.starts_with(zip_sign)) {
        const auto inside = read_zip(bytes, name, progress);
        if (!inside) {
            look.add(0, "an archive that can't be looked into", inside.error().found);
            return out;
        }
        for (const auto& file : inside->files)
            for (auto& hit : private_things(file.text, name + "/" + file.name, words, progress))
                if (out.size() < most_private_hits) out.push_back(std::move(hit));
    } else {
        look.text(bytes);
    }
    return out;
}

}  // namespace grayrelic
