// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/words_panel.hpp"

#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/busy_dialog.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/file_system.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic::app {
namespace {

constexpr int most_copied = 100'000;

}  // namespace

void WordModel::show(std::shared_ptr<const WordTable> table) {
    beginResetModel();
    table_ = std::move(table);
    endResetModel();
}

int WordModel::rowCount(const QModelIndex& parent) const {
    constexpr std::size_t most = 0x7FFFFFFE;
    return parent.isValid() || !table_ ? 0 : static_cast<int>(std::min(table_->size(), most));
}

QVariant WordModel::data(const QModelIndex& index, int role) const {
    if (!table_ || !index.isValid()) return {};
    if (role == Qt::FontRole)
        return index.column() == text || index.column() == errors ? text_font(12) : figure_font(12);
    if (role == Qt::TextAlignmentRole)
        return static_cast<int>(
            (index.column() == at || index.column() == value ? Qt::AlignRight : Qt::AlignLeft) |
            Qt::AlignVCenter);
    if (role != Qt::DisplayRole && role != Qt::ToolTipRole && role != Qt::ForegroundRole) return {};
    const auto row = table_->row(static_cast<std::size_t>(index.row()));
    if (role == Qt::ForegroundRole) return row.errors.empty() ? QVariant() : QVariant(QBrush(theme().oxide));
    switch (index.column()) {
        case at: return to_q(role == Qt::ToolTipRole ? print_exact(row.start) : print(row.start, 7));
        case value: return to_q(row.value);
        case text: return to_q(row.text);
        default: return to_q(row.errors);
    }
}

QVariant WordModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
    switch (section) {
        case at: return tr("At");
        case value: return tr("Value");
        case text: {
            auto heading = table_ ? to_q(table_->text_heading()) : tr("text");
            heading[0] = heading[0].toUpper();
            return heading;
        }
        default: return tr("Errors");
    }
}

WordsPanel::WordsPanel(QWidget* parent) : Sheet(tr("Words"), parent) {
    setFixedWidth(300);
    lane_ = new QComboBox;
    lane_->setAccessibleName(tr("Which words"));
    lane_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    lane_->setMinimumContentsLength(10);
    add_to_title(lane_);
    connect(lane_, &QComboBox::activated, this, &WordsPanel::show_lane);
    model_ = new WordModel(this);
    list_ = new QTableView;
    list_->setModel(model_);
    list_->setAccessibleName(tr("Words of the capture"));
    list_->setToolTip(tr("Enter or double click: show the word in the waves; Ctrl+C copies what is chosen"));
    list_->setSelectionBehavior(QAbstractItemView::SelectRows);
    list_->setShowGrid(false);
    list_->setWordWrap(false);
    list_->verticalHeader()->hide();
    list_->verticalHeader()->setDefaultSectionSize(20);
    list_->horizontalHeader()->setHighlightSections(false);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setColumnWidth(WordModel::at, 92);
    list_->setColumnWidth(WordModel::value, 52);
    list_->setColumnWidth(WordModel::errors, 54);
    list_->horizontalHeader()->setSectionResizeMode(WordModel::text, QHeaderView::Stretch);
    list_->horizontalHeader()->setMinimumSectionSize(30);
    body()->addWidget(list_, 1);
    const auto go = [this](const QModelIndex& index) {
        if (!index.isValid() || !model_->table()) return;
        const auto& f = model_->table()->decoding().frames[static_cast<std::size_t>(index.row())];
        Q_EMIT place_wanted({f.start, f.end});
    };
    connect(list_, &QTableView::doubleClicked, this, go);
    connect(list_, &QTableView::activated, this, go);
    make_foot();
    ask_file = [this] {
        return QFileDialog::getSaveFileName(this, tr("Save the words"), QStringLiteral("words.csv"),
                                            tr("Table (*.csv)"));
    };
}

void WordsPanel::make_foot() {
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    find_ = new QLineEdit;
    find_->setPlaceholderText(tr("find a word"));
    find_->setAccessibleName(tr("Find in the words"));
    find_->setToolTip(
        tr("A value such as 0xA5, a character, levels or an error; Enter goes on, Shift+Enter back"));
    copy_ = new QPushButton(tr("Copy"));
    copy_->setToolTip(tr("The chosen words, as a table (Ctrl+C)"));
    save_ = new QPushButton(tr("Save"));
    save_->setToolTip(tr("All words as CSV"));
    row->addWidget(find_, 1);
    row->addWidget(copy_);
    row->addWidget(save_);
    body()->addLayout(row);
    connect(find_, &QLineEdit::returnPressed, this,
            [this] { find((QGuiApplication::keyboardModifiers() & Qt::ShiftModifier) == 0); });
    connect(copy_, &QPushButton::clicked, this, &WordsPanel::copy);
    connect(save_, &QPushButton::clicked, this, [this] {
        if (const auto path = ask_file(); !path.isEmpty()) (void)save_to(path);
    });
    add_view_key(list_, tr("Words"), tr("Copy the chosen words"), {"Ctrl+C"}, [this] { copy(); });
}

