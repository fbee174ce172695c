// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/trace/board_view.hpp"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QMenu>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/choice_box.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {
namespace {

/// What would print as "-0.00" is nothing.
double unsigned_zero(double v) {
    return std::abs(v) < 0.005 ? 0.0 : v;
}

}  // namespace

BoardView::BoardView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    row->addWidget(make_board(), 7);
    row->addWidget(make_facts(), 3);
}

QWidget* BoardView::make_board() {
    sheet_ = new Sheet(tr("Board"));
    side_ = new QComboBox;
    side_->addItems({tr("front"), tr("back")});
    side_->setAccessibleName(tr("Side"));
    tool_ = new ChoiceBox(tr("What a click does"));
    for (const auto& [label, t] : {std::pair{tr("pick points"), BoardCanvas::Tool::probe},
                                   {tr("measure"), BoardCanvas::Tool::measure},
                                   {tr("cut copper"), BoardCanvas::Tool::cut},
                                   {tr("join copper"), BoardCanvas::Tool::join},
                                   {tr("mark as unseen"), BoardCanvas::Tool::unknown},
                                   {tr("set a reference"), BoardCanvas::Tool::reference},
                                   {tr("say: copper"), BoardCanvas::Tool::copper},
                                   {tr("say: pad"), BoardCanvas::Tool::pad},
                                   {tr("say: board"), BoardCanvas::Tool::board},
                                   {tr("say: silk"), BoardCanvas::Tool::silk},
                                   {tr("say: hole"), BoardCanvas::Tool::hole}})
        tool_->addItem(label, static_cast<int>(t));
    found_ = new QCheckBox(tr("Found"));
    found_->setToolTip(tr("Copper, holes and what can't be seen, as the program read the picture"));
    sheet_->add_to_title(found_);
    sheet_->add_to_title(tool_);
    sheet_->add_to_title(side_);
    canvas_ = new BoardCanvas;
    sheet_->body()->addWidget(canvas_, 1);
    hint_ = secondary_label({});
    hint_->setWordWrap(true);
    sheet_->body()->addWidget(hint_);
    connect(side_, &QComboBox::activated, this, [this] {
        refresh();
        canvas_->fit();
    });
    connect(tool_, &QComboBox::activated, this, [this] {
        canvas_->set_tool(static_cast<BoardCanvas::Tool>(tool_->currentData().toInt()));
        refresh();
    });
    connect(found_, &QCheckBox::toggled, canvas_, &BoardCanvas::set_found_shown);
    connect(canvas_, &BoardCanvas::drawn, this, &BoardView::take_line);
    connect(canvas_, &BoardCanvas::marked, this, &BoardView::take_reference);
    connect(canvas_, &BoardCanvas::said, this, &BoardView::take_click);
    connect(canvas_, &BoardCanvas::picked, this, [this] { refresh(); });
    return sheet_;
}

QWidget* BoardView::make_facts() {
    facts_ = new Sheet(tr("What the scans show"));
    figures_ = new QLabel;
    figures_->setWordWrap(true);
    figures_->setAlignment(Qt::AlignTop);
    figures_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    figures_->setMinimumWidth(10);
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setWidget(figures_);
    facts_->body()->addWidget(area, 1);
    reference_ = new Field;
    reference_->setPlaceholderText(tr("x y in mm"));
    reference_->setAccessibleName(tr("Where the reference lies on the board"));
    reference_->setToolTip(
        tr("Click the place in the picture first, then type where it lies on the board: 3.2 3.2"));
    facts_->body()->addWidget(reference_);
    keep_ = new Field;
    keep_->setPlaceholderText(tr("name it: kept as a dimension"));
    keep_->setAccessibleName(tr("Name of the measure"));
    keep_->setToolTip(
        tr("What was measured stands in Plan, Dimensions then, with its tolerance and where it is from"));
    keep_->commit = [this](const QString& text) { return keep_measure(text.trimmed()); };
    facts_->body()->addWidget(keep_);
    merge_ = new QPushButton(tr("Take these joins into the ledger"));
    merge_->setToolTip(tr("Joins that no reading contradicts; each says that it was seen, not measured"));
    // Two menus, so that what the pictures show keeps the room.
    auto* take_back = new QPushButton(tr("Take back"));
    auto* back_menu = new QMenu(take_back);
    back_menu->setObjectName(QStringLiteral("take-back"));
    undo_stroke_ = back_menu->addAction(tr("The last stroke"), this, [this] {
        change_scan(tr("a stroke removed"), [](Scan& s) {
            if (!s.strokes.empty()) s.strokes.pop_back();
        });
    });
    clear_clicks_ = back_menu->addAction(tr("What clicks said"), this, [this] {
        change_scan(tr("clicks removed"), [](Scan& s) { s.clicks.clear(); });
    });
    clear_references_ = back_menu->addAction(tr("The references"), this, [this] {
        change_scan(tr("references removed"), [](Scan& s) { s.references.clear(); });
    });
    connect(back_menu, &QMenu::aboutToShow, this, &BoardView::tell_what_can_be_taken_back);
    take_back->setMenu(back_menu);
    auto* pictures = new QPushButton(tr("Pictures"));
    auto* pictures_menu = new QMenu(pictures);
    pictures_menu->addAction(tr("Scan of the front…"), this,
                             [this] { Q_EMIT scan_wanted(BoardSide::front); });
    pictures_menu->addAction(tr("Scan of the back…"), this, [this] { Q_EMIT scan_wanted(BoardSide::back); });
    pictures_menu->addAction(tr("Outline and pads out…"), this, [this] { Q_EMIT export_wanted(); });
    pictures->setMenu(pictures_menu);
    facts_->body()->addWidget(merge_);
    auto* row = new QHBoxLayout;
    row->addWidget(take_back, 1);
    row->addWidget(pictures, 1);
    facts_->body()->addLayout(row);
    connect(merge_, &QPushButton::clicked, this, &BoardView::merge);
    reference_->commit = [this](const QString& text) { return place_reference(text); };
    return facts_;
}

