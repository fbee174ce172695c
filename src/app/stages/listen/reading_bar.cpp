// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/reading_bar.hpp"

#include <QHBoxLayout>
#include <QLabel>

#include "app/paint/marks.hpp"
#include "core/decode/suggest_roles.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {

ReadingBar::ReadingBar(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    setToolTip(tr("Read as latch and shift: a latch pulse loads the device, each clock shifts one bit out"));
    for (const char* name : {"latch", "clock", "data"}) {
        auto* label = new QLabel(QLatin1String(name) == QLatin1String("latch") ? tr("Read with latch")
                                                                               : QLatin1String(name));
        auto* box = new QComboBox;
        box->setMinimumWidth(70);
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setAccessibleName(tr("Signal in the role %1").arg(QLatin1String(name)));
        label->setBuddy(box);
        row->addWidget(label);
        row->addWidget(box, 1);
        roles_[QLatin1String(name)] = box;
    }
    read_ = new QPushButton(tr("Read"));
    read_->setToolTip(tr("Read this capture's words with these roles"));
    connect(read_, &QPushButton::clicked, this, &ReadingBar::read);
    row->addWidget(read_);
    contract_ = new QPushButton(tr("Derive contract"));
    contract_->setToolTip(
        tr("Measure from this capture what the host demands and the device kept, and ask whether a reply "
           "would be in time"));
    connect(contract_, &QPushButton::clicked, this, &ReadingBar::propose);
    row->addWidget(contract_);
}

void ReadingBar::show_capture(const CaptureAnalysis* capture) {
    setEnabled(capture != nullptr && capture->capture);
    if (!isEnabled()) return;
    capture_ = capture->ref.id;
    RoleMap roles = capture->ref.decode.roles;
    if (roles.empty()) roles = capture->suggested;
    for (auto it = roles_.begin(); it != roles_.end(); ++it) {
        auto* box = it.value();
        box->clear();
        for (const auto& s : capture->capture->signals)
            if (s.kind == SignalKind::digital && box->count() < 256)
                box->addItem(to_q(short_name(s.name)), to_q(s.name));
        const auto wanted = roles.find(it.key().toStdString());
        if (wanted == roles.end() || wanted->second.empty()) continue;
        if (const auto found = capture->capture->find(wanted->second.front()))
            box->setCurrentIndex(box->findData(to_q((*found)->name)));
    }
    contract_->setEnabled(capture->decoding && !capture->decoding->frames.empty());
}

void ReadingBar::read() {
    const auto* ref = document_.dossier().find_capture(capture_);
    if (ref == nullptr) return;
    auto changed = *ref;
    changed.decode.kind = "latch-shift";
    changed.decode.roles.clear();
    for (auto it = roles_.begin(); it != roles_.end(); ++it)
        changed.decode.roles[it.key().toStdString()] = {it.value()->currentData().toString().toStdString()};
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
