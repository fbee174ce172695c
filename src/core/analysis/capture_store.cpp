// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/analysis/capture_store.hpp"

#include "core/capture/capture_cache.hpp"

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
    auto capture = read_capture_cached(path, read_as, *options, cache_folder, progress).map([](Capture c) {
        return std::shared_ptr<const Capture>(std::make_shared<const Capture>(std::move(c)));
    });
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
