// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/delay_sheet.hpp"

#include <QHBoxLayout>
#include <QResizeEvent>
#include <QSignalBlocker>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "core/base/text.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/contract.hpp"
#include "core/timing/derive_contract.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
namespace {

/// Up to so many edges a delay is measured before the eye could see a pause.

QString seconds(double s) {
    return to_q(print_number(s, Unit::second));
}

}  // namespace

DelaySheet::DelaySheet(Document& document, QWidget* parent)
    : Sheet(tr("Delay"), parent), document_(document) {
    from_ = new QComboBox;
    from_->setAccessibleName(tr("Delay from this edge"));
    to_ = new QComboBox;
    to_->setAccessibleName(tr("Delay to this edge"));
    for (auto* box : {from_, to_}) {
        box->setMinimumWidth(box == to_ ? 90 : 76);
        box->setToolTip(tr("The same edge twice gives its period"));
        connect(box, &QComboBox::activated, this, [this] {
            chosen_ = true;
            measure();
        });
    }
    add_to_title(from_);
    add_to_title(new QLabel(QStringLiteral("→")));
    add_to_title(to_);
    plots_ = new QStackedWidget;
    histogram_ = new HistogramView;
    over_time_ = new TimePlot;
    plots_->addWidget(histogram_);
    plots_->addWidget(over_time_);
    body()->addWidget(plots_, 1);
    picked_ = secondary_label(tr("Pick bars to mark the edges behind them."));
    const auto button = [](const QString& text, const QString& hint, bool checkable) {
        auto* b = new QPushButton(text);
        b->setToolTip(hint);
        b->setCheckable(checkable);
        return b;
    };
    time_button_ = button(tr("Over time"), tr("Each length where it happened: drift and jitter"), true);
    between_ = button(tr("A to B"), tr("Only what lies between the cursors"), true);
    least_ = button(tr("Least"), tr("Go to the shortest"), false);
    most_ = button(tr("Most"), tr("Go to the longest"), false);
    previous_ = button(tr("Previous"), tr("Previous marked edge (Shift+N in the waves)"), false);
    next_ = button(tr("Next"), tr("Next marked edge (N in the waves)"), false);
    for (auto** row : {&upper_, &lower_}) {
        *row = new QHBoxLayout;
        (*row)->setSpacing(6);
        body()->addLayout(*row);
    }
    place(false);
    for (auto* b : {previous_, next_}) b->setEnabled(false);
    connect(histogram_, &HistogramView::picked, this, &DelaySheet::pick);
    connect(over_time_, &TimePlot::picked, this, [this](const Interval& i) {
        set_marks({i}, tr("%1 at %2").arg(to_q(print(i.length(), 4)), to_q(print(i.from, 7))));
    });
    connect(time_button_, &QPushButton::toggled, this, [this](bool on) {
        plots_->setCurrentWidget(on ? static_cast<QWidget*>(over_time_) : histogram_);
        say_about();
        set_marks({}, {});
    });
    connect(between_, &QPushButton::toggled, this, [this] { measure(); });
    connect(least_, &QPushButton::clicked, this, [this] { show_extreme(false); });
    connect(most_, &QPushButton::clicked, this, [this] { show_extreme(true); });
    connect(next_, &QPushButton::clicked, this, [this] { Q_EMIT step_wanted(1); });
    connect(previous_, &QPushButton::clicked, this, [this] { Q_EMIT step_wanted(-1); });
}

/// In a narrow sheet the buttons take two rows, with the text beside the first of them.
void DelaySheet::place(bool narrow) {
    narrow_ = narrow;
    for (auto* row : {upper_, lower_})
        while (auto* item = row->takeAt(0)) delete item;  // the place, not the widget
    auto* beside = narrow ? upper_ : lower_;
    beside->addWidget(time_button_);
    beside->addWidget(between_);
    upper_->addWidget(picked_, 1);
    lower_->addWidget(least_);
    lower_->addWidget(most_);
    lower_->addStretch(1);
    lower_->addWidget(previous_);
    lower_->addWidget(next_);
}

