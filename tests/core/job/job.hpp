// SPDX-License-Identifier: GPL-3.0-or-later
// A job that tests build up: analysed with the shipped data, a person of its own, and no files.
#pragma once

#include <memory>

#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/job/outlook.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic::test {

struct Job {
    Dossier dossier;
    Person person;
    std::optional<Day> today = std::chrono::year(2026) / 11 / 29;

    [[nodiscard]] std::shared_ptr<const Analysis> analysed() const {
        static const auto data = DataLibrary::load(disk(), {source_folder() / "data"});
        CaptureStore store;
        Progress progress;
        return *analyse(dossier, {}, store, progress, nullptr, data, {},
                        std::make_shared<const Person>(person));
    }
    /// Keeps what the outlook points at.
    [[nodiscard]] Outlook look() {
        kept_ = analysed();
        return outlook(*kept_, today);
    }
    template <class T>
    void add(T thing) {
        dossier = put(dossier, std::move(thing));
    }
    void plan(const std::function<void(JobPlan&)>& change) {
        dossier = edit(dossier, &Dossier::plan, change);
    }

  private:
    std::shared_ptr<const Analysis> kept_;
};

/// A fact as somebody measured it.
template <class T>
[[nodiscard]] Fact<T> measured(T value) {
    Fact<T> f;
    f.value = std::move(value);
    f.evidence.kind = EvidenceKind::measured;
    f.evidence.source = "meter";
    return f;
}

/// A signal of which all is measured.
[[nodiscard]] inline Pin known_pin(const std::string& number, const std::string& name) {
    Pin p;
    p.number = number;
    p.name = measured<std::string>(name);
    p.driver = measured(Driver::relic);
    p.function = measured<std::string>("signal");
    p.volts_max = measured<std::optional<Volts>>(Volts(3.3));
    return p;
}

[[nodiscard]] inline Port relic_port(std::vector<Pin> pins) {
    Port port;
    port.id = "J1";
    port.name = "control port";
    port.pins = std::move(pins);
    return port;
}

}  // namespace grayrelic::test
