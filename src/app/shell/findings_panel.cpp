// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/findings_panel.hpp"

#include <QHBoxLayout>
#include <QPainter>
#include <QScrollArea>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

namespace {

/// From so many of one kind on, the first stands for all of them.
constexpr int fold_from = 3;

/// Its numbers may have changed meanwhile.
bool same_matter(const Finding& a, const Finding& b) {
    return a.stage == b.stage && a.id == b.id && a.subject == b.subject && a.says == b.says;
}

}  // namespace

FindingsPanel::FindingsPanel(QWidget* parent) : QWidget(parent) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 6, 8);
    layout->setSpacing(6);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Findings"));
    title->setFont(text_font(14, true));
    head->addWidget(title);
    head->addStretch(1);
    all_ = new QPushButton(tr("All stages"));
    all_->setCheckable(true);
    all_->setToolTip(tr("Show the findings of all stages (F7)"));
    connect(all_, &QPushButton::clicked, this, &FindingsPanel::show_cards);
    head->addWidget(all_);
    head->addSpacing(6);
    layout->addLayout(head);
    counts_ = secondary_label({});
    layout->addWidget(counts_);
    auto* area = area_ = new QScrollArea;
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setFocusPolicy(Qt::NoFocus);
    list_ = new QWidget;
    list_layout_ = new QVBoxLayout(list_);
    list_layout_->setContentsMargins(0, 0, 6, 0);
    list_layout_->setSpacing(8);
    list_layout_->addStretch(1);
    area->setWidget(list_);
    layout->addWidget(area, 1);
}

void FindingsPanel::show_findings(const Findings& findings, Stage stage, bool more_to_come) {
    findings_ = findings;
    stage_ = stage;
    more_to_come_ = more_to_come;
    show_cards();
}

void FindingsPanel::toggle_all() {
    all_->toggle();
    show_cards();
}

/// What the cards are to show, in order.
std::vector<FindingCard::Shown> FindingsPanel::rows() const {
    const bool all = all_->isChecked();
    std::vector<Kind> order;
    std::map<Kind, std::vector<const Finding*>> kinds;
    for (const auto& f : findings_) {
        if (!all && f.stage != stage_) continue;
        auto& of_kind = kinds[kind_of(f)];
        if (of_kind.empty()) order.push_back(kind_of(f));
        of_kind.push_back(&f);
    }
    std::vector<FindingCard::Shown> out;
    for (const auto& kind : order) {
        const auto& list = kinds[kind];
        const int n = static_cast<int>(list.size());
        const bool folds = n >= fold_from;
        const bool unfolded = folds && unfolded_.contains(kind);
        for (int i = 0; i < (folds && !unfolded ? 1 : n); ++i)
            out.push_back({*list[static_cast<std::size_t>(i)], all, folds && i == 0 ? n - 1 : 0, unfolded,
                           folds && i > 0});
    }
    return out;
}

void FindingsPanel::show_cards() {
    const auto wanted = rows();
    std::map<std::string, FindingCard*> kept;
    QList<FindingCard*> cards;
    std::map<std::string, int> times;
    for (const auto& row : wanted) {
        auto key = std::string(word(row.finding.stage)) + '\n' + row.finding.id + '\n' + row.finding.subject;
        // Two of one subject: told apart by their order.
        if (const int n = times[key]++; n > 0) key += '\n' + std::to_string(n);
        auto found = by_key_.find(key);
        FindingCard* card = nullptr;
        if (found != by_key_.end()) {
            card = found->second;
            by_key_.erase(found);
        } else {
            card = new FindingCard(list_);
            connect(card, &QAbstractButton::clicked, this, [this, card] { open(card->finding()); });
            connect(card, &FindingCard::fold_wanted, this,
                    [this, card](bool folds) { fold(kind_of(card->finding()), folds); });
        }
        card->show_finding(row);
        const int place = static_cast<int>(cards.size());
        if (list_layout_->indexOf(card) != place) list_layout_->insertWidget(place, card);
        kept.emplace(key, card);
        cards.append(card);
    }
    // It may be the very click on a card that takes it away: let the event finish first.
    for (const auto& [key, card] : by_key_) {
        list_layout_->removeWidget(card);
        card->hide();
        card->deleteLater();
    }
    by_key_ = std::move(kept);
    cards_ = cards;
    for (qsizetype i = 1; i < cards_.size(); ++i) QWidget::setTabOrder(cards_[i - 1], cards_[i]);
    mark_current();
    say_counts();
}

void FindingsPanel::say_counts() {
    const bool all = all_->isChecked();
    const auto here = count(findings_, all ? std::nullopt : std::optional(stage_));
    const bool none = here.stop + here.doubt + here.note == 0;
    const auto text = !more_to_come_ ? to_q(print(here))
                      : none         ? tr("being checked …")
                                     : tr("%1 so far").arg(to_q(print(here)));
    counts_->setText((all ? tr("all stages · %1") : tr("this stage · %1")).arg(text));
}

void FindingsPanel::fold(const Kind& kind, bool folds) {
    if (folds)
        unfolded_.erase(kind);
    else
        unfolded_.insert(kind);
    show_cards();
}

void FindingsPanel::mark_current() {
    bool marked = false;
    for (auto* c : cards_) {
        const bool current = !marked && current_ && same_matter(c->finding(), *current_);
        c->set_current(current);
        marked = marked || current;
    }
}

void FindingsPanel::step(int direction) {
    Findings here;
    for (const auto& f : findings_)
        if (all_->isChecked() || f.stage == stage_) here.push_back(f);
    if (here.empty()) return;
    // In the order that the cards have: the kinds together.
    std::vector<Kind> order;
    for (const auto& f : here)
        if (std::find(order.begin(), order.end(), kind_of(f)) == order.end()) order.push_back(kind_of(f));
    std::stable_sort(here.begin(), here.end(), [&](const Finding& a, const Finding& b) {
        return std::find(order.begin(), order.end(), kind_of(a)) <
               std::find(order.begin(), order.end(), kind_of(b));
    });
    const auto n = static_cast<int>(here.size());
    int at = -1;
    for (int i = 0; i < n && current_; ++i)
        if (same_matter(here[static_cast<std::size_t>(i)], *current_)) at = i;
    const int next = at < 0 ? (direction > 0 ? 0 : n - 1) : (at + direction + n) % n;
    const auto& f = here[static_cast<std::size_t>(next)];
    if (std::none_of(cards_.begin(), cards_.end(), [&](const FindingCard* c) { return c->finding() == f; }))
        fold(kind_of(f), false);
    open(f);
}

void FindingsPanel::open(const Finding& finding) {
    current_ = finding;  // a copy: opening may change the cards
    mark_current();
    for (auto* c : cards_)
        if (c->finding() == *current_) area_->ensureWidgetVisible(c, 0, 8);
    Q_EMIT opened(Finding(*current_));
}

void FindingsPanel::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.setPen(theme().hairline);
    p.drawLine(0, 0, 0, height());
}

}  // namespace grayrelic::app
