// SPDX-License-Identifier: GPL-3.0-or-later
// A side of the board as it lies on the table, to scale. The picture is painted beside the window; until it
// is there, the last one stands in, moved and stretched. Pointing tells what lies there; dragging measures.
#pragma once

#include <QFutureWatcher>
#include <QTimer>
#include <QWidget>

#include "app/stages/board/fab_picture.hpp"
#include "app/widgets/pan_zoom.hpp"

namespace grayrelic::app {

struct FabMark {
    BoardXY at;
    Verdict verdict = Verdict::stop;
    QString key;  ///< what is chosen by a click on it
};

class FabCanvas : public QWidget {
    Q_OBJECT
  public:
    explicit FabCanvas(QWidget* parent = nullptr);
    ~FabCanvas() override;
    void show_board(std::shared_ptr<const FabricationAnalysis> board,
                    std::shared_ptr<const std::vector<Driver>> drivers);
    void show_side(bool back);
    void set_marks(std::vector<FabMark> marks);
    void choose_mark(const QString& key);
    void show_net(int net);
    /// Brings a place into the middle, near enough to be seen.
    void look_at(BoardXY at);
    void fit();
    [[nodiscard]] bool back() const { return view_.back; }
    [[nodiscard]] QPointF to_widget(BoardXY at) const { return view_.to_view(at); }
    /// What the line below the title says of the place under the pointer; empty beside the board.
    [[nodiscard]] QString said_of(QPointF at) const;
    [[nodiscard]] bool painted() const { return !picture_.isNull() && of_picture_ == view_; }
    [[nodiscard]] QSize sizeHint() const override { return {560, 420}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {180, 160}; }

  Q_SIGNALS:
    void pointed(const QString& says);
    void measured(double dx_mm, double dy_mm);
    void mark_picked(const QString& key);
    void net_picked(int net);
    void place_picked(grayrelic::BoardXY at);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void changeEvent(QEvent* event) override;

  private:
    void moved();
    void paint_again();
    [[nodiscard]] BoardXY to_board(QPointF at) const;
    [[nodiscard]] std::size_t near_layer() const;
    FabView view_, of_picture_, being_painted_;
    QImage picture_;
    PlaneWindow plane_;
    std::vector<FabMark> marks_;
    QString chosen_;
    std::shared_ptr<Progress> progress_;
    QFutureWatcher<QImage> watcher_;
    QTimer soon_;
    QPointF press_, last_;
    bool dragging_ = false, panning_ = false, fitted_ = false;
};

}  // namespace grayrelic::app
