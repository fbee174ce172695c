// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/wire/rails_view.hpp"

#include <QEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QTextBlock>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/stages/wire/rails_rows.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/file_system.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/report/rails_figure.hpp"
#include "core/wire/circuit_rails.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr int rails_typing_pause = 350;  // ms

/// What one came to see: where it is worst; else what the old side has to carry alone.
std::string worst_mode(const RailStudy& s) {
    const RailModeFigures* worst = nullptr;
    for (const auto* list : {&s.modes, &s.alone})
        for (const auto& m : *list) {
            const auto v = m.verdict();
            if (v != Verdict::holds &&
                (worst == nullptr || (worse(v, worst->verdict()) == v && v != worst->verdict())))
                worst = &m;
        }
    if (worst != nullptr) return worst->mode;
    for (const auto& source : s.tree.sources)
        for (const auto& m : s.alone)
            if (source.relic && m.mode == source.name + " alone") return m.mode;
    return {};
}

}  // namespace

RailsView::RailsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    ask_file = [this] {
        return QFileDialog::getOpenFileName(this, tr("Read rails"), {}, tr("Rails (*.rails);;All files (*)"));
    };
    ask_save = [this] {
        return QFileDialog::getSaveFileName(this, tr("Write the rails"), QStringLiteral("bridge.rails"),
                                            tr("Rails (*.rails)"));
    };
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(make_drawing(), 6);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(make_figures(), 5);
    row->addWidget(make_text(), 4);
    column->addLayout(row, 5);
    pause_.setSingleShot(true);
    pause_.setInterval(rails_typing_pause);
    connect(&pause_, &QTimer::timeout, this, &RailsView::commit_text);
}

QWidget* RailsView::make_drawing() {
    drawing_sheet_ = new Sheet(tr("Rails"));
    modes_ = new QComboBox;
    modes_->setAccessibleName(tr("Mode that is shown"));
    modes_->setToolTip(tr("Of the loads, or with one source alone"));
    connect(modes_, &QComboBox::activated, this, [this](int index) {
        mode_ = modes_->itemData(index).toString().toStdString();
        mode_picked_ = true;
        fill_figures();
        redraw();
    });
    drawing_sheet_->add_to_title(modes_);
    drawing_ = new DrawingView(tr("What flows from the sources to the loads"));
    drawing_->redraw = [this](double width) {
        const auto* m = mode();
        return m == nullptr ? Drawing{} : draw_rails(study()->tree, *m, width, chosen_);
    };
    connect(drawing_, &DrawingView::picked, this, &RailsView::select);
    drawing_area_ = new QScrollArea;
    drawing_area_->setWidgetResizable(true);
    drawing_area_->setFrameShape(QFrame::NoFrame);
    drawing_area_->setWidget(drawing_);
    drawing_sheet_->body()->addWidget(drawing_area_, 1);
    return drawing_sheet_;
}

QWidget* RailsView::make_figures() {
    figures_sheet_ = new Sheet(tr("What follows"));
    figures_ = new FactTable;
    figures_->set_columns({{tr("Rail, part"), 70},
                           {tr("Volts"), 165, true},
                           {tr("Current"), 70, true},
                           {tr("At most"), 66, true},
                           {tr("Says"), 66}},
                          tr("Rails and parts"));
    connect(figures_, &FactTable::row_chosen, this, [this](int row) {
        if (row < 0) return;
        chosen_ = figures_->key(row).toString().toStdString();
        say_in_full(figures_->text(row, 4));
        redraw();
    });
    figures_sheet_->body()->addWidget(figures_, 3);
    events_ = new FactTable;
    events_->set_columns({{tr("When plugs, switches and batteries"), 150}, {tr("Says"), 260}},
                         tr("What happens"));
    connect(events_, &FactTable::row_chosen, this, [this](int row) {
        if (row < 0) return;
        const auto says = events_->text(row, 1);
        select(events_->key(row).toString());
        say_in_full(says);
    });
    figures_sheet_->body()->addWidget(events_, 2);
    detail_ = new QLabel;
    detail_->setWordWrap(true);
    detail_->setTextFormat(Qt::PlainText);
    detail_->setAccessibleName(tr("The chosen row in full"));
    figures_sheet_->body()->addWidget(detail_);
    return figures_sheet_;
}

