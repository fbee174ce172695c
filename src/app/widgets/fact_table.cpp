// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/fact_table.hpp"

#include <QClipboard>
#include <QGuiApplication>
#include <QHeaderView>
#include <QSettings>

#include <algorithm>
#include <numeric>

#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"

namespace grayrelic::app {

int TableModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int TableModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(columns_.size());
}

const TableCell* TableModel::cell(int row, int column) const {
    if (row < 0 || row >= static_cast<int>(rows_.size())) return nullptr;
    const auto& cells = rows_[static_cast<std::size_t>(row)];
    return column < 0 || column >= static_cast<int>(cells.size()) ? nullptr
                                                                  : &cells[static_cast<std::size_t>(column)];
}

QVariant TableModel::data(const QModelIndex& index, int role) const {
    const auto* c = index.isValid() ? cell(row_of(index.row()), index.column()) : nullptr;
    if (c == nullptr) return {};
    const bool figure = columns_[index.column()].figure;
    switch (role) {
        case Qt::DisplayRole:
        case Qt::EditRole: return c->text;
        case Qt::ToolTipRole: return c->tip.isEmpty() ? c->text : c->tip;
        case Qt::DecorationRole: return c->icon.isNull() ? QVariant() : QVariant(c->icon);
        case Qt::ForegroundRole: return c->colour.isValid() ? QVariant(c->colour) : QVariant();
        case Qt::FontRole: return figure ? figure_font(12, c->bold) : text_font(12, c->bold);
        case Qt::TextAlignmentRole:
            return QVariant((figure ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
        default: return {};
    }
}

QVariant TableModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || section < 0 || section >= columns_.size()) return {};
    const auto& c = columns_[section];
    if (role == Qt::DisplayRole || role == Qt::ToolTipRole) return c.heading;
    if (role == Qt::TextAlignmentRole)
        return QVariant((c.figure ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    return {};
}

Qt::ItemFlags TableModel::flags(const QModelIndex& index) const {
    auto flags = QAbstractTableModel::flags(index);
    if (const auto* c = index.isValid() ? cell(row_of(index.row()), index.column()) : nullptr;
        c != nullptr && c->editable.value_or(columns_[index.column()].editable))
        flags |= Qt::ItemIsEditable;
    return flags;
}

bool TableModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole || !index.isValid()) return false;
    const int row = row_of(index.row());
    const auto* c = cell(row, index.column());
    if (c == nullptr || c->text == value.toString()) return false;
    // What it becomes is the dossier's to say: it is shown when it has been taken.
    Q_EMIT edited(row, index.column(), value.toString());
    return true;
}

void TableModel::set_columns(const QList<TableColumn>& columns) {
    beginResetModel();
    columns_ = columns;
    rows_.clear();
    order_.clear();
    sorted_by_ = -1;
    endResetModel();
}

void TableModel::set_rows(std::vector<TableRow> rows) {
    beginResetModel();
    rows_ = std::move(rows);
    order();
    endResetModel();
}

void TableModel::set_cell(int row, int column, TableCell cell) {
    if (this->cell(row, column) == nullptr) return;
    rows_[static_cast<std::size_t>(row)][static_cast<std::size_t>(column)] = std::move(cell);
    const auto at = index(place_of(row), column);
    Q_EMIT dataChanged(at, at);
}

int TableModel::place_of(int row) const {
    const auto it = std::find(order_.begin(), order_.end(), row);
    return it == order_.end() ? -1 : static_cast<int>(it - order_.begin());
}

void TableModel::order() {
    order_.resize(rows_.size());
    std::iota(order_.begin(), order_.end(), 0);
    if (sorted_by_ < 0) return;
    const bool up = direction_ == Qt::AscendingOrder;
    std::stable_sort(order_.begin(), order_.end(), [&](int a, int b) {
        const auto *x = cell(a, sorted_by_), *y = cell(b, sorted_by_);
        if (x == nullptr || y == nullptr) return false;
        const auto* first = up ? x : y;
        const auto* second = up ? y : x;
        if (first->sort && second->sort) return *first->sort < *second->sort;
        return QString::localeAwareCompare(first->text, second->text) < 0;
    });
}

