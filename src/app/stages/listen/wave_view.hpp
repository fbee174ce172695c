// SPDX-License-Identifier: GPL-3.0-or-later
// The capture as rows: each signal with its pin and who drives it, decoded words with their bits, two cursors
// that snap to edges. Wheel pans, Ctrl+wheel zooms at the pointer; both have keys.
#pragma once

#include <QWidget>

#include <optional>

#include "app/shell/latest.hpp"
#include "app/widgets/pan_zoom.hpp"
#include "core/analysis/analysis.hpp"
#include "core/decode/decoder.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"

class QScrollBar;

namespace grayrelic::app {

class WaveView : public QWidget {
    Q_OBJECT
  public:
    explicit WaveView(QWidget* parent = nullptr);
    /// Null empties the view. Another capture is shown whole; the same one keeps window and cursors.
    void show_capture(std::shared_ptr<const CaptureAnalysis> capture, const Dossier& dossier);
    /// The capture as shown: without its chatter while that is hidden.
    [[nodiscard]] std::shared_ptr<const Capture> shown_capture() const { return shown_; }
    /// Hides edges that come so soon after another; nothing shows them. Only the view: the data stays.
    void hide_chatter(std::optional<Time> within);
    [[nodiscard]] std::optional<Time> hidden_chatter() const { return hidden_chatter_; }
    /// Stretches of a signal (by its path) that the contract does not allow, in order of time.
    struct Breach {
        QString path;
        Interval where;
    };
    void set_breaches(std::vector<Breach> breaches);
    [[nodiscard]] const std::vector<Breach>& breaches() const { return breaches_; }

    void set_empty_text(const QString& text) { empty_ = text; }

    [[nodiscard]] Span window() const { return time_.span(); }
    void set_window(Span window);  ///< kept inside the capture and above the least width
    void fit();
    void center_on(Time t, Time width);
    void zoom(double factor, std::optional<Time> at = std::nullopt);  ///< above 1 zooms in

    struct Cursors {
        std::optional<Time> a, b;
    };
    [[nodiscard]] const Cursors& cursors() const { return cursors_; }
    void set_cursors(Cursors cursors);
    [[nodiscard]] int row() const { return row_; }
    void select_row(int row);
    [[nodiscard]] int row_count() const { return static_cast<int>(rows_.size()); }
    [[nodiscard]] const DigitalWaveform* waveform_of(int row) const;
    [[nodiscard]] QString name_of(int row) const;

    /// Intervals picked elsewhere: marked, and walked with step_mark().
    void set_marks(std::vector<Interval> marks);
    [[nodiscard]] const std::vector<Interval>& marks() const { return marks_; }
    void step_mark(int direction);

    [[nodiscard]] double x_of(Time t) const;
    [[nodiscard]] Time time_at(double x) const;
    [[nodiscard]] QRectF row_box(
        int row) const;  ///< where the row's wave is drawn, outside when scrolled away
    [[nodiscard]] bool is_in_view(int row) const { return row >= top_ && row < top_ + rows_in_view(); }
    [[nodiscard]] QSize sizeHint() const override { return {800, 380}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {320, 214}; }

  Q_SIGNALS:
    void moment_wanted();
    void window_changed();
    void cursors_changed();
    void row_changed();
    void pin_menu_wanted(const QString& signal, const QPoint& at);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    void take_chatter_out();
    void show_instead(std::shared_ptr<const Capture> capture);
    struct Row {
        QString name, pin;
        Driver driver = Driver::unknown;
        std::shared_ptr<const DigitalWaveform> waveform;
        std::shared_ptr<const AnalogueWaveform> analogue;  ///< drawn instead of the levels where there is one
        QString path;
    };
    /// A lane of words: what a decoder read, or why it could not.
    struct Lane {
        QString title, about;
        std::shared_ptr<const Decoding> decoding;
        std::vector<std::string> bits;
    };
    void add_keys();
    void moved();
    void fill_rows(const Dossier& dossier);
    void fill_lanes();
    [[nodiscard]] static double axis_band();
    [[nodiscard]] double row_height() const;
    [[nodiscard]] int rows_in_view() const;  ///< whole rows
    void fit_scroll_bar();
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] QRectF words_box() const;  ///< of all lanes together
    [[nodiscard]] double words_height() const;
    [[nodiscard]] int row_at(double y) const;
    [[nodiscard]] Time snap(QPointF at) const;
    void paint_rows(QPainter& p);
    void paint_breaches(QPainter& p);
    void paint_moments(QPainter& p);
    void paint_lane(QPainter& p, const Lane& lane, const QRectF& box, bool first);
    void paint_word(QPainter& p, const Frame& frame, const std::vector<std::string>& names,
                    const QRectF& lane, double next_x, bool slim);
    void paint_analogue(QPainter& p, const Row& row, const QRectF& box);
    void paint_cursors(QPainter& p);
    void paint_marks(QPainter& p);
    void paint_hover(QPainter& p);
    void step_cursor(bool second, int direction);

    std::shared_ptr<const CaptureAnalysis> capture_;
    std::shared_ptr<const Capture> shown_;
    std::optional<Time> hidden_chatter_;
    Latest<std::shared_ptr<const Capture>> hiding_{this};
    std::vector<Breach> breaches_;
    Time longest_breach_;
    std::vector<Lane> lanes_;
    QString empty_;  ///< what stands there without a capture
    std::vector<Row> rows_;
    TimeWindow time_;
    Cursors cursors_;
    int row_ = 0;
    int top_ = 0;  ///< first row in view
    QScrollBar* scroll_;
    std::vector<Interval> marks_;
    int mark_ = -1;
    std::optional<QPointF> hover_;
    std::optional<QPointF> pressed_;
    Span pressed_window_;
    bool dragging_ = false;
};

}  // namespace grayrelic::app
