// SPDX-License-Identifier: GPL-3.0-or-later
// The interface that every protocol family implements, and the list of families.
//
// A decoder reads signals in roles ("clock", "data") under settings. A setting left out or "auto" is chosen
// from the signals; what was chosen comes back in Decoding::settings. Bad frames stay in the list with their
// value and their errors; decoding resumes at the next place where a frame can start.
#pragma once

#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"
#include "core/decode/bit_times.hpp"
#include "core/decode/frame_extras.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

using SettingMap = std::map<std::string, std::string>;
/// Role to signal names. A repeated role has several; order counts.
using RoleMap = std::map<std::string, std::vector<std::string>>;

struct Frame {
    Time start;
    Time end;
    std::optional<std::uint64_t> value;  ///< nothing when it has more than 64 bits or an unknown level
    std::string levels;                  ///< line levels in order of arrival: 0, 1 or x
    BitTimes bit_times;                  ///< when each level was read
    std::vector<std::string> errors;
    FrameExtras extra;       ///< what the family adds, by its key
    std::uint32_t poll = 0;  ///< the host's poll that it answers, from 1; 0 in families without polls
};

/// An automatic setting that another value would fit as well.
struct Unsure {
    std::string what;                 ///< the setting's name
    std::vector<std::string> values;  ///< that fit
    std::string would_tell;           ///< the recording or knowledge that would
    bool operator==(const Unsure&) const = default;
};

struct Decoding {
    std::string kind;
    std::map<std::string, FrameExtra> settings;  ///< resolved
    std::vector<Frame> frames;
    std::map<std::string, long> error_counts;  ///< per error kind
    std::map<std::string, long> counts;        ///< what else the family counts: "forward", "resets"
    std::vector<std::string> notes;            ///< what could not be told apart, and what would tell
    std::vector<Unsure> unsure;                ///< of the settings that were left to the program
    [[nodiscard]] long frames_with_errors() const;
};

struct RoleSpec {
    std::string name;
    bool repeated = false;
    bool optional = false;
    std::string about;
};

struct SettingSpec {
    std::string name;                  ///< option name without dashes
    std::vector<std::string> choices;  ///< besides "auto"; empty for a free value
    std::string about;
};

class Decoder {
  public:
    Decoder() = default;
    Decoder(const Decoder&) = delete;
    Decoder& operator=(const Decoder&) = delete;
    virtual ~Decoder() = default;
    [[nodiscard]] virtual std::string kind() const = 0;   ///< "latch-shift"
    [[nodiscard]] virtual std::string about() const = 0;  ///< one sentence for people
    [[nodiscard]] virtual std::vector<RoleSpec> roles() const = 0;
    [[nodiscard]] virtual std::vector<SettingSpec> settings() const = 0;

    /// Checks roles and settings against the lists above, then decodes. Usage errors name what was wrong.
    [[nodiscard]] Result<Decoding> decode(const Capture& capture, const RoleMap& roles,
                                          const SettingMap& settings, Progress& progress) const;

  protected:
    struct Input {
        std::map<std::string, std::vector<const DigitalWaveform*>> waveforms;
        std::map<std::string, std::vector<std::string>> names;  ///< of the signals, as the capture calls them
        Span extent;                                            ///< of the capture
        SettingMap settings;                                    ///< only those that are not "auto"
        [[nodiscard]] const DigitalWaveform& role(const std::string& name) const {
            return *waveforms.at(name).front();
        }
        [[nodiscard]] std::optional<std::string> setting(const std::string& name) const;
    };
    [[nodiscard]] virtual Result<Decoding> run(const Input& input, Progress& progress) const = 0;
};

/// All families, in the order they are offered.
[[nodiscard]] const std::vector<std::unique_ptr<Decoder>>& decoders();
[[nodiscard]] Result<const Decoder*> find_decoder(std::string_view kind);

/// The number that a string of levels means; nothing for more than 64 levels or an unknown one.
[[nodiscard]] std::optional<std::uint64_t> value_of(std::string_view levels, bool msb_first);

}  // namespace grayrelic
