// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/file_view.hpp"

#include <QEvent>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {
namespace {

QString use_text(ColumnUse use, const CsvDialect& d) {
    switch (use) {
        case ColumnUse::time: {
            for (const auto& [unit, power] : time_units())
                if (power == d.time_power) return FileView::tr("time in %1").arg(to_q(unit));
            return FileView::tr("time");
        }
        case ColumnUse::sample_number: return FileView::tr("sample number");
        case ColumnUse::levels: return FileView::tr("levels");
        case ColumnUse::analogue: return FileView::tr("analogue");
    }
    return {};
}

}  // namespace

FileView::FileView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(12);
    whole->addWidget(make_understood());
    whole->addWidget(make_rows(), 1);
    whole->addWidget(make_signals(), 1);
}

QWidget* FileView::make_understood() {
    auto* sheet = new Sheet(tr("How the file was understood"));
    facts_ = new QLabel;
    facts_->setWordWrap(true);
    facts_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    sheet->body()->addWidget(facts_);
    options_ = new QWidget;
    auto* options = new QVBoxLayout(options_);
    options->setContentsMargins(0, 0, 0, 0);
    make_table_options(options_row(*options, table_options_));
    make_raw_options(options_row(*options, raw_options_));
    sheet->body()->addWidget(options_);
    state_ = new QLabel;
    state_->setWordWrap(true);
    sheet->body()->addWidget(state_);
    auto* buttons = new QHBoxLayout;
    read_ = new QPushButton(tr("Read it so"));
    read_->setToolTip(
        tr("Read the file again in this way; undo takes it back. The file itself stays as it is."));
    reset_ = new QPushButton(tr("As found"));
    reset_->setToolTip(tr("Take back all that was stated here"));
    buttons->addWidget(read_);
    buttons->addWidget(reset_);
    buttons->addStretch(1);
    unit_ = new UnitBox(tr("Taken on"), tr("Which board or machine this capture was taken on"));
    connect(unit_, &UnitBox::picked, this, [this](const std::string& unit) {
        if (capture_)
            document_.apply(tr("unit of a capture"), edit<CaptureRef>(document_.dossier(), capture_->ref.id,
                                                                      [&](CaptureRef& c) { c.unit = unit; }));
    });
    buttons->addWidget(unit_);
    sheet->body()->addLayout(buttons);
    connect(read_, &QPushButton::clicked, this, [this] { apply(words()); });
    connect(reset_, &QPushButton::clicked, this, [this] { apply({}); });
    sheet->body()->addStretch(1);
    return sheet;
}

QGridLayout* FileView::options_row(QVBoxLayout& options, QWidget*& into) {
    into = new QWidget;
    auto* grid = new QGridLayout(into);
    grid->setContentsMargins(0, 4, 0, 0);
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(2);
    options.addWidget(into);
    return grid;
}

void FileView::place(QGridLayout* grid, QWidget* w, const QString& label, const QString& hint) {
    const int n = grid->count() / 2, column = n % 4, row = 2 * (n / 4);
    auto* l = secondary_label(label);
    l->setWordWrap(false);
    l->setBuddy(w);
    w->setAccessibleName(label);
    w->setToolTip(hint);
    w->setMinimumWidth(64);
    grid->addWidget(l, row, column);
    grid->addWidget(w, row + 1, column);
    grid->setColumnStretch(column, 1);
}

void FileView::add_box(QGridLayout* grid, const char* word, const QString& label, const QString& hint,
                       const QList<std::pair<QString, QString>>& entries) {
    auto* b = new QComboBox;
    b->addItem(tr("as found"), QString());
    for (const auto& [text, value] : entries) b->addItem(text, value);
    place(grid, b, label, hint);
    boxes_[QLatin1String(word)] = b;
    connect(b, &QComboBox::activated, this, &FileView::preview);
}

void FileView::add_field(QGridLayout* grid, const char* word, const QString& label, const QString& hint,
                         const QString& sample) {
    auto* f = new QLineEdit;
    f->setPlaceholderText(sample);
    place(grid, f, label, hint);
    fields_[QLatin1String(word)] = f;
    connect(f, &QLineEdit::textEdited, this, &FileView::preview);
    connect(f, &QLineEdit::returnPressed, this, [this] { apply(words()); });
}

