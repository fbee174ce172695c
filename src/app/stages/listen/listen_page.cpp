// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/listen_page.hpp"

#include <QHBoxLayout>
#include <QMenu>
#include <QResizeEvent>
#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/contract.hpp"

namespace grayrelic::app {
namespace {

/// Up to so many edges a delay is measured before the eye could see a pause.
constexpr std::size_t instant_edges = 300'000;

}  // namespace

ListenPage::ListenPage(Document& document, FileFlow& files, QWidget* parent)
    : StagePage(parent), document_(document) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(16, 12, 16, 16);
    empty_ = new Sheet(tr("No capture yet"));
    empty_->set_about(tr("Drop a recording of the old port on this window, best one of the original at work: "
                         "a value change dump (.vcd)."),
                      true);
    auto* first = new QPushButton(tr("Add a capture"));
    connect(first, &QPushButton::clicked, &files, &FileFlow::add_captures_with_dialog);
    empty_->body()->addWidget(first, 0, Qt::AlignLeft);
    empty_->body()->addWidget(make_example_button(), 0, Qt::AlignLeft);
    empty_->body()->addStretch(1);
    outer->addWidget(empty_, 1);
    filled_ = new QWidget;
    auto* tabbed = new QVBoxLayout(filled_);
    tabbed->setContentsMargins(0, 0, 0, 0);
    tabbed->setSpacing(8);
    views_ = new QTabBar;
    views_->setDrawBase(false);
    views_->setExpanding(false);
    views_->setAccessibleName(tr("Views of the captures"));
    for (const auto& name : {tr("Waves"), tr("What is it?"), tr("Shapes"), tr("Buttons"), tr("Compare")})
        views_->addTab(name);
    auto* head = new QHBoxLayout;
    head->addWidget(views_);
    head->addStretch(1);
    tabbed->addLayout(head);
    stack_ = new QStackedWidget;
    tabbed->addWidget(stack_, 1);
    auto* waves_page = new QWidget;
    auto* whole = new QVBoxLayout(waves_page);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    identify_ = new IdentifyView(document_);
    shapes_ = new ShapesView(document_);
    hunt_ = new HuntView(document_);
    compare_ = new CompareView(document_);
    for (auto* v : std::initializer_list<QWidget*>{waves_page, identify_, shapes_, hunt_, compare_})
        stack_->addWidget(v);
    const char* keys[] = {"Alt+1", "Alt+2", "Alt+3", "Alt+4", "Alt+5"};
    for (int i = 0; i < views_->count(); ++i) {
        views_->setTabToolTip(i, tr("%1 (Alt+%2)").arg(views_->tabText(i)).arg(i + 1));
        add_view_key(this, tr("Listen"), views_->tabText(i), {keys[i]}, [this, i] { show_view(static_cast<View>(i)); })->setShortcutContext(Qt::WindowShortcut);
    }
    connect(views_, &QTabBar::currentChanged, this, [this](int i) {
        stack_->setCurrentIndex(i);
        refresh_view();
    });
    connect(identify_, &IdentifyView::adopted, this, [this] { show_view(waves_view); });
    connect(shapes_, &ShapesView::place_wanted, this, [this](Span where) {
        show_view(waves_view);
        waves_->set_cursors({where.from, where.to > where.from ? std::optional(where.to) : std::nullopt});
        waves_->center_on(where.from + where.length() / 2, std::max(where.length() + where.length() / 4, Time::us(2)));
        waves_->setFocus();
    });
    outer->addWidget(filled_, 1);
    overview_ = new OverviewStrip;
    whole->addWidget(overview_);
    waves_ = new WaveView;
    whole->addWidget(waves_, 6);
    reading_ = new ReadingBar(document_);
    whole->addWidget(reading_);

