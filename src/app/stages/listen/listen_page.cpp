// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/listen_page.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenu>
#include <QResizeEvent>
#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/text.hpp"
#include "core/capture/capture_file.hpp"
#include "core/decode/turns.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
namespace {

/// The first words that belong together: a poll with its answer, a message; of words that are moments, a few.
Span first_transaction(const Decoding& whole) {
    constexpr std::size_t few = 4, beginning = 400;  // of millions the first ones tell
    Decoding d;
    d.kind = whole.kind;
    d.frames.assign(whole.frames.begin(), whole.frames.begin() + static_cast<std::ptrdiff_t>(std::min(
                                                                     beginning, whole.frames.size())));
    const auto& f = d.frames;
    if (const auto turns = turns_of(d); turns.size() > 1) return {turns[0].start, turns[1].end};
    if (d.kind == "async-serial") {
        const auto message = messages_of(d, message_pause(d)).front();
        const auto end = std::min(message.end, f.front().start + (f.front().end - f.front().start) * 12);
        return {message.start, end};
    }
    if (f.front().end > f.front().start) return {f.front().start, f.front().end};
    const auto& last = f[std::min(few, f.size()) - 1];
    return {f.front().start, std::max(last.end, f.front().start + Time::ns(100))};
}

}  // namespace

ListenPage::ListenPage(const StageContext& context)
    : TabbedPage(Stage::listen, context.document, static_cast<unsigned>(Rests::captures)),
      document_(context.document),
      files_(context.files) {
    set_empty(make_empty());
    chatter_ = new QLineEdit;
    chatter_->setPlaceholderText(tr("hide chatter under"));
    chatter_->setAccessibleName(tr("Hide chatter shorter than"));
    chatter_->setToolTip(
        tr("Edges that come so soon after another are not shown, such as 2us. The data stays as it is; empty "
           "shows everything."));
    chatter_->setFixedWidth(152);
    find_button_ = new QPushButton(tr("Find"));
    find_button_->setCheckable(true);
    find_button_->setToolTip(tr("Find in this capture (Ctrl+F)"));
    words_button_ = new QPushButton(tr("Words"));
    words_button_->setCheckable(true);
    words_button_->setToolTip(tr("The words as a list beside the waves (Ctrl+L)"));
    add_beside_tabs(chatter_);
    add_beside_tabs(find_button_);
    add_beside_tabs(words_button_);
    add_views();
    choice_ = new QComboBox;
    choice_->setAccessibleName(tr("Capture"));
    choice_->setMinimumWidth(180);
    connect(choice_, &QComboBox::activated, this,
            [this] { show_capture(choice_->currentData().toString()); });
    add_ = new QPushButton(tr("Add capture"));
    add_->setToolTip(tr("Add capture (Ctrl+I), or drop one on the window"));
    connect(add_, &QPushButton::clicked, &files_, &FileFlow::add_captures_with_dialog);
    connect(&files_, &FileFlow::capture_added, this, [this](const QString& id) {
        Q_EMIT place_wanted(Stage::listen, {"capture", id.toStdString()});
    });
    connect_waves();
    add_keys();
    ask_picture = [this] {
        return QFileDialog::getSaveFileName(this, tr("Save the waves as a picture"),
                                            QStringLiteral("waves.svg"), tr("Scalable picture (*.svg)"));
    };
    refresh_page();
}

QWidget* ListenPage::make_empty() {
    auto* sheet = new Sheet(tr("No capture yet"));
    sheet->set_about(tr("Drop a recording of the old port on this window, best one of the original at work: "
                        "a value change dump, a table, packed samples or a sound file, compressed or not."),
                     true);
    auto* first = new QPushButton(tr("Add a capture"));
    connect(first, &QPushButton::clicked, &files_, &FileFlow::add_captures_with_dialog);
    auto* follow = new QPushButton(tr("Follow one while it is made"));
    connect(follow, &QPushButton::clicked, this, [this] { show_view(QStringLiteral("live")); });
    for (auto* b : {first, follow, make_example_button()}) sheet->body()->addWidget(b, 0, Qt::AlignLeft);
    sheet->body()->addStretch(1);
    return sheet;
}