void WordsPanel::show_capture(const std::shared_ptr<const CaptureAnalysis>& capture) {
    capture_ = capture;
    const int before = lane_->currentIndex();
    {
        const QSignalBlocker block(lane_);
        lane_->clear();
        if (capture_ && capture_->decoding) {
            lane_->addItem(to_q(capture_->decoding->kind));
            if (capture_->characters) lane_->addItem(tr("characters"));
            for (const auto& also : capture_->also)
                if (also.decoding) lane_->addItem(to_q(also.title));
        }
        lane_->setCurrentIndex(std::clamp(before, 0, std::max(0, lane_->count() - 1)));
        lane_->setVisible(lane_->count() > 1);
    }
    show_lane();
}

void WordsPanel::show_lane() {
    std::vector<std::shared_ptr<const Decoding>> lanes;
    if (capture_ && capture_->decoding) {
        lanes.push_back(capture_->decoding);
        if (capture_->characters) lanes.push_back(capture_->characters);
        for (const auto& also : capture_->also)
            if (also.decoding) lanes.push_back(also.decoding);
    }
    const auto i = static_cast<std::size_t>(std::max(0, lane_->currentIndex()));
    const auto wanted = i < lanes.size() ? lanes[i] : nullptr;
    for (auto* w : std::initializer_list<QWidget*>{find_, copy_, save_}) w->setEnabled(wanted != nullptr);
    if (wanted == shown_) return;
    shown_ = wanted;
    model_->show(nullptr);
    set_about(wanted ? tr("counting …") : tr("Not read yet."));
    if (!wanted) return making_.cancel();
    making_.ask(
        [wanted](Progress&) {
            return Made{std::make_shared<const WordTable>(wanted), wanted->frames_with_errors()};
        },
        [this](const Made& made) {
            model_->show(made.table);
            set_about(to_q(plural(static_cast<long long>(made.table->size()), "word", "words")) +
                      tr(", %1 with errors").arg(to_q(print_count(made.errors))));
        });
}

void WordsPanel::follow(Time t) {
    if (!model_->table() || model_->rowCount() == 0 || list_->hasFocus()) return;
    const auto row = static_cast<int>(std::min<std::size_t>(model_->table()->row_at(t), 0x7FFFFFFE));
    list_->scrollTo(model_->index(row, 0), QAbstractItemView::PositionAtTop);
}

void WordsPanel::find(bool forward) {
    const auto table = model_->table();
    if (!table || find_->text().trimmed().isEmpty()) return;
    const auto now = list_->currentIndex();
    const std::size_t n = std::max<std::size_t>(1, table->size());
    const auto from = now.isValid() ? (static_cast<std::size_t>(now.row()) + (forward ? 1 : n - 1)) % n
                                    : (forward ? 0 : n - 1);
    finding_.ask([table, typed = find_->text().trimmed().toStdString(), from,
                  forward](Progress& progress) { return table->find(typed, from, forward, progress); },
                 [this, typed = find_->text()](const std::optional<std::size_t>& row) {
                     if (!row) return set_about(tr("No word holds “%1”.").arg(typed.trimmed()));
                     const auto index = model_->index(static_cast<int>(*row), 0);
                     list_->selectRow(index.row());
                     list_->scrollTo(index);
                     const auto& f = model_->table()->decoding().frames[*row];
                     Q_EMIT place_wanted({f.start, f.end});
                 });
}

void WordsPanel::copy() {
    const auto table = model_->table();
    if (!table) return;
    auto rows = list_->selectionModel()->selectedRows();
    std::sort(rows.begin(), rows.end());
    QString out;
    for (qsizetype i = 0; i < std::min<qsizetype>(rows.size(), most_copied); ++i) {
        const auto r = table->row(static_cast<std::size_t>(rows[i].row()));
        out += to_q(print_exact(r.start) + "\t" + r.value + "\t" + r.text + "\t" + r.errors + "\n");
    }
    if (out.isEmpty()) return set_about(tr("Choose the words to copy first; Ctrl+A chooses all."));
    QGuiApplication::clipboard()->setText(out);
    set_about(tr("%1 copied").arg(to_q(plural(rows.size(), "word", "words"))));
}

bool WordsPanel::save_to(const QString& path) {
    const auto table = model_->table();
    if (!table) return false;
    Status written;
    const auto ran = run_with_progress(this, tr("Saving the words"), [&](Progress& progress) {
        const auto text = table->csv(progress);
        written = progress.cancelled() ? Status(fail_cancelled())
                                       : write_atomically(disk(), path.toStdString(), text);
    });
    if (!ran) written = ran;
    set_about(written ? tr("Saved as %1").arg(path) : to_q(written.error().message()));
    return written.has_value();
}

}  // namespace grayrelic::app