void DelaySheet::resizeEvent(QResizeEvent* event) {
    constexpr int one_row = 420;
    if (const bool narrow = event->size().width() < one_row; narrow != narrow_) place(narrow);
    Sheet::resizeEvent(event);
}

void DelaySheet::show_capture(std::shared_ptr<const CaptureAnalysis> capture, const WaveView& waves) {
    capture_ = std::move(capture);
    const auto& c = waves.cursors();
    window_ = c.a && c.b && *c.a != *c.b ? std::optional(Span{std::min(*c.a, *c.b), std::max(*c.a, *c.b)})
                                         : std::nullopt;
    between_->setEnabled(window_.has_value());
    fill_boxes();
    measure();
    find_cause();
}

QString DelaySheet::full(const std::string& text) const {
    const auto edge = parse_edge(text);
    if (!edge || !capture_ || !capture_->named) return {};
    const auto found = capture_->named->find(edge->signal);
    return found ? to_q((*found)->name + ":" + std::string(word(edge->direction))) : QString();
}

/// Which edge the answer follows, found beside the window once the capture is read.
void DelaySheet::find_cause() {
    if (!capture_ || !capture_->decoding || caused_of_ == capture_->decoding) return;
    caused_of_ = capture_->decoding;
    derived_ = {};
    causing_.ask(
        [c = capture_](Progress& progress) {
            const auto made = derive_contract(
                {c->ref.id, *c->capture, c->ref.decode.roles, *c->decoding, c->sample_period}, progress);
            return made ? *made : DerivedContract{};
        },
        [this](const DerivedContract& made) {
            derived_ = made;
            if (made.question.trigger.empty()) return;
            fill_boxes();
            measure();
        });
}

/// The contract's rules for what lies between the two edges, where it has any: what ends the wait, how late
/// is too late.
std::optional<ContractInterval> DelaySheet::rules() const {
    const auto from = from_->currentData().toString(), to = to_->currentData().toString();
    if (!capture_ || from.isEmpty()) return std::nullopt;
    const auto fits = [&](const ContractInterval& i) {
        return i.kind == IntervalKind::response && full(i.from) == from && full(i.to) == to;
    };
    for (const auto& i : document_.dossier().timing->intervals)
        if (i.capture == capture_->ref.id && fits(i)) return i;
    for (const auto& i : derived_.intervals)
        if (fits(i)) return i;
    return std::nullopt;
}

void DelaySheet::fill_boxes() {
    const auto& reply = document_.dossier().timing->reply;
    const ContractFigure* figure = nullptr;
    for (const auto& f : document_.analysis().timing->contract) {
        if (f->interval.kind != IntervalKind::response) continue;
        if (figure == nullptr || f->interval.from == reply.trigger) figure = f.get();
    }
    QString from = from_->currentData().toString(), to = to_->currentData().toString();
    // Until the person chooses: the contract's response, else from the clock to the data as far as roles can
    // be guessed.
    // While the contract is being computed anew, the edges it named stay: measuring others in between would
    // go through the whole capture twice for nothing.
    const bool waits = capture_ && figure == nullptr && !from.isEmpty() && boxes_of_ == capture_->ref.id &&
                       !document_.dossier().timing->intervals.empty() && more_to_come(document_.analysis());
    if (!chosen_ && !waits && capture_ && capture_->capture) {
        if (figure != nullptr) {
            from = full(figure->interval.from);
            to = full(figure->interval.to);
        } else if (caused_of_ == capture_->decoding && !derived_.question.trigger.empty() &&
                   !full(derived_.question.trigger).isEmpty()) {
            from = full(derived_.question.trigger);
            to = full(derived_.question.answer);
        }
    }
    const auto fill = [&](QComboBox* box, const QString& wanted) {
        const QSignalBlocker block(box);
        box->clear();
        if (capture_ && capture_->capture)
            for (const auto& s : capture_->capture->signals) {
                if (!s.digital || box->count() > 200) continue;
                for (const auto d : {Direction::rise, Direction::fall, Direction::any}) {
                    const EdgeName edge{unique_ending(*capture_->capture, s.name), d};
                    box->addItem(d == Direction::any ? to_q(edge.signal + " ↑↓") : to_q(show_edge(edge)),
                                 to_q(s.name + ":" + std::string(word(d))));
                }
            }
        if (const int i = box->findData(wanted); i >= 0) box->setCurrentIndex(i);
    };
    fill(from_, from);
    fill(to_, to);
    boxes_of_ = capture_ ? capture_->ref.id : std::string();
}

