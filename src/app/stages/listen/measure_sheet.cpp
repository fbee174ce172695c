// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/measure_sheet.hpp"

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/figure_link.hpp"
#include "core/base/quantity.hpp"
#include "core/decode/decoder.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::app {
namespace {

/// Up to so many edges a measurement is felt as instant while panning; above, it is made beside the window.
constexpr std::size_t told_from_edges = 100'000;

QString time_text(const Statistics& s, double Statistics::*member) {
    return s.n == 0 ? QStringLiteral("·") : to_q(print_number(s.*member, Unit::second));
}

}  // namespace

MeasureSheet::MeasureSheet(QWidget* parent) : Sheet(tr("Measure"), parent) {
    grid_ = new QGridLayout;
    grid_->setHorizontalSpacing(6);
    grid_->setVerticalSpacing(3);
    const QString columns[] = {QString(), tr("count"), tr("least"), tr("median"), tr("most")};
    const QString rows[] = {QString(), tr("high"), tr("low"), tr("period")};
    for (int r = 0; r < 4; ++r)
        for (int c = 0; c < 5; ++c) {
            auto* label = r == 0 || c == 0 ? secondary_label(r == 0 ? columns[c] : rows[r])
                                           : new QLabel(QStringLiteral("·"));
            if (r > 0 && (c == 2 || c == 4)) {
                delete label;
                auto* link = new FigureLink(QStringLiteral("·"));
                link->follow = [this, r, c] { follow(r, c); };
                link->setAccessibleName(tr("%1, %2").arg(rows[r], columns[c]));
                link->setToolTip(c == 2 ? tr("Go to the shortest") : tr("Go to the longest"));
                label = link;
            }
            label->setWordWrap(false);
            if (r > 0 && c > 0) {
                label->setFont(figure_font(12));
                if (c % 2 == 1) label->setTextInteractionFlags(Qt::TextSelectableByMouse);
            }
            label->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
            label->setAlignment(c == 0 ? Qt::AlignLeft : Qt::AlignRight);
            grid_->addWidget(label, r, c);
            grid_->setColumnStretch(c, c == 0 ? 0 : 1);
        }
    body()->addLayout(grid_);
    whole_ = new QPushButton(tr("Whole"));
    whole_->setCheckable(true);
    whole_->setToolTip(tr("Measure the whole capture, not what is in view"));
    add_to_title(whole_);
    connect(whole_, &QPushButton::toggled, this, &MeasureSheet::scope_changed);
    rate_ = new QLabel;
    rate_->setFont(text_font(12));
    rate_->setWordWrap(true);
    rate_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    body()->addWidget(rate_);
    const auto section = [this](const QString& title) {
        auto* heading = new QLabel(title);
        heading->setFont(text_font(13, true));
        heading->setContentsMargins(0, 4, 0, 0);
        body()->addWidget(heading);
        return heading;
    };
    const auto figures = [this] {
        auto* label = new QLabel;
        label->setFont(figure_font(12));
        label->setWordWrap(true);
        label->setTextInteractionFlags(Qt::TextSelectableByMouse);
        body()->addWidget(label);
        return label;
    };
    section(tr("Cursors"));
    cursors_ = figures();
    word_title_ = section(tr("Word"));
    word_ = figures();
    body()->addStretch(1);
}

QLabel* MeasureSheet::label(int row, int column) const {
    return static_cast<QLabel*>(grid_->itemAtPosition(row, column)->widget());
}

void MeasureSheet::set_cell(int row, int column, const QString& text) {
    if (auto* link = dynamic_cast<FigureLink*>(label(row, column)))
        link->show_figure(text, text != QStringLiteral("·"));
    else
        label(row, column)->setText(text);
}

QString MeasureSheet::cell(int row, int column) const {
    return label(row, column)->text();
}

void MeasureSheet::follow(int row, int column) {
    if (waveform_ == nullptr) return;
    const auto part = row == 1 ? PulsePart::high : row == 2 ? PulsePart::low : PulsePart::period;
    if (const auto where = extreme_pulse(*waveform_, part, column == 4, window_)) Q_EMIT place_wanted(*where);
}

void MeasureSheet::set_low(bool low) {
    low_ = low;
    fit_word();
}

/// In a low window the figures between the cursors need the room of the word.
void MeasureSheet::fit_word() {
    const bool room = !low_ || cursors_->text().count(QLatin1Char('\n')) < 1;
    word_title_->setVisible(room);
    word_->setVisible(room);
}

void MeasureSheet::show_cursors(const WaveView& view) {
    const auto& c = view.cursors();
    if (!c.a && !c.b) {
        cursors_->setText(tr("Click: A. Shift+click: B."));
        return;
    }
    QString text;
    if (c.a) text += tr("A %1").arg(to_q(print(*c.a, 7)));
    if (c.b)
        text += (text.isEmpty() ? QString() : QStringLiteral("\n")) + tr("B %1").arg(to_q(print(*c.b, 7)));
    if (c.a && c.b) {
        const Time d = *c.b - *c.a;
        text += tr("\nA to B %1").arg(to_q(print(d, 4)));
        if (d != Time{}) text += tr(" = 1/%1").arg(to_q(print(Hertz(std::abs(1.0 / d.seconds())), 4)));
    }
    cursors_->setText(text);
}

