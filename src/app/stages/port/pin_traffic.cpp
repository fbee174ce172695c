// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/pin_traffic.hpp"

#include <QPainter>

#include "app/paint/axis.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/paint/wave.hpp"
#include "core/base/quantity.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::app {

/// The signal around its first activity.
class PinTraffic::Glimpse : public QWidget {
  public:
    using QWidget::QWidget;
    std::shared_ptr<const DigitalWaveform> waveform;
    Span window;
    Driver driver = Driver::unknown;

  protected:
    void paintEvent(QPaintEvent*) override {
        if (!waveform) return;
        QPainter p(this);
        draw_wave(p, *waveform, window, QRectF(2, 10, width() - 4, 36), theme().driver(driver));
        draw_time_axis(p, QRectF(2, 54, width() - 4, 22), window.from.seconds(), window.to.seconds(), {});
    }
};

PinTraffic::PinTraffic(QWidget* parent) : Sheet(tr("Seen in the captures"), parent) {
    figures_ = new QLabel;
    figures_->setFont(text_font(12));
    figures_->setWordWrap(true);
    figures_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    body()->addWidget(figures_);
    glimpse_ = new Glimpse;
    glimpse_->setFixedHeight(80);
    glimpse_->setAccessibleName(tr("A glimpse of the signal"));
    body()->addWidget(glimpse_);
    body()->addStretch(1);
}

void PinTraffic::show_pin(const Analysis& a, const Dossier& dossier, const std::string& port,
                          const std::string& number) {
    int captures = 0;
    const CaptureAnalysis* first = nullptr;
    const Signal* signal = nullptr;
    for (const auto& c : a.listen->captures) {
        if (!c->capture || c->ref.port != port) continue;
        for (const auto& s : c->capture->signals) {
            const auto* tie = c->ref.find_tie(s.name);
            if (tie == nullptr || tie->pin != number || !s.digital) continue;
            ++captures;
            if (first == nullptr || s.digital->edges().size() > signal->digital->edges().size()) {
                first = c.get();
                signal = &s;
            }
        }
    }
    glimpse_->waveform.reset();
    glimpse_->update();
    if (first == nullptr) {
        set_about({});
        const bool reading =
            std::any_of(dossier.captures->begin(), dossier.captures->end(), [&](const CaptureRef& c) {
                const auto* read = a.find_capture(c.id);
                return c.port == port && (read == nullptr || read->under_way == "reading");
            });
        figures_->setText(reading ? tr("Captures are being read …")
                                  : tr("No capture has a signal on this pin."));
        return;
    }
    set_about(tr("in %1 captures; most in “%2”").arg(captures).arg(to_q(first->ref.title)));
    const auto& waveform = *signal->digital;
    if (waveform.edges().size() < 2) {
        figures_->setText(
            tr("It never moved: %1 throughout.").arg(waveform.first_level() ? tr("high") : tr("low")));
        return;
    }
    auto text = tr("%1 edges").arg(to_q(print_count(static_cast<long long>(waveform.edges().size()))));
    const auto* traffic = first->find_traffic(signal->name);
    if (traffic == nullptr) text += tr(" · pulses are being measured …");
    if (traffic != nullptr && traffic->glance.shortest)
        text += tr(" · shortest pulse %1").arg(to_q(print(*traffic->glance.shortest)));
    if (traffic != nullptr && traffic->glance.duty) {
        const double high = *traffic->glance.duty;
        text += tr(" · %1 for %2 of the time")
                    .arg(high >= 0.5 ? tr("high") : tr("low"), to_q(print_share(std::max(high, 1.0 - high))));
    }
    figures_->setText(text);
    glimpse_->waveform = signal->digital;
    const auto edges = waveform.edges();
    const Time span = edges[std::min<std::size_t>(edges.size() - 1, 8)] - edges[0];
    const Time margin = std::min(span, Time::ms(40)) / 8;
    glimpse_->window = {edges[0] - margin, edges[0] + std::min(span, Time::ms(400)) + margin};
    const auto* p = dossier.find_port(port);
    const auto* pin = p == nullptr ? nullptr : p->find_pin(number);
    glimpse_->driver = pin == nullptr ? Driver::unknown : pin->driver.value;
}

}  // namespace grayrelic::app
