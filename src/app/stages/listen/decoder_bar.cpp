// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/decoder_bar.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QResizeEvent>
#include <QSignalBlocker>
#include <QToolTip>

#include "app/paint/marks.hpp"
#include "core/base/text.hpp"
#include "core/decode/decoder.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {
namespace {

const Decoder* decoder_of(const QString& kind) {
    const auto found = find_decoder(kind.toStdString());
    return found ? *found : nullptr;
}

}  // namespace

DecoderBar::DecoderBar(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    grid_ = new QGridLayout(this);
    grid_->setContentsMargins(0, 0, 0, 0);
    grid_->setSpacing(6);
    lead_ = new QWidget;
    tail_ = new QWidget;
    auto* lead = new QHBoxLayout(lead_);
    auto* tail = new QHBoxLayout(tail_);
    for (auto* row : {lead, tail}) {
        row->setContentsMargins(0, 0, 0, 0);
        row->setSpacing(6);
    }
    which_ = new QComboBox;
    which_->setAccessibleName(tr("Which decoding of this capture"));
    which_->setToolTip(
        tr("One capture can be read by several families at once; each has its own lane of words"));
    connect(which_, &QComboBox::activated, this, [this] {
        if (const auto* a = document_.analysis().find_capture(capture_); a != nullptr && a->capture)
            show_setup(*a);
    });
    kind_ = new QComboBox;
    kind_->setAccessibleName(tr("Protocol family"));
    kind_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    kind_->setMinimumContentsLength(9);
    kind_->addItem(tr("nothing"), QString());
    for (const auto& d : decoders()) {
        kind_->addItem(to_q(d->kind()), to_q(d->kind()));
        kind_->setItemData(kind_->count() - 1, to_q(d->about()), Qt::ToolTipRole);
    }
    lead->addWidget(which_);
    lead->addWidget(kind_);
    settings_ = new QLineEdit;
    settings_->setPlaceholderText(tr("auto"));
    settings_->setAccessibleName(tr("Settings that are not automatic"));
    settings_->setMinimumWidth(60);
    tail->addWidget(settings_, 1);
    read_ = new QPushButton(tr("Read"));
    read_->setToolTip(tr("Read this capture's words with these roles"));
    connect(read_, &QPushButton::clicked, this, &DecoderBar::read);
    tail->addWidget(read_);
    contract_ = new QPushButton(tr("Contract"));
    contract_->setToolTip(
        tr("Derive the contract: measure from this capture what the host demands and the device kept, and "
           "ask whether a reply "
           "would be in time"));
    connect(contract_, &QPushButton::clicked, this, &DecoderBar::propose);
    tail->addWidget(contract_);
    connect(kind_, &QComboBox::activated, this, [this] {
        build_roles();
        if (const auto* a = document_.analysis().find_capture(capture_); a != nullptr && a->capture) {
            fill_roles(*a);
            allow(*a);
        }
    });
    place();
    build_roles();
}