void FileView::make_table_options(QGridLayout* table) {
    add_box(table, "separator", tr("Separator"), tr("What stands between the fields of a row"),
            {{tr("comma"), ","}, {tr("semicolon"), ";"}, {tr("tab"), "tab"}, {tr("blank"), "space"}});
    add_box(table, "decimal", tr("Decimal mark"), tr("Point or comma in numbers"),
            {{tr("point"), "."}, {tr("comma"), ","}});
    add_field(table, "first_row", tr("First row"), tr("Line number of the first row of values"), tr("found"));
    add_box(table, "time_column", tr("Times in"),
            tr("The column of times, or of sample numbers when a rate is stated"),
            {{tr("no column"), "none"}});
    QList<std::pair<QString, QString>> units;
    for (const auto& [unit, power] : time_units()) units.push_back({to_q(unit), to_q(unit)});
    add_box(table, "unit", tr("Time unit"), tr("What the time column counts"), units);
    add_field(table, "rate", tr("Sample rate"),
              tr("Rows are evenly spaced: samples a second, such as 24 MHz"), tr("found"));
    add_field(table, "threshold", tr("Threshold"),
              tr("Where analogue columns change the level, in their own unit"), tr("half way"));
}

void FileView::make_raw_options(QGridLayout* raw) {
    add_box(raw, "raw", tr("Lines in a sample"), tr("Packed samples: how many lines each holds"),
            {{"1", "1"}, {"2", "2"}, {"4", "4"}, {"8", "8"}, {"16", "16"}, {"32", "32"}});
    boxes_["raw"]->setItemText(0, tr("no packed samples"));
    add_field(raw, "raw_rate", tr("Samples a second"), tr("Nothing in such a file tells; such as 24 MHz"),
              tr("24 MHz"));
    add_box(raw, "raw_order", tr("First line"), tr("Which bit of a sample is the first line"),
            {{tr("lowest bit"), "lsb"}, {tr("highest bit"), "msb"}});
    add_box(raw, "raw_bytes", tr("Bytes"), tr("Of samples of two or four bytes"),
            {{tr("low byte first"), "little"}, {tr("high byte first"), "big"}});
}

QWidget* FileView::make_rows() {
    rows_sheet_ = new Sheet(tr("Its first rows"));
    above_ = new QLabel;
    above_->setFont(figure_font(11, false));
    above_->setTextFormat(Qt::PlainText);
    above_->setMinimumWidth(10);
    rows_sheet_->body()->addWidget(above_);
    rows_ = new FactTable;
    rows_->setAccessibleName(tr("The first rows as they were understood"));
    rows_sheet_->body()->addWidget(rows_, 1);
    return rows_sheet_;
}

/// What a file without rows holds.
QWidget* FileView::make_signals() {
    signals_sheet_ = new Sheet(tr("Its signals"));
    signals_ = new FactTable;
    signals_->set_columns({{tr("In the file"), 220},
                           {tr("Shown as"), 110},
                           {tr("Kind"), 90},
                           {tr("Edges"), 80, true},
                           {tr("First edge"), 110, true},
                           {tr("Last edge"), 110, true},
                           {tr("Begins"), 70},
                           {tr("Ends"), 70}},
                          tr("Signals of the file"));
    signals_sheet_->body()->addWidget(signals_, 1);
    return signals_sheet_;
}

