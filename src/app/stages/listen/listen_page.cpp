// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/listen_page.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QResizeEvent>
#include <QSignalBlocker>
#include <QSvgGenerator>

#include "app/paint/marks.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
ListenPage::ListenPage(Document& document, FileFlow& files, QWidget* parent)
    : StagePage(parent), document_(document), files_(files) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(16, 12, 16, 16);
    empty_ = new Sheet(tr("No capture yet"));
    empty_->set_about(tr("Drop a recording of the old port on this window, best one of the original at work: "
                         "a value change dump, a table, packed samples or a sound file, compressed or not."),
                      true);
    auto* first = new QPushButton(tr("Add a capture"));
    connect(first, &QPushButton::clicked, &files, &FileFlow::add_captures_with_dialog);
    empty_->body()->addWidget(first, 0, Qt::AlignLeft);
    auto* follow = new QPushButton(tr("Follow one while it is made"));
    connect(follow, &QPushButton::clicked, this, [this] { show_view(live_view); });
    empty_->body()->addWidget(follow, 0, Qt::AlignLeft);
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
    for (const auto& name :
         {tr("Waves"), tr("What is it?"), tr("Shapes"), tr("Buttons"), tr("Compare"), tr("File"), tr("Live")})
        views_->addTab(name);
    auto* head = new QHBoxLayout;
    head->addWidget(views_);
    head->addStretch(1);
    chatter_ = new QLineEdit;
    chatter_->setPlaceholderText(tr("hide chatter under"));
    chatter_->setAccessibleName(tr("Hide chatter shorter than"));
    chatter_->setToolTip(
        tr("Edges that come so soon after another are not shown, such as 2us. The data stays as it is; empty "
           "shows everything."));
    chatter_->setFixedWidth(152);
    head->addWidget(chatter_);
    find_button_ = new QPushButton(tr("Find"));
    find_button_->setCheckable(true);
    find_button_->setToolTip(tr("Find in this capture (Ctrl+F)"));
    head->addWidget(find_button_);
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
    file_ = new FileView(document_);
    live_ = new LiveView(document_, files);
    for (auto* v :
         std::initializer_list<QWidget*>{waves_page, identify_, shapes_, hunt_, compare_, file_, live_})
        stack_->addWidget(v);
    const char* keys[] = {"Alt+1", "Alt+2", "Alt+3", "Alt+4", "Alt+5", "Alt+6", "Alt+7"};
    for (int i = 0; i < views_->count(); ++i) {
        views_->setTabToolTip(i, tr("%1 (Alt+%2)").arg(views_->tabText(i)).arg(i + 1));
        add_view_key(this, tr("Listen"), views_->tabText(i), {keys[i]}, [this, i] {
            show_view(static_cast<View>(i));
        })->setShortcutContext(Qt::WindowShortcut);
    }
    connect(views_, &QTabBar::currentChanged, this, [this](int i) {
        stack_->setCurrentIndex(i);
        for (auto* w : std::initializer_list<QWidget*>{chatter_, find_button_})
            w->setVisible(i == waves_view);
        refresh_view();
    });
    connect(identify_, &IdentifyView::adopted, this, [this] { show_view(waves_view); });
    connect(shapes_, &ShapesView::place_wanted, this, [this](Span where) {
        show_view(waves_view);
        waves_->set_cursors({where.from, where.to > where.from ? std::optional(where.to) : std::nullopt});
        waves_->center_on(where.from + where.length() / 2,
                          std::max(where.length() + where.length() / 4, Time::us(2)));
        waves_->setFocus();
    });
    outer->addWidget(filled_, 1);
    find_ = new FindBar(document_);
    find_->hide();
    whole->addWidget(find_);
    overview_ = new OverviewStrip;
    whole->addWidget(overview_);
    waves_ = new WaveView;
    whole->addWidget(waves_, 6);
    decoder_bar_ = new DecoderBar(document_);
    whole->addWidget(decoder_bar_);

    auto* bottom = new QHBoxLayout;
    bottom->setSpacing(12);
    delay_ = new DelaySheet(document_);
    bottom->addWidget(delay_, 6);
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
    connect(waves_, &WaveView::cursors_changed, this, [this] {
        measure_->measure(*waves_, current().get());
        delay_->show_capture(current(), *waves_);
    });
    const auto measure = [this] { measure_->measure(*waves_, current().get()); };
    connect(waves_, &WaveView::row_changed, this, measure);
    connect(waves_, &WaveView::pin_menu_wanted, this, &ListenPage::pin_menu);
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
    const auto group = tr("Listen");
    add_view_key(this, group, tr("Find"), {"Ctrl+F"}, [this] {
        show_view(waves_view);
        show_find(true);
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
    ask_picture = [this] {
        return QFileDialog::getSaveFileName(this, tr("Save the waves as a picture"),
                                            QStringLiteral("waves.svg"), tr("Scalable picture (*.svg)"));
    };
    connect(&document_, &Document::analysed, this, &ListenPage::refresh);
    connect(&document_, &Document::changed, this, &ListenPage::refresh);
    refresh();
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
    refresh();
}

void ListenPage::refresh() {
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
    const bool nothing = captures.empty() && views_->currentIndex() != live_view;
    empty_->setVisible(nothing);
    filled_->setVisible(!nothing);
    const auto capture = current();
    const bool fresh = capture && waves_->row_count() == 0;
    waves_->show_capture(capture, document_.dossier());
    overview_->show_capture(capture);
    // A capture of seconds says nothing when seen whole: begin at its first read word, unless the person has
    // looked elsewhere while it was being read.
    if (fresh) untouched_ = waves_->row_count() > 0 ? std::optional(waves_->window()) : std::nullopt;
    if (untouched_ && !(*untouched_ == waves_->window())) untouched_.reset();
    if (untouched_ && capture->decoding && !capture->decoding->frames.empty()) {
        const auto& f = capture->decoding->frames.front();
        const Time length = f.end - f.start;
        waves_->set_window({f.start - length / 12, f.end + length / 12});
        untouched_.reset();
    }
    overview_->show_window(waves_->window());
    decoder_bar_->show_capture(capture.get());
    measure_->measure(*waves_, current().get());
    delay_->show_capture(capture, *waves_);
    find_->show_capture(capture);
    refresh_breaches();
    refresh_view();
    Q_EMIT header_changed();
}

void ListenPage::resizeEvent(QResizeEvent* event) {
    constexpr int room_for_the_strip = 640;
    low_ = event->size().height() < room_for_the_strip;
    const bool narrow = event->size().width() < 720;
    chatter_->setFixedWidth(narrow ? 76 : 152);
    chatter_->setPlaceholderText(narrow ? tr("chatter") : tr("hide chatter under"));
    make_room();
    StagePage::resizeEvent(event);
}

/// In a low window the strip goes, and while something is searched for, the line that says how it is read.
void ListenPage::make_room() {
    overview_->setVisible(!low_);
    measure_->set_low(low_);
    decoder_bar_->setVisible(!low_ || find_->isHidden());
}

void ListenPage::show_view(View view) {
    views_->setCurrentIndex(view);
    const bool nothing = document_.dossier().captures->empty() && view != live_view;
    empty_->setVisible(nothing);
    filled_->setVisible(!nothing);
}

/// Views that are not seen wait: each may look at the whole capture.
void ListenPage::refresh_view() {
    switch (views_->currentIndex()) {
        case identify_view: return identify_->show_capture(current());
        case shapes_view: return shapes_->show_capture(current());
        case hunt_view: return hunt_->refresh();
        case compare_view: return compare_->refresh();
        case file_view: return file_->show_capture(current());
        default: return;
    }
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

void ListenPage::mark_moment() {
    const auto* ref = document_.dossier().find_capture(id_);
    const auto& c = waves_->cursors();
    if (ref == nullptr || !c.a || !c.b || *c.a == *c.b) return;
    auto changed = *ref;
    changed.moments.push_back({std::min(*c.a, *c.b), std::max(*c.a, *c.b),
                               tr("press %1").arg(ref->moments.size() + 1).toStdString()});
    document_.apply(tr("mark a moment of %1").arg(to_q(ref->title)),
                    put(document_.dossier(), std::move(changed)));
    show_view(hunt_view);
}

bool ListenPage::write_picture(const QString& path) {
    QSvgGenerator svg;
    svg.setFileName(path);
    svg.setSize(waves_->size());
    svg.setViewBox(QRect(QPoint(), waves_->size()));
    svg.setTitle(sentence());
    QPainter p;
    if (!p.begin(&svg)) return false;
    waves_->render(&p);
    return p.end();
}

void ListenPage::save_picture() {
    const auto path = ask_picture();
    if (!path.isEmpty() && !write_picture(path))
        files_.tell(tr("%1: found no way to write it, expected a folder with room").arg(path));
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
                    put(document_.dossier(), std::move(changed)));
}

QList<QWidget*> ListenPage::header_widgets() {
    return {choice_, add_};
}

void ListenPage::show_place(const FindingPlace& place) {
    if (place.kind != "capture") return;
    show_view(waves_view);
    show_capture(to_q(place.id));
    if (place.at) {
        const Time t = *place.at;
        waves_->set_cursors({t, std::nullopt});
        waves_->center_on(t, std::min(waves_->window().length(), Time::us(250)));
    }
    waves_->setFocus();
}

void ListenPage::describe_keys(ActionRegistry& actions) const {
    actions.collect(*this);
    actions.collect(*waves_);
    actions.collect(delay_->histogram());
    actions.collect(delay_->over_time());
    actions.collect(shapes_->plot());
    const auto mouse = tr("Waves, with the mouse");
    actions.note(mouse, tr("Pan"), tr("wheel, or drag"));
    actions.note(mouse, tr("Zoom at the pointer"), tr("Ctrl+wheel"));
    actions.note(mouse, tr("Cursor A, cursor B at an edge"), tr("click, Shift+click"));
    actions.note(mouse, tr("Pin of the signal"), tr("click its name"));
}

}  // namespace grayrelic::app