QWidget* RailsView::make_text() {
    text_sheet_ = new Sheet(tr("In your words"));
    begin_ = compact_button(tr("From the ports"), tr("Enters the ports' supplies as sources"));
    connect(begin_, &QPushButton::clicked, this, &RailsView::begin);
    read_ =
        compact_button(tr("Read …"), tr("Takes a file of rails in place of this text; undo brings it back"));
    connect(read_, &QPushButton::clicked, this, [this] {
        const auto path = ask_file();
        if (path.isEmpty()) return;
        if (const auto wrong = read_file(path)) text_sheet_->set_about(*wrong);
    });
    write_ = compact_button(tr("Write …"), tr("This text as a file of rails"));
    connect(write_, &QPushButton::clicked, this, [this] {
        const auto path = ask_save();
        if (path.isEmpty()) return;
        const auto written = write_atomically(disk(), path.toStdString(), document_.dossier().wire->rails);
        text_sheet_->set_about(written ? tr("written to %1").arg(path) : to_q(written.error().message()));
    });
    for (auto* b : {begin_, read_, write_}) text_sheet_->add_to_title(b);
    text_ = new QPlainTextEdit;
    text_->setFont(figure_font(12));
    text_->setLineWrapMode(QPlainTextEdit::NoWrap);
    text_->setTabChangesFocus(true);
    text_->setAccessibleName(tr("Rails as text"));
    text_->setPlaceholderText(
        tr("source USB 5V ±5% limit 500mA\n"
           "drop D1 USB -> VRAW 0.3V\n"
           "switch Q1 VRAW -> PAD ron 60mΩ\n"
           "linear U1 VRAW -> V3 3.3V dropout 1.1V max 0.8A\n"
           "load PAD1 PAD 120mA in idle 15mA"));
    text_->setToolTip(
        tr("One thing a line: source, battery, harvest, drop, switch, linear, switcher, load,\n"
           "capacitor, line, mode, before. # begins a comment. What the circuit has comes by itself;\n"
           "a line of the same name takes its place."));
    text_->installEventFilter(this);
    connect(text_, &QPlainTextEdit::textChanged, this, [this] {
        if (text_->toPlainText() != shown_) pause_.start();
    });
    text_sheet_->body()->addWidget(text_, 1);
    problem_ = new QLabel;
    problem_->setWordWrap(true);
    problem_->setTextFormat(Qt::PlainText);
    problem_->setAccessibleName(tr("What is wrong in the text"));
    text_sheet_->body()->addWidget(problem_);
    return text_sheet_;
}

bool RailsView::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::FocusOut && watched == text_) commit_text();
    return QWidget::eventFilter(watched, event);
}

void RailsView::commit_text() {
    pause_.stop();
    const auto typed = text_->toPlainText();
    if (typed == shown_ || !document_.is_open()) return;
    shown_ = typed;
    auto text = typed.toStdString();
    if (!text.empty() && !text.ends_with('\n')) text += '\n';
    if (text == document_.dossier().wire->rails) return;
    document_.apply(tr("rails"), edit(document_.dossier(), &Dossier::wire, [&](Wire& w) { w.rails = text; }),
                    QStringLiteral("rails-text"));
}

std::optional<QString> RailsView::read_file(const QString& path) {
    constexpr std::size_t most = 64 * 1024;
    const auto text = disk().read(path.toStdString(), most);
    if (!text) return to_q(text.error().message());
    if (const auto tree = rails_from_text(*text, path.toStdString()); !tree)
        return to_q(tree.error().message());
    document_.apply(tr("rails of %1").arg(path.section(QLatin1Char('/'), -1)),
                    edit(document_.dossier(), &Dossier::wire, [&](Wire& w) { w.rails = *text; }));
    return std::nullopt;
}

void RailsView::begin() {
    auto text = begin_rails(document_.dossier());
    // Nothing to begin with: a line to write under.
    if (text.empty()) text = "# source NAME 5V ±5% limit 500mA\n";
    document_.apply(tr("begin the rails from the ports"),
                    edit(document_.dossier(), &Dossier::wire, [&](Wire& w) { w.rails.insert(0, text); }));
}

void RailsView::say_in_full(const QString& text) {
    detail_->setText(text);
    detail_->setVisible(!text.isEmpty());
}

/// As wide as the tree needs: the sheet scrolls to it.
void RailsView::redraw() {
    const double room = drawing_area_->viewport()->width();
    drawing_->least_width = std::max(300, static_cast<int>(drawing_->redraw(0).width));
    drawing_->show_drawing(drawing_->redraw(std::max<double>(drawing_->least_width, room)));
}

const RailStudy* RailsView::study() const {
    const auto& w = document_.analysis().wire;
    return w ? &w->rails : nullptr;
}

