// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/logic_view.hpp"

#include <QEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QTextBlock>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/item_edits.hpp"
#include "core/base/file_system.hpp"
#include "core/dossier/edits.hpp"
#include "core/logic/verilog.hpp"
#include "core/report/network_figure.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr int typing_pause_ms = 350;

const char* const first_text =
    "# REF PART FAMILY: PIN=NET …\n"
    "input A B\n"
    "output Y\n"
    "U1 74x00 hct: 1A=A 1B=B 1Y=Y\n"
    "   2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\n";

}  // namespace

LogicView::LogicView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    auto* top = new QHBoxLayout;
    top->setSpacing(8);
    top->addWidget(make_list(), 4);
    top->addWidget(make_ladder(), 6);
    whole->addLayout(top, 5);
    bench_ = new LogicBench(document_);
    connect(bench_, &LogicBench::stepped, this, &LogicView::draw);
    connect(bench_, &LogicBench::network_wanted, this, &LogicView::add_network);
    auto* bench_sheet = new Sheet(tr("Bench"));
    bench_sheet->body()->addWidget(bench_, 1);
    whole->addWidget(bench_sheet, 4);
    pause_.setSingleShot(true);
    pause_.setInterval(typing_pause_ms);
    connect(&pause_, &QTimer::timeout, this, &LogicView::commit_text);
    connect(text_, &QPlainTextEdit::textChanged, this, [this] {
        if (text_->toPlainText() != shown_) pause_.start();
    });
}

void LogicView::make_chooser() {
    networks_ = new ItemChooser({tr("Network"), tr("New")});
    networks_->on_add([this] { add_network(tr("Network"), QString::fromUtf8(first_text)); });
    renames_items<LogicNetwork>(*networks_, document_);
    removes_items<LogicNetwork>(*networks_, document_);
    connect(networks_, &ItemChooser::chosen_changed, this, &LogicView::select);
}

QWidget* LogicView::make_list() {
    auto* list = new Sheet(tr("Net list"));
    make_chooser();
    list->body()->addWidget(networks_);
    text_ = new QPlainTextEdit;
    text_->setFont(figure_font(12));
    text_->setLineWrapMode(QPlainTextEdit::NoWrap);
    text_->setAccessibleName(tr("Net list"));
    text_->setTabChangesFocus(true);
    text_->installEventFilter(this);
    list->body()->addWidget(text_, 3);
    problems_ = new QListWidget;
    problems_->setAccessibleName(tr("What is wrong in the net list"));
    problems_->setMaximumHeight(92);
    problems_->setWordWrap(true);
    problems_->hide();
    connect(problems_, &QListWidget::itemActivated, this, [this](QListWidgetItem* item) {
        const QTextCursor cursor(text_->document()->findBlockByNumber(item->data(Qt::UserRole).toInt() - 1));
        text_->setTextCursor(cursor);
        text_->setFocus();
    });
    list->body()->addWidget(problems_, 1);
    list_sheet_ = list;
    return list;
}

QWidget* LogicView::make_ladder() {
    ladder_sheet_ = new Sheet(tr("Stages"));
    verilog_ = new QPushButton(tr("Write Verilog …"));
    verilog_->setProperty("compact", true);
    verilog_->setToolTip(
        tr("The network as a module with its slow delays, for any simulator of that language"));
    connect(verilog_, &QPushButton::clicked, this, &LogicView::write_verilog);
    ladder_sheet_->add_to_title(verilog_);
    ladder_ = new DrawingView(tr("The network's stages"));
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setWidget(ladder_);
    ladder_sheet_->body()->addWidget(scroll, 1);
    return ladder_sheet_;
}

void LogicView::write_verilog() {
    const auto* n = document_.analysis().timing->find_network(selected_);
    if (n == nullptr || !n->network.computable()) return;
    const auto path = QFileDialog::getSaveFileName(
        this, tr("Write the network"), to_q(n->source.id) + QStringLiteral(".v"), tr("Verilog (*.v)"));
    if (path.isEmpty()) return;
    const auto written =
        write_atomically(disk(), path.toStdString(),
                         to_verilog(n->network, n->source.id, Corner::slow, "slow corner of every delay"));
    ladder_sheet_->set_about(written ? tr("written to %1").arg(path) : to_q(written.error().message()));
}

const LogicNetwork* LogicView::network() const {
    return document_.dossier().timing->find_network(selected_);
}

bool LogicView::eventFilter(QObject* watched, QEvent* event) {
    if (watched == text_ && event->type() == QEvent::FocusOut) commit_text();
    return QWidget::eventFilter(watched, event);
}

