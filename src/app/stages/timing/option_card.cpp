// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/option_card.hpp"

#include <QContextMenuEvent>
#include <QGridLayout>
#include <QMenu>
#include <QPainter>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/sheet.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {

OptionCard::OptionCard(Document& document, const BuildOption& option, QWidget* parent)
    : QWidget(parent), document_(document), id_(option.id), kind_(option.kind) {
    setMinimumWidth(256);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 8, 10, 8);
    layout->setSpacing(3);
    auto* head = new QHBoxLayout;
    head->addSpacing(18);
    name_ = new Field;
    name_->setFont(text_font(13, true));
    name_->setFrame(false);
    name_->setStyleSheet(QStringLiteral("QLineEdit { background:transparent; border:none; padding:0; }"));
    name_->setAccessibleName(tr("Name of the option"));
    name_->commit = [this](const QString& text) -> std::optional<QString> {
        const auto* o = document_.dossier().timing->find_option(id_);
        if (o == nullptr) return std::nullopt;
        if (text.trimmed().isEmpty()) return tr("Expected a name.");
        auto changed = *o;
        changed.name = text.trimmed().toStdString();
        document_.apply(tr("name of %1").arg(to_q(o->name)),
                        with_option(document_.dossier(), std::move(changed)));
        return std::nullopt;
    };
    head->addWidget(name_, 1);
    choose_ = new QPushButton(tr("Choose"));
    choose_->setProperty("compact", true);
    choose_->setToolTip(tr("Only the chosen option's failures are Stop or Doubt"));
    connect(choose_, &QPushButton::clicked, this, [this] {
        const auto* o = document_.dossier().timing->find_option(id_);
        if (o != nullptr)
            document_.apply(tr("choose %1").arg(to_q(o->name)), with_chosen(document_.dossier(), id_));
    });
    head->addWidget(choose_);
    layout->addLayout(head);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(1);
    int row = 0;
    for (const auto& spec : parameters_of(kind_)) {
        const auto key = to_q(spec.key);
        auto* label = new QLabel(to_q(spec.label));
        label->setFont(text_font(12));
        label->setToolTip(to_q(spec.about));
        auto* field = new Field;
        field->setFont(figure_font(12));
        field->setAlignment(Qt::AlignRight);
        field->setFixedWidth(80);
        field->setProperty("compact", true);
        field->setAccessibleName(to_q(spec.label));
        field->commit = [this, key](const QString& text) -> std::optional<QString> {
            const auto time = parse_time(text.toStdString());
            if (!time) return tr("Expected %1.").arg(to_q(time.error().expected));
            return change(key, *time, std::nullopt);
        };
        auto* evidence = new EvidenceButton;
        connect(evidence, &EvidenceButton::chosen, this,
                [this, key](EvidenceKind kind) { (void)change(key, std::nullopt, kind); });
        label->setBuddy(field);
        grid->addWidget(label, row, 0);
        grid->addWidget(field, row, 1);
        grid->addWidget(evidence, row++, 2);
        fields_[key] = field;
        evidence_[key] = evidence;
    }
    grid->setColumnStretch(0, 1);
    if (kind_ != "logic") {
        auto* label = new QLabel(tr("While busy"));
        label->setFont(text_font(12));
        label->setToolTip(tr("A trigger that comes while the last one is still served"));
        busy_ = new QComboBox;
        busy_->addItem(tr("served late"), QStringLiteral("late"));
        busy_->addItem(tr("lost"), QStringLiteral("lost"));
        busy_->setAccessibleName(tr("While busy"));
        busy_->setProperty("compact", true);
        connect(busy_, &QComboBox::activated, this, [this] {
            const auto* o = document_.dossier().timing->find_option(id_);
            if (o == nullptr) return;
            auto changed = *o;
            changed.busy = busy_->currentData().toString().toStdString();
            document_.apply(tr("busy rule of %1").arg(to_q(o->name)),
                            with_option(document_.dossier(), std::move(changed)));
        });
        grid->addWidget(label, row, 0);
        grid->addWidget(busy_, row, 1, 1, 2);
    }
    layout->addLayout(grid);
    layout->addStretch(1);
    verdict_text_ = new QLabel;
    verdict_text_->setFont(text_font(13, true));
    verdict_text_->setWordWrap(true);
    layout->addWidget(verdict_text_);
    figures_ = secondary_label({});
    figures_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    layout->addWidget(figures_);
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
    if (auto model = model_of(changed); !model) return to_q("Expected " + model.error().expected + ".");
    document_.apply(tr("%1 of %2").arg(key, to_q(o->name)),
                    with_option(document_.dossier(), std::move(changed)));
    return std::nullopt;
}