void DelaySheet::measure() {
    const auto window = between_->isChecked() ? window_ : std::nullopt;
    const Question question{capture_ ? capture_->capture : nullptr,
                            capture_ ? capture_->sample_period : std::nullopt,
                            from_->currentData().toString(),
                            to_->currentData().toString(),
                            window,
                            rules()};
    if (question == asked_) return;
    asked_ = question;
    delays_ = {};
    measuring_.cancel();
    about_bars_.clear();
    about_time_.clear();
    say_about();
    set_marks({}, {});
    over_time_->clear();
    const auto a = parse_edge(from_->currentData().toString().toStdString()),
               b = parse_edge(to_->currentData().toString().toStdString());
    if (!capture_ || !capture_->capture || !a || !b) return histogram_->clear(tr("Choose two edges above."));
    const auto from = capture_->capture->find_digital(a->signal),
               to = capture_->capture->find_digital(b->signal);
    if (!from || !to) return;
    // Both waveforms belong to the capture, which the work keeps alive.
    const auto work = [whole = capture_->named, decoding = capture_->decoding, rules = question.rules,
                       from = *from, to = *to, a = *a, b = *b, window](Progress& progress) {
        Delays d;
        DelayMeasurement measured;
        if (rules) {
            if (auto kept = measure_interval(*rules, *whole, decoding.get())) measured = std::move(*kept);
        } else if (a == b) {
            const auto times = from->edge_times(a.direction);
            for (std::size_t i = 0; i + 1 < times.size(); ++i)
                measured.answered.push_back({times[i], times[i + 1]});
        } else {
            const auto within = a.signal != b.signal ? usual_answer_limit(*from, a.direction) : std::nullopt;
            if (progress.cancelled()) return d;
            measured = measure_delay(*from, a.direction, *to, b.direction, within);
        }
        if (progress.cancelled()) return d;
        if (window) {
            std::erase_if(measured.answered,
                          [&](const Interval& i) { return i.from < window->from || i.to > window->to; });
            std::erase_if(measured.unanswered, [&](Time t) { return t < window->from || t > window->to; });
        }
        d.statistics = measured.statistics();
        std::vector<double> lengths;
        lengths.reserve(measured.answered.size());
        for (const auto& i : measured.answered) lengths.push_back(i.length().seconds());
        d.lengths = spread_of(lengths);
        d.trend = trend_of(measured.answered);
        d.answered = std::make_shared<const std::vector<Interval>>(std::move(measured.answered));
        d.unanswered = static_cast<long>(measured.unanswered.size());
        return d;
    };
    histogram_->clear(tr("Measuring …"));
    measuring_.ask(work, [this, a = *a, b = *b](const Delays& d) { show_delay(d, a, b); });
}

