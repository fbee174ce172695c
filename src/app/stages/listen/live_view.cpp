// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/live_view.hpp"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QHBoxLayout>
#include <QStandardPaths>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/sheet.hpp"
#include "core/base/text.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr int tick_ms = 100;
constexpr std::size_t edges_shown = 200'000;  ///< of each signal: more than any window has pixels

/// A file of its own for what comes, in the user's data folder.
QString new_file() {
    const auto folder =
        QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + QStringLiteral("/live");
    QDir().mkpath(folder);
    return folder + QStringLiteral("/live-%1.vcd")
                        .arg(QDateTime::currentDateTime().toString(QStringLiteral("yyyyMMdd-hhmmss-zzz")));
}

}  // namespace

LiveView::LiveView(Document& document, FileFlow& files, QWidget* parent)
    : QWidget(parent), document_(document), files_(files) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    auto* sheet = new Sheet(tr("Follow a recording while it is made"));
    auto* first = new QHBoxLayout;
    first->setSpacing(6);
    source_ = new QLineEdit;
    source_->setPlaceholderText(tr("a value change dump that is being written, or: port 4711"));
    source_->setAccessibleName(tr("What to follow"));
    source_->setToolTip(
        tr("The path of a file that grows, or the number of a TCP port on this machine that sends a value "
           "change dump. Another machine is never spoken to."));
    first->addWidget(source_, 1);
    start_ = new QPushButton(tr("Follow"));
    first->addWidget(start_);
    keep_ = new QPushButton(tr("Keep in the dossier"));
    keep_->setEnabled(false);
    first->addWidget(keep_);
    sheet->body()->addLayout(first);
    auto* second = new QHBoxLayout;
    second->setSpacing(6);
    stop_when_ = new QComboBox;
    stop_when_->addItems({tr("stop by hand"), tr("stop after"), tr("stop after edges"),
                          tr("stop when these hold"), tr("stop at edges in order"),
                          tr("stop at a longer pulse"), tr("stop at a shorter pulse"),
                          tr("stop at a pause over")});
    stop_when_->setAccessibleName(tr("When to stop"));
    stop_text_ = new QLineEdit;
    stop_text_->setAccessibleName(tr("The condition"));
    after_label_ = secondary_label(tr("and go on for"));
    after_ = new QLineEdit(QStringLiteral("1 ms"));
    after_->setAccessibleName(tr("How long to go on behind it"));
    after_->setMaximumWidth(80);
    second->addWidget(stop_when_);
    second->addWidget(stop_text_, 6);
    second->addWidget(after_label_);
    second->addWidget(after_);
    second->addSpacing(12);
    second->addWidget(secondary_label(tr("show the last")));
    shown_ = new QComboBox;
    shown_->setAccessibleName(tr("How much of it is shown"));
    for (const auto t :
         {Time::us(100), Time::ms(1), Time::ms(10), Time::ms(100), Time::s(1), Time::s(10), Time::s(60)})
        shown_->addItem(to_q(print_exact(t)), QVariant::fromValue<qlonglong>(t.count()));
    shown_->setCurrentIndex(3);
    second->addWidget(shown_);
    for (auto* b : {stop_when_, shown_}) b->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
    second->addStretch(1);
    sheet->body()->addLayout(second);
    state_ = new QLabel;
    state_->setFont(text_font(13));
    state_->setMinimumWidth(10);
    state_->setWordWrap(true);
    sheet->body()->addWidget(state_);
    care_ = new CautionLine;
    sheet->body()->addWidget(care_);
    whole->addWidget(sheet);
    waves_ = new WaveView;
    waves_->set_empty_text(tr("Nothing is followed yet."));
    whole->addWidget(waves_, 1);
    timer_.setInterval(tick_ms);
    connect(&timer_, &QTimer::timeout, this, &LiveView::tick);
    connect(start_, &QPushButton::clicked, this, [this] { is_running() ? stop() : start(); });
    connect(keep_, &QPushButton::clicked, this, &LiveView::keep);
    connect(source_, &QLineEdit::returnPressed, this, [this] {
        if (!is_running()) start();
    });
    connect(stop_when_, &QComboBox::currentIndexChanged, this, &LiveView::fit_stop);
    connect(shown_, &QComboBox::activated, this, &LiveView::show_last);
    fit_stop();
    say(tr("The edges are read as they come and are never read twice; nothing is dropped."));
}

void LiveView::refresh() {
    const auto& data = document_.data();
    care_->show_cautions(cautions_for(data.cautions, data.families, document_.dossier(), Stage::listen,
                                      "measure", nullptr, &document_.person().bench, "live"));
}

LiveView::~LiveView() {
    timer_.stop();
    recording_.reset();
    if (!kept_ && !file_.isEmpty()) QFile::remove(file_);
}

void LiveView::fit_stop() {
    const int k = stop_when_->currentIndex();
    stop_text_->setVisible(k != never);
    for (auto* w : std::initializer_list<QWidget*>{after_label_, after_}) w->setVisible(k >= levels);
    const QString hints[] = {{},
                             tr("10 s"),
                             tr("2000000"),
                             tr("A=1, B=0"),
                             tr("B:fall while A=1 then C:rise within 3us"),
                             tr("STEP 2us"),
                             tr("STEP 200ns"),
                             tr("50 ms")};
    stop_text_->setPlaceholderText(hints[k]);
    stop_text_->setToolTip(k == pulse_longer || k == pulse_shorter ? tr("The signal, a blank, a length")
                                                                   : QString());
}

void LiveView::say(const QString& text, bool problem) {
    auto colours = state_->palette();
    colours.setColor(QPalette::WindowText, problem ? theme().oxide : theme().ink);
    state_->setPalette(colours);
    state_->setText(text);
}