void OptionCard::show_option(const BuildOption& option, const OptionAnalysis* result, bool chosen,
                             bool selected) {
    name_->show_value(to_q(option.name));
    name_->setCursorPosition(0);
    choose_->setText(chosen ? tr("Chosen") : tr("Choose"));
    choose_->setEnabled(!chosen);
    selected_ = selected;
    for (const auto& p : option.parameters) {
        const auto key = to_q(p.key);
        auto* field = fields_.value(key);
        if (field == nullptr) continue;
        auto font = figure_font(12);
        font.setItalic(p.value.evidence.kind == EvidenceKind::assumed);
        field->setFont(font);
        field->show_value(to_q(print_exact(p.value.value)));
        if (field->problem().isEmpty())
            field->setToolTip(to_q(std::string(word(p.value.evidence.kind)) +
                                   (p.value.evidence.source.empty() ? "" : ": " + p.value.evidence.source)));
        evidence_[key]->show_kind(p.value.evidence.kind);
    }
    if (busy_ != nullptr) {
        const QSignalBlocker block(busy_);
        busy_->setCurrentIndex(option.busy == "lost" ? 1 : 0);
    }
    verdict_ = result == nullptr ? Verdict::unknown : result->verdict;
    if (result == nullptr || !result->summary) {
        verdict_text_->setText(tr("Can't be judged"));
        figures_->setText(result == nullptr ? tr("computing …") : to_q(result->problem));
    } else {
        const auto& s = *result->summary;
        verdict_text_->setText(
            verdict_ == Verdict::stop
                ? tr("Too late: %1 missed")
                      .arg(to_q(print_share(static_cast<double>(s.missed) / static_cast<double>(s.replies))))
            : verdict_ == Verdict::doubt ? tr("Only just in time")
            : verdict_ == Verdict::holds ? tr("In time")
                                         : tr("Unknown"));
        auto text = tr("%1 of %2 missed").arg(to_q(print_count(s.missed)), to_q(print_count(s.replies)));
        if (s.lost > 0) text += tr(", %1 lost").arg(to_q(print_count(s.lost)));
        if (s.latency.n > 0) text += tr(" · slowest %1").arg(to_q(print_number(s.latency.max, Unit::second)));
        if (s.worst_margin) text += tr("\nmargin %1").arg(to_q(print(*s.worst_margin)));
        if (s.enough_latency) text += tr(" · enough would be %1").arg(to_q(print(*s.enough_latency)));
        figures_->setText(text);
    }
    setAccessibleName(tr("Option %1: %2").arg(to_q(option.name), verdict_text_->text()));
    update();
}

void OptionCard::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setPen(selected_ ? QPen(theme().ink, 1) : QPen(theme().hairline, 1));
    p.setBrush(theme().sheet);
    p.drawRect(rect().adjusted(0, 0, -1, -1));
    if (selected_) p.fillRect(QRect(0, 0, width(), 3), theme().ink);
    draw_verdict(p, QPointF(18, name_->geometry().center().y() + 1), verdict_);
}

void OptionCard::mousePressEvent(QMouseEvent*) {
    Q_EMIT selected(to_q(id_));
}

void OptionCard::contextMenuEvent(QContextMenuEvent* e) {
    QMenu menu(this);
    const auto* remove = menu.addAction(tr("Remove this option"));
    // The edit comes after the menu is gone, since it takes this card away.
    if (menu.exec(e->globalPos()) != remove) return;
    const auto* o = document_.dossier().timing->find_option(id_);
    if (o != nullptr)
        document_.apply(tr("remove %1").arg(to_q(o->name)), without_option(document_.dossier(), id_));
}

}  // namespace grayrelic::app
