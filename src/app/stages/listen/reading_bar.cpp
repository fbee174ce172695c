// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/reading_bar.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QResizeEvent>
#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

const Decoder* decoder_of(const QString& kind) {
    const auto found = find_decoder(kind.toStdString());
    return found ? *found : nullptr;
}

}  // namespace

ReadingBar::ReadingBar(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
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
    auto* label = new QLabel(tr("Read as"));
    kind_ = new QComboBox;
    kind_->setAccessibleName(tr("Protocol family"));
    kind_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    kind_->setMinimumContentsLength(9);
    for (const auto& d : decoders()) {
        kind_->addItem(to_q(d->kind()), to_q(d->kind()));
        kind_->setItemData(kind_->count() - 1, to_q(d->about()), Qt::ToolTipRole);
    }
    label->setBuddy(kind_);
    lead->addWidget(label);
    lead->addWidget(kind_);
    settings_ = new QLineEdit;
    settings_->setPlaceholderText(tr("auto"));
    settings_->setAccessibleName(tr("Settings that are not automatic"));
    settings_->setMinimumWidth(60);
    tail->addWidget(settings_, 1);
    read_ = new QPushButton(tr("Read"));
    read_->setToolTip(tr("Read this capture's words with these roles"));
    connect(read_, &QPushButton::clicked, this, &ReadingBar::read);
    tail->addWidget(read_);
    contract_ = new QPushButton(tr("Derive contract"));
    contract_->setToolTip(
        tr("Measure from this capture what the host demands and the device kept, and ask whether a reply "
           "would be in time"));
    connect(contract_, &QPushButton::clicked, this, &ReadingBar::propose);
    tail->addWidget(contract_);
    connect(kind_, &QComboBox::activated, this, [this] {
        build_roles();
        if (const auto* a = document_.analysis().find_capture(capture_); a != nullptr && a->capture) fill_roles(*a);
    });
    build_roles();
}

void ReadingBar::build_roles() {
    const auto kind = kind_->currentData().toString();
    if (kind == built_) return;
    built_ = kind;
    delete role_row_;
    roles_.clear();
    lists_.clear();
    const auto* decoder = decoder_of(kind);
    if (decoder == nullptr) return;
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
            box->setMinimumWidth(60);
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
    settings_->setToolTip(tr("What is not to be found from the signals: %1; such as %2=…").arg(names, names.section(QLatin1Char(','), 0, 0)));
    setToolTip(to_q(decoder->about()));
}

void ReadingBar::place() {
    for (auto* w : {lead_, tail_, role_row_})
        if (w != nullptr) grid_->removeWidget(w);
    grid_->addWidget(lead_, 0, 0);
    grid_->addWidget(tail_, 0, narrow_ ? 1 : 2);
    if (role_row_ != nullptr) grid_->addWidget(role_row_, narrow_ ? 1 : 0, narrow_ ? 0 : 1, 1, narrow_ ? 2 : 1);
    grid_->setColumnStretch(1, 3);
    grid_->setColumnStretch(2, narrow_ ? 0 : 1);
}

void ReadingBar::resizeEvent(QResizeEvent* event) {
    constexpr int one_row = 720;
    if (const bool narrow = event->size().width() < one_row; narrow != narrow_) {
        narrow_ = narrow;
        place();
    }
    QWidget::resizeEvent(event);
}

void ReadingBar::fill_roles(const CaptureAnalysis& capture) {
    RoleMap roles = capture.ref.decode.roles;
    if (roles.empty()) roles = capture.suggested;
    const auto* decoder = decoder_of(built_);
    for (auto it = roles_.begin(); it != roles_.end(); ++it) {
        auto* box = it.value();
        box->clear();
        const bool optional = decoder != nullptr && [&] {
            for (const auto& r : decoder->roles())
                if (to_q(r.name) == it.key()) return r.optional;
            return false;
        }();
        if (optional) box->addItem(tr("none"), QString());
        for (const auto& s : capture.capture->signals)
            if (s.digital && box->count() < 256)
                box->addItem(to_q(short_name(s.name)), to_q(s.name));
        const auto wanted = roles.find(it.key().toStdString());
        if (wanted == roles.end() || wanted->second.empty()) continue;
        if (const auto found = capture.capture->find(wanted->second.front()))
            box->setCurrentIndex(box->findData(to_q((*found)->name)));
    }
    for (auto it = lists_.begin(); it != lists_.end(); ++it) {
        QStringList names;
        if (const auto wanted = roles.find(it.key().toStdString()); wanted != roles.end())
            for (const auto& n : wanted->second)
                names << to_q(short_name(n));
        it.value()->setText(names.join(QLatin1Char(' ')));
    }
    QStringList settings;
    if (to_q(capture.ref.decode.kind) == built_)
        for (const auto& [name, value] : capture.ref.decode.settings)
            if (value != "auto") settings << QStringLiteral("%1=%2").arg(to_q(name), to_q(value));
    settings_->setText(settings.join(QLatin1Char(' ')));
}

void ReadingBar::show_capture(const CaptureAnalysis* capture) {
    setEnabled(capture != nullptr && capture->capture);
    if (!isEnabled()) return;
    const bool other = capture_ != capture->ref.id;
    capture_ = capture->ref.id;
    if (!capture->ref.decode.kind.empty() || other) {
        const QSignalBlocker block(kind_);
        const int at = kind_->findData(capture->ref.decode.kind.empty() ? QStringLiteral("latch-shift") : to_q(capture->ref.decode.kind));
        if (at >= 0) kind_->setCurrentIndex(at);
    }
    build_roles();
    fill_roles(*capture);
    contract_->setEnabled(capture->decoding && !capture->decoding->frames.empty() && capture->ref.decode.kind == "latch-shift");
}

void ReadingBar::read() {
    const auto* ref = document_.dossier().find_capture(capture_);
    if (ref == nullptr) return;
    auto changed = *ref;
    changed.decode.kind = built_.toStdString();
    changed.decode.roles.clear();
    changed.decode.settings.clear();
    for (auto it = roles_.begin(); it != roles_.end(); ++it)
        if (const auto name = it.value()->currentData().toString().toStdString(); !name.empty()) changed.decode.roles[it.key().toStdString()] = {name};
    for (auto it = lists_.begin(); it != lists_.end(); ++it)
        for (const auto& name : it.value()->text().simplified().replace(QLatin1Char(','), QLatin1Char(' ')).split(QLatin1Char(' '), Qt::SkipEmptyParts))
            changed.decode.roles[it.key().toStdString()].push_back(name.toStdString());
    for (const auto& part : settings_->text().simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts))
        changed.decode.settings[part.section(QLatin1Char('='), 0, 0).toStdString()] = part.section(QLatin1Char('='), 1).toStdString();
    document_.apply(tr("read %1").arg(to_q(ref->title)),
                    with_capture(document_.dossier(), std::move(changed)));
}

void ReadingBar::propose() {
    const auto* a = document_.analysis().find_capture(capture_);
    if (a == nullptr || !a->decoding) return;
    auto timing = *document_.dossier().timing;
    timing.intervals = propose_contract(capture_, a->ref.decode.roles, *a->decoding);
    timing.reply = propose_question(capture_, a->ref.decode.roles, *a->decoding);
    document_.apply(tr("contract from %1").arg(to_q(a->ref.title)),
                    with_timing(document_.dossier(), std::move(timing)));
}

}  // namespace grayrelic::app
