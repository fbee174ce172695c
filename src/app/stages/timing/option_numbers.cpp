// SPDX-License-Identifier: GPL-3.0-or-later
// An option's numbers: which of them stand on its card, and what a change of one does.
#include "app/stages/timing/option_card.hpp"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/dossier/edits.hpp"
#include "core/timing/reply_option.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

void OptionCard::add_busy(QGridLayout& grid, int& row) {
    auto* label = new QLabel(tr("While busy"));
    label->setFont(text_font(12));
    label->setToolTip(tr("A trigger that comes while the last one is still served"));
    busy_ = new QComboBox;
    for (const auto& [text, busy] : {std::pair{tr("served late"), WhenBusy::late},
                                     {tr("lost"), WhenBusy::lost},
                                     {tr("queued"), WhenBusy::queue}})
        busy_->addItem(text, to_q(word(busy)));
    busy_->setAccessibleName(tr("While busy"));
    busy_->setProperty("compact", true);
    connect(busy_, &QComboBox::activated, this, [this] {
        const auto* o = document_.dossier().timing->find_option(id_);
        if (o == nullptr) return;
        auto changed = *o;
        changed.busy = named<WhenBusy>(busy_->currentData().toString().toStdString()).value_or(o->busy);
        apply(tr("busy rule of %1").arg(to_q(o->name)), std::move(changed));
    });
    grid.addWidget(label, row, 0);
    grid.addWidget(busy_, row++, 1, 1, 2);
}

void OptionCard::add_network(QGridLayout& grid, int& row) {
    auto* label = new QLabel(tr("Network"));
    label->setFont(text_font(12));
    label->setToolTip(tr("Its net list stands in the Logic view"));
    network_ = new QComboBox;
    network_->setAccessibleName(tr("Network"));
    network_->setProperty("compact", true);
    connect(network_, &QComboBox::activated, this, [this] {
        const auto* o = document_.dossier().timing->find_option(id_);
        if (o == nullptr) return;
        auto changed = *o;
        changed.network = network_->currentData().toString().toStdString();
        apply(tr("network of %1").arg(to_q(o->name)), std::move(changed));
    });
    grid.addWidget(label, row, 0);
    grid.addWidget(network_, row++, 1, 1, 2);
}

std::string OptionCard::rows_of(const BuildOption& option) {
    std::string rows = option.measured.capture.empty() ? "|" : "|measured|";
    for (const auto& spec : parameters_of(option.kind)) {
        const bool there = spec.unit == Unit::second
                               ? std::any_of(option.parameters.begin(), option.parameters.end(),
                                             [&](const OptionParameter& p) { return p.key == spec.key; })
                               : std::any_of(option.numbers.begin(), option.numbers.end(),
                                             [&](const NumberFact& p) { return p.key == spec.key; });
        const bool taken = !option.measured.capture.empty() && spec.key.starts_with("latency");
        if ((there || !spec.optional) && !taken) rows += spec.key + "|";
    }
    return rows;
}

void OptionCard::add_number(const QString& key) {
    const auto* o = document_.dossier().timing->find_option(id_);
    if (o == nullptr) return;
    apply(tr("%1 of %2").arg(key, to_q(o->name)), with_usual(*o, key.toStdString()));
}

std::optional<QString> OptionCard::change_number(const QString& key, const QString& text,
                                                 std::optional<EvidenceKind> evidence) {
    const auto* o = document_.dossier().timing->find_option(id_);
    if (o == nullptr) return std::nullopt;
    auto changed = *o;
    const auto k = key.toStdString();
    Unit unit = Unit::none;
    for (const auto& spec : parameters_of(kind_))
        if (spec.key == k) unit = spec.unit;
    auto it = std::find_if(changed.numbers.begin(), changed.numbers.end(),
                           [&](const NumberFact& p) { return p.key == k; });
    if (it == changed.numbers.end()) it = changed.numbers.insert(changed.numbers.end(), {k, {}});
    if (evidence) {
        it->value.evidence.kind = *evidence;
    } else {
        const auto number = parse_number(text.toStdString(), unit);
        if (!number) return tr("Expected %1.").arg(to_q(number.error().expected));
        if (*number != it->value.value)
            it->value = {*number,
                         std::nullopt,
                         {EvidenceKind::assumed, tr("typed in, no source yet").toStdString(), "", ""}};
    }
    if (kind_ != OptionKind::network && changed.measured.capture.empty())
        if (auto model = model_of(changed); !model) return to_q("Expected " + model.error().expected + ".");
    if (changed != *o) apply(tr("%1 of %2").arg(key, to_q(o->name)), std::move(changed));
    return std::nullopt;
}

std::optional<QString> OptionCard::change_measured(const QString& key, const QString& text) {
    const auto* o = document_.dossier().timing->find_option(id_);
    if (o == nullptr) return std::nullopt;
    const auto edge = parse_edge(text.trimmed().toStdString());
    if (!edge) return tr("Expected %1.").arg(to_q(edge.error().expected));
    auto changed = *o;
    (key == QStringLiteral("measured-from") ? changed.measured.from : changed.measured.to) =
        text.trimmed().toStdString();
    if (changed != *o) apply(tr("entry latency of %1").arg(to_q(o->name)), std::move(changed));
    return std::nullopt;
}

std::optional<QString> OptionCard::change(const QString& key, std::optional<Time> value,
                                          std::optional<EvidenceKind> evidence) {
    const auto* o = document_.dossier().timing->find_option(id_);
    if (o == nullptr) return std::nullopt;
    auto changed = *o;
    const auto wanted = key.toStdString();
    auto it = std::find_if(changed.parameters.begin(), changed.parameters.end(),
                           [&](const OptionParameter& p) { return p.key == wanted; });
    if (it == changed.parameters.end()) {
        changed.parameters.push_back({wanted, {}});
        it = std::prev(changed.parameters.end());
    }
    if (value && *value != it->value.value) {
        it->value.value = *value;
        it->value.uncertainty.reset();
        // A number typed in has no source yet: the old evidence was for the old number.
        it->value.evidence = {EvidenceKind::assumed, tr("typed in, no source yet").toStdString(), "", ""};
    }
    if (evidence) it->value.evidence.kind = *evidence;
    if (changed.measured.capture.empty())
        if (auto model = model_of(changed); !model) return to_q("Expected " + model.error().expected + ".");
    document_.apply(tr("%1 of %2").arg(key, to_q(o->name)), put(document_.dossier(), std::move(changed)));
    return std::nullopt;
}

}  // namespace grayrelic::app