void DelaySheet::show_delay(const Delays& measured, const EdgeName& from, const EdgeName& to) {
    if (!capture_ || !capture_->capture) return;
    const auto& reply = document_.dossier().timing->reply;
    delays_ = measured;
    const auto& s = measured.statistics;
    const double sampling = capture_->sample_period ? capture_->sample_period->seconds()
                                                    : capture_->capture->resolution.seconds();
    about_bars_ =
        (s.n > 0 ? tr("median %1 · ").arg(seconds(s.median)) : QString()) +
        (from == to ? to_q(plural(s.n, "period", "periods"))
                    : tr("%1 answers to %2 edges")
                          .arg(to_q(print_count(s.n)), to_q(print_count(s.n + measured.unanswered)))) +
        (capture_->sample_period ? tr(" · ± %1 sampling").arg(seconds(sampling))
                                 : tr(" · the file's unit is %1").arg(seconds(sampling)));
    const auto& t = measured.trend;
    if (t.n >= 3)
        about_time_ = tr("scatter %1 · neighbours %2 · drift %3 a second%4")
                          .arg(seconds(t.scatter_s), seconds(t.neighbour_s), seconds(t.drift),
                               std::abs(t.drift) > 3 * t.drift_error ? QString() : tr(", none proven"));
    std::optional<HistogramView::Marker> look;
    const auto trigger = parse_edge(reply.trigger);
    const auto allowed = document_.analysis().timing->least_allowed;
    if (trigger && allowed && from.direction == trigger->direction && from != to &&
        short_name(from.signal) == short_name(trigger->signal)) {
        const Time least = *allowed;
        about_bars_ += tr(" · host looks at %1").arg(to_q(print(least)));
        if (reply.look.evidence.kind == EvidenceKind::assumed) about_bars_ += tr(", assumed");
        // Far to the right of the bars it would squeeze them; then the words above must do.
        if (s.n > 0 && least.seconds() < 3.0 * s.max)
            look = HistogramView::Marker{least.seconds(), tr("host looks").toStdString()};
    }
    say_about();
    Driver driver = Driver::unknown;
    if (const auto* pin = document_.dossier().pin_of(capture_->ref, to.signal)) driver = pin->driver.value;
    over_time_->show_intervals(delays_.answered, driver, look ? std::optional(look->at_s) : std::nullopt);
    for (auto* b : {least_, most_}) b->setEnabled(!delays_.lengths.empty());
    if (delays_.lengths.empty())
        histogram_->clear(tr("No such answer in this capture."));
    else
        histogram_->show_values(delays_.lengths, driver, look, sampling);
    set_marks({}, {});
}

void DelaySheet::say_about() {
    set_about(time_button_->isChecked() && !about_time_.isEmpty() ? about_time_ : about_bars_, true);
}

void DelaySheet::pick(double low, double high) {
    std::vector<Interval> marks;
    if (high > low)
        for (const auto& d : *delays_.answered) {
            const double s = d.length().seconds();
            // The same rounding as the bars: a value on a bar's edge belongs to the bar on its right.
            const auto bar = histogram_->histogram().bar_of(s);
            const double middle = histogram_->histogram().edge(bar) + histogram_->histogram().width / 2;
            if (middle > low && middle < high) marks.push_back(d);
        }
    const auto text =
        tr("%1 edges from %2 to %3 are marked.")
            .arg(to_q(print_count(static_cast<long long>(marks.size()))), seconds(low), seconds(high));
    set_marks(std::move(marks), text);
}

void DelaySheet::show_extreme(bool longest) {
    const auto& list = *delays_.answered;
    if (list.empty()) return;
    const auto less = [](const Interval& x, const Interval& y) { return x.length() < y.length(); };
    const auto it = longest ? std::max_element(list.begin(), list.end(), less)
                            : std::min_element(list.begin(), list.end(), less);
    set_marks({*it}, tr("%1 %2 at %3")
                         .arg(longest ? tr("Longest:") : tr("Shortest:"), to_q(print(it->length(), 4)),
                              to_q(print(it->from, 7))));
}

void DelaySheet::set_marks(std::vector<Interval> marks, const QString& text) {
    const bool some = !marks.empty();
    picked_->setText(some ? text
                     : plots_->currentWidget() == over_time_
                         ? tr("Click a point to go there.")
                         : tr("Pick bars to mark the edges behind them."));
    previous_->setEnabled(some);
    next_->setEnabled(some);
    Q_EMIT marked(std::move(marks), some ? 1 : 0);
}

}  // namespace grayrelic::app
