// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/analysis/capture_store.hpp"

#include <algorithm>

#include "core/capture/capture_cache.hpp"
#include "core/capture/capture_file.hpp"

namespace grayrelic {

Result<std::shared_ptr<const Capture>> CaptureStore::read(const std::filesystem::path& path,
                                                          Progress& progress, const ReadAs& read_as) {
    const auto options = capture_options(read_as);
    if (!options) return fail(options.error());
    std::error_code code;
    const auto changed = std::filesystem::last_write_time(path, code);
    const auto key = path.string();
    {
        const std::lock_guard lock(mutex_);
        if (const auto it = kept_.find(key);
            it != kept_.end() && !code && it->second.changed == changed && it->second.read_as == read_as)
            return it->second.capture;
    }
    const auto shared = [](Capture c) {
        return std::shared_ptr<const Capture>(std::make_shared<const Capture>(std::move(c)));
    };
    Result<std::shared_ptr<const Capture>> capture = nullptr;
    if (auto kept = read_kept_capture(path, read_as, cache_folder)) {
        capture = shared(std::move(*kept));
    } else {
        const CaptureKeeper keeper(path, read_as, cache_folder);
        capture = read_capture_file(path, progress, *options).map(shared);
        if (capture && !cache_folder.empty()) {  // beside: nobody waits for the copy
            const std::lock_guard lock(mutex_);
            std::erase_if(keeping_, [](const std::future<void>& f) {
                return f.wait_for(std::chrono::seconds(0)) == std::future_status::ready;
            });
            keeping_.push_back(std::async(std::launch::async, [keeper, c = *capture] { keeper.keep(*c); }));
        }
    }
    if (!capture && capture.error().kind != Error::Kind::unreadable) return fail(capture.error());
    const std::lock_guard lock(mutex_);
    if (!code) kept_.insert_or_assign(key, Kept{changed, read_as, capture});
    return capture;
}

void CaptureStore::forget() {
    const std::lock_guard lock(mutex_);
    kept_.clear();
}

}  // namespace grayrelic