void TableModel::sort(int column, Qt::SortOrder order_wanted) {
    Q_EMIT layoutAboutToBeChanged();
    std::vector<std::pair<QModelIndex, int>> kept;  // whatever is chosen stays the same row
    for (const auto& i : persistentIndexList()) kept.emplace_back(i, row_of(i.row()));
    sorted_by_ = column;
    direction_ = order_wanted;
    order();
    for (const auto& [before, row] : kept)
        changePersistentIndex(before, index(place_of(row), before.column()));
    Q_EMIT layoutChanged();
}

FactTable::FactTable(QWidget* parent) : QTableView(parent), model_(new TableModel(this)) {
    setModel(model_);
    auto* head = horizontalHeader();
    head->setStretchLastSection(false);
    head->setHighlightSections(false);
    head->setSectionsClickable(true);
    head->setMinimumSectionSize(20);
    head->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    head->setToolTip({});
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(22);
    setShowGrid(false);
    setWordWrap(false);
    setTextElideMode(Qt::ElideRight);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setSelectionMode(QAbstractItemView::ExtendedSelection);
    setTabKeyNavigation(false);
    setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
    setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                    QAbstractItemView::AnyKeyPressed);
    connect(head, &QHeaderView::sectionClicked, this, &FactTable::sort_by);
    connect(head, &QHeaderView::sectionResized, this,
            [this](int column, int, int width) { keep_width(column, width); });
    connect(model_, &TableModel::edited, this, &FactTable::edited);
    connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this] {
        if (!filling_) Q_EMIT row_chosen(chosen());
    });
    connect(this, &QAbstractItemView::activated, this, [this](const QModelIndex& at) {
        if ((model_->flags(at) & Qt::ItemIsEditable) == 0) Q_EMIT row_opened(model_->row_of(at.row()));
    });
    add_view_key(this, QStringLiteral("Tables"), QStringLiteral("Copy the chosen rows"), {"Ctrl+C"},
                 [this] { QGuiApplication::clipboard()->setText(copied()); });
}

void FactTable::set_columns(const QList<TableColumn>& columns, const QString& name) {
    const bool same = name == name_ && columns.size() == model_->columns().size() &&
                      std::equal(columns.begin(), columns.end(), model_->columns().begin(),
                                 [](const auto& a, const auto& b) { return a.heading == b.heading; });
    if (same) return;
    name_ = name;
    setAccessibleName(name);
    model_->set_columns(columns);
    horizontalHeader()->setSortIndicatorShown(false);
    sorted_by_ = -1;
    given_.assign(static_cast<std::size_t>(columns.size()), 0);
    const QSettings settings;
    for (int i = 0; i < columns.size(); ++i)
        given_[static_cast<std::size_t>(i)] =
            settings.value(QStringLiteral("tables/%1/%2").arg(name, columns[i].heading), 0).toInt();
    share_room();
}

void FactTable::set_rows(std::vector<TableRow> rows) {
    const int before = chosen();
    const auto known = before < 0 ? QVariant() : key(before);
    filling_ = true;
    model_->set_rows(std::move(rows));
    filling_ = false;
    if (fit_rows_ > 0) updateGeometry();
    if (before < 0) return;
    int again = -1;
    for (int r = 0; known.isValid() && r < row_count() && again < 0; ++r)
        if (key(r) == known) again = r;
    if (again < 0 && !known.isValid() && before < row_count()) again = before;
    // The same row again is no new choice.
    filling_ = true;
    choose(again);
    filling_ = false;
}

void FactTable::fit_rows(int at_most) {
    fit_rows_ = at_most;
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    updateGeometry();
}

QSize FactTable::sizeHint() const {
    auto size = QTableView::sizeHint();
    if (fit_rows_ > 0)
        size.setHeight(horizontalHeader()->sizeHint().height() + 2 * frameWidth() + 4 +
                       std::clamp(row_count(), 2, fit_rows_) * verticalHeader()->defaultSectionSize());
    return size;
}

QString FactTable::text(int row, int column) const {
    const auto* c = model_->cell(row, column);
    return c == nullptr ? QString() : c->text;
}

QString FactTable::heading(int column) const {
    return column < 0 || column >= model_->columns().size() ? QString() : model_->columns()[column].heading;
}

QVariant FactTable::key(int row) const {
    const auto* c = model_->cell(row, 0);
    return c == nullptr ? QVariant() : c->key;
}

int FactTable::chosen() const {
    const auto at = currentIndex();
    return at.isValid() ? model_->row_of(at.row()) : -1;
}

