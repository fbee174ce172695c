// SPDX-License-Identifier: GPL-3.0-or-later
// How does the host behave? Transactions grouped by shape: a list, a band that shows which shape came when,
// and all transactions of one shape laid over one another.
#pragma once

#include <QComboBox>
#include <QLabel>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/stages/listen/overlay_plot.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/shapes.hpp"

namespace grayrelic::app {

/// Which shape when: one mark per pixel column for the shapes in it, one line a shape.
class ShapeBand : public QWidget {
    Q_OBJECT
  public:
    explicit ShapeBand(QWidget* parent = nullptr);
    void show_shapes(std::shared_ptr<const ShapeList> shapes, int current);
    [[nodiscard]] QSize sizeHint() const override { return {400, 64}; }

  Q_SIGNALS:
    void picked(Time at);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

  private:
    static constexpr int most_lines = 6;
    std::shared_ptr<const ShapeList> shapes_;
    int current_ = 0;
};

class ShapesView : public QWidget {
    Q_OBJECT
  public:
    explicit ShapesView(Document& document, QWidget* parent = nullptr);
    void show_capture(std::shared_ptr<const CaptureAnalysis> capture);
    [[nodiscard]] FactTable& table() { return *table_; }
    [[nodiscard]] Field& gap() { return *gap_; }
    [[nodiscard]] QComboBox& align() { return *align_; }
    [[nodiscard]] OverlayPlot& plot() { return *plot_; }
    [[nodiscard]] const ShapeList* shapes() const { return shapes_.get(); }

  Q_SIGNALS:
    void place_wanted(Span where);

  private:
    void find();
    void fill(std::shared_ptr<const ShapeList> shapes);
    void lay_over(int row);
    void lay_detail(Span stretch);
    void fill_align(const std::vector<std::string>& names);
    Document& document_;
    std::shared_ptr<const CaptureAnalysis> capture_;
    std::shared_ptr<const Capture> found_in_;
    std::optional<Time> gap_time_;
    std::shared_ptr<const ShapeList> shapes_;
    Sheet* sheet_;
    Field* gap_;
    FactTable* table_;
    ShapeBand* band_;
    Sheet* overlay_sheet_;
    OverlayPlot* plot_;
    QComboBox* align_;
    OverlayRequest request_;  ///< of the overlay shown
    Latest<std::shared_ptr<const Overlay>> detailing_{this};
    Latest<std::shared_ptr<const ShapeList>> finding_{this};
    Latest<std::shared_ptr<const Overlay>> laying_{this};
};

}  // namespace grayrelic::app