void FileView::fill_signals() {
    std::vector<TableRow> rows;
    if (capture_ && capture_->capture)
        for (const auto& s : capture_->capture->signals) {
            const auto kind = s.analogue ? tr("analogue") : s.digital ? tr("levels") : tr("values");
            TableRow row{to_q(s.name), to_q(short_name(s.name)), kind, {}, {}, {}, {}, {}};
            row[0].key = to_q(s.name);
            if (s.digital) {
                const auto edges = s.digital->edges();
                row[3] = to_q(print_count(static_cast<long long>(edges.size())));
                row[3].sort = static_cast<double>(edges.size());
                if (!edges.empty()) {
                    row[4] = to_q(print(edges.front(), 6));
                    row[4].sort = edges.front().seconds();
                    row[5] = to_q(print(edges.back(), 6));
                    row[5].sort = edges.back().seconds();
                }
                const auto level = [](bool high) { return high ? tr("high") : tr("low"); };
                row[6] = level(s.digital->level_after(0));
                row[7] = level(s.digital->level_after(edges.size()));
            }
            rows.push_back(std::move(row));
            if (rows.size() >= 4096) break;
        }
    signals_->set_rows(std::move(rows));
}

void FileView::show_capture(std::shared_ptr<const CaptureAnalysis> capture) {
    capture_ = std::move(capture);
    unit_->show_units(document_.dossier(), capture_ ? capture_->ref.unit : std::string());
    unit_->setEnabled(capture_ != nullptr);
    heading_.cancel();
    path_.clear();
    table_ = false;
    if (capture_)
        if (const auto path = capture_path(capture_->ref, document_.folder())) path_ = *path;
    if (!path_.empty()) table_ = looks_like_table(path_);
    QString facts;
    if (!capture_)
        facts = tr("Choose a capture.");
    else if (!capture_->capture)
        facts = to_q(capture_->problem);
    else {
        const auto& c = *capture_->capture;
        facts =
            tr("%1 · times in steps of %2 · from %3 to %4")
                .arg(c.format == "vcd"   ? tr("value change dump")
                     : c.format == "csv" ? tr("table")
                     : c.format == "wav" ? tr("sound file")
                                         : tr("packed samples"),
                     to_q(print(c.resolution)), to_q(print(c.extent.from, 6)), to_q(print(c.extent.to, 6)));
        for (const auto& r : c.remarks)
            facts += (r.guessed ? tr("\nGuessed: %1") : tr("\n%1")).arg(to_q(r.says));
    }
    facts_->setText(facts);
    signals_sheet_->setVisible(capture_ && capture_->capture && !table_);
    fill_signals();
    const bool fixed = capture_ && capture_->capture &&
                       (capture_->capture->format == "vcd" || capture_->capture->format == "wav") &&
                       !table_ && capture_->ref.read_as.empty();
    options_->setVisible(capture_ && !path_.empty() && !fixed);
    table_options_->setVisible(table_);
    raw_options_->setVisible(!table_ || (capture_ && capture_->ref.read_as.count("raw") > 0));
    for (auto* b : {read_, reset_}) b->setVisible(options_->isVisibleTo(this));
    const auto words = capture_ ? capture_->ref.read_as : ReadAs{};
    if (!table_ || path_ == columns_of_) {
        fill_options(words);
        return preview();
    }
    // The columns' names first: they are among the options.
    columns_.clear();
    fill_options(words);
    state_->setText(tr("Looking into the file …"));
    heading_.ask([path = path_](Progress&) { return preview_csv(path, {}); },
                 [this, path = path_, words](const Result<CsvPreview>& p) {
                     columns_of_ = path;
                     for (std::size_t c = 0; p && c < std::min<std::size_t>(p->columns.size(), 64); ++c)
                         columns_ << to_q(p->columns[c].name);
                     fill_options(words);
                     preview();
                 });
}

void FileView::fill_options(const ReadAs& words) {
    filling_ = true;
    auto& times = *boxes_["time_column"];
    while (times.count() > 2) times.removeItem(2);
    for (qsizetype c = 0; table_ && c < columns_.size(); ++c)
        times.addItem(tr("column %1, %2").arg(c + 1).arg(columns_[c]), QString::number(c + 1));
    for (auto it = boxes_.begin(); it != boxes_.end(); ++it) {
        const auto found = words.find(it.key().toStdString());
        it.value()->setCurrentIndex(
            found == words.end() ? 0 : std::max(0, it.value()->findData(to_q(found->second))));
    }
    for (auto it = fields_.begin(); it != fields_.end(); ++it) {
        const auto word =
            it.key() == QLatin1String("raw_rate") ? std::string("rate") : it.key().toStdString();
        const auto found = words.find(word);
        if (!it.value()->hasFocus())
            it.value()->setText(found == words.end() ? QString() : to_q(found->second));
    }
    reset_->setEnabled(!words.empty());
    filling_ = false;
}