void DecoderBar::build_roles() {
    const auto kind = kind_->currentData().toString();
    if (kind == built_) return;
    built_ = kind;
    delete role_row_;
    role_row_ = nullptr;
    roles_.clear();
    lists_.clear();
    const auto* decoder = decoder_of(kind);
    settings_->setEnabled(decoder != nullptr);
    if (decoder == nullptr) return place();
    role_row_ = new QWidget;
    auto* row = new QHBoxLayout(role_row_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    for (const auto& spec : decoder->roles()) {
        auto* label = new QLabel(to_q(spec.name));
        label->setToolTip(to_q(spec.about));
        row->addWidget(label);
        QWidget* field = nullptr;
        if (spec.repeated) {
            auto* line = new QLineEdit;
            line->setPlaceholderText(tr("signals, in order"));
            line->setMinimumWidth(60);
            lists_[to_q(spec.name)] = line;
            field = line;
        } else {
            auto* box = new QComboBox;
            box->setMinimumWidth(70);
            box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
            roles_[to_q(spec.name)] = box;
            field = box;
        }
        field->setAccessibleName(tr("Signal in the role %1").arg(to_q(spec.name)));
        field->setToolTip(to_q(spec.about));
        label->setBuddy(field);
        row->addWidget(field, 1);
    }
    place();
    QString names;
    for (const auto& s : decoder->settings())
        names += (names.isEmpty() ? QString() : QStringLiteral(", ")) + to_q(s.name);
    names += tr(", and packets for bytes put together, such as packets=length:6+xor");
    settings_->setToolTip(tr("What is not to be found from the signals: %1; such as %2=…")
                              .arg(names, names.section(QLatin1Char(','), 0, 0)));
    setToolTip(to_q(decoder->about()));
}

void DecoderBar::place() {
    for (auto* w : {lead_, tail_, role_row_})
        if (w != nullptr) grid_->removeWidget(w);
    grid_->addWidget(lead_, 0, 0);
    grid_->addWidget(tail_, 0, narrow_ ? 1 : 2);
    if (role_row_ != nullptr)
        grid_->addWidget(role_row_, narrow_ ? 1 : 0, narrow_ ? 0 : 1, 1, narrow_ ? 2 : 1);
    grid_->setColumnStretch(1, 3);
    grid_->setColumnStretch(2, narrow_ ? 0 : 1);
}

void DecoderBar::resizeEvent(QResizeEvent* event) {
    constexpr int one_row = 720;
    if (const bool narrow = event->size().width() < one_row; narrow != narrow_) {
        narrow_ = narrow;
        place();
    }
    QWidget::resizeEvent(event);
}

void DecoderBar::fill_roles(const CaptureAnalysis& capture) {
    const auto* chosen = setup(capture.ref);
    const RoleMap roles = chosen == nullptr ? RoleMap{} : chosen->roles;
    const auto* decoder = decoder_of(built_);
    for (auto it = roles_.begin(); it != roles_.end(); ++it) {
        auto* box = it.value();
        box->clear();
        const bool optional = decoder != nullptr && [&] {
            for (const auto& r : decoder->roles())
                if (to_q(r.name) == it.key()) return r.optional;
            return false;
        }();
        box->addItem(optional ? tr("none") : tr("choose …"), QString());
        for (const auto& s : capture.capture->signals)
            if (s.digital && box->count() < 256)
                box->addItem(to_q(unique_ending(*capture.capture, s.name)), to_q(s.name));
        // One line and one role: there is nothing to guess.
        if (roles.empty() && !optional && roles_.size() == 1 && lists_.isEmpty() && box->count() == 2)
            box->setCurrentIndex(1);
        const auto wanted = roles.find(it.key().toStdString());
        if (wanted == roles.end() || wanted->second.empty()) continue;
        if (const auto found = capture.capture->find(wanted->second.front()))
            box->setCurrentIndex(box->findData(to_q((*found)->name)));
    }
    for (auto it = lists_.begin(); it != lists_.end(); ++it) {
        QStringList names;
        if (const auto wanted = roles.find(it.key().toStdString()); wanted != roles.end())
            for (const auto& n : wanted->second) names << to_q(unique_ending(*capture.capture, n));
        it.value()->setText(names.join(QLatin1Char(' ')));
    }
    QStringList settings;
    if (chosen != nullptr && to_q(chosen->kind) == built_)
        for (const auto& [name, value] : chosen->settings)
            if (value != "auto") settings << QStringLiteral("%1=%2").arg(to_q(name), to_q(value));
    settings_->setText(settings.join(QLatin1Char(' ')));
    settings_->setCursorPosition(0);  // its beginning is seen
}

const DecodeSetup* DecoderBar::setup(const CaptureRef& ref) const {
    const int i = which_->currentIndex();
    if (i <= 0) return &ref.decode;
    return i - 1 < static_cast<int>(ref.also.size()) ? &ref.also[static_cast<std::size_t>(i - 1)] : nullptr;
}

void DecoderBar::fill_which(const CaptureRef& ref) {
    const QSignalBlocker block(which_);
    const int before = capture_ == ref.id ? std::max(0, which_->currentIndex()) : 0;
    which_->clear();
    which_->addItem(tr("Read as"));
    for (std::size_t i = 0; i < ref.also.size(); ++i) which_->addItem(tr("and as, %1").arg(i + 2));
    which_->addItem(tr("and as …"));
    which_->setCurrentIndex(std::min(before, which_->count() - 1));
}

void DecoderBar::show_capture(const CaptureAnalysis* capture) {
    setEnabled(capture != nullptr && capture->capture);
    if (!isEnabled()) return;
    fill_which(capture->ref);
    const bool other = capture_ != capture->ref.id;
    capture_ = capture->ref.id;
    const auto* chosen = setup(capture->ref);
    // A family that is being chosen for a capture without one stays.
    if (chosen != nullptr && (!chosen->kind.empty() || other)) return show_setup(*capture);
    build_roles();
    fill_roles(*capture);
    allow(*capture);
}

void DecoderBar::show_setup(const CaptureAnalysis& capture) {
    const auto* chosen = setup(capture.ref);
    {
        const QSignalBlocker block(kind_);
        const auto kind = chosen == nullptr ? QString() : to_q(chosen->kind);
        if (const int at = kind_->findData(kind); at >= 0) kind_->setCurrentIndex(at);
    }
    build_roles();
    fill_roles(capture);
    allow(capture);
}

/// What can be pressed, and if not, why.
void DecoderBar::allow(const CaptureAnalysis& capture) {
    const bool first = which_->currentIndex() == 0;
    const bool words = capture.decoding && !capture.decoding->frames.empty();
    contract_->setEnabled(first && words);
    contract_->setToolTip(
        words && first ? tr("Derive the contract: measure from this capture what the host demands and the "
                            "device kept, and "
                            "ask whether a reply would be in time")
        : !first       ? tr("The contract is derived from what the capture is read as first")
                 : tr("No contract yet: there are no words to measure. Choose what this is, and Read."));
    const auto* chosen = setup(capture.ref);
    read_->setEnabled(!built_.isEmpty() || (chosen != nullptr && !chosen->kind.empty()));
}

DecodeSetup DecoderBar::as_chosen() const {
    DecodeSetup wanted;
    wanted.kind = built_.toStdString();
    for (auto it = roles_.begin(); it != roles_.end(); ++it)
        if (const auto name = it.value()->currentData().toString().toStdString(); !name.empty())
            wanted.roles[it.key().toStdString()] = {name};
    for (auto it = lists_.begin(); it != lists_.end(); ++it)
        for (const auto& name : it.value()
                                    ->text()
                                    .simplified()
                                    .replace(QLatin1Char(','), QLatin1Char(' '))
                                    .split(QLatin1Char(' '), Qt::SkipEmptyParts))
            wanted.roles[it.key().toStdString()].push_back(name.toStdString());
    for (const auto& part : settings_->text().simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts))
        wanted.settings[part.section(QLatin1Char('='), 0, 0).toStdString()] =
            part.section(QLatin1Char('='), 1).toStdString();
    return wanted;
}