const RailModeFigures* RailsView::mode() const {
    const auto* s = study();
    if (s == nullptr || s->modes.empty()) return nullptr;
    for (const auto& m : s->alone)
        if (m.mode == mode_) return &m;
    const auto* found = s->find_mode(mode_);
    return found != nullptr ? found : &s->modes.front();
}

void RailsView::refresh() {
    fill_text();
    fill_modes();
    fill_figures();
    fill_events();
    redraw();
}

void RailsView::fill_modes() {
    const QSignalBlocker block(modes_);
    modes_->clear();
    const auto* s = study();
    if (!mode_picked_ && s != nullptr) mode_ = worst_mode(*s);
    if (s != nullptr) {
        for (const auto& m : s->modes)
            modes_->addItem(m.mode.empty() ? tr("all plugged in") : tr("mode: %1").arg(to_q(m.mode)),
                            to_q(m.mode));
        for (const auto& m : s->alone) modes_->addItem(to_q(m.mode), to_q(m.mode));
    }
    modes_->setCurrentIndex(std::max(0, modes_->findData(to_q(mode_))));
    modes_->setVisible(modes_->count() > 1);
    const auto sources = s == nullptr ? 0 : static_cast<long long>(s->tree.sources.size());
    drawing_sheet_->set_about(s == nullptr         ? tr("computing …")
                              : !s->faults.empty() ? tr("The text below can't be taken yet.")
                              : sources == 0 ? tr("No source yet: begin from the ports, or write one below.")
                                             : tr("as wide as its current; volts at the sources' corners"));
}

void RailsView::fill_figures() {
    std::vector<TableRow> rows;
    if (const auto* m = mode()) rows = rail_rows(*study(), *m);
    int at = -1;
    for (std::size_t i = 0; i < rows.size(); ++i)
        if (at < 0 && rows[i].front().key.toString().toStdString() == chosen_) at = static_cast<int>(i);
    const QSignalBlocker block(figures_);
    figures_->set_rows(std::move(rows));
    if (at >= 0) figures_->choose(at);
}

void RailsView::fill_events() {
    const QSignalBlocker block(events_);
    const auto* s = study();
    events_->set_rows(s == nullptr ? std::vector<TableRow>{} : rail_event_rows(*s));
    const int row = events_->chosen();
    say_in_full(row < 0 ? QString() : events_->text(row, 1));
}

void RailsView::fill_text() {
    const auto text = to_q(document_.dossier().wire->rails);
    // Typing in progress is kept; what it reads without its last line's end is the same.
    if (text != shown_ && text != shown_ + QLatin1Char('\n')) {
        shown_ = text;
        if (text_->toPlainText() != text) text_->setPlainText(text);
        shown_ = text_->toPlainText();
    }
    text_->setReadOnly(!document_.is_open());
    const auto* s = study();
    QString wrong;
    if (s != nullptr)
        for (std::size_t i = 0; i < s->faults.size() && i < 3; ++i) {
            const auto& f = s->faults[i];
            if (!wrong.isEmpty()) wrong += QLatin1Char('\n');
            wrong +=
                f.line > 0
                    ? tr("Line %1: found %2, expected %3.").arg(f.line).arg(to_q(f.found), to_q(f.expected))
                    : tr("Found %1, expected %2.").arg(to_q(f.found), to_q(f.expected));
        }
    problem_->setText(wrong);
    problem_->setVisible(!wrong.isEmpty());
    long derived = 0;
    if (s != nullptr) {
        for (const auto& x : s->tree.sources) derived += x.place.line == 0 ? 1 : 0;
        for (const auto& x : s->tree.parts) derived += x.place.line == 0 ? 1 : 0;
        for (const auto& x : s->tree.loads) derived += x.place.line == 0 ? 1 : 0;
    }
    text_sheet_->set_about(derived > 0
                               ? tr("%1 come from the circuit").arg(to_q(plural(derived, "thing", "things")))
                               : QString());
    begin_->setVisible(derived == 0 && document_.dossier().wire->rails.empty());
    write_->setEnabled(!document_.dossier().wire->rails.empty());
}

void RailsView::select(const QString& place) {
    if (place.startsWith(QStringLiteral("line "))) {
        const QTextCursor cursor(text_->document()->findBlockByNumber(place.mid(5).toInt() - 1));
        text_->setTextCursor(cursor);
        text_->setFocus();
        return;
    }
    auto id = place;
    if (id.startsWith(QStringLiteral("source "))) id = QStringLiteral("rail ") + id.mid(7);
    chosen_ = id.toStdString();
    fill_figures();
    redraw();
}

}  // namespace grayrelic::app
