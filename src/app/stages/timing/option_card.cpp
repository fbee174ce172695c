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
#include "core/timing/reply_option.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

OptionCard::OptionCard(Document& document, const BuildOption& option, QWidget* parent)
    : QWidget(parent), document_(document), id_(option.id), kind_(option.kind), rows_(rows_of(option)) {
    setMinimumWidth(256);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 8, 10, 8);
    layout->setSpacing(3);
    make_head(*layout);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(1);
    int row = 0;
    add_numbers(*grid, row, !option.measured.capture.empty());
    grid->setColumnStretch(0, 1);
    if (is_firmware(kind_)) add_busy(*grid, row);
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

void OptionCard::make_head(QVBoxLayout& layout) {
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
        document_.apply(tr("name of %1").arg(to_q(o->name)), put(document_.dossier(), std::move(changed)));
        return std::nullopt;
    };
    head->addWidget(name_, 1);
    choose_ = new QPushButton(tr("Choose"));
    choose_->setProperty("compact", true);
    choose_->setToolTip(tr("Only the chosen option's failures are Stop or Doubt"));
    connect(choose_, &QPushButton::clicked, this, [this] {
        const auto* o = document_.dossier().timing->find_option(id_);
        if (o != nullptr)
            document_.apply(tr("choose %1").arg(to_q(o->name)), choose_option(document_.dossier(), id_));
    });
    head->addWidget(choose_);
    layout.addLayout(head);
}

Field* OptionCard::add_row(QGridLayout& grid, int& row, const std::string& key, const std::string& name,
                           const std::string& about, bool evident) {
    const auto q = to_q(key);
    auto* label = new QLabel(to_q(name));
    label->setFont(text_font(12));
    label->setToolTip(to_q(about));
    auto* field = new Field;
    field->setFont(figure_font(12));
    field->setAlignment(evident ? Qt::AlignRight : Qt::AlignLeft);
    field->setFixedWidth(evident ? 80 : 118);
    field->setProperty("compact", true);
    field->setAccessibleName(to_q(name));
    label->setBuddy(field);
    grid.addWidget(label, row, 0);
    grid.addWidget(field, row, 1, 1, evident ? 1 : 2);
    fields_[q] = field;
    if (evident) {
        auto* evidence = new EvidenceButton;
        grid.addWidget(evidence, row, 2);
        evidence_[q] = evidence;
    }
    ++row;
    return field;
}

void OptionCard::add_numbers(QGridLayout& grid, int& row, bool measured) {
    if (kind_ == OptionKind::network) add_network(grid, row);
    if (measured) {
        for (const auto& [key, name] :
             {std::pair{"measured-from", tr("Entry from")}, {"measured-to", tr("Entry to")}})
            add_row(grid, row, key, name.toStdString(),
                    tr("An edge in the capture that the entry latency is taken from").toStdString(), false)
                ->commit = [this, k = QString::fromLatin1(key)](const QString& text) {
                return change_measured(k, text);
            };
    }
    for (const auto& spec : parameters_of(kind_)) {
        if (rows_.find("|" + spec.key + "|") == std::string::npos) continue;
        const auto key = to_q(spec.key);
        auto* field = add_row(grid, row, spec.key, spec.label, spec.about, true);
        if (spec.unit == Unit::second) {
            field->commit = [this, key](const QString& text) -> std::optional<QString> {
                const auto time = parse_time(text.toStdString());
                if (!time) return tr("Expected %1.").arg(to_q(time.error().expected));
                return change(key, *time, std::nullopt);
            };
            connect(evidence_[key], &EvidenceButton::chosen, this,
                    [this, key](EvidenceKind kind) { (void)change(key, std::nullopt, kind); });
        } else {
            field->commit = [this, key](const QString& text) {
                return change_number(key, text, std::nullopt);
            };
            connect(evidence_[key], &EvidenceButton::chosen, this,
                    [this, key](EvidenceKind kind) { (void)change_number(key, {}, kind); });
        }
    }
}