void MeasureSheet::show_word(const WaveView& view, const CaptureAnalysis* capture) {
    const auto& c = view.cursors();
    const Time at = c.a.value_or(view.window().from);
    const Frame* frame = nullptr;
    if (capture != nullptr && capture->decoding) {
        const auto& frames = capture->decoding->frames;
        const auto it = std::lower_bound(frames.begin(), frames.end(), at,
                                         [](const Frame& f, Time t) { return f.end < t; });
        if (it != frames.end() && (c.a ? it->start <= at : it->start <= view.window().to)) frame = &*it;
    }
    if (frame == nullptr) {
        word_title_->setText(tr("Word"));
        word_->setText(capture != nullptr && capture->decoding ? tr("None here.") : tr("Not read yet."));
        return;
    }
    word_title_->setText(frame->poll == 0 ? tr("Word") : tr("Word of poll %1").arg(frame->poll));
    QString text = frame->value ? QStringLiteral("0x%1").arg(static_cast<qulonglong>(*frame->value), 0, 16)
                                : tr("no value");
    text += tr(" · %1 bits").arg(frame->levels.size());
    const auto bytes = frame->extra.find("bytes");
    const auto* packed = bytes == frame->extra.end() ? nullptr : std::get_if<std::string>(&bytes->second);
    QString low;
    const auto& names = capture->ref.decode.bits;
    for (std::size_t i = 0; i < frame->levels.size(); ++i)
        if (frame->levels[i] == '0')
            low += (low.isEmpty() ? QString() : QStringLiteral(" ")) +
                   (i < names.size() ? to_q(names[i]) : QString::number(i));
    // A packet reads as its bytes, unless its bits have names.
    text += packed != nullptr && names.empty() ? QStringLiteral("\n") + to_q(*packed)
                                               : tr("\nlow: %1").arg(low.isEmpty() ? tr("none") : low);
    for (const auto& e : frame->errors) text += tr("\nerror: %1").arg(to_q(e));
    word_->setText(text);
}

void MeasureSheet::measure(const WaveView& view, const CaptureAnalysis* capture) {
    show_cursors(view);
    show_word(view, capture);
    fit_word();
    const auto* waveform = view.waveform_of(view.row());
    if (waveform == nullptr || capture == nullptr) {
        measuring_.cancel();
        waveform_ = nullptr;
        owner_.reset();
        set_title(tr("Measure"));
        set_about(tr("choose a signal"));
        return;
    }
    const auto& c = view.cursors();
    const bool between = c.a && c.b && !whole_->isChecked();
    const Span window = whole_->isChecked() ? capture->capture->extent
                        : between           ? Span{std::min(*c.a, *c.b), std::max(*c.a, *c.b)}
                                            : view.window();
    const bool same = owner_ == view.shown_capture() && waveform_ == waveform && window_ == window;
    owner_ = view.shown_capture();
    waveform_ = waveform;
    window_ = window;
    set_title(view.name_of(view.row()));
    const auto n = waveform->edges_until(window.to) - waveform->edges_before(window.from);
    set_about((between               ? tr("between the cursors, %1")
               : whole_->isChecked() ? tr("the whole capture, %1")
                                     : tr("in view, %1"))
                  .arg(to_q(print(window.length()))) +
              (view.hidden_chatter() ? tr(" · chatter hidden") : QString()));
    if (same) return;  // shown, or on its way
    measuring_.cancel();
    // What is soon there needs no words that flicker.
    if (n > told_from_edges) {
        show_pulses({});
        rate_->setText(tr("measuring %1 edges …").arg(to_q(print_count(static_cast<long long>(n)))));
    }
    measuring_.ask(
        [owner = owner_, waveform, window](Progress&) { return measure_pulses(*waveform, window); },
        [this](const PulseMeasurement& m) { show_pulses(m); });
}

void MeasureSheet::show_pulses(const PulseMeasurement& m) {
    int row = 1;
    for (const auto* s : {&m.high, &m.low, &m.period}) {
        set_cell(row, 1, s->n == 0 ? QStringLiteral("·") : to_q(print_count(s->n)));
        set_cell(row, 2, time_text(*s, &Statistics::min));
        set_cell(row, 3, time_text(*s, &Statistics::median));
        set_cell(row, 4, time_text(*s, &Statistics::max));
        ++row;
    }
    rate_->setText(m.frequency_hz
                       ? tr("mean rate %1 · high for %2")
                             .arg(to_q(print(Hertz(*m.frequency_hz), 4)), to_q(print_share(*m.duty)))
                       : tr("no whole period"));
}

}  // namespace grayrelic::app
