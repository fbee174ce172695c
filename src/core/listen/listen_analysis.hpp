// SPDX-License-Identifier: GPL-3.0-or-later
// Listen's analysis: the captures of a dossier, each read, looked at and decoded. Immutable; parts appear one
// after the other while they are made.
#pragma once

#include <filesystem>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/base/memory.hpp"
#include "core/decode/decoder.hpp"
#include "core/decode/identify.hpp"
#include "core/dossier/dossier.hpp"
#include "core/signal/line_health.hpp"
#include "core/signal/measure.hpp"
#include "core/signal/sampling.hpp"

namespace grayrelic {

/// What one decoder of a capture made of it; one of the two is set.
struct DecodedLane {
    std::string title;  ///< "async-serial", "async-serial, packets"
    std::shared_ptr<const Decoding> decoding;
    std::string problem;
};

/// A signal at a glance.
struct LineTraffic {
    std::string signal;
    PulseGlance glance;
};

struct CaptureAnalysis {
    CaptureRef ref;
    std::shared_ptr<const Capture> capture;  ///< null when it could not be read, or is not read yet
    std::string problem;                     ///< why it could not be read
    std::optional<Time> sample_period;       ///< as stated, else found in the edges
    bool sample_period_found = false;        ///< true when it was found in the edges
    std::optional<SamplingReport> sampling;
    std::shared_ptr<const Capture> named;  ///< the same, whose signals also go by their pins' names
    std::shared_ptr<const std::vector<Candidate>> identified;  ///< best first, while no family is chosen
    std::shared_ptr<const Decoding> decoding;  ///< null when nothing was asked for or it failed
    std::string decode_problem;
    std::shared_ptr<const Decoding> characters;  ///< what packets were put together from; null otherwise
    std::vector<DecodedLane> also;               ///< of CaptureRef::also, in its order
    std::vector<LineHealth> health;              ///< chatter, ringing and the like, line by line
    std::vector<LineTraffic> traffic;            ///< of each digital signal, in the capture's order
    [[nodiscard]] const LineTraffic* find_traffic(std::string_view signal) const;
    /// What is still being done: "reading", "decoding", "looking at its lines"; empty when all is there.
    std::string under_way;
};

struct ListenAnalysis {
    std::vector<std::shared_ptr<const CaptureAnalysis>> captures;  ///< in the dossier's order
    [[nodiscard]] const CaptureAnalysis* find_capture(std::string_view id) const;
};

/// Reads the file of a capture; a refusal that may be another one the next time is the reader's to remember.
using CaptureReader = std::function<Result<std::shared_ptr<const Capture>>(
    const CaptureRef& ref, const std::filesystem::path& file, Progress& progress)>;

/// Works the captures out, in passes that may run in threads of their own: first read(), then the
/// others side by side. After each part `changed` is called, from the pass's thread.
class ListenWork {
  public:
    /// `before`: what stands in for captures that this run has not come to; may be null.
    ListenWork(const Dossier& dossier, std::filesystem::path folder, CaptureReader reader, Memory& memory,
               MemoryRun& run, std::shared_ptr<const ListenAnalysis> before, std::function<void()> changed);
    static double weight(const Dossier& dossier);

    // Each is false when interrupted.
    [[nodiscard]] bool read();
    [[nodiscard]] bool decode();
    [[nodiscard]] bool sample();
    [[nodiscard]] bool look();  ///< the lines' health

    /// As far as it is.
    [[nodiscard]] std::shared_ptr<const ListenAnalysis> now();
    /// True when now() has everything of this version.
    [[nodiscard]] bool whole();

  private:
    struct Read;
    struct Sampled;
    struct Health;
    struct Decoded;
    struct Lane;
    struct Parts {
        CaptureRef ref;
        std::vector<std::pair<std::string, std::string>> names;  ///< Dossier::names_in
        std::shared_ptr<const Read> read;
        std::shared_ptr<const Capture> named;
        std::shared_ptr<const Sampled> sampled;
        std::shared_ptr<const Health> health;
        std::shared_ptr<const Decoded> decoded;
        std::vector<std::shared_ptr<const Lane>> also;
        bool all_decoded = false;
        [[nodiscard]] bool whole() const;
        bool operator==(const Parts&) const = default;
    };
    static CaptureAnalysis assemble(const Parts& parts);
    template <class Part>
    void set(Parts& of, Part Parts::*which, Part value);

    const std::filesystem::path folder_;
    CaptureReader reader_;
    Memory& memory_;
    MemoryRun& run_;
    std::shared_ptr<const ListenAnalysis> before_;
    std::function<void()> changed_;
    std::mutex mutex_;  // of parts_
    std::vector<Parts> parts_;
};

}  // namespace grayrelic
