// SPDX-License-Identifier: GPL-3.0-or-later
// Listen: what are these signals saying, and how fast does the original answer?
#pragma once

#include <QComboBox>
#include <QPushButton>

#include "app/shell/latest.hpp"
#include "app/shell/stage_entry.hpp"
#include "app/shell/tabbed_page.hpp"
#include "app/stages/listen/compare_view.hpp"
#include "app/stages/listen/decoder_bar.hpp"
#include "app/stages/listen/delay_sheet.hpp"
#include "app/stages/listen/file_view.hpp"
#include "app/stages/listen/find_bar.hpp"
#include "app/stages/listen/found_line.hpp"
#include "app/stages/listen/hunt_view.hpp"
#include "app/stages/listen/identify_view.hpp"
#include "app/stages/listen/live_view.hpp"
#include "app/stages/listen/measure_sheet.hpp"
#include "app/stages/listen/overview_strip.hpp"
#include "app/stages/listen/shapes_view.hpp"
#include "app/stages/listen/wave_view.hpp"
#include "app/stages/listen/words_panel.hpp"

#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

class ListenPage : public TabbedPage {
    Q_OBJECT
  public:
    explicit ListenPage(const StageContext& context);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    QList<QWidget*> header_widgets() override;
    void show_place(const FindingPlace& place) override;
    void show_capture(const QString& id);
    void begin() override;
    void prepare_picture() override;
    QList<FileKind> file_kinds() const override;
    Claim claim(const QFileInfo& file) const override;
    void take(const QString& path) override;

    [[nodiscard]] WaveView& waves() { return *waves_; }
    [[nodiscard]] HistogramView& histogram() { return delay_->histogram(); }
    [[nodiscard]] DelaySheet& delay() { return *delay_; }
    [[nodiscard]] FindBar& find_bar() { return *find_; }
    [[nodiscard]] QLineEdit& chatter_field() { return *chatter_; }
    [[nodiscard]] FileView& file() { return *file_; }
    [[nodiscard]] LiveView& live() { return *live_; }
    /// The waves as they stand, as SVG.
    bool write_picture(const QString& path);
    std::function<QString()> ask_picture;
    [[nodiscard]] MeasureSheet& measurements() { return *measure_; }
    [[nodiscard]] DecoderBar& decoder_bar() { return *decoder_bar_; }
    [[nodiscard]] QComboBox& choice() { return *choice_; }
    [[nodiscard]] IdentifyView& identification() { return *identify_; }
    [[nodiscard]] WordsPanel& words() { return *words_; }
    [[nodiscard]] QPushButton& words_button() { return *words_button_; }
    [[nodiscard]] FoundLine& found_line() { return *found_; }
    [[nodiscard]] ShapesView& shapes() { return *shapes_; }
    [[nodiscard]] HuntView& button_hunt() { return *hunt_; }
    [[nodiscard]] CompareView& comparison() { return *compare_; }
    [[nodiscard]] QString picked_text() const { return delay_->picked_text(); }

  protected:
    void resizeEvent(QResizeEvent* event) override;
    void refresh_page() override;
    void view_changed() override;
    void note_mouse(ActionRegistry& actions) const override;

  private:
    [[nodiscard]] QWidget* make_empty();
    [[nodiscard]] QWidget* make_waves_view();
    void add_views();
    void connect_waves();
    void add_keys();
    void refresh_waves();
    void refresh_all();  ///< another capture
    void refresh_breaches();
    void set_marks(std::vector<Interval> marks, int direction);
    void show_find(bool on);
    void hide_chatter(const QString& text);
    void mark_moment();
    void save_picture();
    void make_room();
    void pin_menu(const QString& signal, const QPoint& at);
    void tie(const std::string& signal, const std::string& port, const std::string& pin);
    [[nodiscard]] std::shared_ptr<const CaptureAnalysis> current() const;

    Document& document_;
    FileFlow& files_;
    IdentifyView* identify_;
    ShapesView* shapes_;
    HuntView* hunt_;
    CompareView* compare_;
    FileView* file_;
    LiveView* live_;
    FoundLine* found_;
    FindBar* find_;
    WordsPanel* words_;
    QPushButton *find_button_, *words_button_;
    QLineEdit* chatter_;
    QComboBox* choice_;
    QPushButton* add_;
    OverviewStrip* overview_;
    WaveView* waves_;
    DecoderBar* decoder_bar_;
    DelaySheet* delay_;
    MeasureSheet* measure_;
    std::string id_;
    bool low_ = false;  ///< the window has little height
    std::shared_ptr<const CaptureBreaches> breaches_shown_;
    std::shared_ptr<const void> shown_of_;  ///< Document::identity() of what the waves show
    std::optional<Span> untouched_;         // the view of a capture that nobody has moved yet
    bool to_first_words_ = false;           ///< it was just read: show its first transaction
};

}  // namespace grayrelic::app