void OptionCard::apply(const QString& what, BuildOption changed) {
    document_.apply(what, put(document_.dossier(), std::move(changed)));
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
        busy_->setCurrentIndex(std::max(0, busy_->findData(to_q(word(option.busy)))));
    }
    for (const auto& n : option.numbers) {
        const auto key = to_q(n.key);
        auto* field = fields_.value(key);
        if (field == nullptr) continue;
        Unit unit = Unit::none;
        for (const auto& spec : parameters_of(kind_))
            if (spec.key == n.key) unit = spec.unit;
        auto font = figure_font(12);
        font.setItalic(n.value.evidence.kind == EvidenceKind::assumed);
        field->setFont(font);
        field->show_value(to_q(print_exact(n.value.value, unit)));
        evidence_[key]->show_kind(n.value.evidence.kind);
    }
    if (auto* f = fields_.value(QStringLiteral("measured-from"))) f->show_value(to_q(option.measured.from));
    if (auto* f = fields_.value(QStringLiteral("measured-to"))) f->show_value(to_q(option.measured.to));
    if (network_ != nullptr) {
        const QSignalBlocker block(network_);
        network_->clear();
        for (const auto& n : document_.dossier().timing->networks)
            if (n.id != document_.dossier().wire->network) network_->addItem(to_q(n.name), to_q(n.id));
        network_->setCurrentIndex(network_->findData(to_q(option.network)));
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
    // While a change is computed, what stands here is of before it.
    const auto& now = document_.dossier();
    const auto& then = document_.analysis();
    const auto* network_now = now.timing->find_network(option.network);
    const auto* network_then = then.timing->find_network(option.network);
    const bool stale =
        result != nullptr &&
        (result->option != option || !(then.dossier.timing->reply == now.timing->reply) ||
         (network_now != nullptr && network_then != nullptr && !(network_then->source == *network_now)));
    if (stale) verdict_text_->setText(tr("%1, before the change").arg(verdict_text_->text()));
    verdict_text_->setEnabled(!stale);
    figures_->setEnabled(!stale);
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
    const auto* o = document_.dossier().timing->find_option(id_);
    if (o == nullptr) return;
    QMenu menu(this);
    for (const auto& spec : parameters_of(kind_))
        if (spec.optional && rows_.find("|" + spec.key + "|") == std::string::npos)
            menu.addAction(tr("Add: %1").arg(to_q(spec.label)))->setData(to_q(spec.key));
    if (kind_ == OptionKind::irq || kind_ == OptionKind::core || kind_ == OptionKind::mixed) {
        auto* captures = menu.addMenu(tr("Entry latency from a capture"));
        for (const auto& c : *document_.dossier().captures)
            captures->addAction(to_q(c.title))->setData(QStringLiteral("capture:") + to_q(c.id));
        if (!o->measured.capture.empty())
            captures->addAction(tr("No longer"))->setData(QStringLiteral("capture:"));
    }
    menu.addSeparator();
    menu.addAction(tr("Remove this option"))->setData(QStringLiteral("remove"));
    const auto* picked = menu.exec(e->globalPos());
    if (picked == nullptr) return;
    // The edit comes after the menu is gone, since it may take this card away.
    const auto what = picked->data().toString();
    if (what == QStringLiteral("remove")) {
        document_.apply(tr("remove %1").arg(to_q(o->name)), drop<BuildOption>(document_.dossier(), id_));
    } else if (what.startsWith(QStringLiteral("capture:"))) {
        auto changed = *o;
        changed.measured = {};
        if (const auto id = what.mid(8); !id.isEmpty())
            changed.measured = {id.toStdString(), document_.dossier().timing->reply.trigger, "PIN:rise"};
        apply(tr("entry latency of %1").arg(to_q(o->name)), std::move(changed));
    } else {
        add_number(what);
    }
}

}  // namespace grayrelic::app
