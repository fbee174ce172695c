// SPDX-License-Identifier: GPL-3.0-or-later
// Listen: what are these signals saying, and how fast does the original answer?
#pragma once

#include <QComboBox>
#include <QPushButton>
#include <QStackedWidget>
#include <QTabBar>

#include "app/shell/action_registry.hpp"
#include "app/shell/document.hpp"
#include "app/shell/file_flow.hpp"
#include "app/shell/latest.hpp"
#include "app/shell/stage_page.hpp"
#include "app/stages/listen/compare_view.hpp"
#include "app/stages/listen/hunt_view.hpp"
#include "app/stages/listen/identify_view.hpp"
#include "app/stages/listen/measure_sheet.hpp"
#include "app/stages/listen/overview_strip.hpp"
#include "app/stages/listen/reading_bar.hpp"
#include "app/stages/listen/shapes_view.hpp"
#include "app/stages/listen/wave_view.hpp"
#include "app/widgets/histogram_view.hpp"

namespace grayrelic::app {

class ListenPage : public StagePage {
    Q_OBJECT
  public:
    ListenPage(Document& document, FileFlow& files, QWidget* parent = nullptr);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    QList<QWidget*> header_widgets() override;
    void show_place(const FindingPlace& place) override;
    void show_capture(const QString& id);
    enum View { waves_view, identify_view, shapes_view, hunt_view, compare_view };
    void show_view(View view);
    void describe_keys(ActionRegistry& actions) const;

    [[nodiscard]] WaveView& waves() { return *waves_; }
    [[nodiscard]] HistogramView& histogram() { return *histogram_; }
    [[nodiscard]] MeasureSheet& measurements() { return *measure_; }
    [[nodiscard]] ReadingBar& reading() { return *reading_; }
    [[nodiscard]] QComboBox& choice() { return *choice_; }
    [[nodiscard]] IdentifyView& identification() { return *identify_; }
    [[nodiscard]] ShapesView& shapes() { return *shapes_; }
    [[nodiscard]] HuntView& button_hunt() { return *hunt_; }
    [[nodiscard]] CompareView& comparison() { return *compare_; }
    [[nodiscard]] QString picked_text() const { return picked_->text(); }

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    void refresh();
    void refresh_view();
    void refresh_delay();
    struct Delays {
        std::vector<Interval> answered;
        long unanswered = 0;
        Statistics statistics;
    };
    void show_delay(const Delays& measured, const EdgeName& from, const EdgeName& to);
    void pick(double low_s, double high_s);
    void pin_menu(const QString& signal, const QPoint& at);
    void tie(const std::string& signal, const std::string& port, const std::string& pin);
    [[nodiscard]] std::shared_ptr<const CaptureAnalysis> current() const;

    Document& document_;
    Sheet* empty_;
    QWidget* filled_;
    QTabBar* views_;
    QStackedWidget* stack_;
    IdentifyView* identify_;
    ShapesView* shapes_;
    HuntView* hunt_;
    CompareView* compare_;
    QComboBox* choice_;
    QPushButton* add_;
    OverviewStrip* overview_;
    WaveView* waves_;
    ReadingBar* reading_;
    Sheet* delay_sheet_;
    QComboBox* from_;
    QComboBox* to_;
    HistogramView* histogram_;
    QLabel* picked_;
    QPushButton* previous_;
    QPushButton* next_;
    MeasureSheet* measure_;
    std::string id_;
    std::vector<Interval> delays_;
    Latest<Delays> measuring_{this};
    QString delay_key_;
    bool delay_chosen_ = false;  // by the person, in the two boxes
};

}  // namespace grayrelic::app
