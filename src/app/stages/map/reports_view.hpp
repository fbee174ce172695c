// SPDX-License-Identifier: GPL-3.0-or-later
// Reports: the descriptor in words, the reports of a key or a text as a strip over time, and what a host
// understands of them. A descriptor or a dump of somebody else's is read here too.
#pragma once

#include <QPlainTextEdit>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/row_plot.hpp"
#include "app/widgets/sheet.hpp"
#include "core/input/host.hpp"

namespace grayrelic::app {

/// What the host holds, a row a key or axis, over the time of the reports.
class HostStrip : public RowPlot {
    Q_OBJECT
  public:
    explicit HostStrip(QWidget* parent = nullptr);
    void show_view(const HostView& view, Time end);

  protected:
    int row_count() const override { return static_cast<int>(rows_.size()); }
    RowName row_name(int row) const override;
    void paint_row(QPainter& painter, int row, const QRectF& lane) override;
    QString empty_text() const override;

  private:
    struct Held {
        Time from, to;
        QString text;
        bool open = false;  ///< never released
    };
    struct Row {
        QString name;
        std::vector<Held> held;
    };
    std::vector<Row> rows_;
};

class ReportsView : public QWidget {
    Q_OBJECT
  public:
    explicit ReportsView(Document& document, QWidget* parent = nullptr);
    void refresh();
    /// Bytes of a descriptor or a dump of reports; a message when it is neither.
    [[nodiscard]] QString take_file(const std::string& content, const QString& name);
    [[nodiscard]] Field& text() { return *text_; }
    [[nodiscard]] FactTable& reports() { return *reports_; }
    [[nodiscard]] QPlainTextEdit& listing() { return *listing_; }
    [[nodiscard]] ChoiceBox& profile() { return *profile_; }
    [[nodiscard]] ChoiceBox& source() { return *source_; }
    [[nodiscard]] QString host_says() const { return host_->about(); }

  private:
    void make_left();
    void make_right();
    void fill_profiles();
    void fill_listing();
    void make_reports();
    void show_reports();
    Document& document_;
    Sheet *descriptor_, *strip_sheet_, *host_;
    ChoiceBox *profile_, *source_;
    QPlainTextEdit* listing_;
    QPushButton *copy_, *caps_;
    Field* text_;
    FactTable* reports_;
    HostStrip* strip_;
    std::vector<std::uint8_t> own_descriptor_;  ///< read from a file; empty: the profile's
    QString own_name_, dump_name_, typed_;
    std::vector<TimedReport> made_, dump_;
    QStringList unreachable_;
};

}  // namespace grayrelic::app