std::optional<StopWhen> LiveView::stop_condition() {
    StopWhen when;
    const auto text = stop_text_->text().trimmed().toStdString();
    const auto wrong = [&](const QString& expected) {
        say(tr("Found “%1”, expected %2.").arg(to_q(text), expected), true);
        return std::nullopt;
    };
    const int k = stop_when_->currentIndex();
    if (k >= levels) {
        const auto after = parse_time(after_->text().trimmed().toStdString());
        if (!after || *after < Time{}) return wrong(tr("a time to go on, such as 1 ms"));
        when.after = *after;
    }
    FindText typed;
    const auto find = [&](bool complete, const QString& expected) {
        const auto query = find_query(typed);
        if (!query || !complete) return wrong(expected), false;
        when.found = *query;
        return true;
    };
    switch (k) {
        case length: {
            const auto t = parse_time(text);
            if (!t || *t <= Time{}) return wrong(tr("a time such as 10 s"));
            when.length = *t;
            break;
        }
        case edges: {
            const auto n = parse_number(text, Unit::none);
            if (!n || !(*n >= 1) || *n > 4e8) return wrong(tr("a number of edges up to 400 million"));
            when.edges = static_cast<std::size_t>(*n);
            break;
        }
        case pause:
            typed.pause = text;
            if (!find(!text.empty(), tr("a time such as 10 s"))) return std::nullopt;
            break;
        case levels:
            typed.levels = {text};
            if (!find(!text.empty(), tr("levels such as A=1, B=0"))) return std::nullopt;
            break;
        case order:
            typed.order = text;
            if (!find(!text.empty(), tr("edges such as B:fall then C:rise within 3us"))) return std::nullopt;
            break;
        case pulse_longer:
        case pulse_shorter: {
            const auto blank = text.find(' ');
            typed.pulse = text.substr(0, blank);
            if (blank != std::string::npos)
                (k == pulse_longer ? typed.longer : typed.shorter) = text.substr(blank + 1);
            if (!find(blank != std::string::npos, tr("a signal and a length, such as STEP 2us")))
                return std::nullopt;
            break;
        }
        default: break;
    }
    return when;
}

void LiveView::start() {
    const auto text = source_->text().trimmed();
    if (text.isEmpty())
        return say(tr("Say what to follow: the path of a file that grows, or “port” and its number."), true);
    const auto when = stop_condition();
    if (!when) return;
    recording_.reset();
    if (!kept_ && !file_.isEmpty()) QFile::remove(file_);
    kept_ = false;
    file_ = new_file();
    auto started = live::Recording::start(text.toStdString(), *when, file_.toStdString());
    if (!started) {
        file_.clear();
        return say(to_q(started.error().message()), true);
    }
    recording_ = std::move(*started);
    keep_->setEnabled(false);
    start_->setText(tr("Stop"));
    source_->setEnabled(false);
    timer_.start();
    tick();
}

void LiveView::tick() {
    if (!recording_) return;
    const auto s = recording_->state();
    show_last();
    if (s.phase != live::State::Phase::running) return end(s);
    if (!s.has_signals)
        return say(s.bytes == 0 ? tr("Connected; nothing has come yet.")
                                : tr("%1 bytes, no definitions yet.")
                                      .arg(to_q(print_count(static_cast<long long>(s.bytes)))));
    auto line = tr("%1 edges · %2 recorded · %3 MB")
                    .arg(to_q(print_count(static_cast<long long>(s.edges))), to_q(print(s.extent.length())))
                    .arg(static_cast<double>(s.bytes) / 1e6, 0, 'f', 1);
    if (s.hit) line += tr(" · found at %1").arg(to_q(print(s.hit->from, 7)));
    say(line);
}

void LiveView::show_last() {
    if (!recording_) return;
    auto c = recording_->last(Time::ps(shown_->currentData().toLongLong()), edges_shown);
    if (c.signals.empty()) return;
    auto shown = std::make_shared<CaptureAnalysis>();
    shown->ref.id = "live";
    // Wired like the dossier's first recording: pins and drivers show.
    if (!document_.dossier().captures->empty()) {
        shown->ref.port = document_.dossier().captures->front().port;
        shown->ref.ties = document_.dossier().captures->front().ties;
    }
    shown->capture = std::make_shared<const Capture>(std::move(c));
    waves_->show_capture(std::move(shown), document_.dossier());
}

void LiveView::stop() {
    if (!recording_) return;
    recording_->stop();
    end(recording_->state());
}

void LiveView::end(const live::State& s) {
    timer_.stop();
    start_->setText(tr("Follow"));
    source_->setEnabled(true);
    keep_->setEnabled(s.edges > 0);
    show_last();
    auto line = tr("%1 edges in %2.")
                    .arg(to_q(print_count(static_cast<long long>(s.edges))), to_q(print(s.extent.length())));
    if (s.hit) {
        line += tr(" Stopped at what was looked for, at %1.").arg(to_q(print(s.hit->from, 7)));
        waves_->set_cursors({s.hit->from, s.hit->to > s.hit->from ? std::optional(s.hit->to) : std::nullopt});
    } else if (s.phase == live::State::Phase::reached) {
        line += tr(" Stopped by its condition.");
    }
    if (!s.why.empty()) line += QStringLiteral(" ") + to_q(s.why);
    say(line, s.phase == live::State::Phase::failed);
}

void LiveView::keep() {
    if (!recording_ || is_running() || file_.isEmpty()) return;
    kept_ = true;
    keep_->setEnabled(false);
    files_.add_capture(file_);
}

}  // namespace grayrelic::app