QWidget* ListenPage::make_waves_view() {
    auto* view = new QWidget;
    auto* whole = new QVBoxLayout(view);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    found_ = new FoundLine(document_);
    whole->addWidget(found_);
    find_ = new FindBar(document_);
    find_->hide();
    whole->addWidget(find_);
    overview_ = new OverviewStrip;
    whole->addWidget(overview_);
    waves_ = new WaveView;
    words_ = new WordsPanel;
    words_->hide();
    auto* pair = new QHBoxLayout;
    pair->setSpacing(8);
    pair->addWidget(waves_, 1);
    pair->addWidget(words_);
    whole->addLayout(pair, 6);
    decoder_bar_ = new DecoderBar(document_);
    whole->addWidget(decoder_bar_);
    auto* bottom = new QHBoxLayout;
    bottom->setSpacing(12);
    delay_ = new DelaySheet(document_);
    bottom->addWidget(delay_, 6);
    measure_ = new MeasureSheet;
    bottom->addWidget(measure_, 5);
    whole->addLayout(bottom, 5);
    return view;
}

void ListenPage::add_views() {
    const unsigned all = Rests::captures | Rests::ports | Rests::units | Rests::data | Rests::listen_analysis;
    const auto id = [](const char* text) { return QString::fromLatin1(text); };
    identify_ = new IdentifyView(document_);
    shapes_ = new ShapesView(document_);
    hunt_ = new HuntView(document_);
    compare_ = new CompareView(document_);
    file_ = new FileView(document_);
    live_ = new LiveView(document_, files_);
    add_view({id("waves"), tr("Waves"), Picture::day}, make_waves_view(),
             all | Rests::timing | Rests::timing_analysis, [this] { refresh_waves(); });
    add_view({id("identify"), tr("What is it?"), Picture::night, id("calder-chart-slate")}, identify_, all,
             [this] { identify_->show_capture(current()); });
    add_view({id("shapes"), tr("Shapes")}, shapes_, all, [this] { shapes_->show_capture(current()); });
    add_view({id("buttons"), tr("Buttons")}, hunt_, all, [this] { hunt_->refresh(); });
    add_view({id("compare"), tr("Compare")}, compare_, all, [this] { compare_->refresh(); });
    add_view({id("file"), tr("File")}, file_, all, [this] { file_->show_capture(current()); });
    add_view({id("live"), tr("Live")}, live_, Rests::ports | Rests::data | Rests::person,
             [this] { live_->refresh(); });
    const auto read = [this] {
        to_first_words_ = true;
        show_view(QStringLiteral("waves"));
    };
    connect(identify_, &IdentifyView::adopted, this, read);
    connect(found_, &FoundLine::read, this, read);
    connect(decoder_bar_, &DecoderBar::read_wanted, this, read);
    connect(decoder_bar_, &DecoderBar::contract_made, this, [this](const QString& nobody) {
        Q_EMIT place_wanted(Stage::timing, nobody.isEmpty()
                                               ? FindingPlace{"question", {}, {}}
                                               : FindingPlace{"nobody-answers", nobody.toStdString(), {}});
    });
    connect(found_, &FoundLine::why_wanted, this, [this] { show_view(QStringLiteral("identify")); });
    connect(shapes_, &ShapesView::place_wanted, this, [this](Span where) {
        show_view(QStringLiteral("waves"));
        waves_->set_cursors({where.from, where.to > where.from ? std::optional(where.to) : std::nullopt});
        waves_->center_on(where.from + where.length() / 2,
                          std::max(where.length() + where.length() / 4, Time::us(2)));
        waves_->setFocus();
    });
}

