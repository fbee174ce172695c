// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/pin_editor.hpp"

#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

template <class T>
QString show_optional(const Fact<std::optional<T>>& fact) {
    return fact.value ? to_q(print_exact(fact.value->value(), T::unit)) : QString();
}

template <class T>
std::optional<QString> read_optional(const QString& text, std::optional<T>& out) {
    if (text.isEmpty()) {
        out.reset();
        return std::nullopt;
    }
    const auto value = parse_quantity<T::unit>(text.toStdString());
    if (!value) return to_q("Expected " + value.error().expected + ".");
    out = *value;
    return std::nullopt;
}

}  // namespace

PinEditor::PinEditor(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    const auto text = [this](const QString& key, Fact<std::string> Pin::*member) {
        rows_[key]->commit = [this, key, member](const QString& value,
                                                 const Evidence& e) -> std::optional<QString> {
            change(tr("%1 of pin %2").arg(key, number_), [&](Pin& p) {
                (p.*member).value = value.toStdString();
                (p.*member).evidence = e;
            });
            return std::nullopt;
        };
    };
    add_row(QStringLiteral("name"), tr("Name"));
    text(QStringLiteral("name"), &Pin::name);
    add_row(QStringLiteral("driver"), tr("Driven by"),
            {"unknown", "relic", "bridge", "both", "supply", "nobody"});
    rows_["driver"]->commit = [this](const QString& value, const Evidence& e) -> std::optional<QString> {
        change(tr("driver of pin %1").arg(number_), [&](Pin& p) {
            p.driver.value = driver_named(value.toStdString()).value_or(Driver::unknown);
            p.driver.evidence = e;
        });
        return std::nullopt;
    };
    add_row(QStringLiteral("family"), tr("Logic family"));
    text(QStringLiteral("family"), &Pin::family);
    add_row(QStringLiteral("output"), tr("Output"), {"", "push-pull", "open-collector"});
    text(QStringLiteral("output"), &Pin::output);
    add_row(QStringLiteral("idle"), tr("Idle level"), {"", "high", "low"});
    text(QStringLiteral("idle"), &Pin::idle);
    add_row(QStringLiteral("volts"), tr("Highest voltage"));
    rows_["volts"]->commit = [this](const QString& value, const Evidence& e) -> std::optional<QString> {
        std::optional<Volts> v;
        if (const auto wrong = read_optional(value, v)) return wrong;
        change(tr("voltage of pin %1").arg(number_), [&](Pin& p) {
            p.volts_max.value = v;
            p.volts_max.evidence = e;
        });
        return std::nullopt;
    };
    add_row(QStringLiteral("current"), tr("Most current"));
    rows_["current"]->commit = [this](const QString& value, const Evidence& e) -> std::optional<QString> {
        std::optional<Amperes> a;
        if (const auto wrong = read_optional(value, a)) return wrong;
        change(tr("current of pin %1").arg(number_), [&](Pin& p) {
            p.current_max.value = a;
            p.current_max.evidence = e;
        });
        return std::nullopt;
    };
    note_ = new Field;
    note_->setPlaceholderText(tr("Note on this pin"));
    note_->setAccessibleName(tr("Note on this pin"));
    note_->commit = [this](const QString& value) -> std::optional<QString> {
        change(tr("note of pin %1").arg(number_), [&](Pin& p) { p.note = value.trimmed().toStdString(); });
        return std::nullopt;
    };
    layout->addWidget(note_);
    layout->addStretch(1);
}

FactRow* PinEditor::add_row(const QString& key, const QString& label, const QStringList& choices) {
    auto* row = new FactRow(label, choices);
    // As wide as the longest choice, so that the columns line up.
    if (row->value_field() != nullptr) row->value_field()->setMinimumWidth(126);
    rows_[key] = row;
    static_cast<QVBoxLayout*>(layout())->addWidget(row);
    return row;
}

void PinEditor::change(const QString& what, const std::function<void(Pin&)>& edit) {
    const auto* port = document_.dossier().find_port(port_.toStdString());
    if (port == nullptr || number_.isEmpty()) return;
    const auto* old = port->find_pin(number_.toStdString());
    Pin pin = old == nullptr ? Pin{} : *old;
    pin.number = number_.toStdString();
    edit(pin);
    document_.apply(what, with_pin(document_.dossier(), port_.toStdString(), std::move(pin)));
}

void PinEditor::show_pin(const QString& port, const QString& number) {
    port_ = port;
    number_ = number;
    const auto* found = document_.dossier().find_port(port.toStdString());
    const auto* old = found == nullptr ? nullptr : found->find_pin(number.toStdString());
    const Pin pin = old == nullptr ? Pin{} : *old;
    setEnabled(found != nullptr && !number.isEmpty());
    rows_["name"]->show_fact(to_q(pin.name.value), pin.name.evidence);
    rows_["driver"]->show_fact(to_q(word(pin.driver.value)), pin.driver.evidence);
    rows_["family"]->show_fact(to_q(pin.family.value), pin.family.evidence);
    rows_["output"]->show_fact(to_q(pin.output.value), pin.output.evidence);
    rows_["idle"]->show_fact(to_q(pin.idle.value), pin.idle.evidence);
    rows_["volts"]->show_fact(show_optional(pin.volts_max), pin.volts_max.evidence);
    rows_["current"]->show_fact(show_optional(pin.current_max), pin.current_max.evidence);
    note_->show_value(to_q(pin.note));
}

}  // namespace grayrelic::app