ReadAs FileView::words() const {
    ReadAs out;
    const bool packed = raw_options_->isVisibleTo(this) && boxes_["raw"]->currentIndex() > 0;
    for (auto it = boxes_.begin(); it != boxes_.end(); ++it) {
        if (it.key().startsWith(QLatin1String("raw")) != packed) continue;
        if (const auto v = it.value()->currentData().toString(); !v.isEmpty())
            out[it.key().toStdString()] = v.toStdString();
    }
    for (auto it = fields_.begin(); it != fields_.end(); ++it) {
        if ((it.key() == QLatin1String("raw_rate")) != packed) continue;
        if (const auto v = it.value()->text().trimmed(); !v.isEmpty())
            out[packed ? "rate" : it.key().toStdString()] = v.toStdString();
    }
    return out;
}

void FileView::preview() {
    if (filling_) return;
    reading_.cancel();
    rows_->set_rows({});
    above_->clear();
    state_->clear();
    if (!capture_ || path_.empty()) return;
    const auto now = words();
    const auto options = capture_options(now);
    read_->setEnabled(options.has_value() && now != capture_->ref.read_as);
    if (!options) {
        state_->setText(
            tr("Found %1, expected %2.").arg(to_q(options.error().found), to_q(options.error().expected)));
        return;
    }
    rows_sheet_->setVisible(table_ && !options->raw);
    if (options->raw || !table_) {
        state_->setText(
            options->raw
                ? tr("Packed samples have no rows to show: the waves tell whether width and order are right.")
                : tr("A file of its own format: it says itself how it is to be read."));
        return;
    }
    state_->setText(tr("Looking into the file …"));
    const bool read_so = now == capture_->ref.read_as;
    reading_.ask([path = path_, table = options->table](Progress&) { return preview_csv(path, table); },
                 [this, read_so](const Result<CsvPreview>& p) {
                     if (!p) return state_->setText(to_q(p.error().message()));
                     show_rows(*p);
                     state_->setText(!p->problem.empty() ? to_q(p->problem)
                                     : read_so           ? QString()
                                                         : tr("Not read so yet."));
                 });
}

void FileView::show_rows(const CsvPreview& p) {
    QStringList above;
    for (const auto& line : p.above) above << to_q(line);
    above_->setText(above.join(QLatin1Char('\n')));
    above_->setVisible(!above.isEmpty());
    const auto columns = std::min<std::size_t>(p.columns.size(), 64);
    QList<TableColumn> headings;
    for (std::size_t c = 0; c < columns; ++c)
        headings << TableColumn{
            QStringLiteral("%1\n%2").arg(to_q(p.columns[c].name), use_text(p.columns[c].use, p.dialect)), 118,
            true};
    rows_->set_columns(headings, tr("The first rows as they were understood"));
    std::vector<TableRow> rows;
    for (const auto& line : p.rows) {
        TableRow row;
        for (std::size_t c = 0; c < columns; ++c) {
            const bool counts =
                p.columns[c].use == ColumnUse::time || p.columns[c].use == ColumnUse::sample_number;
            row.emplace_back(c < line.size() ? to_q(line[c]) : QString(), counts ? theme().ink2 : QColor());
        }
        rows.push_back(std::move(row));
    }
    rows_->set_rows(std::move(rows));
}

void FileView::apply(const ReadAs& wanted) {
    if (!capture_ || !capture_options(wanted)) return;
    const auto* ref = document_.dossier().find_capture(capture_->ref.id);
    if (ref == nullptr || ref->read_as == wanted) return;
    auto changed = *ref;
    changed.read_as = wanted;
    document_.apply(tr("read %1 in another way").arg(to_q(ref->title)),
                    put(document_.dossier(), std::move(changed)));
}

}  // namespace grayrelic::app