void ListenPage::connect_waves() {
    connect(waves_, &WaveView::window_changed, this, [this] {
        overview_->show_window(waves_->window());
        measure_->measure(*waves_, current().get());
    });
    connect(waves_, &WaveView::cursors_changed, this, [this] {
        measure_->measure(*waves_, current().get());
        delay_->show_capture(current(), *waves_);
    });
    const auto measure = [this] { measure_->measure(*waves_, current().get()); };
    connect(waves_, &WaveView::row_changed, this, measure);
    connect(waves_, &WaveView::pin_menu_wanted, this, &ListenPage::pin_menu);
    connect(waves_, &WaveView::window_changed, this, [this] {
        if (words_->isVisible()) words_->follow(waves_->window().from);
    });
    connect(words_, &WordsPanel::place_wanted, this, [this](Span where) {
        waves_->set_cursors({where.from, where.to > where.from ? std::optional(where.to) : std::nullopt});
        waves_->center_on(where.from + where.length() / 2,
                          std::clamp(waves_->window().length(), where.length() * 2,
                                     std::max(where.length() * 2, Time::ms(20))));
    });
    connect(words_button_, &QPushButton::toggled, words_, &QWidget::setVisible);
    connect(overview_, &OverviewStrip::wanted, this,
            [this](Time t) { waves_->center_on(t, waves_->window().length()); });
    connect(delay_, &DelaySheet::marked, this, &ListenPage::set_marks);
    connect(delay_, &DelaySheet::step_wanted, waves_, &WaveView::step_mark);
    connect(measure_, &MeasureSheet::place_wanted, this,
            [this](const Interval& where) { set_marks({where}, 1); });
    connect(measure_, &MeasureSheet::scope_changed, this, measure);
    connect(find_, &FindBar::found, this, &ListenPage::set_marks);
    connect(find_, &FindBar::step_wanted, waves_, &WaveView::step_mark);
    connect(find_button_, &QPushButton::clicked, this, &ListenPage::show_find);
    connect(chatter_, &QLineEdit::editingFinished, this, [this] { hide_chatter(chatter_->text()); });
    connect(waves_, &WaveView::moment_wanted, this, &ListenPage::mark_moment);
}

void ListenPage::add_keys() {
    const auto group = tr("Listen");
    add_view_key(this, group, tr("Find"), {"Ctrl+F"}, [this] {
        show_view(QStringLiteral("waves"));
        show_find(true);
    })->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    add_view_key(this, group, tr("Words as a list"), {"Ctrl+L"}, [this] {
        show_view(QStringLiteral("waves"));
        words_button_->toggle();
    })->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    add_view_key(this, group, tr("Next hit"), {"F3"}, [this] {
        find_->step(1);
    })->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    add_view_key(this, group, tr("Hit before"), {"Shift+F3"}, [this] {
        find_->step(-1);
    })->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    add_view_key(this, group, tr("Save the waves as a picture (SVG)"), {"Ctrl+Shift+P"}, [this] {
        save_picture();
    })->setShortcutContext(Qt::WidgetWithChildrenShortcut);
}

std::shared_ptr<const CaptureAnalysis> ListenPage::current() const {
    for (const auto& c : document_.analysis().listen->captures)
        if (c->ref.id == id_) return c;
    // It is in the dossier, and the analysis has not come to it yet.
    const auto* ref = document_.dossier().find_capture(id_);
    if (ref == nullptr) return nullptr;
    auto soon = std::make_shared<CaptureAnalysis>();
    soon->ref = *ref;
    soon->under_way = "reading";
    return soon;
}

void ListenPage::show_capture(const QString& id) {
    id_ = id.toStdString();
    to_first_words_ = false;
    refresh_all();
}

void ListenPage::refresh_all() {
    refresh_page();
    view_shown();
    Q_EMIT header_changed();
}

void ListenPage::view_changed() {
    const bool waves = view() == QLatin1String("waves");
    for (auto* w : std::initializer_list<QWidget*>{chatter_, find_button_, words_button_})
        w->setVisible(waves);
    refresh_page();
}

void ListenPage::begin() {
    if (view() != QLatin1String("waves")) return TabbedPage::begin();
    waves_->setFocus();
}

QList<FileKind> ListenPage::file_kinds() const {
    FileKind kind{tr("Captures"), {}};
    for (const char* e : capture_endings) kind.endings << QLatin1String(e);
    return {kind};
}

/// A file of any other name may be a recording too: its content tells.
Claim ListenPage::claim(const QFileInfo& file) const {
    return std::max(StagePage::claim(file), Claim::anything);
}

void ListenPage::take(const QString& path) {
    (void)files_.add_capture(path);
}

void ListenPage::refresh_page() {
    const auto& captures = *document_.dossier().captures;
    if (document_.dossier().find_capture(id_) == nullptr)
        id_ = captures.empty() ? std::string() : captures.front().id;
    {
        const QSignalBlocker block(choice_);
        choice_->clear();
        for (const auto& c : captures) choice_->addItem(to_q(c.title), to_q(c.id));
        choice_->setCurrentIndex(choice_->findData(to_q(id_)));
        choice_->setEnabled(choice_->count() > 1);
    }
    show_empty(captures.empty() && view() != QLatin1String("live"));
}