void FactTable::choose(int row) {
    const int place = model_->place_of(row);
    if (place >= 0)
        selectionModel()->setCurrentIndex(model_->index(place, std::max(0, currentIndex().column())),
                                          QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
}

void FactTable::type(int row, int column, const QString& text) {
    const auto at = model_->index(model_->place_of(row), column);
    if ((model_->flags(at) & Qt::ItemIsEditable) != 0) model_->setData(at, text, Qt::EditRole);
}

bool FactTable::is_editable(int row, int column) const {
    const int place = model_->place_of(row);
    return place >= 0 && (model_->flags(model_->index(place, column)) & Qt::ItemIsEditable) != 0;
}

QList<int> FactTable::chosen_rows() const {
    QList<int> places;
    for (const auto& i : selectionModel()->selectedRows()) places << i.row();
    std::sort(places.begin(), places.end());
    for (auto& p : places) p = model_->row_of(p);
    return places;
}

QString FactTable::copied() const {
    auto rows = chosen_rows();
    if (rows.isEmpty())
        for (int p = 0; p < row_count(); ++p) rows << model_->row_of(p);
    QStringList lines;
    const auto line = [&](const std::function<QString(int)>& cell_text) {
        QStringList cells;
        for (int c = 0; c < column_count(); ++c)
            cells << cell_text(c)
                         .replace(QLatin1Char('\t'), QLatin1Char(' '))
                         .replace(QLatin1Char('\n'), QLatin1Char(' '));
        lines << cells.join(QLatin1Char('\t'));
    };
    line([&](int c) { return heading(c); });
    for (const int r : rows) line([&](int c) { return text(r, c); });
    return lines.join(QLatin1Char('\n')) + QLatin1Char('\n');
}

void FactTable::sort_by(int column) {
    auto* head = horizontalHeader();
    // The heading turns its own sign with each click: what was before is remembered here.
    if (sorted_by_ == column && descending_) {
        sorted_by_ = -1;
        head->setSortIndicatorShown(false);
        model_->sort(-1, Qt::AscendingOrder);
        return;
    }
    descending_ = sorted_by_ == column;
    sorted_by_ = column;
    const auto order = descending_ ? Qt::DescendingOrder : Qt::AscendingOrder;
    head->setSortIndicatorShown(true);
    head->setSortIndicator(column, order);
    model_->sort(column, order);
}

void FactTable::keep_width(int column, int width) {
    if (sharing_ || column >= static_cast<int>(given_.size())) return;
    given_[static_cast<std::size_t>(column)] = width;
    QSettings().setValue(QStringLiteral("tables/%1/%2").arg(name_, heading(column)), width);
}

/// What the person gave stays; the rest goes to the others by their wishes. None gets less than its heading
/// needs, nor than three fifths of its wish: then the table scrolls.
void FactTable::share_room() {
    const auto& columns = model_->columns();
    // While the model takes other columns the view asks for their room already.
    if (columns.isEmpty() || given_.size() != static_cast<std::size_t>(columns.size())) return;
    constexpr double least = 0.6;
    constexpr int padding = 14;
    const auto metrics = horizontalHeader()->fontMetrics();
    std::vector<int> widths(given_.size());
    int room = viewport()->width(), wished = 0, last = -1;
    for (int i = 0; i < columns.size(); ++i) {
        const auto at = static_cast<std::size_t>(i);
        const int heading =
            metrics.boundingRect(QRect(0, 0, 2000, 200), 0, columns[i].heading).width() + padding;
        widths[at] =
            given_[at] > 0 ? given_[at] : std::max(heading, static_cast<int>(columns[i].width * least));
        room -= widths[at];
        if (given_[at] > 0) continue;
        wished += columns[i].width;
        last = i;
    }
    if (last >= 0 && room > 0) {
        const int more = room;
        for (int i = 0; i < columns.size(); ++i)
            if (const auto at = static_cast<std::size_t>(i); given_[at] == 0) {
                const int part = more * columns[i].width / wished;
                widths[at] += part;
                room -= part;
            }
        widths[static_cast<std::size_t>(last)] += room;
    }
    sharing_ = true;
    for (int i = 0; i < columns.size(); ++i) setColumnWidth(i, widths[static_cast<std::size_t>(i)]);
    sharing_ = false;
}

void FactTable::resizeEvent(QResizeEvent* event) {
    QTableView::resizeEvent(event);
    share_room();
}

}  // namespace grayrelic::app