void LogicView::commit_text() {
    pause_.stop();
    const auto* n = network();
    const auto text = text_->toPlainText();
    if (n == nullptr || text == shown_) return;
    shown_ = text;
    auto changed = *n;
    changed.text = text.toStdString();
    if (!changed.text.empty() && !changed.text.ends_with('\n')) changed.text += '\n';
    if (changed.text == n->text) return;
    // Typing without a long pause is one step of undo.
    document_.apply(tr("net list of %1").arg(to_q(n->name)), put(document_.dossier(), std::move(changed)),
                    QStringLiteral("net-list-") + to_q(selected_));
}

void LogicView::add_network(const QString& name, const QString& text) {
    LogicNetwork n;
    n.id = free_id<LogicNetwork>(document_.dossier(), name.toStdString());
    n.name = name.toStdString();
    n.text = text.toStdString();
    selected_ = n.id;
    document_.apply(tr("add %1").arg(name), put(document_.dossier(), std::move(n)));
}

void LogicView::select(const QString& id) {
    commit_text();
    selected_ = id.toStdString();
    refresh();
}

void LogicView::refresh() {
    // What all options share computes nothing: it stands under Wire.
    const auto common = to_q(document_.dossier().wire->network);
    auto items = items_of<LogicNetwork>(document_.dossier());
    erase_if(items, [&](const ItemChooser::Item& i) { return i.id == common; });
    if (network() == nullptr || to_q(selected_) == common)
        selected_ = items.isEmpty() ? std::string() : items.front().id.toStdString();
    networks_->show_items(items, to_q(selected_));
    const auto* n = network();
    for (QWidget* w : std::initializer_list<QWidget*>{verilog_, text_}) w->setEnabled(n != nullptr);
    const auto text = n == nullptr ? QString() : to_q(n->text);
    // What is being typed is kept; an undo or another network replaces it.
    const bool typing =
        pause_.isActive() || (text_->hasFocus() && (text_->toPlainText() + QStringLiteral("\n") == text ||
                                                    text_->toPlainText() == text));
    if (!typing && text_->toPlainText() != text) {
        shown_ = text;
        const QSignalBlocker block(text_);
        text_->setPlainText(text);
    }
    const auto& a = document_.analysis();
    std::shared_ptr<const NetworkAnalysis> found;
    for (const auto& k : a.timing->networks)
        if (k->source.id == selected_) found = k;
    bench_->show_network(found);
    if (found)
        show_problems(found->network);
    else
        problems_->hide();
    if (n == nullptr)
        list_sheet_->set_about(tr("A network of standard parts, entered as a net list: New begins one."));
    draw();
}

void LogicView::show_problems(const Network& network) {
    problems_->clear();
    QList<QTextEdit::ExtraSelection> marks;
    long fatal = 0;
    for (const auto& p : network.problems) {
        fatal += p.fatal ? 1 : 0;
        auto* item = new QListWidgetItem(
            tr("line %1: %2; expected %3").arg(p.line).arg(to_q(p.says), to_q(p.expected)));
        item->setForeground(p.fatal ? theme().oxide : theme().brass);
        item->setData(Qt::UserRole, static_cast<int>(p.line));
        problems_->addItem(item);
        QTextEdit::ExtraSelection mark;
        mark.cursor = QTextCursor(text_->document()->findBlockByNumber(static_cast<int>(p.line) - 1));
        mark.format.setProperty(QTextFormat::FullWidthSelection, true);
        mark.format.setBackground(theme().selection);
        marks << mark;
    }
    text_->setExtraSelections(marks);
    problems_->setVisible(!network.problems.empty());
    list_sheet_->set_about(network.problems.empty() ? tr("nothing wrong")
                           : fatal > 0              ? tr("%1 to mend before it can be computed").arg(fatal)
                                       : tr("can be computed; %1 to look at").arg(network.problems.size()));
}

void LogicView::draw() {
    const auto* n = document_.analysis().timing->find_network(selected_);
    if (n == nullptr) {
        ladder_->show_drawing(draw_network({}, {}));
        return;
    }
    NetworkDrawingOptions options;
    options.width = 560;
    options.note = [n](int part) {
        const auto& p = n->network.parts[static_cast<std::size_t>(part)];
        if (p.delays == nullptr) return std::string();
        const auto& d = p.logic->stores() ? p.delays->storage[2] : p.delays->gates[2];
        return "up to " + print(std::max(d.rise, d.fall)) + " at " + print(Volts(p.delays->supply_v));
    };
    if (const auto* m = bench_->machine()) options.level = [m](int net) { return m->net(net); };
    ladder_->show_drawing(draw_network(n->network, options));
    const auto spare = spare_gates(n->network);
    QString about;
    for (const auto& s : spare)
        about += (about.isEmpty() ? tr("not used: ") : QStringLiteral("; ")) +
                 tr("%1 of %2")
                     .arg(static_cast<int>(s.unused.size()))
                     .arg(to_q(n->network.parts[static_cast<std::size_t>(s.part)].ref));
    ladder_sheet_->set_about(about);
}

}  // namespace grayrelic::app