    auto* bottom = new QHBoxLayout;
    bottom->setSpacing(12);
    delay_sheet_ = new Sheet(tr("Delay"));
    from_ = new QComboBox;
    from_->setAccessibleName(tr("Delay from this edge"));
    to_ = new QComboBox;
    to_->setAccessibleName(tr("Delay to this edge"));
    for (auto* box : {from_, to_}) {
        box->setMinimumWidth(box == to_ ? 90 : 76);
        connect(box, &QComboBox::activated, this, [this] {
            delay_chosen_ = true;
            refresh_delay();
        });
    }
    delay_sheet_->add_to_title(from_);
    delay_sheet_->add_to_title(new QLabel(QStringLiteral("→")));
    delay_sheet_->add_to_title(to_);
    histogram_ = new HistogramView;
    delay_sheet_->body()->addWidget(histogram_, 1);
    auto* pick_row = new QHBoxLayout;
    picked_ = secondary_label(tr("Pick bars to mark the edges behind them."));
    pick_row->addWidget(picked_, 1);
    previous_ = new QPushButton(tr("Previous"));
    previous_->setToolTip(tr("Previous marked edge (Shift+N in the waves)"));
    next_ = new QPushButton(tr("Next"));
    next_->setToolTip(tr("Next marked edge (N in the waves)"));
    for (auto* b : {previous_, next_}) {
        b->setEnabled(false);
        pick_row->addWidget(b);
    }
    delay_sheet_->body()->addLayout(pick_row);
    bottom->addWidget(delay_sheet_, 6);
    measure_ = new MeasureSheet;
    bottom->addWidget(measure_, 5);
    whole->addLayout(bottom, 5);

    choice_ = new QComboBox;
    choice_->setAccessibleName(tr("Capture"));
    choice_->setMinimumWidth(180);
    add_ = new QPushButton(tr("Add capture"));
    add_->setToolTip(tr("Add capture (Ctrl+I), or drop one on the window"));
    connect(add_, &QPushButton::clicked, &files, &FileFlow::add_captures_with_dialog);
    connect(choice_, &QComboBox::activated, this,
            [this] { show_capture(choice_->currentData().toString()); });
    connect(waves_, &WaveView::window_changed, this, [this] {
        overview_->show_window(waves_->window());
        measure_->measure(*waves_, current().get());
    });
    connect(waves_, &WaveView::cursors_changed, this,
            [this] { measure_->measure(*waves_, current().get()); });
    connect(waves_, &WaveView::row_changed, this, [this] { measure_->measure(*waves_, current().get()); });
    connect(waves_, &WaveView::pin_menu_wanted, this, &ListenPage::pin_menu);
    connect(overview_, &OverviewStrip::wanted, this,
            [this](Time t) { waves_->center_on(t, waves_->window().length()); });
    connect(histogram_, &HistogramView::picked, this, &ListenPage::pick);
    connect(next_, &QPushButton::clicked, this, [this] { waves_->step_mark(1); });
    connect(previous_, &QPushButton::clicked, this, [this] { waves_->step_mark(-1); });
    connect(&document_, &Document::analysed, this, &ListenPage::refresh);
    connect(&document_, &Document::changed, this, &ListenPage::refresh);
    refresh();
}

std::shared_ptr<const CaptureAnalysis> ListenPage::current() const {
    for (const auto& c : document_.analysis().captures)
        if (c->ref.id == id_) return c;
    return nullptr;
}

void ListenPage::show_capture(const QString& id) {
    id_ = id.toStdString();
    refresh();
}

void ListenPage::refresh() {
    const auto& captures = *document_.dossier().captures;
    if (document_.dossier().find_capture(id_) == nullptr)
        id_ = captures.empty() ? std::string() : captures.front().id;
    {
        const QSignalBlocker block(choice_);
        choice_->clear();
        for (const auto& c : captures)
            choice_->addItem(to_q(c.title), to_q(c.id));
        choice_->setCurrentIndex(choice_->findData(to_q(id_)));
        choice_->setEnabled(choice_->count() > 1);
    }
    empty_->setVisible(captures.empty());
    filled_->setVisible(!captures.empty());
    const auto capture = current();
    const bool fresh = capture && waves_->row_count() == 0;
    waves_->show_capture(capture, document_.dossier());
    overview_->show_capture(capture);
    // A capture of seconds says nothing when seen whole: begin at its first read word.
    if (fresh && capture->decoding && !capture->decoding->frames.empty()) {
        const auto& f = capture->decoding->frames.front();
        const Time length = f.end - f.start;
        waves_->set_window({f.start - length / 12, f.end + length / 12});
    }
    overview_->show_window(waves_->window());
    reading_->show_capture(capture.get());
    measure_->measure(*waves_, current().get());
    refresh_delay();
    refresh_view();
    Q_EMIT header_changed();
}

