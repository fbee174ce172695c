// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/find_bar.hpp"

#include <QHBoxLayout>
#include <QResizeEvent>
#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/sheet.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/text.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/contract.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

FindBar::FindBar(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    grid_ = new QGridLayout(this);
    grid_->setContentsMargins(0, 0, 0, 0);
    grid_->setSpacing(6);
    question_ = new QWidget;
    tail_ = new QWidget;
    auto* row = new QHBoxLayout(question_);
    auto* tail = new QHBoxLayout(tail_);
    for (auto* r : {row, tail}) {
        r->setContentsMargins(0, 0, 0, 0);
        r->setSpacing(6);
    }
    const auto box = [&](const QStringList& entries, const QString& name) {
        auto* b = new QComboBox;
        b->addItems(entries);
        b->setAccessibleName(name);
        row->addWidget(b);
        return b;
    };
    kind_ = box(
        {tr("pulse"), tr("levels"), tr("pause"), tr("edge order"), tr("word"), tr("outside the contract")},
        tr("What is searched for"));
    signal_ = box({}, tr("Signal whose pulses are searched"));
    signal_->setMinimumWidth(90);
    level_ = box({tr("either level"), tr("high"), tr("low")}, tr("Level of the pulse"));
    length_ = box({tr("longer than"), tr("shorter than")}, tr("Longer or shorter"));
    time_ = new QLineEdit;
    time_->setPlaceholderText(tr("2us"));
    time_->setAccessibleName(tr("Length"));
    time_->setFixedWidth(84);
    row->addWidget(time_);
    text_ = new QLineEdit;
    row->addWidget(text_, 3);
    while_ = new QLineEdit;
    while_->setPlaceholderText(tr("while A=1, B=0"));
    while_->setAccessibleName(tr("Levels that must hold where it begins"));
    tail->addWidget(while_, 2);
    previous_ = new QPushButton(tr("Previous"));
    previous_->setToolTip(tr("The hit before (Shift+F3)"));
    next_ = new QPushButton(tr("Next"));
    next_->setToolTip(tr("The next hit (F3, or Enter in a field)"));
    tail->addWidget(previous_);
    tail->addWidget(next_);
    answer_ = secondary_label({});
    answer_->setMinimumWidth(90);
    tail->addWidget(answer_, 1);
    place(false);
    connect(kind_, &QComboBox::currentIndexChanged, this, &FindBar::fit_fields);
    connect(previous_, &QPushButton::clicked, this, [this] { step(-1); });
    connect(next_, &QPushButton::clicked, this, [this] { step(1); });
    for (auto* field : {time_, text_, while_})
        connect(field, &QLineEdit::returnPressed, this, [this] { step(1); });
    fit_fields();
}

void FindBar::place(bool narrow) {
    narrow_ = narrow;
    grid_->removeWidget(question_);
    grid_->removeWidget(tail_);
    grid_->addWidget(question_, 0, 0);
    grid_->addWidget(tail_, narrow ? 1 : 0, narrow ? 0 : 1);
    grid_->setColumnStretch(0, 3);
    grid_->setColumnStretch(1, narrow ? 0 : 3);
}

/// The question about pulses has the most fields.
void FindBar::fit_rows(int width) {
    const int one_row = kind() == pulse ? 1000 : 720;
    if (const bool narrow = width < one_row; narrow != narrow_) place(narrow);
}

void FindBar::resizeEvent(QResizeEvent* event) {
    fit_rows(event->size().width());
    QWidget::resizeEvent(event);
}

void FindBar::fit_fields() {
    const auto k = kind();
    for (auto* w : std::initializer_list<QWidget*>{signal_, level_}) w->setVisible(k == pulse);
    length_->setVisible(k == pulse || k == levels);
    time_->setVisible(k == pulse || k == levels || k == pause);
    text_->setVisible(k == levels || k == order || k == words);
    while_->setVisible(k != contract && k != levels);
    const QString hints[] = {{},
                             tr("A=1, B=0: stretches in which these hold"),
                             {},
                             tr("B:fall while A=1 then C:rise within 3us"),
                             tr("error, error parity, 0x3f, or bits such as 1..0"),
                             {}};
    text_->setPlaceholderText(hints[k]);
    text_->setAccessibleName(k == levels  ? tr("Levels that hold together")
                             : k == order ? tr("Edges in their order")
                                          : tr("Word: error, value or bits"));
    time_->setPlaceholderText(k == levels ? tr("any time") : tr("2us"));
    say({}, false);
    fit_rows(width());
}

