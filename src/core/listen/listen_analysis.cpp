// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/listen/listen_analysis.hpp"

#include <algorithm>

#include "core/decode/decode_chain.hpp"
#include "core/dossier/store.hpp"

namespace grayrelic {

// What each part rests on stands where it is asked for.

struct ListenWork::Read {
    std::shared_ptr<const Capture> capture;
    std::string problem;
    bool passing = false;  // what could not be read may be there the next time
};
struct ListenWork::Sampled {
    std::optional<Time> period;
    bool found = false;
    std::optional<SamplingReport> report;
};
struct ListenWork::Health {
    std::vector<LineHealth> lines;
    std::vector<LineTraffic> traffic;
};
struct ListenWork::Decoded {
    std::shared_ptr<const Decoding> decoding, characters;
    std::string problem;
    std::shared_ptr<const std::vector<Candidate>> identified;
};
struct ListenWork::Lane {
    DecodedLane lane;
};

namespace {

/// Names of bits do not change what is read.
using ReadSetup = std::tuple<std::string, RoleMap, SettingMap>;
ReadSetup setup_of(const DecodeSetup& d) {
    return {d.kind, d.roles, d.settings};
}

constexpr double reading = 4, deciding = 3, looking = 1;  // weights, by rough time

}  // namespace

const CaptureAnalysis* ListenAnalysis::find_capture(std::string_view id) const {
    const auto it =
        std::find_if(captures.begin(), captures.end(), [&](const auto& c) { return c->ref.id == id; });
    return it == captures.end() ? nullptr : it->get();
}

const LineTraffic* CaptureAnalysis::find_traffic(std::string_view signal) const {
    const auto it =
        std::find_if(traffic.begin(), traffic.end(), [&](const auto& t) { return t.signal == signal; });
    return it == traffic.end() ? nullptr : &*it;
}

ListenWork::ListenWork(const Dossier& dossier, std::filesystem::path folder, CaptureReader reader,
                       Memory& memory, MemoryRun& run, std::shared_ptr<const ListenAnalysis> before,
                       std::function<void()> changed)
    : folder_(std::move(folder)),
      reader_(std::move(reader)),
      memory_(memory),
      run_(run),
      before_(std::move(before)),
      changed_(std::move(changed)) {
    for (const auto& ref : *dossier.captures) {
        parts_.emplace_back();
        parts_.back().ref = ref;
        parts_.back().names = dossier.names_in(ref);
        parts_.back().also.resize(ref.also.size());
    }
}

double ListenWork::weight(const Dossier& dossier) {
    double sum = 0;
    for (const auto& ref : *dossier.captures)
        sum += reading + deciding + 2 * looking + deciding * static_cast<double>(ref.also.size());
    return sum;
}

template <class Part>
void ListenWork::set(Parts& of, Part Parts::*which, Part value) {
    {
        const std::lock_guard lock(mutex_);
        of.*which = std::move(value);
    }
    changed_();
}

bool ListenWork::read() {
    for (auto& p : parts_) {
        const auto& ref = p.ref;
        const auto path = capture_path(ref, folder_);
        auto read = memory_.recall<Read>(
            run_, "capture " + ref.id,
            std::tuple(path ? path->string() : path.error().message(), path.has_value(), ref.read_as),
            reading, [ref, path, reader = reader_](Progress& progress) -> Result<Read> {
                if (!path) return Read{nullptr, path.error().message(), true};
                auto capture = reader(ref, *path, progress);
                if (progress.cancelled()) return fail_cancelled();
                if (!capture) return Read{nullptr, capture.error().message(), true};
                return Read{*capture, {}, false};
            });
        if (!read) return false;
        auto named = read->capture;
        if (named && !p.names.empty())
            named = memory_.recall_here<Capture>(run_, "named " + ref.id, std::tuple(read->capture, p.names),
                                                 [&] {
                                                     Capture c = *read->capture;
                                                     c.also_called = p.names;
                                                     return c;
                                                 });
        {
            const std::lock_guard lock(mutex_);
            p.named = std::move(named);
        }
        set(p, &Parts::read, std::move(read));
    }
    return true;
}

bool ListenWork::decode() {
    for (auto& p : parts_) {
        if (!p.read->capture) continue;
        auto decoded = memory_.recall<Decoded>(
            run_, "decode " + p.ref.id, std::tuple(p.read->capture, setup_of(p.ref.decode)), deciding,
            [capture = p.read->capture, setup = p.ref.decode](Progress& progress) -> Result<Decoded> {
                Decoded d;
                if (setup.kind.empty()) {
                    auto list = identify(*capture, {}, progress);
                    if (progress.cancelled()) return fail_cancelled();
                    d.identified = std::make_shared<const std::vector<Candidate>>(
                        list ? std::move(*list) : std::vector<Candidate>{});
                    return d;
                }
                auto chain = decode_chain(*capture, setup.kind, setup.roles, setup.settings, progress);
                if (progress.cancelled()) return fail_cancelled();
                if (!chain) {
                    d.problem = chain.error().message();
                    return d;
                }
                d.decoding = std::make_shared<const Decoding>(std::move(chain->decoding));
                if (chain->characters)
                    d.characters = std::make_shared<const Decoding>(std::move(*chain->characters));
                return d;
            });
        if (!decoded) return false;
        set(p, &Parts::decoded, std::move(decoded));
        for (std::size_t i = 0; i < p.ref.also.size(); ++i) {
            auto lane = memory_.recall<Lane>(
                run_, "decode " + p.ref.id + " also " + std::to_string(i),
                std::tuple(p.read->capture, setup_of(p.ref.also[i])), deciding,
                [capture = p.read->capture, setup = p.ref.also[i]](Progress& progress) -> Result<Lane> {
                    Lane l;
                    l.lane.title = setup.kind;
                    auto chain = decode_chain(*capture, setup.kind, setup.roles, setup.settings, progress);
                    if (progress.cancelled()) return fail_cancelled();
                    if (chain)
                        l.lane.decoding = std::make_shared<const Decoding>(std::move(chain->decoding));
                    else
                        l.lane.problem = chain.error().message();
                    return l;
                });
            if (!lane) return false;
            const std::lock_guard lock(mutex_);
            p.also[i] = std::move(lane);
        }
        set(p, &Parts::all_decoded, true);
    }
    return true;
}

bool ListenWork::sample() {
    for (auto& p : parts_) {
        if (!p.read->capture) continue;
        const auto rate = p.ref.sample_rate.value;
        auto sampled = memory_.recall<Sampled>(
            run_, "sampling " + p.ref.id,
            std::tuple(p.read->capture, rate ? std::optional(rate->value()) : std::nullopt), looking,
            [capture = p.read->capture, rate](Progress&) -> Result<Sampled> {
                Sampled s;
                if (rate && rate->value() > 0.0)
                    s.period = Time::from_seconds(1.0 / rate->value());
                else if (capture->sample_period)
                    s.period = capture->sample_period;
                else
                    s.period = find_sample_period(*capture), s.found = s.period.has_value();
                if (s.period) s.report = judge_sampling(*capture, *s.period);
                return s;
            });
        if (!sampled) return false;
        set(p, &Parts::sampled, std::move(sampled));
    }
    return true;
}

bool ListenWork::look() {
    for (auto& p : parts_) {
        if (!p.read->capture) continue;
        auto health = memory_.recall<Health>(
            run_, "lines " + p.ref.id, std::tuple(p.read->capture), looking,
            [capture = p.read->capture](Progress& progress) -> Result<Health> {
                Health h{examine_lines(*capture, progress), {}};
                for (const auto& s : capture->signals)
                    if (s.digital && !progress.cancelled())
                        h.traffic.push_back({s.name, glance_at(*s.digital, capture->extent)});
                if (progress.cancelled()) return fail_cancelled();
                return h;
            });
        if (!health) return false;
        set(p, &Parts::health, std::move(health));
    }
    return true;
}

CaptureAnalysis ListenWork::assemble(const Parts& p) {
    CaptureAnalysis a;
    a.ref = p.ref;
    if (!p.read) {
        a.under_way = "reading";
        return a;
    }
    a.capture = p.read->capture;
    a.problem = p.read->problem;
    if (!a.capture) return a;
    a.named = p.named;
    if (p.sampled) {
        a.sample_period = p.sampled->period;
        a.sample_period_found = p.sampled->found;
        a.sampling = p.sampled->report;
    }
    if (p.health) {
        a.health = p.health->lines;
        a.traffic = p.health->traffic;
    }
    if (p.decoded) {
        a.decoding = p.decoded->decoding;
        a.characters = p.decoded->characters;
        a.decode_problem = p.decoded->problem;
        a.identified = p.decoded->identified;
    }
    for (const auto& lane : p.also)
        if (lane) a.also.push_back(lane->lane);
    if (!p.all_decoded)
        a.under_way = "decoding";
    else if (!p.sampled || !p.health)
        a.under_way = "looking at its lines";
    return a;
}

bool ListenWork::Parts::whole() const {
    return read && (!read->capture || (all_decoded && sampled && health));
}

bool ListenWork::whole() {
    const std::lock_guard lock(mutex_);
    return std::all_of(parts_.begin(), parts_.end(), [](const Parts& p) { return p.whole(); });
}

std::shared_ptr<const ListenAnalysis> ListenWork::now() {
    std::vector<Parts> parts;
    {
        const std::lock_guard lock(mutex_);
        parts = parts_;
    }
    std::vector<std::shared_ptr<const CaptureAnalysis>> all;
    bool whole = true;
    for (const auto& p : parts) {
        const bool complete = p.whole();
        whole = whole && complete;
        const auto earlier = [&]() -> std::shared_ptr<const CaptureAnalysis> {
            if (before_)
                for (const auto& b : before_->captures)
                    if (b->ref.id == p.ref.id && b->under_way.empty()) return b;
            return nullptr;
        };
        // What is not whole is not remembered: the next version of it is about to come.
        if (complete)
            all.push_back(memory_.recall_here<CaptureAnalysis>(run_, "captured " + p.ref.id, p,
                                                               [&] { return assemble(p); }));
        else if (auto b = p.read ? nullptr : earlier())
            all.push_back(std::move(b));
        else
            all.push_back(std::make_shared<const CaptureAnalysis>(assemble(p)));
    }
    if (!whole) return std::make_shared<const ListenAnalysis>(ListenAnalysis{all});
    return memory_.recall_here<ListenAnalysis>(run_, "listen", all, [&] { return ListenAnalysis{all}; });
}

}  // namespace grayrelic