void ListenPage::resizeEvent(QResizeEvent* event) {
    constexpr int room_for_the_strip = 640;
    overview_->setVisible(event->size().height() >= room_for_the_strip);
    StagePage::resizeEvent(event);
}

void ListenPage::show_view(View view) {
    views_->setCurrentIndex(view);
}

/// Views that are not seen wait: each may look at the whole capture.
void ListenPage::refresh_view() {
    switch (views_->currentIndex()) {
        case identify_view:
            return identify_->show_capture(current());
        case shapes_view:
            return shapes_->show_capture(current());
        case hunt_view:
            return hunt_->refresh();
        case compare_view:
            return compare_->refresh();
        default:
            return;
    }
}

void ListenPage::refresh_delay() {
    const auto capture = current();
    const auto& reply = document_.dossier().timing->reply;
    const ContractFigure* figure = nullptr;
    for (const auto& f : document_.analysis().contract) {
        if (f->interval.kind != "response") continue;
        if (figure == nullptr || f->interval.from == reply.trigger) figure = f.get();
    }

    QString chosen_from = from_->currentData().toString();
    QString chosen_to = to_->currentData().toString();
    const auto fill = [&](QComboBox* box, const QString& wanted) {
        const QSignalBlocker block(box);
        box->clear();
        if (capture && capture->capture)
            for (const auto& s : capture->capture->signals) {
                if (!s.digital || box->count() > 200) continue;
                for (const auto d : {Direction::rise, Direction::fall, Direction::any}) {
                    const EdgeName edge{short_name(s.name), d};
                    box->addItem(d == Direction::any ? to_q(edge.signal + " ↑↓") : to_q(show_edge(edge)),
                                 to_q(EdgeName{s.name, d}.signal + ":" + std::string(word(d))));
                }
            }
        if (const int i = box->findData(wanted); i >= 0) box->setCurrentIndex(i);
    };
    // Until the person chooses: the contract's response, else from the clock to the data as far as roles can
    // be guessed.
    if (!delay_chosen_ && capture && capture->capture) {
        const auto full = [&](const std::string& text) {
            const auto edge = parse_edge(text);
            if (!edge) return QString();
            const auto found = capture->capture->find(edge->signal);
            return found ? to_q((*found)->name + ":" + std::string(word(edge->direction))) : QString();
        };
        if (figure != nullptr) {
            chosen_from = full(figure->interval.from);
            chosen_to = full(figure->interval.to);
        } else {
            const auto roles =
                capture->ref.decode.roles.empty() ? capture->suggested : capture->ref.decode.roles;
            const auto clock_role = roles.find("clock");
            const auto data_role = roles.find("data");
            if (clock_role != roles.end() && data_role != roles.end() && !clock_role->second.empty() &&
                !data_role->second.empty()) {
                chosen_from = full(clock_role->second.front() + ":rise");
                chosen_to = full(data_role->second.front() + ":any");
            }
        }
    }
    fill(from_, chosen_from);
    fill(to_, chosen_to);

    const auto key = QStringLiteral("%1|%2|%3|%4")
                         .arg(to_q(id_), from_->currentData().toString(), to_->currentData().toString())
                         .arg(reinterpret_cast<quintptr>(capture ? capture->capture.get() : nullptr));
    if (key == delay_key_) return;
    delay_key_ = key;
    delays_.clear();
    measuring_.cancel();
    const auto a = parse_edge(from_->currentData().toString().toStdString());
    const auto b = parse_edge(to_->currentData().toString().toStdString());
    if (!capture || !capture->capture || !a || !b) {
        histogram_->clear(tr("Choose two edges above."));
        delay_sheet_->set_about({});
        pick(0, 0);
        return;
    }
    const auto from = capture->capture->find_digital(a->signal);
    const auto to = capture->capture->find_digital(b->signal);
    if (!from || !to) return;
    const bool other_signal = a->signal != b->signal;
    // Both traces belong to the capture, which the work keeps alive.
    const auto work = [whole = capture->capture, from = *from, to = *to, a = a->direction, b = b->direction,
                       other_signal](Progress& progress) {
        Delays d;
        const auto within = other_signal ? usual_answer_limit(*from, a) : std::nullopt;
        if (progress.cancelled()) return d;
        auto measured = measure_delay(*from, a, *to, b, within);
        if (progress.cancelled()) return d;
        d.statistics = measured.statistics();
        d.answered = std::move(measured.answered);
        d.unanswered = static_cast<long>(measured.unanswered.size());
        return d;
    };
    if ((*from)->edges().size() + (*to)->edges().size() < instant_edges) {
        Progress progress;
        show_delay(work(progress), *a, *b);
        return;
    }
    histogram_->clear(tr("Measuring …"));
    delay_sheet_->set_about({});
    pick(0, 0);
    measuring_.ask(work, [this, a = *a, b = *b](const Delays& d) { show_delay(d, a, b); });
}