void BoardView::tell_what_can_be_taken_back() {
    const auto& dossier = document_.dossier();
    const Scan* scan = nullptr;
    for (const auto& one : dossier.trace->scans)
        if (one.side == shown_side()) scan = &one;
    undo_stroke_->setEnabled(scan != nullptr && !scan->strokes.empty());
    clear_clicks_->setEnabled(scan != nullptr && !scan->clicks.empty());
    clear_references_->setEnabled(scan != nullptr && !scan->references.empty());
}

std::optional<QString> BoardView::place_reference(const QString& text) {
    if (text.trimmed().isEmpty()) return std::nullopt;
    const auto words = text.simplified().replace(QLatin1Char(';'), QLatin1Char(' ')).split(QLatin1Char(' '));
    bool fine_x = false, fine_y = false;
    const double x = words.value(0).toDouble(&fine_x), y = words.value(1).toDouble(&fine_y);
    if (words.size() != 2 || !fine_x || !fine_y)
        return tr("Expected two numbers in millimetres, such as 3.2 78.1.");
    const auto p = pixel_;
    reference_->clear();
    reference_->show_value({});
    change_scan(tr("a reference"), [&](Scan& s) { s.references.push_back({p.x(), p.y(), x, y}); });
    return std::nullopt;
}

BoardSide BoardView::shown_side() const {
    return side_->currentIndex() == 0 ? BoardSide::front : BoardSide::back;
}

void BoardView::change_scan(const QString& what, const std::function<void(Scan&)>& change) {
    for (const auto& s : things<Scan>(document_.dossier()))
        if (s.side == shown_side()) {
            document_.apply(what, edit<Scan>(document_.dossier(), s.id, change));
            return;
        }
}

void BoardView::take_line(QPointF from, QPointF to) {
    const auto tool = static_cast<BoardCanvas::Tool>(tool_->currentData().toInt());
    if (tool == BoardCanvas::Tool::measure) {
        const double length = std::hypot(to.x() - from.x(), to.y() - from.y());
        measured_mm_ = length;
        measured_ = tr("Measured: %1 mm (%2 across, %3 down)")
                        .arg(length, 0, 'f', 2)
                        .arg(std::abs(to.x() - from.x()), 0, 'f', 2)
                        .arg(std::abs(to.y() - from.y()), 0, 'f', 2);
        const auto& t = document_.analysis().trace;
        const std::size_t layer = shown_side() == BoardSide::front ? 0 : 1;
        if (t && t->scan && t->scan->scanned && layer < t->scan->scanned->layers.size()) {
            QStringList widths;
            for (const auto& run :
                 copper_along(t->scan->scanned->layers[layer], from.x(), from.y(), to.x(), to.y()))
                widths << QString::number(run.to_mm - run.from_mm, 'f', 2);
            if (!widths.isEmpty())
                measured_ += tr("; copper %1 mm").arg(widths.mid(0, 8).join(QStringLiteral(", ")));
        }
        refresh();
        return;
    }
    ScanStroke s;
    s.kind = tool == BoardCanvas::Tool::join  ? StrokeKind::join
             : tool == BoardCanvas::Tool::cut ? StrokeKind::cut
                                              : StrokeKind::unknown;
    s.x1_mm = from.x();
    s.y1_mm = from.y();
    s.x2_mm = to.x();
    s.y2_mm = to.y();
    s.width_mm = tool == BoardCanvas::Tool::unknown ? 2.0 : 0.3;
    change_scan(tr("a stroke"), [&](Scan& scan) { scan.strokes.push_back(s); });
}

