// SPDX-License-Identifier: GPL-3.0-or-later
// A stand-in for the host: what a modern machine would understand of the reports that it is sent. It knows a
// report only by the descriptor, and characters only by its layout; it shares nothing with what makes the
// reports.
#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/input/layout.hpp"
#include "core/input/reports.hpp"

namespace grayrelic {

enum class HostEventKind { press, release, value, typed, trouble };
template <>
inline constexpr std::array words_of<HostEventKind>{"press", "release", "value", "typed", "trouble"};

struct HostEvent {
    Time at;
    HostEventKind kind = HostEventKind::press;
    Usage usage{};
    long long value = 0;  ///< of an axis; of a relative one the step
    std::string says;     ///< typed: the character; trouble: what is wrong; else the usage in words
};

struct HostOptions {
    const KeyboardLayout* layout = nullptr;  ///< null: nothing is typed
    bool caps = false;                       ///< caps lock is on at the beginning
};

struct HostView {
    std::vector<HostEvent> events;
    std::string text;           ///< all that was typed
    std::vector<Usage> stuck;   ///< still held at the end
    std::size_t rollovers = 0;  ///< reports that said "too many keys"
    std::size_t together = 0;   ///< reports in which two keys went down at once: their order is not told
    std::size_t troubles = 0;
    bool caps = false;  ///< at the end
};

/// Report by report, as they arrive. The descriptor and the layout must outlive it.
class UsbHost {
  public:
    UsbHost(const ReportDescriptor& descriptor, const HostOptions& options);
    void take(const TimedReport& report);
    /// What is understood so far; `stuck` is what is held now.
    [[nodiscard]] const HostView& view();

  private:
    void take_value(const ReportValue& v);
    void keep_keys(int id, std::set<Usage>& held) const;
    void change(int id, const std::set<Usage>& held);
    void typed(std::uint16_t key, const std::set<Usage>& held);
    void character(const std::string& c);
    void event(HostEventKind kind, Usage usage, long long value);
    void trouble(const std::string& says);
    const ReportDescriptor& descriptor_;
    const HostOptions options_;
    HostView out_;
    Time at_;
    std::map<int, std::set<Usage>> held_;  // by report id
    std::map<Usage, std::optional<long long>> values_;
    std::string waiting_;  // an accent
};

[[nodiscard]] HostView host_view(const ReportDescriptor& descriptor, const std::vector<TimedReport>& reports,
                                 const HostOptions& options);

}  // namespace grayrelic