void ListenPage::show_delay(const Delays& measured, const EdgeName& from, const EdgeName& to) {
    const auto capture = current();
    if (!capture || !capture->capture) return;
    const auto& reply = document_.dossier().timing->reply;
    delays_ = measured.answered;
    std::vector<double> values;
    values.reserve(delays_.size());
    for (const auto& d : delays_)
        values.push_back(d.length().seconds());
    const auto& s = measured.statistics;
    const double sampling =
        capture->sample_period ? capture->sample_period->seconds() : capture->capture->resolution.seconds();
    auto about = (s.n > 0 ? tr("median %1 · ").arg(to_q(print_number(s.median, Unit::second))) : QString()) +
                 tr("%1 answers to %2 edges · ± %3 sampling")
                     .arg(to_q(print_count(s.n)), to_q(print_count(s.n + measured.unanswered)),
                          to_q(print_number(sampling, Unit::second)));
    std::optional<HistogramView::Marker> look;
    const auto trigger = parse_edge(reply.trigger);
    const auto& tasks = document_.analysis().tasks;
    if (trigger && tasks && from.direction == trigger->direction &&
        short_name(from.signal) == short_name(trigger->signal)) {
        Time least = Time::max();
        for (const auto& t : *tasks)
            least = std::min(least, t.deadline - t.trigger);
        about += tr(" · host looks at %1").arg(to_q(print(least)));
        if (reply.look.evidence.kind == EvidenceKind::assumed) about += tr(", assumed");
        // Far to the right of the bars it would squeeze them; then the words above must do.
        if (s.n > 0 && least.seconds() < 3.0 * s.max)
            look = HistogramView::Marker{least.seconds(), tr("host looks")};
    }
    delay_sheet_->set_about(about, true);
    Driver driver = Driver::unknown;
    if (const auto* pin = document_.dossier().pin_of(capture->ref, to.signal)) driver = pin->driver.value;
    if (values.empty())
        histogram_->clear(tr("No such answer in this capture."));
    else
        histogram_->show_values(std::move(values), driver, look, sampling);
    pick(0, 0);
}

void ListenPage::pick(double low, double high) {
    std::vector<Interval> marks;
    if (high > low)
        for (const auto& d : delays_) {
            const double s = d.length().seconds();
            // The same rounding as the bars: a value on a bar's edge belongs to the bar on its right.
            const auto bar = histogram_->histogram().bar_of(s);
            const double middle = histogram_->histogram().edge(bar) + histogram_->histogram().width / 2;
            if (middle > low && middle < high) marks.push_back(d);
        }
    const bool some = !marks.empty();
    picked_->setText(some ? tr("%1 edges from %2 to %3 are marked.")
                                .arg(to_q(print_count(static_cast<long long>(marks.size()))),
                                     to_q(print_number(low, Unit::second)),
                                     to_q(print_number(high, Unit::second)))
                          : tr("Pick bars to mark the edges behind them."));
    previous_->setEnabled(some);
    next_->setEnabled(some);
    waves_->set_marks(std::move(marks));
    if (some) waves_->step_mark(1);
}