/// Roles without a line, and lines in two roles.
QString DecoderBar::what_is_wrong(const DecodeSetup& wanted) const {
    const auto* decoder = decoder_of(built_);
    const auto* a = document_.analysis().find_capture(capture_);
    if (decoder == nullptr || a == nullptr || !a->capture) return {};
    std::map<const Signal*, QString> taken;
    for (const auto& spec : decoder->roles()) {
        const auto role = to_q(spec.name);
        const auto it = wanted.roles.find(spec.name);
        if (it == wanted.roles.end()) {
            if (!spec.optional) return tr("%1: choose its line.").arg(role);
            continue;
        }
        for (const auto& name : it->second) {
            const auto found = a->capture->find(name);
            if (!found) return tr("%1: found %2").arg(role, to_q(found.error().message()));
            const auto [other, fresh] = taken.emplace(*found, role);
            if (!fresh)
                return other->second == role
                           ? tr("%1 has %2 twice.").arg(role, to_q(name))
                           : tr("%1 and %2 are the same line, %3.").arg(other->second, role, to_q(name));
        }
    }
    return {};
}

void DecoderBar::complain(const QString& text) {
    complaint_ = text;
    if (!text.isEmpty())
        QToolTip::showText(read_->mapToGlobal(QPoint(0, read_->height())), text.toHtmlEscaped(), read_);
}

void DecoderBar::read() {
    const auto* ref = document_.dossier().find_capture(capture_);
    if (ref == nullptr) return;
    auto wanted = as_chosen();
    if (const auto* before = setup(*ref)) wanted.bits = before->bits;
    complain(what_is_wrong(wanted));
    if (!complaint_.isEmpty()) return;
    Q_EMIT read_wanted();
    auto changed = *ref;
    const auto place = static_cast<std::size_t>(std::max(0, which_->currentIndex()));
    if (place == 0) {
        if (wanted.kind.empty()) wanted = {};
        changed.decode = std::move(wanted);
    } else if (place <= changed.also.size()) {
        if (wanted.kind.empty())
            changed.also.erase(changed.also.begin() + static_cast<std::ptrdiff_t>(place - 1));
        else
            changed.also[place - 1] = std::move(wanted);
    } else if (!wanted.kind.empty()) {
        changed.also.push_back(std::move(wanted));
    }
    document_.apply(tr("read %1").arg(to_q(ref->title)), put(document_.dossier(), std::move(changed)));
}

}  // namespace grayrelic::app