void FindBar::show_capture(std::shared_ptr<const CaptureAnalysis> capture) {
    if (capture == capture_) return;
    const bool same = capture && capture_ && capture->capture == capture_->capture;
    capture_ = std::move(capture);
    asked_.clear();
    if (same) return;
    const QSignalBlocker block(signal_);
    const auto before = signal_->currentText();
    signal_->clear();
    if (capture_ && capture_->capture)
        for (const auto& s : capture_->capture->signals)
            if (s.digital && signal_->count() < 256) signal_->addItem(to_q(short_name(s.name)), to_q(s.name));
    if (const int at = signal_->findText(before); at >= 0) signal_->setCurrentIndex(at);
    finding_.cancel();
    say({}, false);
}

void FindBar::begin() {
    const auto k = kind();
    (k == order || k == words || k == levels ? text_
     : k == contract                         ? while_
                                             : time_)
        ->setFocus(Qt::ShortcutFocusReason);
}

void FindBar::choose(Kind kind) {
    kind_->setCurrentIndex(kind);
}

void FindBar::say(const QString& text, bool problem) {
    auto colours = answer_->palette();
    colours.setColor(QPalette::WindowText, problem ? theme().oxide : theme().ink2);
    answer_->setPalette(colours);
    answer_->setText(text);
    answer_->setToolTip(text);
}

/// Of the fields that the chosen question shows.
FindText FindBar::typed() const {
    const auto k = kind();
    FindText t;
    const auto length = time_->text().trimmed().toStdString();
    if (k == pulse) {
        t.pulse = signal_->currentData().toString().toStdString();
        if (level_->currentIndex() > 0) t.pulse_level = level_->currentIndex() == 1;
    }
    if (k == pulse || k == levels) (length_->currentIndex() == 0 ? t.longer : t.shorter) = length;
    if (k == pause) t.pause = length;
    if (k == order) t.order = text_->text().toStdString();
    const auto* held = k == levels ? text_ : while_;
    if (!held->text().trimmed().isEmpty() && held->isVisibleTo(this))
        t.levels.push_back(held->text().toStdString());
    return t;
}

void FindBar::step(int direction) {
    if (!capture_ || !capture_->capture) return;
    const auto k = kind();
    const auto question = QStringList{QString::number(k),    signal_->currentData().toString(),
                                      level_->currentText(), length_->currentText(),
                                      time_->text(),         text_->text(),
                                      while_->text()}
                              .join(QLatin1Char('\n'));
    if (question == asked_) {
        Q_EMIT step_wanted(direction);
        return;
    }
    asked_.clear();
    const auto wrong = [&](const Error& e) { say(tr("Expected %1.").arg(to_q(e.expected)), true); };
    const auto typed = this->typed();
    if ((k == pulse && typed.shorter.empty() && typed.longer.empty()) || (k == pause && typed.pause.empty()))
        return say(tr("Expected a length such as 2us."), true);
    if (k == levels && typed.levels.empty()) return say(tr("Expected levels such as A=1, B=0."), true);
    const auto query = find_query(typed);
    if (!query) return wrong(query.error());
    std::function<Hits(Progress&)> work;
    const auto as_hits = [](const Result<std::vector<Span>>& spans) {
        Hits h;
        if (!spans) {
            h.problem = spans.error().kind == Error::Kind::cancelled
                            ? QString()
                            : FindBar::tr("Found %1, expected %2.")
                                  .arg(to_q(spans.error().found), to_q(spans.error().expected));
            return h;
        }
        h.list.reserve(spans->size());
        for (const auto& s : *spans) h.list.push_back({s.from, s.to});
        return h;
    };
    if (k == contract) {
        if (document_.analysis().timing->contract.empty()) return say(tr("There is no contract yet."), true);
        Hits h;
        if (const auto* b = document_.analysis().timing->find_breaches(capture_->ref.id))
            for (const auto& breach : b->breaches) h.list.push_back(breach.where);
        work = [h = std::move(h)](Progress&) { return h; };
    } else if (k == words) {
        auto q = parse_frame_query(text_->text().toStdString());
        if (!q) return wrong(q.error());
        if (!capture_->decoding) return say(tr("No words are read yet."), true);
        q->while_levels = query->levels;
        work = [owner = capture_, q = *q, as_hits](Progress&) {
            return as_hits(find_frames(*owner->capture, *owner->decoding, q));
        };
    } else {
        work = [owner = capture_, q = *query, as_hits](Progress& progress) {
            return as_hits(find_in(*owner->capture, q, progress));
        };
    }
    asked_ = question;
    say(tr("searching …"), false);
    finding_.ask(std::move(work), [this, direction](const Hits& h) { show_hits(h, direction); });
}

void FindBar::show_hits(const Hits& hits, int direction) {
    if (!hits.problem.isEmpty()) {
        asked_.clear();
        return say(hits.problem, true);
    }
    say(hits.list.empty() ? tr("none")
                          : to_q(plural(static_cast<long long>(hits.list.size()), "hit", "hits")),
        false);
    Q_EMIT found(hits.list, direction);
}

}  // namespace grayrelic::app