void ListenPage::pin_menu(const QString& signal, const QPoint& at) {
    const auto* ref = document_.dossier().find_capture(id_);
    if (ref == nullptr || document_.dossier().ports->empty()) return;
    QMenu menu(this);
    for (const auto& port : *document_.dossier().ports)
        for (const auto& pin : port.pins)
            menu.addAction(tr("%1 %2  %3").arg(to_q(port.id), to_q(pin.number), to_q(pin.name.value)))
                ->setData(QStringList{to_q(port.id), to_q(pin.number)});
    if (const auto* picked = menu.exec(at)) {
        const auto place = picked->data().toStringList();
        tie(signal.toStdString(), place.at(0).toStdString(), place.at(1).toStdString());
    }
}

void ListenPage::tie(const std::string& signal, const std::string& port, const std::string& pin) {
    const auto* found = document_.dossier().find_capture(id_);
    if (found == nullptr) return;
    auto changed = *found;
    changed.port = port;
    const auto* known = changed.find_tie(signal);
    const auto name = known == nullptr ? signal : known->signal;
    std::erase_if(changed.ties, [&](const SignalTie& t) { return t.signal == name; });
    changed.ties.push_back({name, pin});
    document_.apply(tr("tie %1 to pin %2").arg(to_q(short_name(name)), to_q(pin)),
                    with_capture(document_.dossier(), std::move(changed)));
}

QString ListenPage::sentence() const {
    const auto* ref = document_.dossier().find_capture(id_);
    return ref == nullptr ? tr("Listen") : to_q(ref->title);
}

QString ListenPage::detail() const {
    const auto c = current();
    if (!c) return document_.dossier().captures->empty() ? tr("nothing recorded yet") : tr("reading …");
    if (!c->capture) return tr("can't be read");
    const auto rate = c->sample_period ? to_q(print(Hertz(1.0 / c->sample_period->seconds())))
                                             .replace(QStringLiteral("Hz"), QStringLiteral("S/s"))
                                       : tr("rate not known");
    return tr("%1 · %2 signals · %3 edges")
        .arg(rate)
        .arg(c->capture->signals.size())
        .arg(to_q(print_count(static_cast<long long>(c->capture->edge_count()))));
}

QString ListenPage::rail_line() const {
    const auto& all = document_.analysis().captures;
    const auto read = std::count_if(
        all.begin(), all.end(), [](const auto& c) { return c->decoding && !c->decoding->frames.empty(); });
    return tr("%1 · %2 read")
        .arg(
            to_q(plural(static_cast<long long>(document_.dossier().captures->size()), "capture", "captures")))
        .arg(read);
}

bool ListenPage::has_content() const {
    return !document_.dossier().captures->empty();
}
QList<QWidget*> ListenPage::header_widgets() {
    return {choice_, add_};
}

void ListenPage::show_place(const FindingPlace& place) {
    if (place.kind != "capture") return;
    show_view(waves_view);
    show_capture(to_q(place.id));
    if (place.at_s >= 0) {
        const Time t = Time::from_seconds(place.at_s);
        waves_->set_cursors({t, std::nullopt});
        waves_->center_on(t, std::min(waves_->window().length(), Time::us(250)));
    }
    waves_->setFocus();
}

void ListenPage::describe_keys(ActionRegistry& actions) const {
    actions.collect(*this);
    actions.collect(*waves_);
    actions.collect(*histogram_);
    const auto mouse = tr("Waves, with the mouse");
    actions.note(mouse, tr("Pan"), tr("wheel, or drag"));
    actions.note(mouse, tr("Zoom at the pointer"), tr("Ctrl+wheel"));
    actions.note(mouse, tr("Cursor A, cursor B at an edge"), tr("click, Shift+click"));
    actions.note(mouse, tr("Pin of the signal"), tr("click its name"));
}

}  // namespace grayrelic::app