void ListenPage::refresh_waves() {
    const auto capture = current();
    // Another dossier may have come while nobody looked: its waves were not empty in between.
    const bool other = shown_of_ != document_.identity();
    shown_of_ = document_.identity();
    const bool fresh = capture && (other || waves_->row_count() == 0);
    waves_->show_capture(capture, document_.dossier());
    overview_->show_capture(capture);
    // A capture of seconds says nothing when seen whole: begin at its first read word, unless the person has
    // looked elsewhere while it was being read.
    if (fresh) untouched_ = waves_->row_count() > 0 ? std::optional(waves_->window()) : std::nullopt;
    if (untouched_ && !(*untouched_ == waves_->window())) untouched_.reset();
    if ((untouched_ || to_first_words_) && capture && capture->decoding &&
        !capture->decoding->frames.empty()) {
        const auto first = first_transaction(*capture->decoding);
        waves_->set_window({first.from - first.length() / 12, first.to + first.length() / 12});
        untouched_.reset();
        to_first_words_ = false;
    }
    found_->show_capture(capture);
    words_->show_capture(capture);
    overview_->show_window(waves_->window());
    decoder_bar_->show_capture(capture.get());
    measure_->measure(*waves_, current().get());
    delay_->show_capture(capture, *waves_);
    find_->show_capture(capture);
    refresh_breaches();
}

void ListenPage::resizeEvent(QResizeEvent* event) {
    constexpr int room_for_the_strip = 640;
    low_ = event->size().height() < room_for_the_strip;
    const bool narrow = event->size().width() < 720;
    chatter_->setFixedWidth(narrow ? 76 : 152);
    chatter_->setPlaceholderText(narrow ? tr("chatter") : tr("hide chatter under"));
    make_room();
    TabbedPage::resizeEvent(event);
}

/// In a low window the strip goes, and while something is searched for, the line that says how it is read.
void ListenPage::make_room() {
    overview_->setVisible(!low_);
    measure_->set_low(low_);
    decoder_bar_->setVisible(!low_ || find_->isHidden());
}

void ListenPage::set_marks(std::vector<Interval> marks, int direction) {
    waves_->set_marks(std::move(marks));
    if (direction != 0) waves_->step_mark(direction);
}

/// What the contract does not allow, marked in the waves.
void ListenPage::refresh_breaches() {
    std::shared_ptr<const CaptureBreaches> here;
    for (const auto& in : document_.analysis().timing->breaches)
        if (in->capture == id_) here = in;
    if (here == breaches_shown_) return;
    breaches_shown_ = here;
    std::vector<WaveView::Breach> out;
    if (here)
        for (const auto& b : here->breaches) out.push_back({to_q(b.signal), b.where});
    waves_->set_breaches(std::move(out));
}

void ListenPage::show_find(bool on) {
    find_button_->setChecked(on);
    find_->setVisible(on);
    make_room();
    if (on) find_->begin();
}

void ListenPage::hide_chatter(const QString& text) {
    const auto t = parse_time(text.trimmed().toStdString());
    waves_->hide_chatter(t && *t > Time{} ? std::optional(*t) : std::nullopt);
}

QList<QWidget*> ListenPage::header_widgets() {
    return {choice_, add_};
}

void ListenPage::show_place(const FindingPlace& place) {
    if (place.kind != "capture") return;
    show_view(QStringLiteral("waves"));
    show_capture(to_q(place.id));
    if (place.at) {
        const Time t = *place.at;
        waves_->set_cursors({t, std::nullopt});
        waves_->center_on(t, std::min(waves_->window().length(), Time::us(250)));
    }
    waves_->setFocus();
}

void ListenPage::note_mouse(ActionRegistry& actions) const {
    const auto mouse = tr("Waves, with the mouse");
    actions.note(mouse, tr("Pan"), tr("wheel, or drag"));
    actions.note(mouse, tr("Zoom at the pointer"), tr("Ctrl+wheel"));
    actions.note(mouse, tr("Cursor A, cursor B at an edge"), tr("click, Shift+click"));
    actions.note(mouse, tr("Pin of the signal"), tr("click its name"));
}

}  // namespace grayrelic::app