void BoardView::take_reference(QPointF pixel) {
    pixel_ = pixel;
    hint_->setText(
        tr("Picture place %1, %2. Type where it lies on the board, in mm from its upper left corner.")
            .arg(pixel.x(), 0, 'f', 1)
            .arg(pixel.y(), 0, 'f', 1));
    reference_->setFocus();
}

void BoardView::add_scan(const QString& path, BoardSide side) {
    auto next = document_.dossier();
    for (const auto& old : things<Scan>(document_.dossier()))
        if (old.side == side) next = drop<Scan>(next, old.id);
    Scan s;
    s.id = word(side);
    s.title = QFileInfo(path).completeBaseName().toStdString();
    s.outside = QFileInfo(path).absoluteFilePath().toStdString();
    s.side = side;
    if (const auto& t = document_.analysis().trace) s.unit = t->unit;
    document_.apply(tr("a scan"), put(next, std::move(s)));
}

void BoardView::merge() {
    const auto& t = document_.analysis().trace;
    if (!t || !t->scan || !t->scan->scanned) return;
    auto found = merge_scan(t->scan_nets, t->view->board, t->state);
    for (auto& r : found) r.unit = t->unit;
    document_.apply(tr("joins seen in the scans"), add_readings(document_.dossier(), std::move(found)));
}

bool BoardView::write_to(const QString& path) {
    const auto& t = document_.analysis().trace;
    if (!t || !t->scan || !t->scan->scanned) return false;
    const auto text =
        path.endsWith(QStringLiteral(".csv")) ? scan_csv(*t->scan->scanned) : scan_svg(*t->scan->scanned);
    return write_atomically(disk(), path.toStdString(), text).has_value();
}

void BoardView::refresh() {
    const auto& t = document_.analysis().trace;
    canvas_->show_board(t, shown_side());
    const auto tool = static_cast<BoardCanvas::Tool>(tool_->currentData().toInt());
    switch (tool) {
        case BoardCanvas::Tool::probe:
            hint_->setText(canvas_->chosen().isEmpty()
                               ? tr("Click a point: its net is filled, what is proven apart is struck "
                                    "through. Two clicks name a pair for the ledger.")
                               : tr("%1 is chosen. Filled: joined to it; struck through: proven apart; open: "
                                    "not proven.")
                                     .arg(canvas_->chosen()));
            break;
        case BoardCanvas::Tool::measure:
            hint_->setText(measured_.isEmpty() ? tr("Drag from one place to another.") : measured_);
            break;
        case BoardCanvas::Tool::reference:
            hint_->setText(tr("Click a place whose position on the board you know."));
            break;
        case BoardCanvas::Tool::cut:
        case BoardCanvas::Tool::join:
        case BoardCanvas::Tool::unknown: hint_->setText(tr("Drag a line over the copper.")); break;
        default:
            hint_->setText(tr("Click a place that shows it: all that looks like it is taken for the same."));
    }
    reference_->setVisible(tool != BoardCanvas::Tool::measure);
    keep_->setVisible(tool == BoardCanvas::Tool::measure);
    keep_->setEnabled(measured_mm_ > 0);
    const bool has_scans = t && t->scan;
    const auto* scanned = has_scans ? t->scan->scanned.get() : nullptr;
    merge_->setEnabled(scanned != nullptr);
    QStringList lines;
    if (!has_scans) {
        lines << tr(
            "No scan yet. Bring a photo or a flatbed scan of each copper side; 300 dpi or more. Then set two "
            "or more references: places whose position you have measured.");
    } else {
        for (std::size_t i = 0; i < t->scan->scans.size(); ++i) {
            const auto& s = t->scan->scans[i];
            if (!t->scan->problems[i].empty()) {
                lines << tr("%1: %2.").arg(to_q(s.title), to_q(t->scan->problems[i]));
                continue;
            }
            const auto& p = *t->scan->placements[i];
            lines << tr("%1: %2 px/mm (%3 dpi), turned %4°, skew %5°, %6.")
                         .arg(to_q(s.title))
                         .arg(p.px_per_mm, 0, 'f', 2)
                         .arg(p.px_per_mm * 25.4, 0, 'f', 0)
                         .arg(unsigned_zero(p.turn_deg), 0, 'f', 2)
                         .arg(unsigned_zero(p.skew_deg), 0, 'f', 2)
                         .arg(p.residual_mm ? tr("references agree to %1 mm").arg(*p.residual_mm, 0, 'f', 3)
                                            : tr("no reference to spare for a check"));
        }
        const auto& problems = t->scan->problems;
        const bool said =
            std::any_of(problems.begin(), problems.end(), [](const auto& p) { return !p.empty(); });
        if (scanned == nullptr && !said) lines << to_q(t->scan->problem);
    }
    if (scanned != nullptr) lines << seen_in_scans();
    figures_->setText(lines.join(QLatin1Char('\n')));
    answer_at_once();
}

}  // namespace grayrelic::app
