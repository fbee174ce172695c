// SPDX-License-Identifier: GPL-3.0-or-later
// A table of what is known: rows are chosen whole, a click on a heading sorts (a second one the other way, a
// third one as it was), Ctrl+C copies the chosen rows with their headings for a spreadsheet. Widths that the
// person gave are kept under the table's name; the others share the room that there is, so that nothing is
// cut while it fits.
//
// Rows are counted as they were given, however the person has sorted them.
#pragma once

#include <QAbstractTableModel>
#include <QColor>
#include <QIcon>
#include <QTableView>

#include <optional>
#include <vector>

namespace grayrelic::app {

struct TableColumn {
    QString heading;
    int width = 100;      ///< wished for; as a weight when there is more or less room
    bool figure = false;  ///< to the right, in the figures' face
    bool editable = false;
};

struct TableCell {
    QString text;
    QColor colour{};
    QIcon icon{};
    QVariant key{};                  ///< what the row is about; of its first cell
    std::optional<double> sort{};    ///< by which it is sorted; else by the text
    QString tip{};                   ///< the text itself when empty
    std::optional<bool> editable{};  ///< other than its column
    bool bold = false;

    TableCell(QString t = {}) : text(std::move(t)) {}
    TableCell(QString t, QColor c) : text(std::move(t)), colour(c) {}
};
using TableRow = std::vector<TableCell>;

class TableModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    using QAbstractTableModel::QAbstractTableModel;
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    void sort(int column, Qt::SortOrder order) override;  ///< a column below 0: as given

    void set_columns(const QList<TableColumn>& columns);
    void set_rows(std::vector<TableRow> rows);
    void set_cell(int row, int column, TableCell cell);
    [[nodiscard]] const QList<TableColumn>& columns() const { return columns_; }
    [[nodiscard]] const TableCell* cell(int row, int column) const;
    [[nodiscard]] int row_of(int place) const { return order_[static_cast<std::size_t>(place)]; }
    [[nodiscard]] int place_of(int row) const;

  Q_SIGNALS:
    void edited(int row, int column, const QString& text);

  private:
    void order();
    QList<TableColumn> columns_;
    std::vector<TableRow> rows_;
    std::vector<int> order_;  ///< the row at each place
    int sorted_by_ = -1;
    Qt::SortOrder direction_ = Qt::AscendingOrder;
};

class FactTable : public QTableView {
    Q_OBJECT
  public:
    explicit FactTable(QWidget* parent = nullptr);
    /// The name is for screen readers, and that under which widths are kept.
    void set_columns(const QList<TableColumn>& columns, const QString& name);
    /// The row that was chosen stays so, by its key where it has one.
    void set_rows(std::vector<TableRow> rows);
    void set_cell(int row, int column, TableCell cell) { model_->set_cell(row, column, std::move(cell)); }
    /// The table asks for as much room as its rows need, up to that many; the rest is the neighbours'.
    void fit_rows(int at_most);
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] int row_count() const { return model_->rowCount(); }
    [[nodiscard]] int column_count() const { return model_->columnCount(); }
    [[nodiscard]] QString text(int row, int column) const;
    [[nodiscard]] QString heading(int column) const;
    [[nodiscard]] QVariant key(int row) const;
    [[nodiscard]] int chosen() const;              ///< −1 for none
    [[nodiscard]] QList<int> chosen_rows() const;  ///< in the order they are seen
    void choose(int row);
    /// As if the person had typed it.
    void type(int row, int column, const QString& text);
    [[nodiscard]] bool is_editable(int row, int column) const;
    /// The chosen rows, or all, as a person pastes them into a spreadsheet.
    [[nodiscard]] QString copied() const;

  Q_SIGNALS:
    void row_chosen(int row);
    void row_opened(int row);  ///< double-clicked, or Enter
    void edited(int row, int column, const QString& text);

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    void share_room();
    void keep_width(int column, int width);
    void sort_by(int column);
    TableModel* model_;
    QString name_;
    std::vector<int> given_;  ///< by the person, 0 for none
    int sorted_by_ = -1;
    bool descending_ = false;
    bool sharing_ = false;
    bool filling_ = false;
    int fit_rows_ = 0;  ///< 0: any height
};

}  // namespace grayrelic::app
